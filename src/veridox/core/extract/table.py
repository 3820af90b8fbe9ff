"""The line table: header row, columns, lines, continued over pages."""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from decimal import Decimal

from veridox.core.extract.columns import (
    NUMERIC,
    Grid,
    clumps,
    header_of,
    product_holds,
    renamed,
    two_rows,
    unhidden,
    with_ends,
)
from veridox.core.extract.sheet import Sheet
from veridox.core.extract.values import FoundNumber, numbers
from veridox.core.locales.numbers import read_number
from veridox.core.money import Money, minor_unit
from veridox.core.pages import Box, TextRow, Word
from veridox.core.reading import Field, Row

TOTALS = {
    "lines_total", "net_total", "tax_total", "gross_total", "charges", "allowances", "prepaid",
    "withheld", "amount_due", "not.carried",
}  # fmt: skip
CONTINUED = 1.4
"""A continuation of a description begins at most this many letter heights below."""
Cells = dict[str, list[Word]]


@dataclass(kw_only=True, slots=True)
class _Part:
    """The rows below one header, up to the totals or the end of the page."""

    grid: Grid
    rows: list[TextRow] = field(default_factory=list)


@dataclass(kw_only=True, slots=True)
class _Building:
    """A line while it grows."""

    page: int
    bottom: float
    cells: Cells = field(default_factory=dict)
    percent: bool = False


Headers = dict[int, tuple[Grid, bool]]
"""Headers of line tables by the index of their row, and whether they take the next row too."""


def headers_of(sheet: Sheet) -> Headers:
    """The headers of all line tables (their words are no labels of the document's own)."""
    found = ((at, _header(sheet, at)) for at in range(len(sheet.rows)))
    return {at: (grid, two) for at, (grid, two) in found if grid is not None}


def table_lines(sheet: Sheet, currency: str | None, headers: Headers) -> tuple[Row, ...]:
    """All lines of the document's table, cells with their places. Empty without a table."""
    lines: list[_Building] = []
    for part in _parts(sheet, headers):
        words = [clumps(_within(row, part.grid), sheet.numbers) for row in part.rows]
        grid = with_ends(part.grid, words)
        placed = [grid.cells(each) for each in words]
        grid, placed = unhidden(renamed(grid, placed, sheet.numbers), placed, sheet.numbers)
        above: tuple[TextRow, Cells] | None = None
        for row, by_place in zip(part.rows, placed, strict=True):
            cells = _named(grid, by_place)
            above = _grow(lines, row, cells, above, sheet, grid)
    return tuple(_finish(line, sheet, currency) for line in lines)


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


def _header(sheet: Sheet, at: int) -> tuple[Grid | None, bool]:
    """The header that begins in a row, and whether it takes the next one too."""
    row = sheet.rows[at]
    alone = header_of(row, sheet.segments[at], sheet.languages)
    after = sheet.rows[at + 1] if at + 1 < len(sheet.rows) else None
    if after is None or after.page != row.page or (
        after.box.top - row.box.bottom > 0.6 * row.box.height
        or any(char.isdigit() for word in after.words for char in word.text)
    ):  # fmt: skip
        return alone, False
    joined = [grid for pair in two_rows(row, after) if (grid := header_of(*pair, sheet.languages))]
    best = max(joined, key=_known, default=None)
    below = header_of(after, sheet.segments[at + 1], sheet.languages)
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
    hit = next((hit for hit in sheet.hits if hit.row is row and hit.label.field in TOTALS), None)
    if hit is None:
        return None
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
    lines: list[_Building], row: TextRow, cells: Cells, above: tuple[TextRow, Cells] | None,
    sheet: Sheet, grid: Grid,
) -> tuple[TextRow, Cells] | None:  # fmt: skip
    """Take a row in: a line, more of the one before, or the description of the next.

    Returns the row when it may be the description of the next.
    """
    amount = numbers(tuple(cells.get("amount", ())), sheet.numbers)
    if amount:
        percent = any(column.name == "discount" and column.percent for column in grid.columns)
        line = _Building(page=row.page, bottom=row.box.bottom, cells=cells, percent=percent)
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


def _own_rows(lines: Sequence[_Building]) -> bool:
    """Whether the lines so far have their descriptions on rows above their figures."""
    last = lines[-1].cells.get("description", [])
    return bool(last) and bool(lines[-1].cells.get("amount")) and (
        last[0].box.bottom <= lines[-1].cells["amount"][0].box.top + 1
    )  # fmt: skip


def _letters(words: Sequence[Word]) -> bool:
    return any(char.isalpha() for word in words for char in word.text)


