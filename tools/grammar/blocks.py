"""Blocks of a page: parties, facts, sentences. Each is put at a place and tells where it ends.

A production is a function of a `Desk`, a place and a width. Those in `HELD` are kept for pages that
are only measured on.
"""

import random
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from tools.grammar import vocabulary
from tools.grammar.deal import Deal
from tools.grammar.people import person, tax_shown
from tools.grammar.sheet import Part, Sheet
from tools.grammar.speech import NAMED, nonsense

Block = Callable[["Desk", float, float, float], float]
Fact = tuple[str, str, str, str]
"""Label, its tag, value, its tag."""


@dataclass
class Desk:
    """What a page is made with."""

    deal: Deal
    sheet: Sheet
    size: float
    foot: float = 80.0
    """Points at the lower end of each page that lines leave free."""
    top: float = 60.0
    """Where the next page's lines begin."""
    negative: bool = False
    """Whether a credit note prints its amounts with a minus."""
    minus: bool = False
    """Whether what is taken off is printed with a minus."""
    emphasis: bool = False
    apart: bool = False
    """Whether several rates stand in a table of their own only."""
    bold_heads: bool = False
    unit_in_quantity: bool = False
    bare_rates: bool = True
    base_apart: bool = False
    base_above: bool = False
    """Whether the head of a column says for how many units its prices are."""
    per: bool = False
    """Whether units stand glued behind prices."""
    letters: str = ""
    """Letters of tax rates behind amounts."""
    glued: bool = False
    base_sign: str = "/"
    rate_sign: str = ""
    step: int = 1
    negative_counts: bool = False

    def go_on(self) -> float:
        """Turn the page in the middle of lines; where they go on."""
        self.sheet.turn()
        if self.chance.random() < 0.5:
            number = self.deal.facts["number"]
            parts = [
                (self.deal.speech.title(self.deal.kind), "title"),
                (number, "number"),
                (f"{self.sheet.page}/9", "text"),
            ]
            if self.deal.kind not in ("invoice", "credit note", "pro forma"):
                parts = [(self.deal.seller.name, "seller.name")]
            self.sheet.put(50, 40, parts, self.size)
        return self.top

    @property
    def chance(self) -> random.Random:
        """Of the document."""
        return self.deal.chance

    def label(self, text: str) -> str:
        """A label with what ends it."""
        return text + self.deal.speech.end

    def tell(self, field: str, value: str) -> None:
        """Remember what is printed."""
        self.deal.truth.setdefault(field, value)


DATES = {
    "issued": "issue_date",
    "due": "due_date",
    "delivered": "delivery_date",
    "date": "other.date",
}
IDS = {
    "number": "number",
    "order": "order_number",
    "note": "delivery_note",
    "preceding": "preceding_number",
    "customer": "other.id",
    "quote": "other.id",
}


def tag_of(name: str) -> str:
    """What the label of something is tagged."""
    return "label." + {
        **NAMED,
        "quote": "other.id",
        "date": "other.date",
        "party": "other.party",
        "money": "other.money",
    }.get(name, "other")


