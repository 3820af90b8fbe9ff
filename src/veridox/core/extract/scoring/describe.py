"""What stands around a spot, as figures that a model weighs."""

import math
import re
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal
from functools import cached_property
from statistics import median

import numpy as np
from numpy.typing import NDArray
from rapidfuzz import fuzz

from veridox.core.extract.hints import Hints
from veridox.core.extract.parties import LEGAL_FORM, is_ours
from veridox.core.extract.scoring.phrases import NAMED, Phrases
from veridox.core.extract.scoring.spots import Spot
from veridox.core.extract.sheet import Sheet
from veridox.core.extract.values import figures, tax_id_holds
from veridox.core.locales.labels import fold, lexicon, normalise
from veridox.core.money import Money, minor_unit
from veridox.core.pages import Segment, TextRow, Word
from veridox.core.reading import Field, Row

FIELDS = {
    "date": ("issue_date", "due_date", "delivery_date"),
    "id": ("number", "order_number", "delivery_note", "preceding_number", "seller.tax_id",
           "buyer.tax_id"),
    "amount": ("lines_total", "allowances", "charges", "net_total", "tax_total", "gross_total",
               "prepaid", "withheld", "amount_due", "tax_line"),
    "name": ("seller.name", "buyer.name"),
}  # fmt: skip
"""What spots of a kind may state; the first class of each model is that they state none of it."""
REACH = 3.2
"""How far above or below, in letter heights, words may stand that name a value."""
NEAR = 7
"""Words that are looked at."""
TERMS = frozenset([7, 8, 10, 14, 15, 20, 21, 28, 30, 31, 45, 60, 90])
"""Days that suppliers give to pay."""
_MEASURE = re.compile(r"(kg|g|m|mm|cm|l|v|w|days|tage|jours|giorni|dias|dagen|dni|dagar)\b")
_STEPS = 4
_MARKS = frozenset("|/·•–—-;,")
"""What parts one fact from the next in a line."""


@dataclass(frozen=True, kw_only=True)
class Surroundings:
    """A document, prepared so that every spot can be described.

    Attributes:
        sheet: rows, segments, labels.
        hints: who the buyers may be.
        ruled: what rules that know labels made of it, a field each.
        lines: the line table.
        spots: of all kinds.
        phrases: the model of labels.
    """

    sheet: Sheet
    hints: Hints
    ruled: Mapping[str, Field]
    lines: Sequence[Row]
    spots: Sequence[Spot]
    phrases: Phrases
    lines_rows: Mapping[int, tuple[float, float]] = field(default_factory=dict)

    @cached_property
    def letters(self) -> float:
        """Median height of words."""
        return median([w.box.height for row in self.sheet.rows for w in row.words] or [10.0])

    @cached_property
    def tallest(self) -> float:
        """Greatest height of words."""
        return max((w.box.height for row in self.sheet.rows for w in row.words), default=1.0)

    @cached_property
    def named(self) -> Counter[str]:
        """How often each name stands there, folded."""
        return Counter(fold(spot.found.text) for spot in self.spots if spot.kind == "name")

    @cached_property
    def said(self) -> Counter[object]:
        """How often each value stands there."""
        return Counter(spot.found.value for spot in self.spots)

    @cached_property
    def days(self) -> list[date]:
        """All dates, each once, the earliest first."""
        return sorted({s.found.value for s in self.spots if isinstance(s.found.value, date)})

    @cached_property
    def amounts(self) -> set[Decimal]:
        """All amounts but nothing."""
        return {
            abs(m.amount) for s in self.spots if isinstance(m := s.found.value, Money) and m.amount
        }

    @cached_property
    def rates(self) -> set[Decimal]:
        """All percentages that stand somewhere."""
        return {
            number.number / 100
            for row in self.sheet.rows if "%" in row.text
            for number in figures(row, self.sheet)
            if number.percent and 0 < number.number < 50
        }  # fmt: skip

    @cached_property
    def sums(self) -> tuple[frozenset[Decimal], frozenset[Decimal], frozenset[Decimal]]:
        """Amounts that are the sum of two others; the larger and the smaller parts of such sums."""
        ordered = sorted(self.amounts)[-40:]
        whole, larger, smaller = set(), set(), set()
        for at, small in enumerate(ordered):
            for large in ordered[at:]:
                if small + large in self.amounts:
                    whole.add(small + large)
                    larger.add(large)
                    smaller.add(small)
        return frozenset(whole), frozenset(larger), frozenset(smaller)

    @cached_property
    def lines_sum(self) -> Decimal:
        """What the lines make."""
        values = [cell.value for row in self.lines if (cell := row.get("amount")) is not None]
        return sum((v.amount for v in values if isinstance(v, Money)), Decimal(0))

    @cached_property
    def last_line(self) -> int:
        """The last row of the line table; -1 without one."""
        return max(self.lines_rows, default=-1)

    @cached_property
    def domains(self) -> str:
        """Mail and web addresses, folded."""
        words = [
            w.text
            for row in self.sheet.rows
            for w in row.words
            if "@" in w.text or "www." in w.text
        ]
        return fold(" ".join(words))


