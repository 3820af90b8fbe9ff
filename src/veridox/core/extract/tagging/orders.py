"""Numbers of orders where a bill names several: side by side at the head, and within its table."""

import re
from bisect import bisect_left, bisect_right
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Final

from veridox.core.extract.tagging.tagged import Span, Tagged
from veridox.core.extract.tagging.tokens import Token
from veridox.core.locales.labels import lexicon, normalise
from veridox.core.locales.languages import AND
from veridox.core.pages import Box
from veridox.core.reading import Field, Row

BETWEEN: Final = frozenset(("/", "&", "+", ",", ";", *AND))
"""What stands between two numbers."""
_CALLED: Final = frozenset(
    ("order", "commande", "pedido", "ordine", "bestelling", "zamowienie", "encomenda",
     "bestallning")
)  # fmt: skip
"""Words that alone are too common for a label, but name an order where a number follows."""
_LONGEST_LABEL: Final = 5
_NEAR: Final = 3
"""Rows from a line in which what names its order may stand."""
_FROM_TABLE: Final = 0.9
"""How far a number within the table is trusted: it only helps to tell orders of ours apart."""


def side_by_side(tagged: Tagged, span: Span) -> tuple[str, Span]:
    """A number with others of its shape that stand behind it in its row, parted by commas."""
    while len(span.at) > 1 and span.tokens[-1].text.casefold() in BETWEEN:
        span = Span(span.at[:-1], span.tokens[:-1], span.chance)
    numbers, at = [span.text], span.at[-1] + 1
    own = list(span.at)
    shape = _shape(span.text)
    while at + 1 < len(tagged.tokens):
        between, token = tagged.tokens[at], tagged.tokens[at + 1]
        if between.row != span.tokens[0].row or token.row != between.row:
            break
        word = between.text.strip().casefold()
        if word not in BETWEEN or _shape(token.text) != shape:
            break
        numbers.append(token.text.strip(" ,;:"))
        own += [at, at + 1]
        at += 2
    if len(numbers) == 1:
        return span.text, span
    return ", ".join(numbers), Span(tuple(own), tuple(tagged.tokens[a] for a in own), span.chance)


def _shape(text: str) -> str:
    """`PO-26-0117` as `aa-99-9999`; numbers of one company look alike."""
    bare = text.strip(" ,;:").casefold()
    return re.sub(r"[a-z]", "a", re.sub(r"\d", "9", bare))


@dataclass(frozen=True, slots=True)
class _Named:
    """A number of an order with where it stands."""

    at: int
    row: int
    field: Field


def with_orders(tagged: Tagged, lines: Sequence[Row]) -> tuple[Row, ...]:
    """Lines with the number of the order that each is of, where the table says several.

    A number stands in a column of its own, above the lines that are of it, or below each line.
    What is named at the head of the bill alone is said of all lines, and left there.
    """
    rows = _rows_of(tagged, lines)
    placed = sorted(row for row in rows if row is not None)
    named = _within(tagged, placed) if placed else []
    if not named:
        return tuple(lines)
    below = named[0].row > placed[0]
    headings = _headings(tagged, {each.row for each in named})
    found = []
    for line, row in zip(lines, rows, strict=True):
        if row is None:
            found.append(line)
            continue
        own = _of_line(named, row, placed, below=below)
        bare = _without_heading(line, _near(headings, row))
        found.append({**bare, "order_number": own.field} if own is not None else bare)
    return tuple(found)


def _rows_of(tagged: Tagged, lines: Sequence[Row]) -> list[int | None]:
    """The row of the document in which each line stands."""
    at_place = {(token.page, token.box): token.row for token in tagged.tokens}
    return [_row_of(tagged, line, at_place) for line in lines]


def _within(tagged: Tagged, placed: list[int]) -> list[_Named]:
    """Numbers from the heads of the table to right below its last line."""
    starts, last = _table_starts(tagged, placed[0]), placed[-1]
    return [each for each in _named(tagged) if starts <= each.row <= last + _NEAR]


@dataclass(frozen=True, slots=True)
class _Heading:
    """The words of a row that names an order, and where it stands."""

    words: set[str]
    page: int
    level: float


def _headings(tagged: Tagged, rows: set[int]) -> dict[int, _Heading]:
    found: dict[int, _Heading] = {}
    for token in tagged.tokens:
        if token.row in rows:
            place = _Heading(set(), token.page, token.box.middle[1])
            found.setdefault(token.row, place).words.update(token.text.split())
    return found


def _near(headings: Mapping[int, _Heading], row: int) -> list[_Heading]:
    """Headings around a row that are not in it."""
    around = range(row - _NEAR, row + _NEAR + 1)
    return [headings[each] for each in around if each in headings and each != row]


