"""Lines of a document in the ways of thirty trades."""

import re
from collections.abc import Sequence
from decimal import Decimal

from tools.grammar.blocks import Desk
from tools.grammar.deal import Item, cents
from tools.grammar.sheet import Part
from tools.grammar.speech import word_of
from tools.grammar.sums import money_parts

NUMERIC = (
    "quantity",
    "price",
    "one",
    "two",
    "pieces",
    "base",
    "discount",
    "rate",
    "amount",
    "tax",
    "gross",
    "old",
    "new",
)
SAID = {"id": "c_id", "code": "c_code", "name": "c_name", "quantity": "c_quantity", "unit": "c_unit", "price": "c_price", "discount": "c_discount",
        "rate": "c_rate", "amount": "c_amount", "tax": "tax_sum", "gross": "gross", "day": "issued", "one": "quote", "two": "quote", "pieces": "c_unit", "old": "quote", "new": "quote", "note": "note"}  # fmt: skip
BASE_SAID = {
    "en": "per|Per|Price per|Qty base|PU",
    "de": "PE|je|per|Preiseinheit",
    "fr": "par|UP|Par",
    "es": "por|UP",
    "it": "per|x",
    "nl": "per|Per|PE",
}
HEAD = {"id": "header.id", "code": "header.code", "name": "header.description", "quantity": "header.quantity", "unit": "header.unit", "price": "header.unit_price",
        "discount": "header.discount", "rate": "header.tax_rate", "amount": "header.amount", "base": "header.other"}  # fmt: skip
TAG = {"id": "line.id", "code": "line.code", "name": "line.description", "quantity": "line.quantity", "unit": "line.unit", "price": "line.unit_price", "base": "line.price_base",
       "discount": "line.discount", "rate": "line.tax_rate", "amount": "line.amount", "tax": "line.other", "gross": "line.gross", "day": "line.other",
       "one": "line.other", "two": "line.other", "pieces": "line.other", "old": "line.other", "new": "line.other", "note": "line.other"}  # fmt: skip
SHARE = {"id": 0.6, "code": 1.4, "name": 4.2, "quantity": 1.1, "unit": 0.8, "price": 1.3, "discount": 0.9, "rate": 0.8, "amount": 1.5, "tax": 1.1, "gross": 1.4,
         "day": 1.3, "one": 1.1, "two": 1.1, "pieces": 0.8, "base": 0.5, "old": 1.1, "new": 1.1, "note": 1.2}  # fmt: skip
NAMES = {"quantity": "quantity", "price": "unit_price", "amount": "amount"}


def columns(desk: Desk) -> list[str]:
    """Which columns there are, and in which order."""
    chance, deal = desk.chance, desk.deal
    first = chance.choice(
        [
            ["name"],
            ["name"],
            ["code", "name"],
            ["id", "name"],
            ["id", "code", "name"],
            ["name", "code"],
            ["day", "name"],
            ["note", "name"],
        ]
    )
    middle = chance.choice([["quantity", "price"], ["quantity", "unit", "price"], ["price", "quantity"], ["quantity", "price"], ["quantity", "unit", "price"],
                            ["quantity"], ["old", "new", "quantity", "price"], [], ["unit", "quantity", "price"]])  # fmt: skip
    found = [*first, *middle]
    roll = chance.random()
    if roll < 0.06 and deal.kind not in ("delivery note", "purchase order"):
        # Two charges that make the amount, as carriers and hotels print them.
        found = [*first, *chance.choice([["quantity"], [], []]), "one", "two"]
    elif roll < 0.09 and "price" in found and "quantity" in found:
        found.insert(found.index("quantity"), "pieces")
    if any(item.discount for item in deal.items):
        found.append("discount")
    if chance.random() < 0.3:
        found.append("rate")
    if deal.kind == "delivery note":
        found = [name for name in found if name not in ("price", "discount", "rate")]
        return found if "quantity" in found else [*found, "quantity"]
    if deal.kind == "purchase order" and chance.random() < 0.3:
        return found
    if not deal.inclusive and chance.random() < 0.07 and "rate" in found:
        found += ["tax"] if chance.random() < 0.5 else []
    found.append("amount")
    if not deal.inclusive and chance.random() < 0.07:
        found.append("gross")
    roll = chance.random()
    if roll < 0.1 and "quantity" in found:
        found.remove("quantity")
        found.insert(0, "quantity")
    elif roll < 0.16:
        head, tail = found[:-1], found[-1:]
        chance.shuffle(head)
        found = head + tail
    elif roll < 0.18:
        chance.shuffle(found)
    return found


