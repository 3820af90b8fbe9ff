"""The line table: header row, columns, lines, continued over pages."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field

from veridox.core.extract.cells import Building, Cells, finished
from veridox.core.extract.columns import (
    Grid,
    Named,
    clumps,
    header_of,
    renamed,
    two_rows,
    unhidden,
    with_ends,
)
from veridox.core.extract.sheet import Sheet
from veridox.core.extract.values import numbers
from veridox.core.pages import TextRow, Word
from veridox.core.reading import Row

TOTALS = {
    "lines_total", "net_total", "tax_total", "gross_total", "charges", "allowances", "prepaid",
    "withheld", "amount_due", "not.carried",
}  # fmt: skip
CONTINUED = 1.4
"""A continuation of a description begins at most this many letter heights below."""


@dataclass(kw_only=True, slots=True)
class _Part:
    """The rows below one header, up to the totals or the end of the page."""

    grid: Grid
    rows: list[TextRow] = field(default_factory=list)


Headers = dict[int, tuple[Grid, bool]]
"""Headers of line tables by the index of their row, and whether they take the next row too."""


def headers_of(sheet: Sheet, named: Named | None = None) -> Headers:
    """The headers of all line tables (their words are no labels of the document's own)."""
    found = ((at, _header(sheet, at, named)) for at in range(len(sheet.rows)))
    return {at: (grid, two) for at, (grid, two) in found if grid is not None}


def table_lines(sheet: Sheet, currency: str | None, headers: Headers) -> tuple[Row, ...]:
    """All lines of the document's table, cells with their places. Empty without a table."""
    lines: list[Building] = []
    for part in _parts(sheet, headers):
        words = [clumps(_within(row, part.grid), sheet.numbers) for row in part.rows]
        grid = with_ends(part.grid, words)
        placed = [grid.cells(each) for each in words]
        grid, placed = unhidden(renamed(grid, placed, sheet.numbers), placed, sheet.numbers)
        above: tuple[TextRow, Cells] | None = None
        for row, by_place in zip(part.rows, placed, strict=True):
            cells = _named(grid, by_place)
            above = _grow(lines, row, cells, above, sheet, grid)
    return tuple(finished(line, sheet, currency) for line in lines)


def _parts(sheet: Sheet, headers: Headers) -> Iterator[_Part]:
    part: _Part | None = None
    page, skip = 0, False
    for at, row in enumerate(sheet.rows):
        if skip:
            skip = False
            continue
        if at in headers:
            header, skip = headers[at]
            if part is not None and part.rows:
                yield part
            part, page = _Part(grid=header), row.page
            continue
        if part is None or row.page not in (page, page + 1):
            continue
        ended = _ends(row, sheet)
        if ended == "not.carried":
            continue
        if ended is not None:
            yield part
            part = None
            continue
        page = row.page
        if any(char.isalnum() for word in row.words for char in word.text):
            part.rows.append(row)  # and not a rule of dashes
    if part is not None:
        yield part


def _header(sheet: Sheet, at: int, named: Named | None) -> tuple[Grid | None, bool]:
    """The header that begins in a row, and whether it takes the next one too."""
    row = sheet.rows[at]
    alone = header_of(row, sheet.segments[at], sheet.languages, named)
    after = sheet.rows[at + 1] if at + 1 < len(sheet.rows) else None
    if after is None or after.page != row.page or (
        after.box.top - row.box.bottom > 0.6 * row.box.height
        or any(char.isdigit() for word in after.words for char in word.text)
    ):  # fmt: skip
        return alone, False
    joined = [
        grid for pair in two_rows(row, after) if (grid := header_of(*pair, sheet.languages, named))
    ]
    best = max(joined, key=_known, default=None)
    below = header_of(after, sheet.segments[at + 1], sheet.languages, named)
    if best is not None and below is not None and _known(below) >= _known(best):
        return alone, False  # the next row is the header, and this one none
    if best is not None and (alone is None or _known(best) > _known(alone)):
        return best, True
    return alone, False


def _known(grid: Grid) -> int:
    return sum(bool(column.name) for column in grid.columns)


def _within(row: TextRow, grid: Grid) -> tuple[Word, ...]:
    """The words of a row, without what stands in a column of its own left of the table."""
    left = grid.columns[0].left
    outside = [segment for segment in row.segments() if segment.box.right < left - row.box.height]
    return tuple(
        word for word in row.words if not any(word in segment.words for segment in outside)
    )


def _ends(row: TextRow, sheet: Sheet) -> str | None:
    """The label of a total that ends the table in this row, None while lines go on."""
    hits = [hit for hit in sheet.hits if hit.row is row and hit.label.field in TOTALS]
    if not hits:
        return None
    hit = hits[0]
    if len({each.label.field for each in hits}) > 1:
        return hit.label.field  # all totals in one sentence
    behind = [n for n in numbers(row.words[hit.last + 1 :], sheet.numbers) if not n.percent]
    before = row.words[: hit.first]
    # A line for transport has a quantity and a price; a total has its amount alone.
    if len(behind) > 2 or (len(behind) == 2 and before):
        return None
    return hit.label.field


def _named(grid: Grid, by_place: dict[int, list[Word]]) -> Cells:
    cells: Cells = {}
    for place, words in by_place.items():
        name = grid.columns[place].name
        if name and words:
            cells.setdefault(name, []).extend(words)
    return cells


def _grow(
    lines: list[Building], row: TextRow, cells: Cells, above: tuple[TextRow, Cells] | None,
    sheet: Sheet, grid: Grid,
) -> tuple[TextRow, Cells] | None:  # fmt: skip
    """Take a row in: a line, more of the one before, or the description of the next.

    Returns the row when it may be the description of the next.
    """
    amount = numbers(tuple(cells.get("amount", ())), sheet.numbers)
    if amount:
        percent = any(column.name == "discount" and column.percent for column in grid.columns)
        line = Building(page=row.page, bottom=row.box.bottom, cells=cells, percent=percent)
        if above is not None and not _letters(cells.get("description", ())):
            # What it is stands on a row of its own above the figures.
            line.cells["description"] = [
                *(word for words in above[1].values() for word in words),
                *cells.get("description", ()),
            ]
        lines.append(line)
        return None
    text = cells.get("description")
    if not text:
        return None
    near = bool(lines) and lines[-1].page == row.page and (
        row.box.top - lines[-1].bottom <= (CONTINUED - 1) * (row.box.height or 1.0)
    )  # fmt: skip
    last = lines[-1] if lines else None
    if near and last and not set(cells) - {"description", "item_code"} and (
        _letters(last.cells.get("description", ())) and not _own_rows(lines)
    ):  # fmt: skip
        last.cells["description"].extend(text)
        last.bottom = row.box.bottom
        return None
    return row, cells


def _own_rows(lines: Sequence[Building]) -> bool:
    """Whether the lines so far have their descriptions on rows above their figures."""
    last = lines[-1].cells.get("description", [])
    return bool(last) and bool(lines[-1].cells.get("amount")) and (
        last[0].box.bottom <= lines[-1].cells["amount"][0].box.top + 1
    )  # fmt: skip


def _letters(words: Sequence[Word]) -> bool:
    return any(char.isalpha() for word in words for char in word.text)