def facts(desk: Desk) -> list[Fact]:
    """All that stands in blocks of facts, in an order of its own, with what only stands in the way."""
    deal, chance, speech = desk.deal, desk.chance, desk.deal.speech
    found: list[Fact] = []
    for name, day in deal.days.items():
        if (
            deal.kind in ("purchase order", "order confirmation", "delivery note", "terms", "other")
            and name == "due"
        ):
            continue
        tag = DATES[name]
        found.append((speech.say(name), tag_of(name), deal.date(day), tag))
        if not tag.startswith("other"):
            desk.tell(tag, day.isoformat())
    for name, text in deal.facts.items():
        if name == "phone":
            found.append((speech.say("phone"), "label.other", text, "other.contact"))
            continue
        if deal.kind in ("statement", "reminder", "terms") and name in ("number", "order", "note"):
            continue
        if name == "number" and deal.kind in (
            "purchase order",
            "order confirmation",
            "delivery note",
        ):
            continue
        tag = IDS[name]
        found.append((speech.say(name), tag_of(name), text, tag))
        if not tag.startswith("other"):
            desk.tell(tag, text)
    if chance.random() < 0.25:
        shown = tax_shown(chance, deal.buyer)
        found.append((speech.say("your_tax_id"), "label.buyer.tax_id", shown, "buyer.tax_id"))
        desk.tell("buyer.tax_id", shown)
    due = deal.sums.get("due_amount")
    if deal.kind == "invoice" and due is not None and chance.random() < 0.08:
        shown = deal.money(due)
        shown = deal.number(due) if " " in shown else shown
        found.append((speech.say("due_amount"), "label.amount_due", shown, "amount_due"))
        desk.tell("amount_due", str(due))
    if chance.random() < 0.3:
        found.append(
            (
                speech.say("party"),
                "label.other",
                chance.choice(["", "Ms ", "", "Hr. "]) + person(chance, deal.language),
                "other.party",
            )
        )
    for _ in range(chance.choices([0, 1, 2, 3], [6, 3, 2, 1])[0]):
        found.append(_junk(desk))
    if chance.random() < 0.2:
        found.append(
            (
                speech.say("period"),
                "label.other",
                f"{deal.date(deal.days['issued'])} - {deal.date(deal.days.get('date', deal.days['issued']))}",
                "other.date",
            )
        )
    number = [each for each in found if each[3] in ("number", "issue_date")]
    rest = [each for each in found if each not in number]
    chance.shuffle(rest)
    return number + rest if chance.random() < 0.6 else _shuffled(found, chance)


def _shuffled(found: list[Fact], chance: random.Random) -> list[Fact]:
    chance.shuffle(found)
    return found


def _junk(desk: Desk) -> Fact:
    """A label of anything with a value of any shape: what looks like it need not be it."""
    deal, chance = desk.deal, desk.chance
    label = chance.choice(
        [
            nonsense(chance).capitalize(),
            vocabulary.terms(chance, deal.language, 1).capitalize(),
            vocabulary.terms(chance, deal.language, 2),
            deal.speech.say("quote"),
            deal.speech.say("date"),
            deal.speech.say("money"),
        ]
    )
    kind = chance.randrange(4)
    if kind == 0:
        return (
            label,
            "label.other",
            f"{chance.choice('ABCKR')}{chance.randrange(10, 99999)}",
            "other.id",
        )
    if kind == 1:
        return (
            label,
            "label.other",
            deal.date(deal.days.get("date", deal.days["issued"])),
            "other.date",
        )
    if kind == 2:
        from decimal import Decimal

        return (
            label,
            "label.other",
            deal.money(Decimal(chance.randrange(100, 900_000)) / 100),
            "other.money",
        )
    return label, "label.other", str(chance.randrange(1, 99_999)), "other.id"


# -- facts


def pairs(desk: Desk, x: float, y: float, wide: float, found: Sequence[Fact]) -> float:
    """Labels in a column, values in the next."""
    size = desk.size
    gap = max(
        (desk.sheet.wide(desk.label(a), size) for a, *_ in found), default=0
    ) + size * desk.chance.choice([0.8, 1.5, 3])
    gap = min(gap, wide * 0.62)
    pitch = size * desk.chance.choice([1.25, 1.4, 1.8])
    bold = desk.chance.random() < 0.3
    for label, label_tag, value, tag in found:
        desk.sheet.put(x, y, [(desk.label(label), label_tag)], size, bold=bold)
        desk.sheet.put(x + gap, y, [(value, tag)], size)
        y += pitch
    return y


def flush(desk: Desk, x: float, y: float, wide: float, found: Sequence[Fact]) -> float:
    """Values flush right, labels flush left or against a colon in the middle."""
    size, middle = desk.size, desk.chance.random() < 0.3
    pitch = size * desk.chance.choice([1.25, 1.5])
    for label, label_tag, value, tag in found:
        if middle:
            desk.sheet.put(x + wide * 0.5 - 4, y, [(desk.label(label), label_tag)], size, "r")
            desk.sheet.put(x + wide * 0.5 + 4, y, [(value, tag)], size)
        else:
            desk.sheet.put(x, y, [(desk.label(label), label_tag)], size)
            desk.sheet.put(x + wide, y, [(value, tag)], size, "r")
        y += pitch
    return y