PER = re.compile(r"[a-zäöüßé²³]{1,8}\.?", re.IGNORECASE)
"""Units that are written right behind a price."""
TARIFFS = "Base|Fuel 9%|Surcharge 4.5%|Diesel 12 %|Fuel|Toll|Basic|Peak|Off peak|Zone 1|Labour|Parts|Room|Board|Grundpreis|Zuschlag|Maut|Arbeit|Material|Logis|HT|Frais|Tarif|Fijo|Basis|Toeslag|Fracht|Adult|Child|A|B|kWh|Days"
"""Heads of columns that make an amount together."""


def cell(desk: Desk, item: Item, name: str, at: int, run: int) -> list[Part]:
    """What a cell shows."""
    deal, sign = desk.deal, -1 if desk.deal.kind == "credit note" and desk.negative else 1
    tag = TAG[name]
    if item.flat and name in ("quantity", "price", "unit", "base", "pieces", "discount"):
        return []
    if name in ("one", "two"):
        part = cents(item.amount * (61 + run % 30) / 100)
        return [(deal.number(sign * (part if name == "one" else item.amount - part)), tag)]
    if name == "pieces":
        return [(str(1 + (run + at * 7) % 24), tag)]
    if name == "quantity":
        count = item.quantity * sign if desk.negative_counts else item.quantity
        text = deal.quantity(count)
        if desk.unit_in_quantity:
            return [(text, tag), (item.unit, "line.unit")]
        return [(text, tag)]
    if name == "price":
        text = deal.price(item.price)
        if deal.line_place and item.price == cents(item.price):
            text = deal.money(item.price, line=True)
        if desk.per and PER.fullmatch(item.unit):
            return [(f"{text}/{item.unit}", tag)]
        if deal.base > 1 and not desk.base_apart and not desk.base_above:
            return [
                (text, tag),
                (desk.base_sign, "line.other"),
                (str(deal.base), "line.price_base"),
            ]
        return [(text, tag)]
    if name == "base":
        return [(str(deal.base), "line.price_base")]
    if name == "amount":
        parts = money_parts(desk, sign * item.amount, tag, line=True)
        if desk.letters:
            letter = desk.letters[int(Decimal(item.rate)) % len(desk.letters)]
            if desk.glued and parts[-1][1] == tag and parts[-1][0][-1].isdigit():
                parts[-1] = (parts[-1][0] + letter, tag)
            else:
                parts.append((letter, "line.other"))
        return parts
    rate = Decimal(item.rate)
    if name == "rate":
        shown = deal.number(
            rate, 0 if rate == int(rate) and desk.bare_rates else 2 if rate == int(rate) else 1
        )
        return [(shown + desk.rate_sign, tag)]
    if name == "discount":
        return [(deal.number(item.discount, 0) + desk.rate_sign, tag)] if item.discount else []
    if name in ("tax", "gross"):
        tax = cents(item.amount * rate / 100) * sign
        return [(deal.number(tax if name == "tax" else sign * item.amount + tax), tag)]
    if name in ("old", "new"):
        start = Decimal(1000 + run * 137 + at * 53)
        return [
            (
                deal.number(
                    start + (item.quantity if name == "new" else 0),
                    0 if item.quantity == int(item.quantity) else 2,
                ),
                tag,
            )
        ]
    return [({"id": str((at + 1) * desk.step), "code": item.code, "name": item.text, "unit": item.unit,
              "day": deal.date(deal.days.get("date", deal.days["issued"])), "note": f"L{run}{at}"}[name], tag)]  # fmt: skip


def prepare(desk: Desk) -> None:
    """Choose how all lines of a document are written."""
    chance = desk.chance
    desk.unit_in_quantity = chance.random() < 0.12
    desk.bare_rates = chance.random() < 0.7
    desk.rate_sign = chance.choice(["", "%", "%", " %"])
    desk.step = chance.choice([1, 1, 1, 10])
    desk.base_apart = chance.random() < 0.4
    desk.base_above = not desk.base_apart and chance.random() < 0.4
    desk.per = desk.deal.base == 1 and chance.random() < 0.04
    desk.letters = (
        chance.choice(["T", "AB", "H", "TN", "*", "123"]) if chance.random() < 0.07 else ""
    )
    desk.glued = chance.random() < 0.4
    desk.base_sign = chance.choice(["/", "/", "per", "je", "par", "pro", "per"])
    desk.negative_counts = desk.negative and chance.random() < 0.4


