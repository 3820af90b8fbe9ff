"""The line table: header row, columns, lines, continued over pages."""

import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from decimal import Decimal

from veridox.core.extract.sheet import LabelHit, Sheet, label_hits
from veridox.core.extract.values import numbers
from veridox.core.locales.currencies import currency_of, split_sign
from veridox.core.locales.labels import lexicon
from veridox.core.money import Money, minor_unit
from veridox.core.pages import Box, Segment, TextRow, Word
from veridox.core.reading import Field, Row

NUMERIC = ("quantity", "unit_price", "price_base", "discount", "tax_rate", "amount")
TOTALS = {
    "lines_total",
    "net_total",
    "tax_total",
    "gross_total",
    "charges",
    "not.carried",
}
CONTINUED = 2.4
"""A continuation of a description begins at most this many letter heights below."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Column:
    """A column by its header's extent."""

    name: str
    left: float
    right: float


@dataclass(kw_only=True, slots=True)
class _Building:
    """A line while it grows."""

    page: int
    bottom: float
    cells: dict[str, list[Word]] = field(default_factory=dict)


def table_lines(sheet: Sheet, currency: str | None) -> tuple[Row, ...]:
    """All lines of the document's table, cells with their places. Empty without a table."""
    lines: list[_Building] = []
    columns: tuple[Column, ...] = ()
    page = 0
    open_table = False
    for row, segments in zip(sheet.rows, sheet.segments, strict=True):
        header = _header(row, segments)
        if header:
            columns, page, open_table = header, row.page, True
            continue
        if not open_table or row.page not in (page, page + 1):
            continue
        page = row.page
        cells = _cells(segments, columns)
        ended = _ends(row, cells, sheet)
        if ended is not None:
            # A carried-forward row ends the page's part; the table goes on overleaf.
            open_table = ended == "not.carried"
            continue
        _grow(lines, row, cells, sheet)
    return tuple(_finish(line, sheet, currency) for line in lines)


def _header(row: TextRow, segments: tuple[Segment, ...]) -> tuple[Column, ...]:
    hits = list(label_hits(row, segments, lexicon("columns"), anywhere=True))
    named: dict[str, LabelHit] = {}
    for hit in hits:
        # "VAT" and "Net" can head two columns; the later one of a name is the amount.
        if hit.label.field not in named or hit.label.field == "amount":
            named[hit.label.field] = hit
    covered = sum(hit.last - hit.first + 1 for hit in hits)
    if len(named) < 3 or "amount" not in named or covered < 0.7 * len(row.words):
        return ()
    if "description" not in named and "item_code" not in named:
        return ()
    if "description" not in named:
        named["description"] = named.pop("item_code")
    return tuple(
        sorted(
            (
                Column(name=name, left=hit.box.left, right=hit.box.right)
                for name, hit in named.items()
            ),
            key=lambda column: column.left,
        )
    )


def _numeric_text(text: str) -> bool:
    bare = split_sign(text)[1].rstrip("%")
    return bool(re.fullmatch(r"[-(\u2212]?\d[\d.,'\u2019]*[-)]?", bare))


def _cells(segments: tuple[Segment, ...], columns: tuple[Column, ...]) -> dict[str, list[Word]]:
    cells: dict[str, list[Word]] = {}
    for segment in segments:
        previous = ""
        for word in segment.words:
            name = _column_of(word, previous, columns, cells)
            cells.setdefault(name, []).append(word)
            previous = name
    return cells


def _column_of(
    word: Word, previous: str, columns: tuple[Column, ...], cells: dict[str, list[Word]]
) -> str:
    numeric = _numeric_text(word.text)
    if numeric:
        overlaps = [
            (
                min(word.box.right, column.right) - max(word.box.left, column.left),
                column.name,
            )
            for column in columns
            if column.name in NUMERIC or column.name == "id"
        ]
        best = max(overlaps, default=(0.0, ""))
        if best[0] > 0:
            return best[1]
        if previous in ("description", "item_code", "unit"):
            return previous
    sign = word.text == "%" or currency_of(word.text) is not None
    if sign and previous in NUMERIC:
        return previous
    if previous == "quantity" and not numeric and "unit" not in cells:
        return "unit"  # "10 bags" in one column
    texts = [column for column in columns if column.name not in NUMERIC]
    starts = [column for column in texts if column.left <= word.box.left + 3]
    if numeric and not starts:
        nearest = min(columns, key=lambda c: abs((c.left + c.right) / 2 - word.box.middle[0]))
        return nearest.name
    if numeric:
        # A number that stands under no header: the nearest numeric column on
        # its side of the text, if one is near.
        near = [c for c in columns if c.name in NUMERIC and _distance(c, word.box) < 25]
        if near:
            return min(near, key=lambda column: _distance(column, word.box)).name
    return (starts or texts or list(columns))[-1 if starts else 0].name


def _distance(column: Column, box: Box) -> float:
    return max(column.left - box.right, box.left - column.right, 0.0)


def _ends(row: TextRow, cells: dict[str, list[Word]], sheet: Sheet) -> str | None:
    """The label that ends the table in this row, None while lines go on."""
    if "unit_price" in cells or "quantity" in cells:
        return None
    hit = next(
        (hit for hit in sheet.hits if hit.row is row and hit.label.field in TOTALS),
        None,
    )
    return hit.label.field if hit else None


def _grow(lines: list[_Building], row: TextRow, cells: dict[str, list[Word]], sheet: Sheet) -> None:
    amount = numbers(tuple(cells.get("amount", ())), sheet.numbers)
    if amount:
        lines.append(_Building(page=row.page, bottom=row.box.bottom, cells=cells))
        return
    text = cells.get("description")
    if not text or not lines or set(cells) - {"description", "item_code"}:
        return
    last = lines[-1]
    height = row.box.height or 1.0
    if last.page == row.page and row.box.top - last.bottom <= (CONTINUED - 1) * height:
        last.cells.setdefault("description", []).extend(text)
        last.bottom = row.box.bottom


def _finish(line: _Building, sheet: Sheet, currency: str | None) -> Row:
    row: dict[str, Field] = {}
    for name, words in line.cells.items():
        cell = _cell(name, tuple(words), line.page, sheet, currency)
        if cell is not None:
            row[name] = cell
    holds = _product_holds(row, currency)
    sure = {None: 0.93, True: 0.999, False: 0.8}[holds]
    return {
        name: Field(
            value=cell.value,
            text=cell.text,
            page=cell.page,
            box=cell.box,
            confidence=sure if name in ("quantity", "unit_price", "amount") else 0.98,
            origin=cell.origin,
        )
        for name, cell in row.items()
    }


def _cell(
    name: str, words: tuple[Word, ...], page: int, sheet: Sheet, currency: str | None
) -> Field | None:
    text = " ".join(word.text for word in words)
    box = Box.around(word.box for word in words)
    if name not in NUMERIC:
        return Field(value=text, text=text, page=page, box=box)
    found = numbers(words, sheet.numbers)
    if not found:
        return None
    number = found[0].number
    if name in ("amount", "discount"):
        code = found[0].currency or currency
        if code is None or (name == "discount" and found[0].percent):
            return None
        return Field(value=Money(amount=number, currency=code), text=text, page=page, box=box)
    return Field(value=number, text=text, page=page, box=box)


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


def table_rows(sheet: Sheet) -> Iterator[TextRow]:
    """Rows that are headers of line tables (their words are not header labels)."""
    for row, segments in zip(sheet.rows, sheet.segments, strict=True):
        if _header(row, segments):
            yield row