def _text(words: Sequence[Word]) -> str:
    return " ".join(word.text for word in words)


def _has_value(segment: Segment) -> bool:
    return any(char.isdigit() for word in segment.words for char in word.text)


def behind(around: Surroundings, spot: Spot) -> str:
    """The words before the value in its own segment, back to the value or mark before it."""
    words = around.sheet.segments[spot.row][spot.segment].words[: spot.first]
    kept: list[Word] = []
    for word in reversed(words[-NEAR:]):
        if sum(map(str.isdigit, word.text)) > 2 or word.text in _MARKS or word.text[-1] in ";,":
            break
        kept.insert(0, word)
    text = _text(kept)
    return text if any(map(str.isalpha, text)) or "#" in text else ""


def left(around: Surroundings, spot: Spot) -> tuple[str, float, int]:
    """The nearest segment without a value on the left, its distance, and the values between."""
    segments = around.sheet.segments[spot.row]
    between = 0
    for at in range(spot.segment - 1, -1, -1):
        segment = segments[at]
        letters = re.sub(r"[^a-zäöüß]", "", segment.text.lower())
        if len(letters) >= 2 and not (_has_value(segment) and "%" not in segment.text):
            gap = segments[spot.segment].box.left - segment.box.right
            return _text(segment.words[-NEAR:]), gap / around.letters, between
        between += 1
    return "", 99.0, between


def upright(around: Surroundings, spot: Spot, step: int) -> tuple[str, float, int]:
    """The nearest words above (step -1) or below (1) that hold no value, over the same place."""
    box, row = spot.found.box, around.sheet.rows[spot.row]
    between = 0
    for count in range(1, 40):
        at = spot.row + step * count
        if not 0 <= at < len(around.sheet.rows) or between > _STEPS:
            break
        other = around.sheet.rows[at]
        gap = (row.box.top - other.box.bottom) if step < 0 else (other.box.top - row.box.bottom)
        if other.page != row.page or gap > REACH * around.letters * (1 + between):
            break
        for segment in around.sheet.segments[at]:
            shared = min(segment.box.right, box.right) - max(segment.box.left, box.left)
            if shared <= 0 and not (
                abs(segment.box.left - box.left) < 3 or abs(segment.box.right - box.right) < 3
            ):
                continue
            if _has_value(segment):
                between += 1
            else:
                return _text(segment.words[:NEAR]), gap / around.letters, between
            break
    return "", 99.0, between


def described(around: Surroundings, spot: Spot) -> NDArray[np.float32]:
    """The features of a spot, in an order that depends on its kind alone."""
    chances = around.phrases.chances
    text = behind(around, spot)
    beside, gap, between = left(around, spot)
    above, up, over = upright(around, spot, -1)
    below, down, under = upright(around, spot, 1)
    segment = around.sheet.segments[spot.row][spot.segment]
    after = _text(segment.words[spot.last + 1 : spot.last + 4])
    box, page = spot.found.box, _page(around, spot)
    shared = [
        bool(text), gap if not text else 0.0, between, up, over, down, under,
        len(text.split()), len(segment.words), spot.first, bool(after),
        box.left / page.width, box.top / page.height,
        spot.found.page == around.sheet.pages[0].number,
        spot.found.page == around.sheet.pages[-1].number, box.height / around.letters,
        spot.row / len(around.sheet.rows), spot.row > around.last_line >= 0,
        (spot.row - around.last_line) if around.last_line >= 0 else -99,
        around.said[spot.found.value], len(around.spots), around.sheet.values_below,
    ]  # fmt: skip
    own = _OWN[spot.kind](around, spot, after)
    ruled = [_ruled(around, spot, name) for name in FIELDS[spot.kind]]
    return np.concatenate([
        chances(text or beside), chances(above), chances(below),
        np.array([*shared, *own, *ruled], dtype=np.float32),
    ]).astype(np.float32)  # fmt: skip


