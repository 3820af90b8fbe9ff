"""Sums of a document and its taxes, in the ways that they are printed."""

from collections.abc import Sequence
from decimal import Decimal

from tools.grammar.blocks import Desk, wrapped
from tools.grammar.sheet import Part

Sum = tuple[str, str, Decimal, str]
"""Label, its tag, value, its tag."""
TAKEN_OFF = ("allowances", "prepaid", "withheld")
FIELD = {"lines_total": "lines_total", "allowances": "allowances", "charges": "charges", "net": "net_total", "tax": "tax_total", "gross": "gross_total",
         "prepaid": "prepaid", "withheld": "withheld", "due_amount": "amount_due"}  # fmt: skip
BEFORE = {
    "en": ("Last bill|Payment received, thank you", "Previous balance|Payments", "Balance brought forward|Paid since"),
    "de": ("Letzte Rechnung|Ihre Zahlung", "Vorheriger Saldo|Zahlungseingang"), "fr": ("Solde précédent|Votre règlement",), "nl": ("Vorig saldo|Uw betaling",),
    "es": ("Saldo anterior|Su pago",), "it": ("Saldo precedente|Pagamento ricevuto",), "sv": ("Föregående saldo|Inbetalt",),
}  # fmt: skip
SAID = {"allowances": "allowance", "charges": "charge"}


def sums(desk: Desk) -> list[Sum]:
    """The sums in their order, as this supplier prints them."""
    deal, chance, speech = desk.deal, desk.chance, desk.deal.speech
    had = deal.sums
    taxed = [each for each in deal.taxes if Decimal(each[0])]
    found: list[Sum] = []

    def add(name: str, label: str = "") -> None:
        value = had[name]
        tag = FIELD[name]
        if deal.kind == "credit note" and desk.negative:
            value = -value
        shown = -value if name in TAKEN_OFF and desk.minus else value
        found.append((label or speech.say(SAID.get(name, name)), "label." + tag, shown, tag))

    beside = "allowances" in had or "charges" in had
    paid = "prepaid" in had or "withheld" in had
    last = "gross" if paid else chance.choices(["gross", "due_amount"], [3, 1])[0]
    if chance.random() < 0.06:
        add(last)
        return found
    if beside and chance.random() < 0.8:
        add("lines_total")
    for name in ("allowances", "charges"):
        if name in had:
            add(name)
    if deal.inclusive:
        gross_first = chance.random() < 0.6
        if gross_first:
            add(last)
        if chance.random() < 0.5:
            add("net")
        _taxes(desk, found, taxed)
        if not gross_first:
            add(last)
    else:
        if taxed or chance.random() < 0.5:
            if chance.random() < 0.93:
                add("net")
            _taxes(desk, found, taxed)
        add(last)
    if "rounding" in had and not deal.inclusive:
        found.insert(-1, (speech.say("rounding"), "label.other", had["rounding"], "rounding"))
    for name in ("prepaid", "withheld"):
        if name in had:
            add(name)
    if paid or (last == "gross" and chance.random() < 0.2):
        add("due_amount")
    if deal.kind == "invoice" and chance.random() < 0.04:
        # What was owed before, and that it was paid: it is no part of this bill.
        before = Decimal(chance.randrange(1000, 90_000)) / 100
        owed, paid_off = chance.choice(BEFORE.get(deal.language, BEFORE["en"])).split("|")
        found[:0] = [
            (owed, "label.other.money", before, "other.money"),
            (paid_off, "label.other.money", -before if desk.minus else before, "other.money"),
        ]
    if chance.random() < 0.08:
        found.insert(
            chance.randrange(len(found) + 1),
            (
                speech.say("money"),
                "label.other",
                Decimal(chance.randrange(100, 90_000)) / 100,
                "other.money",
            ),
        )
    return found


