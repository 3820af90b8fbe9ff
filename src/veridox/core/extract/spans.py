"""Where the value of a label may stand: behind it, further right, or below."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from veridox.core.extract.sheet import LabelHit, Sheet
from veridox.core.extract.thresholds import BELOW_REACH
from veridox.core.pages import Box, Segment, TextRow, Word

TELLING = frozenset(
    {
        "number",
        "issue_date",
        "due_date",
        "order_number",
        "delivery_note",
        "delivery_date",
        "not.customer_number",
        "not.buyer_tax_id",
        "not.quote",
    }
)
"""Labels whose values have figures in them."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Span:
    """Words that may hold a label's value.

    Attributes:
        words: from left to right.
        page: page number.
        trust: in [0, 1], how often a value at such a place belongs to its label.
    """

    words: tuple[Word, ...]
    page: int
    trust: float

    @property
    def text(self) -> str:
        """Words joined by single spaces."""
        return " ".join(word.text for word in self.words)

    def box(self) -> Box:
        """Around all words."""
        return Box.around(word.box for word in self.words)


def spans_of(hit: LabelHit, sheet: Sheet) -> Iterator[Span]:
    """Places of a label's value, the likeliest first."""
    row, index = hit.row, sheet.position(hit.row)
    others = _other_labels(hit, sheet)
    segments = sheet.segments[index]
    behind = _behind(hit, segments, others)
    if behind:
        yield Span(words=behind, page=row.page, trust=0.995)
    right = _right(hit, segments, row, others)
    below = _below(hit, sheet, index)
    under = bool(below) and not behind and sheet.values_below
    if under:
        yield Span(words=below, page=row.page, trust=0.985)
    if right:
        yield Span(words=right, page=row.page, trust=0.8 if under else 0.9 if behind else 0.99)
    if below and not under:
        yield Span(words=below, page=row.page, trust=0.97 if not behind and not right else 0.8)


def stands_below(hits: Iterable[LabelHit], sheet: Sheet) -> bool:
    """Whether this document's values stand below their labels rather than right of them.

    Told by labels beside which only one of the two places holds figures.
    """
    votes = 0
    for hit in hits:
        if hit.label.field not in TELLING:
            continue
        index = sheet.position(hit.row)
        segments = sheet.segments[index]
        if _behind(hit, segments, set()):
            continue
        right = _figures(_right(hit, segments, hit.row, set()))
        below = _figures(_below(hit, sheet, index))
        votes += (below and not right) - (right and not below)
    return votes > 0


def _figures(words: tuple[Word, ...]) -> bool:
    return any(char.isdigit() for word in words[:4] for char in word.text)


def _behind(hit: LabelHit, segments: tuple[Segment, ...], others: set[int]) -> tuple[Word, ...]:
    """What follows the label within its segment, up to the next label."""
    words: list[Word] = []
    inside = next(
        segment for segment in segments if any(w is hit.row.words[hit.last] for w in segment.words)
    )
    for position in range(hit.last + 1, len(hit.row.words)):
        word = hit.row.words[position]
        if position in others or not any(word is each for each in inside.words):
            break
        words.append(word)
    while words and words[0].text in (":", "-", "/", "."):
        words.pop(0)
    return tuple(words)


def _right(
    hit: LabelHit, segments: tuple[Segment, ...], row: TextRow, others: set[int]
) -> tuple[Word, ...]:
    """The next segment on the row, unless it is a label itself."""
    taken = {id(row.words[position]) for position in others}
    for segment in segments:
        if segment.box.left > hit.box.right and not any(
            word is row.words[hit.last] for word in segment.words
        ):
            if id(segment.words[0]) in taken:
                return ()
            return segment.words
    return ()


def _other_labels(hit: LabelHit, sheet: Sheet) -> set[int]:
    """Words of a label's row that other labels are made of."""
    beside = [each for each in sheet.hits if each.row is hit.row and each is not hit]
    return {word for each in beside for word in range(each.first, each.last + 1)}


def _is_label(segment: Segment, row: TextRow, sheet: Sheet) -> bool:
    return any(
        other.row is row and row.words[other.first] is segment.words[0] for other in sheet.hits
    )


def _flush(segment: Segment, hit: LabelHit) -> bool:
    """Whether a segment shares an edge with the label, or most of its width."""
    shared = min(segment.box.right, hit.box.right) - max(segment.box.left, hit.box.left)
    left = abs(segment.box.left - hit.box.left) < 4
    right = abs(segment.box.right - hit.box.right) < 4
    return shared > 0 and (left or right or shared > 0.6 * hit.box.width)


def _below(hit: LabelHit, sheet: Sheet, index: int) -> tuple[Word, ...]:
    """The nearest segment underneath that shares the label's left or right edge."""
    for position in range(index + 1, min(index + 5, len(sheet.rows))):
        row = sheet.rows[position]
        if row.page != hit.row.page:
            return ()
        if row.box.top - hit.box.bottom > BELOW_REACH * hit.box.height:
            return ()
        across = _cell_of(hit, sheet.segments[index], sheet.segments[position])
        for segment in sheet.segments[position]:
            inside = across is not None and across[0] < segment.box.middle[0] < across[1]
            if inside or _flush(segment, hit):
                return () if _is_label(segment, row, sheet) else segment.words
    return ()


def _cell_of(
    hit: LabelHit, segments: tuple[Segment, ...], below: tuple[Segment, ...]
) -> tuple[float, float] | None:
    """How far a label's cell reaches in a row of labels; None where it stands alone."""
    at = next(
        (n for n, each in enumerate(segments) if hit.row.words[hit.first] in each.words), None
    )
    if at is None or len(segments) < 2 or segments[at].words[0] is not hit.row.words[hit.first]:
        return None
    if len(below) == len(segments):  # a cell below each
        return below[at].box.left - 1, below[at].box.right + 1
    own = segments[at].box
    left = (segments[at - 1].box.right + own.left) / 2 if at else own.left - own.width
    last = at + 1 == len(segments)
    right = own.right + own.width if last else (own.right + segments[at + 1].box.left) / 2
    return left, right