def _page(around: Surroundings, spot: Spot):  # type: ignore[no-untyped-def]
    return next(page for page in around.sheet.pages if page.number == spot.found.page)


def _ruled(around: Surroundings, spot: Spot, name: str) -> float:
    """How sure the rules are that this value is the field's; more at the very place."""
    ruled = around.ruled.get(name)
    if ruled is None:
        return -1.0
    if ruled.value != spot.found.value:
        return 0.0
    same = ruled.page == spot.found.page and ruled.box is not None and (
        abs(ruled.box.left - spot.found.box.left) < 1
        and abs(ruled.box.top - spot.found.box.top) < 1
    )  # fmt: skip
    return ruled.confidence + same


def _of_date(around: Surroundings, spot: Spot, after: str) -> list[float]:
    value = spot.found.value
    days = around.days
    assert isinstance(value, date)  # noqa: S101 - told by the kind
    at = days.index(value)
    return [
        at, len(days) - 1 - at, len(days), (value - days[0]).days, (days[-1] - value).days,
        at > 0 and (value - days[at - 1]).days in TERMS,
        value.day == 1, len(after.split()),
        sum(1 for s in around.spots if s.kind == "date" and s.row < spot.row),
    ]  # fmt: skip


def _of_id(around: Surroundings, spot: Spot, after: str) -> list[float]:
    text = str(spot.found.value)
    digits, letters = sum(map(str.isdigit, text)), sum(map(str.isalpha, text))
    bare = re.sub(r"[\s.\-]", "", text)
    segment = around.sheet.segments[spot.row][spot.segment]
    title = any(
        lexicon("kinds").match(tokens, 0, around.sheet.languages) is not None
        for each in (
            segment.text,
            *([around.sheet.segments[spot.row][0].text] if spot.segment else []),
        )
        if (tokens := normalise(each))
    )
    height = max(word.box.height for word in segment.words)
    return [
        len(text), digits, letters, "-" in text, "/" in text, "." in text, text[:1].isalpha(),
        bool(re.match(r"(20)?2[4-7]", text)), text.isdigit(), text.startswith("0"),
        bool(re.fullmatch(r"[A-Z]{2}[A-Z0-9]{6,13}", bare)),
        bool(re.fullmatch(r"[A-Z]{2}[A-Z0-9]{6,13}|\d{9,12}", bare)) and tax_id_holds(bare),
        title, height / around.letters, len(segment.words) - 1 - spot.last,
        sum(1 for s in around.spots if s.kind == "id" and s.row < spot.row),
        any(word.text.startswith("+") for word in segment.words), "@" in segment.text,
        bool(_MEASURE.match(after.lower())),
        any(text == b.tax_id for b in around.hints.buyers),
    ]  # fmt: skip