def _taxes(desk: Desk, found: list[Sum], taxed: Sequence[tuple[str, Decimal, Decimal]]) -> None:
    speech, sign = desk.deal.speech, -1 if desk.deal.kind == "credit note" and desk.negative else 1
    if not taxed:
        if desk.chance.random() < 0.35:
            found.append((speech.say("tax_sum"), "label.tax_total", Decimal(0), "tax_total"))
        return
    if len(taxed) == 1:
        rate, _, tax = taxed[0]
        shown = desk.deal.number(Decimal(rate), 0 if Decimal(rate) == int(Decimal(rate)) else 1)
        label = speech.say("tax", shown) if desk.chance.random() < 0.75 else speech.say("tax_sum")
        found.append((label, "label.tax_total", sign * tax, "tax_total"))
        return
    if desk.apart:
        return
    for rate, _, tax in taxed:
        shown = desk.deal.number(Decimal(rate), 0 if Decimal(rate) == int(Decimal(rate)) else 1)
        label = speech.say("tax", shown)
        if shown not in label:
            label += f" {shown} %"
        found.append((label, "label.tax.amount", sign * tax, "tax.amount"))
    if desk.chance.random() < 0.35:
        found.append(
            (speech.say("tax_sum"), "label.tax_total", sign * desk.deal.sums["tax"], "tax_total")
        )


def told(desk: Desk, found: Sequence[Sum]) -> None:
    """Remember the sums that are printed."""
    for _, _, value, tag in found:
        if tag in FIELD.values():
            desk.tell(tag, str(abs(value)))


def label_parts(label: str, tag: str) -> list[Part]:
    """A label whose rate is tagged apart."""
    parts: list[Part] = []
    for word in label.split():
        rate = any(sign.isdigit() for sign in word) and tag.startswith(("label.tax",))
        parts.append((word, "tax.rate" if rate else tag))
    return parts


def column(desk: Desk, x: float, y: float, wide: float, found: Sequence[Sum]) -> float:
    """Labels and values in two columns, values flush right."""
    size = desk.size
    pitch = size * desk.chance.choice([1.3, 1.5, 1.9])
    reach = max((desk.sheet.wide(desk.label(label), size) for label, *_ in found), default=0)
    how = desk.chance.choice(["left", "left", "right", "far"])
    start = {"left": x + max(0.0, wide - reach - size * 9), "far": x, "right": x}[how]
    for at, (label, label_tag, value, tag) in enumerate(found):
        last = at == len(found) - 1
        large = size * (1.25 if last and desk.emphasis else 1)
        bold = last and desk.emphasis
        if how == "right":
            desk.sheet.put(
                x + wide - size * 8,
                y,
                label_parts(desk.label(label), label_tag),
                size,
                "r",
                bold=bold,
            )
        else:
            desk.sheet.put(start, y, label_parts(desk.label(label), label_tag), size, bold=bold)
        desk.sheet.put(x + wide, y, money_parts(desk, value, tag), large, "r", bold=bold)
        y += pitch * (1.2 if last else 1)
    return y


def money_parts(desk: Desk, value: Decimal, tag: str, *, line: bool = False) -> list[Part]:
    """An amount whose currency, where it stands apart, is tagged so."""
    text = desk.deal.money(value, line=line)
    words = text.replace("\u202f", "\0").replace("\u00a0", "\0").split(" ")
    parts: list[Part] = []
    for word in words:
        digits = any(sign.isdigit() for sign in word)
        parts.append(
            (
                word.replace("\0", desk.deal.group),
                tag if digits or word in "-(–\u2212" else "currency",
            )
        )
    return parts


def boxes(desk: Desk, x: float, y: float, wide: float, found: Sequence[Sum]) -> float:
    """Sums in a row of boxes: labels above values, or below."""
    size = desk.size
    count = max(1, len(found))
    step = wide / count
    if step < 62:
        return column(desk, x + wide * 0.45, y, wide * 0.55, found)
    how = desk.chance.choice(["l", "c", "r"])
    for at, (label, label_tag, value, tag) in enumerate(found):
        place = x + step * at + {"l": 3, "c": step / 2, "r": step - 3}[how]
        rows = desk.sheet.fold(label, size * 0.85, step - 6)
        for index, row in enumerate(rows[:2]):
            desk.sheet.put(place, y + index * size, label_parts(row, label_tag), size * 0.85, how)
        desk.sheet.put(place, y + size * 2.4, money_parts(desk, value, tag), size, how)
    return y + size * 4.2