def tell_line(desk: Desk, item: Item, shown: Sequence[str]) -> None:
    """Remember a line that is printed."""
    values = {"quantity": item.quantity, "price": item.price, "amount": item.amount}
    told = ("amount",) if item.flat else tuple(NAMES)
    desk.deal.lines.append({NAMES[name]: str(values[name]) for name in told if name in shown})


def ruled(desk: Desk, x: float, y: float, wide: float) -> float:
    """Columns under a header."""
    return _columns(desk, x, y, wide, columns(desk), headed=desk.chance.random() < 0.9)


def bare(desk: Desk, x: float, y: float, wide: float) -> float:
    """Columns without a header."""
    return _columns(desk, x, y, wide, columns(desk), headed=False)


def _columns(
    desk: Desk, x: float, y: float, wide: float, shown: list[str], *, headed: bool
) -> float:
    prepare(desk)
    deal, sheet, chance, size = desk.deal, desk.sheet, desk.chance, desk.size
    if desk.unit_in_quantity and "unit" in shown:
        shown.remove("unit")
    if "price" in shown and deal.base > 1 and desk.base_apart:
        shown.insert(shown.index("price") + 1, "base")
    starts = _widths(desk, shown, x, wide)
    flush = chance.choice(["r", "r", "r", "c", "l"])
    head_how = chance.choice(["as", "as", "l", "c"])
    run = chance.randrange(90)

    def place(name: str, how: str) -> tuple[float, str]:
        left, step = starts[name]
        return {"l": (left + 2, "l"), "r": (left + step - 4, "r"), "c": (left + step / 2, "c")}[how]

    def head(y: float) -> float:
        size_head = size * chance.choice([0.85, 1.0])
        most = 1
        for name in shown:
            how = (flush if name in NUMERIC else "l") if head_how == "as" else head_how
            spot, how = place(name, how)
            text = head_of(desk, name)
            rows = sheet.fold(text, size_head, starts[name][1] - 4, bold=desk.bold_heads)[:2]
            for index, row in enumerate(rows):
                sheet.put(
                    spot,
                    y + index * size_head * 1.15,
                    [(row, HEAD.get(name, "header.other"))],
                    size_head,
                    how,
                    bold=desk.bold_heads,
                )
            most = max(most, len(rows))
        return y + size * (0.5 + 1.3 * most)

    if headed:
        y = head(y)
    pitch = size * chance.choice([1.25, 1.5, 1.9, 2.4])
    grouped = len(deal.items) > 3 and chance.random() < 0.14
    second = chance.random() < 0.16
    second_first = chance.random() < 0.2
    part = Decimal(0)
    sign = -1 if deal.kind == "credit note" and desk.negative else 1
    for index, item in enumerate(deal.items):
        if y > sheet.height - desk.foot:
            if chance.random() < 0.35:
                _amount_row(
                    desk,
                    starts,
                    y,
                    deal.speech.say("group"),
                    part * sign
                    if grouped
                    else sign * sum((each.amount for each in deal.items[:index]), Decimal(0)),
                    shown,
                )
            y = desk.go_on()
            if headed and chance.random() < 0.8:
                y = head(y)
        if grouped and index % 3 == 0:
            if index:
                y = _amount_row(desk, starts, y, deal.speech.say("group"), sign * part, shown)
                part = Decimal(0)
            if chance.random() < 0.8:
                sheet.put(
                    x + 2,
                    y,
                    [
                        (
                            word_of(chance, desk.deal.language)
                            + " "
                            + chance.choice(["", "2026", "A", "II"]),
                            "line.group",
                        )
                    ],
                    size,
                    bold=True,
                )
                y += pitch
        part += item.amount
        below = second_first and second
        if below:
            sheet.put(starts["name"][0] + 2, y, [(item.text, "line.description")], size)
            y += size * 1.2
        rows = 1
        for name in shown:
            parts = cell(desk, item, name, index, run)
            if not parts:
                continue
            spot, how = place(name, flush if name in NUMERIC else "l")
            if name == "name":
                if below:
                    continue
                folded = sheet.fold(item.text, size, starts[name][1] - 6)
                for line, row in enumerate(folded):
                    sheet.put(spot, y + line * size * 1.2, [(row, "line.description")], size, how)
                rows = max(rows, len(folded))
            else:
                sheet.put(spot, y, parts, size, how)
        y += size * 1.2 * (rows - 1)
        if second and not second_first and chance.random() < 0.7:
            y += size * 1.2
            sheet.put(
                starts["name"][0] + 2 if "name" in starts else x,
                y,
                _subline(desk),
                size * chance.choice([0.85, 1.0]),
            )
        tell_line(desk, item, shown)
        y += pitch
    if grouped and part and chance.random() < 0.7:
        y = _amount_row(desk, starts, y, deal.speech.say("group"), sign * part, shown)
    return y


