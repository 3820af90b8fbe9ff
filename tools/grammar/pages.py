"""Whole documents: areas of a page, and blocks put into them so that none lies on another."""

from dataclasses import dataclass
from decimal import Decimal

import numpy as np

from tools.grammar import asked, blocks, heads, parties, sums, tables, untabled
from tools.grammar.blocks import Desk
from tools.grammar.deal import SIGNS, Deal, deal
from tools.grammar.notes import NOTES, greeting
from tools.grammar.sheet import Part, Put, Sheet
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


def compose(
    seed: str, *, held: bool = False, kind: str = "", longest: int = 26, strange: float = 1.0
) -> Composed:
    """A document by seed; `held` ones are laid out and worded as none for training is, but for
    those labels that are not `strange` (a share)."""
    for at in range(TRIES):
        made = _composed(
            f"{seed}/{at}" if at else seed, held=held, kind=kind, longest=longest, strange=strange
        )
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


def _composed(seed: str, *, held: bool, kind: str, longest: int, strange: float) -> Composed:
    made = deal(seed, held=held, kind=kind, longest=longest, strange=strange)
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
    rows_of_seller = parties.party_rows(desk, made.seller, "seller", full=False)
    numbers = parties.seller_numbers(desk)
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
    y = heads.head(desk, left, right, place, rows_of_seller, numbers, used)
    y = heads.people_and_facts(desk, left, right, y, place, rows_of_seller, numbers, found, used)
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


def _middle(desk: Desk, left: float, right: float, y: float, used: list[str]) -> float:
    """What was sold, or what the letter says."""
    chance, made, size = desk.chance, desk.deal, desk.size
    y += size * chance.choice([0.5, 1.5, 3])
    if made.kind == "invoice" and chance.random() < 0.06:
        y = asked.callout(desk, left, y)
        used.append("callout")
    if chance.random() < 0.1:
        y = blocks.stacked(desk, left, y, parties.bystanders(desk)) + size * 0.5
        used.append("others")
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
        return asked.debts(desk, left, right, y)
    forms = untabled.HELD_TABLES if made.held else untabled.TABLES
    form = chance.choice(forms)
    if made.kind == "delivery note":
        form = tables.ruled
    if len(made.items) > 12 and form is untabled.cards:
        form = tables.ruled
    used.append(form.__name__)
    wide = right - left
    return form(desk, left, y, wide) + size * chance.choice([0.8, 1.6, 3])


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
    y = asked.terms(desk, left, wide, y)
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
        y = blocks.stacked(desk, left, y + size, parties.account_rows(desk))
        used.append("pay")
    if chance.random() < 0.1 and y < sheet.height - 120:
        y = blocks.stacked(desk, left, y + size * 0.5, parties.bystanders(desk))
        used.append("others")
    if chance.random() < 0.12 and y < sheet.height - 110:
        y = blocks.stacked(desk, left, y + size * 0.5, [parties.once_more(desk)])
        used.append("once more")
    if chance.random() < 0.08 and y < sheet.height - 150:
        y = asked.slip(desk, left, right, sheet.height - 130)
        used.append("slip")
    return y