def inline(desk: Desk, x: float, y: float, wide: float, found: Sequence[Fact]) -> float:
    """Label and value run on in each row, a space apart or glued."""
    size, bold = desk.size, desk.chance.random() < 0.2
    how, at = desk.chance.choice([("l", x), ("l", x), ("r", x + wide)])
    glued = desk.chance.random() < 0.08
    for label, label_tag, value, tag in found:
        text = ("\b" if glued and desk.deal.speech.end else "") + value
        desk.sheet.put(at, y, [(desk.label(label), label_tag), (text, tag)], size, how, bold=bold)
        y += size * 1.35
    return y


def above(desk: Desk, x: float, y: float, wide: float, found: Sequence[Fact]) -> float:
    """A small label above each value, in one to five columns."""
    return _grid(desk, x, y, wide, found, below=False)


def below(desk: Desk, x: float, y: float, wide: float, found: Sequence[Fact]) -> float:
    """The value above its label, as on some forms."""
    return _grid(desk, x, y, wide, found, below=True)


def _grid(
    desk: Desk, x: float, y: float, wide: float, found: Sequence[Fact], *, below: bool
) -> float:
    size, small = desk.size, desk.size * desk.chance.choice([0.65, 0.75, 1.0])
    most = max(1, int(wide / 95))
    count = desk.chance.randint(1, min(5, most))
    step = wide / count
    left = desk.chance.choice(["l", "l", "c"])
    pitch = size * desk.chance.choice([2.5, 3.0, 3.6])
    start = y
    for at, (label, label_tag, value, tag) in enumerate(found):
        place = x + step * (at % count) + (step / 2 if left == "c" else 0)
        row = start + pitch * (at // count)
        first, second = row, row + size * 1.2
        desk.sheet.put(
            place, second if below else first, [(desk.label(label), label_tag)], small, left
        )
        desk.sheet.put(place, first if below else second, [(value, tag)], size, left)
        y = row + pitch
    return y


def run(desk: Desk, x: float, y: float, wide: float, found: Sequence[Fact]) -> float:
    """All facts one behind the other across the page, with marks between."""
    size, mark = desk.size * 0.95, desk.chance.choice(["|", "·", "-", "/", ""])
    at = x
    for label, label_tag, value, tag in found:
        parts: list[Part] = [(desk.label(label), label_tag), (value, tag)]
        need = sum(desk.sheet.wide(text + " ", size) for text, _ in parts) + size
        if at > x and at + need > x + wide:
            at, y = x, y + size * 1.4
        at += desk.sheet.put(at, y, parts, size) + size * 0.6
        if mark:
            at += desk.sheet.put(at, y, [(mark, "text")], size) + size * 0.6
    return y + size * 1.5


def sentence(desk: Desk, x: float, y: float, wide: float, found: Sequence[Fact]) -> float:
    """Facts told in sentences between other words."""
    size, speech = desk.size, desk.deal.speech
    parts: list[Part] = []
    for label, label_tag, value, tag in found:
        if desk.chance.random() < 0.3:
            parts.append((speech.sentence(), "text"))
        parts += [
            (label.rstrip(":."), label_tag),
            (value + desk.chance.choice([",", ".", "", ";"]), tag),
        ]
    words = [(word, tag) for text, tag in parts for word in text.split()]
    return wrapped(desk, x, y, wide, words, size)


def wrapped(
    desk: Desk, x: float, y: float, wide: float, words: Sequence[Part], size: float
) -> float:
    """Words of any tags in rows of a width."""
    row: list[Part] = []
    filled = 0.0
    for text, tag in words:
        need = desk.sheet.wide(text + " ", size)
        if row and filled + need > wide:
            desk.sheet.put(x, y, row, size)
            row, filled, y = [], 0.0, y + size * 1.3
        row.append((text, tag))
        filled += need
    if row:
        desk.sheet.put(x, y, row, size)
    return y + size * 1.4


def split(desk: Desk, x: float, y: float, wide: float, found: Sequence[Fact]) -> float:
    """Half of the facts left, half right."""
    half = (len(found) + 1) // 2
    one = pairs(desk, x, y, wide / 2 - 8, found[:half])
    return max(one, pairs(desk, x + wide / 2 + 8, y, wide / 2 - 8, found[half:]))


def table(desk: Desk, x: float, y: float, wide: float, found: Sequence[Fact]) -> float:
    """A row of labels, a row of values below, columns as wide as they need."""
    size = desk.size
    rows = [found[at : at + 4] for at in range(0, len(found), 4)]
    for row in rows:
        need = [
            max(desk.sheet.wide(desk.label(a), size), desk.sheet.wide(c, size)) + size * 1.6
            for a, _, c, _ in row
        ]
        scale = min(1.0, wide / sum(need)) if need else 1.0
        at, how = x, desk.chance.choice(["l", "c"])
        for (label, label_tag, value, tag), step in zip(row, need, strict=True):
            place = at + (step * scale / 2 if how == "c" else 0)
            desk.sheet.put(place, y, [(desk.label(label), label_tag)], size, how)
            desk.sheet.put(place, y + size * 1.4, [(value, tag)], size, how)
            at += step * scale
        y += size * 3.4
    return y


FACTS = (pairs, pairs, flush, inline, inline, above, above, run, sentence, split, table)
HELD_FACTS = (below, pairs, pairs, run, table, above, above, inline, flush, split)
"""`below` is never trained on; the others appear with labels that are not."""


def stacked(
    desk: Desk,
    x: float,
    y: float,
    rows: Sequence[Sequence[Part]],
    how: str = "l",
    *,
    grow: float = 1.0,
    size: float = 0,
) -> float:
    """Rows one below the other; the first may be larger."""
    size = size or desk.size
    for at, row in enumerate(rows):
        large = size * (grow if not at else 1)
        y += large * 0.25 if not at else 0
        desk.sheet.put(x, y, row, large, how, bold=not at and grow > 1)
        y += large * 1.25
    return y


def commas(desk: Desk, x: float, y: float, wide: float, rows: Sequence[Sequence[Part]]) -> float:
    """A party in running text, its parts with commas between."""
    words: list[Part] = []
    for at, row in enumerate(rows):
        parts = [(word, tag) for text, tag in row for word in text.split()]
        if at < len(rows) - 1 and not parts[-1][1].startswith("label."):
            parts[-1] = (parts[-1][0] + ",", parts[-1][1])
        words += parts
    return wrapped(desk, x, y, wide, words, desk.size)


def joined(
    desk: Desk,
    x: float,
    y: float,
    wide: float,
    rows: Sequence[Sequence[Part]],
    size: float,
    how: str = "l",
) -> float:
    """Rows run together, with marks between, in as many lines as they need."""
    mark = desk.chance.choice(["·", "|", "-", "–", ",", "•", "/"])
    words: list[Part] = []
    for at, row in enumerate(rows):
        broken = at and row[0][1].endswith(".name") and rows[at - 1][-1][1] == row[0][1]
        if at and not broken:  # a name that goes on is one
            words.append((mark, "text"))
        words += [(word, tag) for text, tag in row for word in text.split()]
    if how == "l":
        return wrapped(desk, x, y, wide, words, size)
    line: list[Part] = []
    filled = 0.0
    for text, tag in words:
        need = desk.sheet.wide(text + " ", size)
        if line and filled + need > wide:
            desk.sheet.put(x + wide / 2, y, line, size, "c")
            line, filled, y = [], 0.0, y + size * 1.3
        line.append((text, tag))
        filled += need
    desk.sheet.put(x + wide / 2, y, line, size, "c")
    return y + size * 1.4