def head_of(desk: Desk, name: str) -> str:
    """What stands above a column."""
    if name == "base":
        said = BASE_SAID.get(desk.deal.language, BASE_SAID["en"]).split("|")
        return said[desk.deal.base % len(said)]
    if name in ("one", "two"):
        heads = TARIFFS.split("|")
        return heads[
            (len(desk.deal.facts["number"]) * 5 + len(desk.deal.seller.name) + 7 * (name == "two"))
            % len(heads)
        ]
    if name == "pieces":
        return ("Stück", "Pcs", "Coils", "Pallets", "Colis", "Bdl", "Boxes")[
            len(desk.deal.seller.name) % 7
        ]
    if name == "price" and desk.base_above and desk.deal.base > 1:
        said = desk.deal.speech.say("c_price")
        unit = desk.deal.items[0].unit
        ways = (
            f"{said} / {desk.deal.base}",
            f"{desk.deal.currency}/{desk.deal.base} {unit}",
            f"{said} per {desk.deal.base}",
            f"{said} {desk.deal.base} {unit}",
        )
        return ways[len(desk.deal.seller.name) % 4]
    return desk.deal.speech.say(SAID[name])


def _widths(desk: Desk, shown: list[str], x: float, wide: float) -> dict[str, tuple[float, float]]:
    """Left end and width of each column: what it needs, and its share of what is left over."""
    need = {}
    for name in shown:
        texts = [
            " ".join(text for text, _ in cell(desk, item, name, at, 0))
            for at, item in enumerate(desk.deal.items)
        ]
        most = (
            70.0
            if name == "name"
            else max((desk.sheet.wide(text, desk.size) for text in texts), default=0.0)
        )
        need[name] = most + 7
    while sum(need.values()) > wide and len(shown) > 2:
        name = next(
            (
                each
                for each in (
                    "note",
                    "day",
                    "pieces",
                    "code",
                    "old",
                    "new",
                    "rate",
                    "unit",
                    "gross",
                    "id",
                )
                if each in shown
            ),
            "",
        )
        if not name:
            break
        shown.remove(name)
        del need[name]
    left_over = max(0.0, wide - sum(need.values()))
    total = sum(SHARE[name] for name in shown)
    starts, at = {}, x
    for name in shown:
        step = need[name] + SHARE[name] / total * left_over
        starts[name] = (at, step)
        at += step
    return starts


def _subline(desk: Desk) -> list[Part]:
    chance, deal = desk.chance, desk.deal
    return chance.choice([
        [(chance.choice(["Art.", "Ref", "SN", "LOT", "EAN"]), "line.description"), (str(chance.randrange(1000, 10**7)), "line.description")],
        [(deal.speech.sentence(), "line.description")],
        [(deal.date(deal.days.get("date", deal.days["issued"])), "line.other"), ("-", "line.description"), (deal.date(deal.days["issued"]), "line.other")],
        [(word_of(chance, desk.deal.language), "line.description"), (word_of(chance, desk.deal.language), "line.description")],
    ])  # fmt: skip


def _amount_row(
    desk: Desk,
    starts: dict[str, tuple[float, float]],
    y: float,
    label: str,
    value: Decimal,
    shown: list[str],
) -> float:
    """A subtotal or what is carried: it looks like a line and is none."""
    place = "amount" if "amount" in shown else shown[-1]
    left, step = starts[place]
    first = starts["name"][0] if "name" in starts else left - 120
    desk.sheet.put(
        first + 2, y, [(label, "label.other")], desk.size, bold=desk.chance.random() < 0.5
    )
    desk.sheet.put(left + step - 4, y, [(desk.deal.number(value), "group.sum")], desk.size, "r")
    return y + desk.size * 1.8
