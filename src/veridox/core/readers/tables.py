"""Tables of master data (CSV, XLSX) as rows of text, whatever their encoding and layout."""

import csv
import io
import json
import re
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import date, datetime, time
from decimal import Decimal
from typing import Any, Final

from veridox.core.filetypes import XLSX
from veridox.core.readers.separated import separator_of
from veridox.core.readers.sniff import sniff

MOST_ROWS: Final = 1_000_000
MOST_COLUMNS: Final = 200
LONGEST_CELL: Final = 4_000
SPREADSHEET_BYTES: Final = 400 * 2**20
"""What the sheet of a spreadsheet may unpack to."""


class TableProblemError(Exception):
    """The file is no table that can be read; says why, and what can be done."""


@dataclass(frozen=True, kw_only=True, slots=True)
class TableHead:
    """What a table says of itself.

    Attributes:
        header: headings of its columns, in their order.
        form: how it was read, for people: `CSV, UTF-8, parted by commas`.
        problems: what is wrong with single cells, each with `row`, `column`, `message`.
    """

    header: tuple[str, ...]
    form: str
    problems: list[dict[str, Any]] = field(default_factory=list)


def read_table(
    content: bytes, sheet: str = ""
) -> tuple[TableHead, Iterator[tuple[int, list[str]]]]:
    """The headings of a table, and its rows with their numbers in the file (the first is 1).

    Args:
        content: CSV in UTF-8, UTF-16 or Windows-1252, or XLSX.
        sheet: name of a sheet; the first one when empty.

    Raises:
        TableProblemError: it is no table, a heading is missing or stands twice.
    """
    if not content.strip():
        raise TableProblemError("the file is empty")
    if sniff(content) == XLSX:
        return _spreadsheet(content, sheet)
    return _separated(content)


def table_as_lines(content: bytes, sheet: str = "") -> tuple[dict[str, Any], bytes]:
    """The same for another process: what the table says of itself, and its rows as JSON lines
    `[number, [cell, ...]]`."""
    head, rows = read_table(content, sheet)
    out = io.BytesIO()
    for number, cells in rows:
        out.write(json.dumps([number, cells], ensure_ascii=False).encode("utf-8", "replace"))
        out.write(b"\n")
    told = {"header": list(head.header), "form": head.form, "problems": head.problems[:100_000]}
    return told, out.getvalue()


# -- separated values


def _separated(content: bytes) -> tuple[TableHead, Iterator[tuple[int, list[str]]]]:
    text, encoding = _decoded(content)
    separator = separator_of(text) or _of_header(text)
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=separator, strict=True)
    try:
        number, header = _first(reader)
    except csv.Error as error:
        raise TableProblemError(f"this is no readable CSV table: {error}") from error
    signs = {",": "commas", ";": "semicolons", "\t": "tabs", "|": "bars"}[separator]
    head = TableHead(header=_header(header), form=f"CSV, {encoding}, parted by {signs}")
    return head, _rows(reader, number, head)


