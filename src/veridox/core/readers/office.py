"""Office files (DOCX, XLSX, CSV) as HTML whose tables keep their shape, to be laid out on paper."""

import csv
import io
import zipfile
from collections.abc import Iterable
from datetime import date, datetime, time
from html import escape
from typing import Any

from veridox.core.filetypes import CSV, DOCX
from veridox.core.readers.limits import Limits
from veridox.core.readers.mail.decoding import decoded
from veridox.core.readers.separated import rows_of_values

_W = "{http://schemas.openxmlformats.org/wordprocessingml/2006/main}"
_BAD = (
    zipfile.BadZipFile, KeyError, ValueError, TypeError, AttributeError, IndexError, OSError,
    SyntaxError, csv.Error, NotImplementedError, RecursionError,
)  # fmt: skip


class OfficeProblemError(Exception):
    """An office file that cannot be read; carries the finding's code."""

    def __init__(self, code: str, message: str) -> None:
        super().__init__(message)
        self.code = code


def office_html(content: bytes, media_type: str, limits: Limits) -> str:
    """The body of an HTML page with what the file shows.

    Raises:
        OfficeProblemError: it is damaged, protected or beyond the limits.
    """
    try:
        if media_type == CSV:
            return _of_csv(content, limits)
        _check(content, limits)
        return _of_docx(content) if media_type == DOCX else _of_xlsx(content, limits)
    except _BAD as error:
        raise OfficeProblemError(
            "file.broken", f"the file is damaged ({type(error).__name__})"
        ) from error


def _check(content: bytes, limits: Limits) -> None:
    """What the parts unpack to, and that none declares entities (the standard forbids it)."""
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        parts = archive.infolist()
        if any(part.flag_bits & 1 for part in parts):
            raise OfficeProblemError("file.password", "it asks for a password")
        size = sum(part.file_size for part in parts)
        if len(parts) > 5_000 or size > limits.archive_bytes:
            raise OfficeProblemError("file.too_large", f"it unpacks to {size:,} bytes")
        for part in parts:
            if not part.filename.endswith((".xml", ".rels")):
                continue
            with archive.open(part) as stream:
                # What a part says of its size may be a lie: no more than that is unpacked.
                if b"<!DOCTYPE" in stream.read(4_096):
                    raise OfficeProblemError("file.broken", "it declares entities")


# -- text documents


def _of_docx(content: bytes) -> str:
    import docx

    document = docx.Document(io.BytesIO(content))
    parts = []
    for section in document.sections:
        parts += [_blocks(section.header._element), _blocks(section.footer._element)]
    head, foot = (parts[0], parts[1]) if parts else ("", "")
    return head + _blocks(document.element.body) + foot


def _blocks(element: Any) -> str:
    """Paragraphs and tables of a body, a cell or a text box, in their order."""
    found = []
    for child in element.iterchildren():
        if child.tag == f"{_W}p":
            found.append(_paragraph(child))
        elif child.tag == f"{_W}tbl":
            found.append(_table(child))
        elif child.tag in (f"{_W}sdt", f"{_W}sdtContent"):
            found.append(_blocks(child))
    return "".join(found)


def _paragraph(element: Any) -> str:
    text, boxes = [], []
    for part in element.iter():
        if part.tag == f"{_W}txbxContent":
            # Word writes each box twice, for itself and for its elders.
            if _blocks(part) not in boxes:
                boxes.append(_blocks(part))
        elif any(up.tag == f"{_W}txbxContent" for up in part.iterancestors()):
            continue
        elif part.tag == f"{_W}t":
            text.append(escape(part.text or ""))
        elif part.tag == f"{_W}tab":
            text.append("\t")
        elif part.tag == f"{_W}br":
            text.append("<br>")
    return f"<p>{''.join(text)}</p>{''.join(boxes)}"


def _table(element: Any) -> str:
    rows = []
    for row in element.iterchildren(f"{_W}tr"):
        cells = []
        for cell in row.iterchildren(f"{_W}tc"):
            span = cell.find(f"{_W}tcPr/{_W}gridSpan")
            wide = int(span.get(f"{_W}val", "1")) if span is not None else 1
            cells.append(f'<td colspan="{max(1, min(wide, 60))}">{_blocks(cell)}</td>')
        rows.append(f"<tr>{''.join(cells)}</tr>")
    return f"<table>{''.join(rows)}</table>"


# -- sheets