def _finish(line: _Building, sheet: Sheet, currency: str | None) -> Row:
    row: dict[str, Field] = {}
    for name, words in line.cells.items():
        row.update(_cell(name, tuple(words), line.page, sheet, currency))
    if "quantity" not in row and "unit" in row:
        row.update(_glued(row["unit"], sheet))
    percent = _discounted(row, line, sheet, currency)
    if percent is None:
        row.pop("discount", None)
    else:
        row["discount"] = percent
    sure = {None: 0.93, True: 0.999, False: 0.8}[_product_holds(row, currency)]
    return {
        name: replace(
            cell, confidence=sure if name in ("quantity", "unit_price", "amount") else 0.98
        )
        for name, cell in row.items()
    }


_GLUED = re.compile(r"(\d[\d.,]*)\s*([^\W\d][\w.]*)")


def _glued(cell: Field, sheet: Sheet) -> Iterator[tuple[str, Field]]:
    """Quantity and unit of a cell that holds both: `48 m`, `48m`."""
    match = _GLUED.fullmatch(cell.text)
    number = read_number(match[1], sheet.numbers) if match else None
    if match is not None and number is not None:
        yield "quantity", replace(cell, value=number, text=match[1])
        yield "unit", replace(cell, value=match[2], text=match[2])


_BASE = re.compile(r"(?:/|per|pro|par|por|per|za|je)\s*(\d{1,4})\b", re.IGNORECASE)


def _cell(
    name: str, words: tuple[Word, ...], page: int, sheet: Sheet, currency: str | None
) -> Iterator[tuple[str, Field]]:
    """The values of a cell: a quantity may bring its unit, a price what it is for."""
    text = " ".join(word.text for word in words)
    box = Box.around(word.box for word in words)
    if name not in NUMERIC:
        yield name, Field(value=text, text=text, page=page, box=box)
        return
    found = numbers(words, sheet.numbers)
    if not found:
        return
    number = found[0]
    if name in ("amount", "discount"):
        code = number.currency or currency
        if code is not None:
            money = Money(amount=number.number, currency=code)
            yield name, Field(value=money, text=text, page=page, box=box)
        return
    if name == "quantity":
        yield from _unit(words, number, page)
    base = _BASE.search(text)
    if name == "unit_price" and base is not None:
        value = Decimal(base[1])
        yield "price_base", Field(value=value, text=base[0], page=page, box=box)
    own = Box.around(word.box for word in number.words)
    shown = " ".join(word.text for word in number.words)
    yield name, Field(value=number.number, text=shown, page=page, box=own)


def _unit(words: tuple[Word, ...], number: FoundNumber, page: int) -> Iterator[tuple[str, Field]]:
    rest = tuple(
        word for word in words if not any(word is each for each in number.words)
        and any(char.isalpha() for char in word.text)
    )  # fmt: skip
    if rest:
        text = " ".join(word.text for word in rest)
        yield "unit", Field(value=text, text=text, page=page, box=Box.around(w.box for w in rest))


def _discounted(
    row: dict[str, Field], line: _Building, sheet: Sheet, currency: str | None
) -> Field | None:
    """The discount as money; one in percent is worked out from quantity and price."""
    cell = row.get("discount")
    if cell is None or not isinstance(cell.value, Money) or currency is None:
        return None
    found = numbers(tuple(line.cells["discount"]), sheet.numbers)
    quantity, price, amount = (
        row[name].value if name in row else None for name in ("quantity", "unit_price", "amount")
    )
    if not isinstance(quantity, Decimal) or not isinstance(price, Decimal):
        return cell if not line.percent and not found[0].percent else None
    if not isinstance(amount, Money):
        return cell
    share = cell.value.amount
    in_percent = line.percent or found[0].percent or (
        0 < abs(share) <= 100 and product_holds(quantity, price, amount.amount, abs(share))
    )  # fmt: skip
    if not in_percent:
        return cell
    off = (quantity * price * abs(share) / 100).quantize(minor_unit(currency))
    return replace(cell, value=Money(amount=off, currency=currency))


def _product_holds(row: Row, currency: str | None) -> bool | None:
    """Whether quantity x price / base - discount is the amount; None when not all are there."""
    parts = [row[name].value for name in ("quantity", "unit_price") if name in row]
    amount = row["amount"].value if "amount" in row else None
    if len(parts) != 2 or not isinstance(amount, Money) or currency is None:
        return None
    quantity, price = parts
    base = row["price_base"].value if "price_base" in row else Decimal(1)
    discount = row["discount"].value if "discount" in row else None
    if not isinstance(quantity, Decimal) or not isinstance(price, Decimal):
        return None
    if not isinstance(base, Decimal) or base == 0:
        return None
    expected = quantity * price / base
    if isinstance(discount, Money):
        expected -= discount.amount
    return abs(expected - amount.amount) <= minor_unit(currency)