def _decoded(content: bytes) -> tuple[str, str]:
    for begin, encoding in ((b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16")):
        if content.startswith(begin):
            return content.decode(encoding, "replace"), "UTF-16"
    try:
        return content.decode("utf-8-sig"), "UTF-8"
    except UnicodeDecodeError:
        pass
    if b"\0" in content:
        raise TableProblemError("the file is neither a CSV table nor an XLSX spreadsheet")
    return content.decode("cp1252", "replace"), "Windows-1252"


def _of_header(text: str) -> str:
    """What parts the headings of a table that has few rows."""
    first = next((line for line in text.splitlines() if line.strip()), "")
    return max(("\t", ";", "|", ","), key=first.count)


def _first(reader: Any) -> tuple[int, list[str]]:
    for row in reader:
        if any(cell.strip() for cell in row):
            return int(reader.line_num), row
    raise TableProblemError("the file is empty")


def _header(cells: list[str]) -> tuple[str, ...]:
    names = [" ".join(cell.split()) for cell in cells]
    while names and not names[-1]:
        names.pop()
    if len(names) > MOST_COLUMNS:
        raise TableProblemError(f"{len(names)} columns; {MOST_COLUMNS} are taken at most")
    folded = [name.lower() for name in names]
    for at, name in enumerate(folded):
        if not name:
            raise TableProblemError(f"column {at + 1} has no heading")
        if name in folded[:at]:
            first = folded.index(name) + 1
            raise TableProblemError(
                f"the heading {names[at]!r} stands twice, in columns {first} and {at + 1}"
            )
    return tuple(names)


def _rows(reader: Any, number: int, head: TableHead) -> Iterator[tuple[int, list[str]]]:
    width, before, count = len(head.header), number, 0
    try:
        for row in reader:
            at, before = before + 1, int(reader.line_num)
            if not any(cell.strip() for cell in row):
                continue
            count += 1
            if count > MOST_ROWS:
                raise TableProblemError(f"more than {MOST_ROWS:,} rows; split the table")
            cells = [_cell(cell, at, place, head) for place, cell in enumerate(row)]
            if any(cells[width:]):
                head.problems.append(_problem(at, "", f"has {len(cells)} cells, but there are "
                                              f"{width} headings"))  # fmt: skip
            yield at, (cells + [""] * width)[:width]
    except csv.Error as error:
        raise TableProblemError(f"this is no readable CSV table: row {before}: {error}") from error


def _cell(text: str, row: int, place: int, head: TableHead) -> str:
    found = " ".join(text.split())
    name = head.header[place] if place < len(head.header) else ""
    if len(found) > LONGEST_CELL:
        head.problems.append(_problem(row, name, f"has {len(found):,} characters"))
        return found[:LONGEST_CELL]
    if found.startswith(("=", "@")) or re.match(r"[+-][A-Za-z(]", found):
        head.problems.append(_problem(row, name, f"{found[:40]!r} is a formula, not a value"))
        return ""
    return found


def _problem(row: int, column: str, message: str) -> dict[str, Any]:
    return {"row": row, "column": column, "message": message}


# -- spreadsheets


def _spreadsheet(content: bytes, sheet: str) -> tuple[TableHead, Iterator[tuple[int, list[str]]]]:
    import openpyxl

    _bounded(content)
    try:
        book = openpyxl.load_workbook(io.BytesIO(content), read_only=True, data_only=True)
        names = book.sheetnames
        if sheet and sheet not in names:
            raise TableProblemError(f"there is no sheet {sheet!r}; there are {', '.join(names)}")
        page = book[sheet or names[0]]
        rows = page.iter_rows(values_only=True)
        number, cells = _first_cells(rows)
    except TableProblemError:
        raise
    except Exception as error:
        raise TableProblemError(f"the spreadsheet cannot be opened: {error}") from error
    head = TableHead(header=_header([_shown(cell) for cell in cells]),
                     form=f"XLSX, sheet {sheet or names[0]!r}")  # fmt: skip
    # Sheets that were moved or taken out do not lie in the archive in their order.
    formulas, merged = _odd_cells(content, str(page._worksheet_path).lstrip("/"))
    for area in merged:
        head.problems.append(_problem(
            int(re.findall(r"\d+", area)[0]), "", f"cells {area} are merged; write the value into "
            "each of them",
        ))  # fmt: skip
    return head, _of_sheet(rows, number, head, formulas)


def _bounded(content: bytes) -> None:
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            size = sum(each.file_size for each in archive.infolist())
    except (zipfile.BadZipFile, ValueError) as error:
        raise TableProblemError(f"the spreadsheet is damaged: {error}") from error
    if size > SPREADSHEET_BYTES:
        raise TableProblemError(f"the spreadsheet unpacks to {size:,} bytes, which is too much")


def _first_cells(rows: Iterator[tuple[Any, ...]]) -> tuple[int, tuple[Any, ...]]:
    for number, cells in enumerate(rows, start=1):
        if any(cell is not None for cell in cells):
            return number, cells
    raise TableProblemError("the sheet is empty")


def _of_sheet(
    rows: Iterator[tuple[Any, ...]], number: int, head: TableHead, formulas: set[tuple[int, int]]
) -> Iterator[tuple[int, list[str]]]:
    width, count = len(head.header), 0
    for at, cells in enumerate(rows, start=number + 1):
        texts = [_shown(cell) for cell in cells]
        for place, text in enumerate(texts[:width]):
            if not text and (at, place) in formulas:
                head.problems.append(_problem(
                    at, head.header[place], "holds a formula whose value was never computed; "
                    "open and save the file in the spreadsheet program, or write the value",
                ))  # fmt: skip
        if not any(texts):
            continue
        count += 1
        if count > MOST_ROWS:
            raise TableProblemError(f"more than {MOST_ROWS:,} rows; split the table")
        if any(texts[width:]):
            head.problems.append(_problem(at, "", "has cells beyond the last heading"))
        yield at, (texts + [""] * width)[:width]


def _shown(cell: Any) -> str:
    """A cell's value as the text that a person would write."""
    if cell is None:
        return ""
    if isinstance(cell, bool):
        return "yes" if cell else "no"
    if isinstance(cell, datetime):
        return cell.date().isoformat() if cell.time() == time(0) else cell.isoformat(" ")
    if isinstance(cell, date):
        return cell.isoformat()
    if isinstance(cell, float):
        # What the sheet shows of a binary fraction, not its last bits.
        return f"{Decimal(repr(cell)).normalize():f}"
    return " ".join(str(cell).split())[:LONGEST_CELL]


_FORMULA: Final = re.compile(rb'<c r="([A-Z]{1,3})(\d+)"[^>]*>\s*<f[ >/]')
_MERGED: Final = re.compile(rb'<mergeCell ref="([A-Z]+\d+:[A-Z]+\d+)"')


def _odd_cells(content: bytes, path: str) -> tuple[set[tuple[int, int]], list[str]]:
    """Places of formulas, and areas of merged cells; read from the sheet's own text, since what
    reads row by row tells of neither."""
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        text = archive.read(path)
    formulas = {(int(row), _place(name.decode())) for name, row in _FORMULA.findall(text)}
    return formulas, [area.decode() for area in _MERGED.findall(text)]


def _place(letters: str) -> int:
    place = 0
    for letter in letters:
        place = place * 26 + ord(letter) - 64
    return place - 1