def _without_heading(line: Row, headings: list[_Heading]) -> Row:
    """A line without the words that name an order at the beginning or end of its description, where
    that reaches into their row: else they are its own."""
    described = line.get("description")
    if described is None or described.box is None:
        return line
    words = str(described.value).split()
    for heading in headings:
        inside = described.box.top <= heading.level <= described.box.bottom
        if not inside or described.page != heading.page:
            continue
        while len(words) > 1 and words[-1] in heading.words:
            words.pop()
        while len(words) > 1 and words[0] in heading.words:
            words.pop(0)
    return {**line, "description": replace(described, value=" ".join(words))}


def _of_line(named: list[_Named], row: int, rows: list[int], *, below: bool) -> _Named | None:
    """The number that a line is of: in its row, else the last above it, or the first below it and
    before the next line. Both lists go by row."""
    at = bisect_left(named, row, key=lambda each: each.row)
    if at < len(named) and named[at].row == row:
        return named[at]
    if not below:
        return named[at - 1] if at else None
    next_line = bisect_right(rows, row)
    following = rows[next_line] if next_line < len(rows) else row + _NEAR + 1
    return named[at] if at < len(named) and named[at].row < following else None


def _row_of(tagged: Tagged, line: Row, at_place: Mapping[tuple[int, Box], int]) -> int | None:
    """The row of the document in which a line's amount stands."""
    cell = line.get("amount") or next(iter(line.values()), None)
    if cell is None or cell.box is None:
        return None
    known = at_place.get((cell.page or 0, cell.box))
    if known is not None:
        return known
    own = tagged.within(cell.box, cell.page or 0)
    return tagged.tokens[own[0]].row if own else None


def _table_starts(tagged: Tagged, first: int) -> int:
    """The row of the heads of columns, or the third before the first line where there are none."""
    heads = [
        token.row for token, tag in zip(tagged.tokens, tagged.best, strict=True)
        if tag.startswith("header.") and token.row < first
    ]  # fmt: skip
    return max(heads, default=first - 3)


def _named(tagged: Tagged) -> Iterator[_Named]:
    """Numbers with the word for an order right before them, or at the head of their column."""
    column: tuple[float, float, int] | None = None
    tokens = tagged.tokens
    for at, token in enumerate(tokens):
        head = _head_of_column(tagged, at)
        if head is not None:
            column = head
        elif _is_number(token) and (
            _label_ends(tagged, at) or (column is not None and _in_column(token, column))
        ):
            yield _found(tagged, at)


def _found(tagged: Tagged, at: int) -> _Named:
    token = tagged.tokens[at]
    field = Field(value=token.text.strip(" ,;:()"), text=token.text, page=token.page,
                  box=token.box, confidence=_FROM_TABLE)  # fmt: skip
    return _Named(at, token.row, field)


def _is_number(token: Token) -> bool:
    text = token.text.strip(" ,;:()")
    digits = sum(map(str.isdigit, text))
    shown = token.places > 0 or bool(token.currency) or token.percent
    return digits >= 3 and token.day is None and not shown and len(text) <= 30


def _label_ends(tagged: Tagged, at: int) -> bool:
    """Whether the words right before a number call it an order's."""
    tokens = tagged.tokens
    words: list[str] = []
    for before in reversed(tokens[max(0, at - _LONGEST_LABEL) : at]):
        near = tokens[at].box.left - before.box.right
        if before.row != tokens[at].row or (not words and near > 3 * tagged.letter):
            break
        if before.number is not None or before.day is not None:
            break
        words[:0] = normalise(before.text)
        if _calls(tuple(words), tagged.document.languages):
            return True
    return False


def _calls(words: tuple[str, ...], languages: tuple[str, ...]) -> bool:
    if not words:
        return False
    label = lexicon("header").match(words, 0, languages)
    whole = label is not None and len(label.words) == len(words)
    if whole and label is not None:
        return label.field == "order_number"
    return words[0] in _CALLED and all(word in ("no", "nr", "n", "number") for word in words[1:])


def _head_of_column(tagged: Tagged, at: int) -> tuple[float, float, int] | None:
    """Left, right and page of the head of a column of orders' numbers; None for any other word."""
    cell = tagged.cells[tagged.cell_of[at]]
    if cell[0] != at or len(cell) > _LONGEST_LABEL:
        return None
    words = tuple(word for each in cell for word in normalise(tagged.tokens[each].text))
    if not _calls(words, tagged.document.languages):
        return None
    if not any(tagged.best[each].startswith("header.") for each in _in_row(tagged, at)):
        return None
    box = tagged.tokens[cell[0]].box
    return box.left, tagged.tokens[cell[-1]].box.right, tagged.tokens[at].page


def _in_row(tagged: Tagged, at: int) -> Iterator[int]:
    row = tagged.tokens[at].row
    for each in range(max(0, at - 30), min(len(tagged.tokens), at + 30)):
        if tagged.tokens[each].row == row:
            yield each


def _in_column(token: Token, column: tuple[float, float, int]) -> bool:
    left, right, page = column
    return token.page == page and min(right, token.box.right) - max(left, token.box.left) > 0