def _of_amount(around: Surroundings, spot: Spot, after: str) -> list[float]:
    money = spot.found.value
    assert isinstance(money, Money)  # noqa: S101 - told by the kind
    value, others = abs(money.amount), around.amounts
    unit = minor_unit(money.currency)
    most = max(others, default=Decimal(1))
    whole, larger, smaller = around.sums
    taxed = [
        rate
        for rate in around.rates
        if any(abs(x * rate - value) <= unit for x in others if x > value)
    ]
    base = [
        rate
        for rate in around.rates
        if value and any(abs(value * rate - x) <= unit for x in others if x < value)
    ]
    with_tax = any(
        abs(x * (1 + rate) - value) <= 2 * unit
        for rate in around.rates
        for x in others
        if x < value
    )
    row = around.sheet.rows[spot.row]
    in_row = [s for s in around.spots if s.kind == "amount" and s.row == spot.row]
    lines = around.lines_sum
    return [
        float(value / most) if most else 0.0, value == most,
        sum(1 for x in others if x > value), len(others), value in whole, value in larger,
        value in smaller, bool(taxed), bool(base), with_tax,
        bool(lines) and abs(value - lines) <= unit, bool(lines) and value > lines,
        bool(lines) and abs(value - lines) in others, money.amount < 0, value == 0,
        "%" in row.text, len(in_row), in_row.index(spot), money.currency in spot.found.text,
        any(not char.isascii() and not char.isspace() for char in spot.found.text),
        max(w.box.height for w in row.words) / around.letters, len(around.rates), bool(after),
        sum(1 for s in around.spots if s.kind == "amount" and s.row > spot.row),
        math.log10(float(value) + 1),
    ]  # fmt: skip


def _of_name(around: Surroundings, spot: Spot, after: str) -> list[float]:
    text = spot.found.text
    folded = fold(text)
    rows, segments = around.sheet.rows, around.sheet.segments
    box = spot.found.box
    chances = around.phrases.chances(text)
    height = max(word.box.height for word in segments[spot.row][spot.segment].words)
    legal = LEGAL_FORM.search(folded)
    tokens = normalise(text)
    names = re.sub(r"[^a-z]", "", folded)
    below = _stack(around, spot, rows, segments)
    return [
        height / around.letters, height / around.tallest, len(text), len(text.split()),
        sum(map(str.isdigit, text)), bool(legal), text.isupper(), text.istitle(),
        text[:1].isupper(), is_ours(text, around.hints), len(below),
        any(any(map(str.isdigit, each)) for each in below),
        any(is_ours(each, around.hints) for each in below),
        bool(tokens) and lexicon("kinds").match(tokens, 0, around.sheet.languages) is not None,
        bool(tokens) and lexicon("header").match(tokens, 0, around.sheet.languages) is not None,
        fuzz.partial_ratio(names[:14], around.domains) if around.domains and len(names) > 3 else 0,
        float(chances[NAMED.index("title")]), float(chances[0]), float(chances.max(initial=0.0)),
        spot.row, len(segments[spot.row]), spot.segment, bool(after), ":" in text,
        box.left / _page(around, spot).width, len(rows) - spot.row,
        around.named[folded],
        any(mark in segments[spot.row][spot.segment].text for mark in ",·"),
        "@" in text or "www" in folded,
        *_in_line(segments[spot.row], spot, text), _facts_near(around, spot),
    ]  # fmt: skip


def _in_line(row: Sequence[Segment], spot: Spot, name: str) -> list[float]:
    """What follows a name in its line: an address is parted by marks and has figures in it."""
    rest = row[spot.segment].text.removeprefix(name)
    figures = len(re.findall(r"\d+", rest))
    marks = len(re.findall(r"[,|·•–—]| - ", rest))
    return [len(rest), figures, marks, bool(re.match(r"\s*[,|·•–—-]", rest)) and figures > 0]


def _facts_near(around: Surroundings, spot: Spot) -> float:
    """How many long numbers (accounts, tax ids, telephones) stand in the rows right around."""
    rows = around.sheet.rows[max(0, spot.row - 2) : spot.row + 3]
    return sum(1 for row in rows for word in row.words if sum(map(str.isdigit, word.text)) >= 6)


def _stack(
    around: Surroundings, spot: Spot, rows: Sequence[TextRow],
    segments: Sequence[tuple[Segment, ...]],
) -> list[str]:  # fmt: skip
    """The lines right below that begin at the same place: an address."""
    box, found = spot.found.box, []
    bottom = box.bottom
    for at in range(spot.row + 1, min(spot.row + 6, len(rows))):
        line = next((s for s in segments[at] if abs(s.box.left - box.left) < 3), None)
        if (
            line is None
            or rows[at].page != spot.found.page
            or line.box.top - bottom > 1.2 * around.letters
        ):
            break
        found.append(line.text)
        bottom = line.box.bottom
    return found


_OWN = {"date": _of_date, "id": _of_id, "amount": _of_amount, "name": _of_name}
