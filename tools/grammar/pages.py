"""Whole documents: areas of a page, and blocks put into them so that none lies on another."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta
from decimal import Decimal

import numpy as np

from tools.grammar import blocks, sums, tables
from tools.grammar.blocks import Desk, Fact
from tools.grammar.deal import SIGNS, Deal, deal
from tools.grammar.notes import NOTES, greeting
from tools.grammar.sheet import Part, Put, Sheet
from tools.grammar.speech import nonsense
from tools.grammar.sums import FIELD
from tools.grammar.tills import till

AMOUNTS = frozenset({"currency", "line.amount", "line.unit_price", *FIELD.values()})
SIZES = ((595, 842), (595, 842), (595, 842), (595, 842), (612, 792), (842, 595), (420, 595))


@dataclass
class Composed:
    """A document: words with what they state, and what is printed of it.

    Attributes:
        words: of all pages.
        kind: of the document.
        truth, lines: as manifests write them.
        production: how it is laid out, in a few words.
        width, height: of its pages, in points.
    """

    words: list[Put]
    kind: str
    language: str
    truth: dict[str, str]
    lines: list[dict[str, str]]
    production: str
    width: float
    height: float


DEBTS = frozenset({"statement", "reminder"})
PLAIN = 0.2
"""Share of documents that nobody designed."""
TRIES = 8
"""How often a document is laid out anew when words lie on others or beyond the paper."""


def compose(seed: str, *, held: bool = False, kind: str = "", longest: int = 26) -> Composed:
    """A document by seed; `held` ones are laid out and worded as none for training is."""
    for at in range(TRIES):
        made = _composed(f"{seed}/{at}" if at else seed, held=held, kind=kind, longest=longest)
        if legible(made):
            break
    return made


def legible(made: Composed) -> bool:
    """Whether no word lies on another, and none beyond the paper."""
    boxes = np.array(
        [(w.left, w.top, w.right, w.bottom, w.page) for w in made.words], dtype=np.float32
    )
    left, top, right, bottom, page = boxes.T
    if (
        left.min() < -1
        or top.min() < -1
        or right.max() > made.width + 1
        or bottom.max() > made.height + 1
    ):
        return False
    across = np.minimum(right[:, None], right) - np.maximum(left[:, None], left)
    down = np.minimum(bottom[:, None], bottom) - np.maximum(top[:, None], top)
    on = (across > 1.5) & (down > 3.5) & (page[:, None] == page)
    return int(on.sum()) == len(boxes)


def _composed(seed: str, *, held: bool, kind: str, longest: int) -> Composed:
    made = deal(seed, held=held, kind=kind, longest=longest)
    if made.kind == "till receipt":
        sheet, production = till(made)
    elif made.chance.random() < PLAIN:
        sheet, production = made.chance.choice(NOTES)(made)
    else:
        sheet, production = _document(made)
    tags = {word.tag for word in sheet.words}
    if "amount_due" in tags and not tags & {"gross_total", "prepaid", "withheld"} and made.kind not in DEBTS:  # fmt: skip
        # What is named as due alone is the total, too.
        made.truth["gross_total"] = made.truth["amount_due"]
        tags.add("gross_total")
    if "tax.amount" in tags and len(made.taxes) == 1:
        made.truth.setdefault("tax_total", str(abs(made.taxes[0][2])))
        tags.add("tax_total")
    truth = {name: value for name, value in made.truth.items() if name in tags}
    if _currency_shown(made, sheet):
        truth["currency"] = made.currency
    return Composed(
        sheet.words,
        made.kind,
        made.language,
        truth,
        made.lines,
        production,
        sheet.width,
        sheet.height,
    )


def _currency_shown(made: Deal, sheet: Sheet) -> bool:
    """Whether an amount, or a word beside one, names the currency, or its code stands anywhere."""
    sign = SIGNS.get(made.currency, made.currency)
    return any(
        made.currency in word.text or (word.tag in AMOUNTS and sign in word.text)
        for word in sheet.words
    )


def _document(made: Deal) -> tuple[Sheet, str]:
    chance = made.chance
    width, height = chance.choice(SIZES)
    sheet = Sheet(
        width,
        height,
        chance.choices(["sans", "serif", "mono", "narrow", "wide", "open"], [8, 3, 1.2, 1, 1, 2])[
            0
        ],
    )
    size = chance.choice([7.0, 8.0, 8.5, 9.0, 9.0, 10.0, 10.0, 11.0]) * (0.8 if width < 500 else 1)
    if "Mono" in sheet.fonts[0]:
        size = min(size, 8.5)
    desk = Desk(deal=made, sheet=sheet, size=size)
    desk.negative = made.kind == "credit note" and chance.random() < 0.5
    desk.minus = chance.random() < 0.5
    desk.emphasis = chance.random() < 0.6
    desk.bold_heads = chance.random() < 0.4
    desk.apart = len(made.taxes) > 1 and chance.random() < 0.5
    margin = chance.choice([30.0, 40.0, 50.0, 60.0])
    left, right = margin, width - margin
    used: list[str] = []
    rows_of_seller = blocks.party_rows(desk, made.seller, "seller", full=False)
    numbers = blocks.seller_numbers(desk)
    found = (
        blocks.facts(desk)
        if made.kind not in ("terms", "other")
        else blocks.facts(desk)[: chance.randrange(0, 3)]
    )
    place = chance.choices(["head", "bar", "foot", "beside"], [10, 2, 1.5, 3])[0]
    if place == "bar" and width < 550:
        place = "head"
    if place == "bar":
        wide = min(130.0, width * 0.25)
        on_right = chance.random() < 0.5
        x = right - wide if on_right else left
        y = chance.choice([60.0, 120.0, 200.0])
        small = size * 0.85
        for row in [*rows_of_seller, *numbers]:
            words = [(word, tag) for text, tag in row for word in text.split()]
            y = blocks.wrapped(desk, x, y, wide - 6, words, small)
        if chance.random() < 0.5:
            for label, label_tag, value, tag in found:
                sheet.put(x, y, [(desk.label(label), label_tag)], small * 0.9)
                sheet.put(x, y + small * 1.15, [(value, tag)], small)
                y += small * 3
            found = []
        left, right = (left, right - wide - 14) if on_right else (left + wide + 14, right)
        used.append("bar")
    y = _head(desk, left, right, place, rows_of_seller, numbers, used)
    y = _people_and_facts(desk, left, right, y, place, rows_of_seller, numbers, found, used)
    y = _middle(desk, left, right, y, used)
    if made.kind not in ("terms", "other"):
        y = _lower(desk, left, right, y, used)
    if place == "foot" or chance.random() < 0.5:
        rows = [*rows_of_seller, *numbers] if place == "foot" else numbers or rows_of_seller
        y = (
            max(y + size, sheet.height - chance.choice([40.0, 60.0, 80.0]))
            if y < sheet.height - 90
            else y + size
        )
        how = chance.choice(["l", "c"])
        used.append("footer " + how)
        blocks.joined(desk, left, y, right - left, rows, size * 0.8, how)
    return sheet, " ".join(used)


def _head(
    desk: Desk,
    left: float,
    right: float,
    place: str,
    seller: Sequence[Sequence[Part]],
    numbers: Sequence[Sequence[Part]],
    used: list[str],
) -> float:
    """Letterhead and, most often, the title. Returns where the next thing may stand."""
    chance, sheet, size, made = desk.chance, desk.sheet, desk.size, desk.deal
    y = chance.choice([40.0, 50.0, 70.0])
    if place == "head":
        how = chance.choice(["l", "l", "c", "r"])
        x = {"l": left, "c": (left + right) / 2, "r": right}[how]
        y = _emblem(desk, left, right, y, how)
        rows = [*seller, *(numbers if chance.random() < 0.5 else [])]
        grow = chance.choice([1.0, 1.4, 1.8, 2.2])
        first = seller[0][0][0]
        while grow > 1 and sheet.wide(first, size * grow, bold=True) > (right - left) * 0.95:
            grow -= 0.4
        kind = chance.choice(["stack", "stack", "stack", "line", "line", "run"])
        used.append(f"head {how} {kind}")
        if kind == "run":
            end = blocks.joined(
                desk, left, y, right - left, rows, size * 0.95, "c" if how == "c" else "l"
            )
        elif kind == "stack":
            end = blocks.stacked(desk, x, y, rows, how, grow=grow)
        else:
            sheet.put(x, y, rows[0], size * grow, how, bold=True)
            end = (
                blocks.joined(
                    desk,
                    left,
                    y + size * 1.6,
                    right - left,
                    rows[1:],
                    size * 0.85,
                    "c" if how == "c" else "l",
                )
                if rows[1:]
                else y + size * 2
            )
        title_beside = how != "c" and chance.random() < 0.45
        if title_beside:
            used.append("title beside")
            large = size * chance.choice([1.4, 2.0, 2.6])
            text = made.speech.title(made.kind)
            widest = (
                max(
                    sum(
                        sheet.wide(t + " ", size * (grow if not at else 1), bold=not at)
                        for t, _ in row
                    )
                    for at, row in enumerate(rows)
                )
                if kind == "stack"
                else right - left
            )
            if widest + sheet.wide(text, large, bold=True) + 10 < right - left:
                sheet.put(
                    right if how == "l" else left,
                    y + 4,
                    [(text, "title")],
                    large,
                    "r" if how == "l" else "l",
                    bold=True,
                )
                return end + size
        y = end
    elif chance.random() < 0.4:
        y = _brand(desk, left, right, y)
    elif chance.random() < 0.5:
        sheet.put(
            left,
            y,
            [(nonsense(chance).capitalize() + " " + made.speech.sentence(), "text")],
            size * 0.8,
        )
        y += size * 2
    y += size * chance.choice([1, 2])
    if chance.random() < 0.93:
        used.append("title")
        how, x = chance.choice([("l", left), ("c", (left + right) / 2), ("r", right)])
        large = size * chance.choice([1.0, 1.3, 1.7, 2.2])
        title = made.speech.title(made.kind)
        if chance.random() < 0.05 and len(title) < 16:
            title = " ".join(title.upper().replace(" ", ""))
        parts: list[Part] = [(title, "title")]
        if made.kind in ("invoice", "credit note", "pro forma") and chance.random() < 0.25:
            parts += [
                (
                    chance.choice(["", "", "no.", "Nr.", "n°", "#", ":", "Nº:", "n."]),
                    "label.number",
                ),
                (made.facts["number"], "number"),
            ]
            desk.tell("number", made.facts["number"])
            if chance.random() < 0.35:
                parts += [
                    (chance.choice(["/", "vom", "du", "del", "of", "dated", "van", "-", "z dnia", "de", "den", "|"]), "label.issue_date"),
                    (made.date(made.days["issued"]), "issue_date"),
                ]  # fmt: skip
                desk.tell("issue_date", made.days["issued"].isoformat())
            large = min(large, size * 1.3)
        desk.sheet.put(
            x,
            y + large * 0.4,
            [each for each in parts if each[0]],
            large,
            how,
            bold=chance.random() < 0.7,
        )
        y += large * 1.9
    return y


def _brand(desk: Desk, left: float, right: float, y: float) -> float:
    """A short name large above; the whole name stands where the address does."""
    chance, name = desk.chance, desk.deal.seller.name
    words = name.split()
    text = " ".join(words[: max(1, len(words) - chance.choice([1, 1, 2]))])
    if text == name:
        text = nonsense(chance).capitalize()
    text = chance.choice([text, text.upper(), text.lower()])
    large = desk.size * chance.choice([1.6, 2.2, 2.8])
    how, x = chance.choice([("l", left), ("c", (left + right) / 2), ("r", right)])
    while large > desk.size and desk.sheet.wide(text, large, bold=True) > (right - left) * 0.9:
        large *= 0.9
    desk.sheet.put(x, y + large * 0.3, [(text, "text")], large, how, bold=True)
    return y + large * 1.6


def _emblem(desk: Desk, left: float, right: float, y: float, how: str) -> float:
    """Letters of a mark, or a motto, above who sells."""
    chance, size = desk.chance, desk.size
    if chance.random() > 0.16:
        return y
    name = desk.deal.seller.name
    if chance.random() < 0.65:
        text = chance.choice(
            [name[0], name[0], "".join(word[0] for word in name.split()[:3]).upper()]
        )
        large = size * chance.choice([1.8, 2.6, 3.4])
    else:
        text, large = f"{nonsense(chance).capitalize()} {nonsense(chance)}", size * 0.9
    y += large * 0.6
    x = {"l": left, "c": (left + right) / 2, "r": right}[how]
    desk.sheet.put(x, y, [(text, "text")], large, how, bold=large > size)
    return y + size * 1.7


def _people_and_facts(desk: Desk, left: float, right: float, y: float, place: str, seller: Sequence[Sequence[Part]], numbers: Sequence[Sequence[Part]],
                      found: list[Fact], used: list[str]) -> float:  # fmt: skip
    """Seller (when not above), buyer, receiver and facts, in columns or one below the other."""
    chance, made, size = desk.chance, desk.deal, desk.size
    groups: list[tuple[str, Sequence[Sequence[Part]]]] = []
    buyer = (
        blocks.party_rows(desk, made.buyer, "buyer", full=False)
        if made.kind not in ("terms",) and chance.random() < 0.97
        else []
    )
    if place == "beside":
        rows = [*seller, *(numbers if chance.random() < 0.6 else [])]
        groups.append(("seller", rows))
    if buyer:
        groups.append(("buyer", buyer))
    if made.ship is not None:
        groups.append(("ship", blocks.party_rows(desk, made.ship, "other", full=False)))
    if len(groups) > 1 and chance.random() < 0.3:
        chance.shuffle(groups)
    titled = chance.random() < (0.9 if place == "beside" else 0.5)
    wide = right - left
    forms = blocks.HELD_FACTS if made.held else blocks.FACTS
    form = chance.choice(forms)
    if not found:
        form = blocks.pairs
    used.append(form.__name__)
    people_first = chance.random() < 0.75
    beside = (
        form in (blocks.pairs, blocks.inline, blocks.flush, blocks.above, blocks.below)
        and wide > 330
        and len(groups) < 3
        and chance.random() < 0.6
    )

    def people(x: float, y: float, wide: float, *, level: bool) -> float:
        if not groups:
            return y
        step = wide / len(groups) if level else wide
        if level and step < 120:
            level, step = False, wide
        end, at = y, x
        how = "r" if not level and chance.random() < 0.07 else "l"
        for role, rows in groups:
            put: list[Sequence[Part]] = list(rows)
            run = role != "seller" and not level and chance.random() < 0.07
            if titled or run:
                text = (
                    made.speech.say({"seller": "from", "buyer": "to", "ship": "ship"}[role])
                    if role != "seller"
                    else _from(desk)
                )
                tag = {
                    "seller": "label.seller.name",
                    "buyer": "label.buyer.name",
                    "ship": "label.other.party",
                }[role]
                if chance.random() < 0.25:
                    put[0] = [(desk.label(text), tag), *put[0]]
                else:
                    put.insert(0, [(desk.label(text), tag)])
            if run:
                y = end = blocks.commas(desk, at, y, step, put) + size
                continue
            small = size
            while (
                max(sum(desk.sheet.wide(t + " ", small) for t, _ in row) for row in put) > step - 6
                and small > 5
            ):
                small *= 0.9
            bottom = blocks.stacked(desk, at + (step if how == "r" else 0), y, put, how, size=small)
            end = max(end, bottom)
            if level:
                at += step
            else:
                y = bottom + size
        return end

    level = len(groups) > 1 and chance.random() < 0.7
    if beside:
        used.append("facts beside")
        share = chance.choice([0.5, 0.55, 0.6])
        mirrored = chance.random() < 0.25
        one = people(
            left + (wide * (1 - share) if mirrored else 0),
            y,
            wide * share - 14,
            level=level and wide > 480,
        )
        two = form(
            desk,
            left if mirrored else left + wide * share,
            y + chance.choice([0, size, size * 2]),
            wide * (1 - share) - (14 if mirrored else 0),
            found,
        )
        return max(one, two) + size * 1.5
    if people_first:
        y = people(left, y, wide, level=level) + size
        return (
            form(
                desk,
                left,
                y,
                wide * chance.choice([1, 0.6]) if form is not blocks.run else wide,
                found,
            )
            + size
        )
    y = form(desk, left, y, wide, found) + size * 1.2
    return people(left, y, wide, level=level) + size * 1.5


def _from(desk: Desk) -> str:
    words = {"en": "From|Seller|Supplier|Vendor|Payee", "de": "Von|Absender|Lieferant|Aussteller", "fr": "De|Vendeur|Fournisseur|Émetteur", "es": "Emisor|Vendedor|Proveedor", "it": "Fornitore|Cedente|Emittente",
             "nl": "Van|Leverancier", "pl": "Sprzedawca|Wystawca", "pt": "Fornecedor|Emitente", "sv": "Från|Säljare", "cs": "Dodavatel|Prodávající", "hu": "Eladó|Szállító", "ro": "Furnizor|Vânzător", "da": "Fra|Leverandør", "no": "Fra|Selger", "fi": "Myyjä|Toimittaja"}  # fmt: skip
    return desk.chance.choice(words[desk.deal.language].split("|"))


def _middle(desk: Desk, left: float, right: float, y: float, used: list[str]) -> float:
    """What was sold, or what the letter says."""
    chance, made, size = desk.chance, desk.deal, desk.size
    y += size * chance.choice([0.5, 1.5, 3])
    if made.kind == "invoice" and chance.random() < 0.06:
        y = _callout(desk, left, y)
        used.append("callout")
    if chance.random() < 0.12:
        sheet_words: list[Part] = [(word, "text") for word in greeting(desk).split()]
        y = blocks.wrapped(desk, left, y, right - left, sheet_words, size) + size * 0.3
    if chance.random() < 0.25:
        y = (
            blocks.wrapped(
                desk,
                left,
                y,
                right - left,
                [(word, "text") for word in made.speech.sentence().split()],
                size,
            )
            + size * 0.5
        )
    if made.kind in ("terms", "other"):
        for _ in range(chance.randrange(4, 30)):
            words = [
                (word, "text")
                for _ in range(chance.randrange(1, 5))
                for word in made.speech.sentence().split()
            ]
            if made.kind == "other" and chance.random() < 0.25:
                words.append(
                    (made.money(Decimal(chance.randrange(100, 99_999)) / 100), "other.money")
                )
            if y > desk.sheet.height - 60:
                break
            y = blocks.wrapped(desk, left, y, right - left, words, size) + size * 0.4
        used.append("text")
        return y
    if made.kind in ("statement", "reminder"):
        return _debts(desk, left, right, y)
    forms = tables.HELD_TABLES if made.held else tables.TABLES
    form = chance.choice(forms)
    if made.kind == "delivery note":
        form = tables.ruled
    if len(made.items) > 12 and form is tables.cards:
        form = tables.ruled
    used.append(form.__name__)
    wide = right - left
    return form(desk, left, y, wide) + size * chance.choice([0.8, 1.6, 3])


OVERDUE = {
    "en": ("Our invoice|{id}|of|{day}|for|{money}|is still unpaid.", "We have not received payment of|{money}|for invoice|{id}|dated|{day}|."),
    "de": ("Unsere Rechnung|{id}|vom|{day}|über|{money}|ist noch offen.", "Leider konnten wir für die Rechnung|{id}|vom|{day}|über|{money}|noch keinen Eingang feststellen."),
    "fr": ("Notre facture|{id}|du|{day}|d'un montant de|{money}|reste impayée.",), "es": ("Nuestra factura|{id}|de|{day}|por|{money}|sigue pendiente.",), "it": ("La nostra fattura|{id}|del|{day}|di|{money}|risulta non pagata.",),
    "nl": ("Onze factuur|{id}|van|{day}|ten bedrage van|{money}|is nog niet voldaan.",), "pl": ("Faktura|{id}|z dnia|{day}|na kwotę|{money}|nie została opłacona.",), "sv": ("Vår faktura|{id}|av den|{day}|på|{money}|är obetald.",),
}  # fmt: skip
FEES = {"en": "Late fee|Interest|Charge for this reminder", "de": "Mahngebühr|Verzugszinsen|Mahnkosten", "fr": "Frais de relance|Intérêts", "nl": "Aanmaningskosten|Rente", "es": "Gastos", "it": "Interessi di mora"}  # fmt: skip


def _told_debts(desk: Desk, left: float, right: float, y: float) -> float:
    """A letter about bills that are open, with what is asked for below it."""
    chance, made, size = desk.chance, desk.deal, desk.size
    total, words = Decimal(0), list[Part]()
    words += [(word, "text") for word in greeting(desk).split()]
    for _ in range(chance.choice([1, 1, 1, 2, 3])):
        value = Decimal(chance.randrange(500, 900_000)) / 100
        total += value
        day = made.date(made.days["issued"] - timedelta(days=chance.randrange(15, 120)))
        said = {"{id}": (f"{chance.choice(['R', 'F', '26-', 'INV'])}{chance.randrange(10**3, 10**6)}", "other.id"), "{day}": (day, "other.date"), "{money}": (made.money(value), "other.money")}  # fmt: skip
        for piece in chance.choice(OVERDUE.get(made.language, OVERDUE["en"])).split("|"):
            text, tag = said.get(piece, (piece, "text"))
            words += [(word, tag) for word in text.split()]
        words += [(word, "text") for word in made.speech.sentence().split()]
    y = blocks.wrapped(desk, left, y, right - left, words, size) + size * 0.5
    rows: list[sums.Sum] = [(made.speech.say("gross"), "label.other", total, "other.money")]
    if chance.random() < 0.6:
        fee = Decimal(chance.choice([250, 500, 1000, 1500, 4000])) / 100
        rows.append((chance.choice(FEES.get(made.language, FEES["en"]).split("|")), "label.other", fee, "other.money"))  # fmt: skip
        total += fee
    rows.append((made.speech.say("due_amount"), "label.amount_due", total, "amount_due"))
    desk.tell("amount_due", str(total))
    return chance.choice([sums.column, sums.leaders])(desk, left, y, (right - left) * 0.6, rows)


BY = {"en": "by|due|on or before", "de": "bis zum|bis|fällig am", "fr": "avant le|pour le|au", "es": "antes del|hasta", "it": "entro il", "nl": "vóór|uiterlijk", "pl": "do dnia", "pt": "até", "sv": "senast"}  # fmt: skip


def _callout(desk: Desk, left: float, y: float) -> float:
    """What is to be paid, and by when, in large letters."""
    chance, made = desk.chance, desk.deal
    large = desk.size * chance.choice([1.2, 1.5, 2.0])
    due = made.sums["due_amount"]
    parts: list[Part] = []
    if chance.random() < 0.8:
        parts += sums.label_parts(made.speech.say("due_amount"), "label.amount_due")
    parts += sums.money_parts(desk, due, "amount_due")
    desk.tell("amount_due", str(due))
    if "due" in made.days and chance.random() < 0.7:
        by = chance.choice(BY.get(made.language, BY["en"]).split("|"))
        parts += [(by, "label.due_date"), (made.date(made.days["due"]), "due_date")]
        desk.tell("due_date", made.days["due"].isoformat())
    desk.sheet.put(left, y + large * 0.4, parts, large, bold=chance.random() < 0.6)
    return y + large * 2.2


def _debts(desk: Desk, left: float, right: float, y: float) -> float:
    """Bills that are open: days, numbers and amounts that are no lines."""
    chance, made, size = desk.chance, desk.deal, desk.size
    if chance.random() < (0.6 if made.kind == "reminder" else 0.1):
        return _told_debts(desk, left, right, y)
    step = (right - left) / 5
    heads = [
        made.speech.say("issued"),
        made.speech.say("number"),
        made.speech.say("due"),
        made.speech.say("c_amount"),
    ]
    for at, text in enumerate(heads):
        desk.sheet.put(
            left + step * at, y, [(desk.sheet.fold(text, size, step)[0], "header.other")], size
        )
    total = Decimal(0)
    for _ in range(chance.randrange(1, 12)):
        y += size * 1.5
        value = Decimal(chance.randrange(500, 900_000)) / 100
        paid = made.kind == "statement" and chance.random() < 0.2
        total += -value if paid else value
        day = made.days["issued"] - timedelta(days=chance.randrange(5, 120))
        cells: list[Part] = [(made.date(day), "other.date"), (f"{chance.choice('RF')}{chance.randrange(10**4, 10**6)}", "other.id"),
                             (made.date(day + timedelta(days=30)), "other.date"), (made.number(-value if paid else value), "other.money")]  # fmt: skip
        for at, each in enumerate(cells):
            desk.sheet.put(left + step * at, y, [each], size)
    y += size * 2
    desk.sheet.put(left, y, [(made.speech.say("due_amount"), "label.amount_due")], size, bold=True)
    desk.sheet.put(left + step * 4, y, sums.money_parts(desk, total, "amount_due"), size, bold=True)
    desk.tell("amount_due", str(abs(total)))
    return y + size * 2


def _lower(desk: Desk, left: float, right: float, y: float, used: list[str]) -> float:
    """Sums, taxes, sentences, how to pay."""
    chance, made, size, sheet = desk.chance, desk.deal, desk.size, desk.sheet
    if made.kind in ("delivery note", "statement", "reminder"):
        return y
    if made.kind in ("purchase order", "order confirmation") and chance.random() < 0.4:
        return y
    if y > sheet.height - 150:
        y = desk.go_on()
    found = sums.sums(desk)
    forms = sums.HELD_SUMS if made.held else sums.SUMS
    form = chance.choice(forms)
    used.append("sums " + form.__name__)
    wide = right - left
    taxed = desk.apart or chance.random() < 0.15
    sums.told(desk, found)
    if form in (sums.column, sums.leaders):
        share = chance.choice([0.4, 0.5, 0.5, 1.0])
        at_left = chance.random() < 0.12
        start = left if at_left else right - wide * share
        end = form(desk, start, y, wide * share, found)
        if taxed and share < 0.6:
            end = max(
                end, sums.tax_table(desk, right - wide * 0.45 if at_left else left, y, wide * 0.45)
            )
            used.append("taxes beside")
        elif taxed:
            end = sums.tax_table(desk, left, end + size, wide)
            used.append("taxes below")
    else:
        end = form(desk, left, y, wide, found)
        if taxed:
            end = sums.tax_table(desk, left, end + size, wide)
            used.append("taxes below")
    y = end + size
    y = _terms(desk, left, wide, y)
    for _ in range(chance.choices([0, 1, 2, 3], [3, 4, 3, 1])[0]):
        y = blocks.wrapped(
            desk,
            left,
            y,
            wide,
            [(word, "text") for word in made.speech.sentence().split()],
            size * 0.9,
        )
    if chance.random() < 0.2:
        y = blocks.stacked(desk, left, y + size, blocks.account_rows(desk))
        used.append("pay")
    if chance.random() < 0.08 and y < sheet.height - 150:
        y = _slip(desk, left, right, sheet.height - 130)
        used.append("slip")
    return y


TERMS = {
    "en": ("Please pay by|{due}|.", "Payment due|{due}|.", "2% discount if paid by|{day}|, otherwise net by|{due}|."),
    "de": ("Zahlbar bis|{due}|ohne Abzug.", "Zahlbar bis|{day}|abzüglich 2 % Skonto, bis|{due}|netto.", "Bitte überweisen Sie den Betrag bis zum|{due}|.", "Fällig am|{due}|."),
    "fr": ("À régler avant le|{due}|.", "Échéance :|{due}|."), "es": ("Vencimiento:|{due}|.",), "it": ("Scadenza:|{due}|.",), "nl": ("Gelieve te betalen vóór|{due}|.",), "pl": ("Termin płatności:|{due}|.",), "sv": ("Betalas senast|{due}|.",), "pt": ("Vencimento:|{due}|.",),
}  # fmt: skip
"""How terms are told below the sums: a day with discount is not the day it is due."""
NO_BILL = {"en": "This is not an invoice.", "de": "Dies ist keine Rechnung.", "fr": "Ceci n'est pas une facture.", "nl": "Dit is geen factuur.", "es": "Este documento no es una factura.", "it": "Il presente documento non è fattura."}  # fmt: skip


def _terms(desk: Desk, left: float, wide: float, y: float) -> float:
    """When to pay, in a sentence; and what the paper is not."""
    chance, made = desk.chance, desk.deal
    words: list[Part] = []
    if made.kind in ("pro forma", "order confirmation", "purchase order") and chance.random() < 0.3:
        words += [(word, "text") for word in NO_BILL.get(made.language, NO_BILL["en"]).split()]
    if "due" in made.days and made.kind in ("invoice", "pro forma") and chance.random() < 0.2:
        due, early = made.days["due"], made.days["due"] - timedelta(days=chance.randrange(3, 20))
        for piece in chance.choice(TERMS.get(made.language, TERMS["en"])).split("|"):
            text, tag = {"{due}": (made.date(due), "due_date"), "{day}": (made.date(early), "other.date")}.get(piece, (piece, "label.due_date"))  # fmt: skip
            if text in ".,":
                words[-1] = (words[-1][0] + text, words[-1][1])
                continue
            words += [(word, tag) for word in text.split()]
        desk.tell("due_date", due.isoformat())
    return blocks.wrapped(desk, left, y, wide, words, desk.size) if words else y


def _slip(desk: Desk, left: float, right: float, y: float) -> float:
    """A slip to pay by: all of it once more."""
    made, size = desk.deal, desk.size * 0.85
    middle = (left + right) / 2
    due = made.sums["due_amount"]
    gross_tag = "amount_due" if "amount_due" in made.truth else "gross_total"
    told = made.truth.get("account")
    account = told or made.seller.iban
    for x in (left, middle):
        rows: list[Sequence[Part]] = [[(made.seller.name, "seller.name")], [(account, "account")], [(made.buyer.name, "buyer.name")],
                                      [(made.currency, "currency"), (made.number(due), gross_tag)]]  # fmt: skip
        end = blocks.stacked(desk, x, y, rows, size=size)
    desk.tell("account", account)
    desk.tell(gross_tag, str(due))
    return end