def _of_xlsx(content: bytes, limits: Limits) -> str:
    import openpyxl

    # Values as they were computed when the file was saved: formulas are never run.
    book = openpyxl.load_workbook(io.BytesIO(content), data_only=True, keep_links=False)
    parts, wide = [], 0.0
    for sheet in book.worksheets:
        if sheet.sheet_state != "visible":
            continue
        if sheet.max_row * sheet.max_column > limits.cells:
            raise OfficeProblemError(
                "file.too_large", f"{sheet.title} has {sheet.max_row:,} rows of cells"
            )
        parts.append(_sheet(sheet))
        cells = ((cell.column, shown(cell)) for row in sheet.iter_rows() for cell in row)
        wide = max(wide, _width(cells))
    return _wide_enough(wide) + '<div style="break-before: page"></div>'.join(parts)


LONG = 60
"""Signs of a cell that may be broken over lines; numbers and names never are."""
SIGN, BESIDE, MARGINS = 6.3, 9.0, 90.0
"""Points of a sign at 10 points, beside a cell's text, and of both margins."""
A4_WIDTH, WIDEST = 595.0, 4_000.0


def _width(texts: Iterable[tuple[int, str]]) -> float:
    """Points that a table needs whose cells stand in columns: column and text of each."""
    columns: dict[int, int] = {}
    for column, text in texts:
        columns[column] = max(columns.get(column, 0), min(len(text), LONG))
    return sum(signs * SIGN + BESIDE for signs in columns.values()) + MARGINS


def _wide_enough(width: float) -> str:
    """Paper on which no cell falls off the edge: sheets have no width of their own."""
    if width <= A4_WIDTH:
        return ""
    return f"<style>@page {{ size: {min(width, WIDEST):.0f}pt 842pt }}</style>"


def _cell(text: str, attributes: str = "") -> str:
    kind = "" if len(text) > LONG else ' class="whole"'
    return f"<td{kind}{attributes}>{escape(text)}</td>"


def _sheet(sheet: Any) -> str:
    covered: set[tuple[int, int]] = set()
    spans: dict[tuple[int, int], tuple[int, int]] = {}
    for area in sheet.merged_cells.ranges:
        spans[area.min_row, area.min_col] = (
            area.max_row - area.min_row + 1, area.max_col - area.min_col + 1,
        )  # fmt: skip
        covered |= {
            (row, column)
            for row in range(area.min_row, area.max_row + 1)
            for column in range(area.min_col, area.max_col + 1)
        } - {(area.min_row, area.min_col)}
    rows = []
    for row in sheet.iter_rows():
        cells = []
        for cell in row:
            if (cell.row, cell.column) in covered:
                continue
            down, across = spans.get((cell.row, cell.column), (1, 1))
            number = isinstance(cell.value, int | float) and not isinstance(cell.value, bool)
            side = ' style="text-align: right"' if number else ""
            cells.append(_cell(shown(cell), f' rowspan="{down}" colspan="{across}"{side}'))
        rows.append(f"<tr>{''.join(cells)}</tr>")
    return f"<table>{''.join(rows)}</table>"


def shown(cell: Any) -> str:
    """A cell's value as its number format shows it, as far as money, shares and dates go."""
    value, form = cell.value, str(cell.number_format or "General").split(";")[0]
    if value is None:
        return ""
    if isinstance(value, datetime):
        return f"{value:%Y-%m-%d}" if value.time() == time(0) else f"{value:%Y-%m-%d %H:%M}"
    if isinstance(value, date):
        return f"{value:%Y-%m-%d}"
    if isinstance(value, bool) or not isinstance(value, int | float):
        return str(value)
    if "0" not in form:
        return f"{value:.10g}"
    percent = "%" in form
    places = len(form.partition(".")[2]) - len(form.partition(".")[2].lstrip("0#?"))
    digits = f"{value * (100 if percent else 1):{',' if ',' in form else ''}.{min(places, 10)}f}"
    sign = next((each for each in ("€", "£", "$", "¥") if each in form), "")
    return f"{sign}{digits}{' %' if percent else ''}"


# -- separated values


def _of_csv(content: bytes, limits: Limits) -> str:
    text = decoded(content, "utf-8").lstrip("\ufeff")
    rows = list(rows_of_values(text))
    if sum(len(row) for row in rows) > limits.cells:
        raise OfficeProblemError("file.too_large", f"it has {len(rows):,} rows")
    lines = ("<tr>" + "".join(_cell(cell.strip()) for cell in row) + "</tr>" for row in rows)
    wide = _width((at, cell.strip()) for row in rows for at, cell in enumerate(row))
    return f"{_wide_enough(wide)}<table>{''.join(lines)}</table>"