def prose(desk: Desk, x: float, y: float, wide: float, found: Sequence[Sum]) -> float:
    """Sums told one after the other in running text."""
    words: list[Part] = []
    for at, (label, label_tag, value, tag) in enumerate(found):
        words += label_parts(label, label_tag)
        parts = money_parts(desk, value, tag)
        mark = "." if at == len(found) - 1 else desk.chance.choice([",", ";", ""])
        words += [*parts[:-1], (parts[-1][0] + mark, parts[-1][1])]
    return wrapped(desk, x, y, wide, words, desk.size)


def leaders(desk: Desk, x: float, y: float, wide: float, found: Sequence[Sum]) -> float:
    """Dots lead from labels to values."""
    size, sheet = desk.size, desk.sheet
    for label, label_tag, value, tag in found:
        used = sheet.put(x, y, label_parts(label, label_tag), size)
        text = desk.deal.money(value)
        dots = int((wide - used - sheet.wide(text, size) - 3 * size) / sheet.wide(".", size))
        if dots > 3:
            sheet.put(x + used + size * 0.4, y, [("." * dots, "text")], size)
        sheet.put(x + wide, y, money_parts(desk, value, tag), size, "r")
        y += size * 1.4
    return y


SUMS = (column, column, column, column, boxes, prose, leaders)
HELD_SUMS = (column, boxes, leaders, prose)


def tax_table(desk: Desk, x: float, y: float, wide: float) -> float:
    """Rates with base and tax, with or without what both make."""
    deal, size, speech = desk.deal, desk.size * 0.9, desk.deal.speech
    columns = ["rate", "base", "tax"] + (["gross"] if desk.chance.random() < 0.4 else [])
    if desk.chance.random() < 0.15:
        desk.chance.shuffle(columns)
    step = min(wide / len(columns), 85.0)
    sign = -1 if deal.kind == "credit note" and desk.negative else 1
    heads = {
        "rate": ("c_rate", "header.tax_rate"),
        "base": ("base", "header.other"),
        "tax": ("tax_sum", "header.other"),
        "gross": ("gross", "header.other"),
    }
    if desk.chance.random() < 0.9:
        for at, name in enumerate(columns):
            label, tag = heads[name]
            text = desk.sheet.fold(speech.say(label), size, step - 4)
            desk.sheet.put(x + step * (at + 1) - 4, y, [(text[0] if text else "", tag)], size, "r")
        y += size * 1.4
    for rate, base, tax in deal.taxes:
        shown = deal.number(
            Decimal(rate), 0 if Decimal(rate) == int(Decimal(rate)) else 2
        ) + desk.chance.choice(["%", " %", ""])
        for at, name in enumerate(columns):
            value = {"base": base, "tax": tax, "gross": base + tax}.get(name, Decimal(0)) * sign
            parts: list[Part] = (
                [(shown, "tax.rate")]
                if name == "rate"
                else [
                    (
                        deal.number(value),
                        {"base": "tax.base", "tax": "tax.amount", "gross": "other.money"}[name],
                    )
                ]
            )
            desk.sheet.put(x + step * (at + 1) - 4, y, parts, size, "r")
        y += size * 1.3
    if len(deal.taxes) > 1 and desk.chance.random() < 0.5:
        for at, name in enumerate(columns):
            if name == "rate":
                desk.sheet.put(x + step * at, y, [(speech.say("group"), "label.other")], size)
                continue
            value = {
                "base": deal.sums["net"],
                "tax": deal.sums["tax"],
                "gross": deal.sums["gross"],
            }[name] * sign
            tag = {"base": "net_total", "tax": "tax_total", "gross": "gross_total"}[name]
            desk.sheet.put(x + step * (at + 1) - 4, y, [(deal.number(value), tag)], size, "r")
            desk.tell(tag, str(abs(value)))
        y += size * 1.3
    return y
