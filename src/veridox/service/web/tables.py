"""Lists as files for spreadsheets: CSV and XLSX, both without live formulas."""

import csv
import io
import tempfile
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from typing import Any

import xlsxwriter
from django.db.models import QuerySet
from django.http import FileResponse, HttpResponseBase, StreamingHttpResponse
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter

from veridox.service.errors import BadInputError

MOST_ROWS = 100_000
FORMS = ("csv", "xlsx")
XLSX_TYPE = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
AS_FILE: Any = {(200, "text/csv"): OpenApiTypes.STR, (200, XLSX_TYPE): OpenApiTypes.BINARY}
FORM = OpenApiParameter("as", str, enum=FORMS, description="the kind of file", default="csv")
COLUMNS = OpenApiParameter("columns", str, description="names of columns, in order, with commas")


@dataclass(frozen=True, kw_only=True, slots=True)
class Column:
    """A column of a table: its heading and what stands in it."""

    title: str
    value: Callable[[Any], Any]


def chosen(columns: dict[str, Column], names: str | None) -> list[Column]:
    """The columns asked for, all without a wish. Raises BadInputError."""
    if not names:
        return list(columns.values())
    wanted = [name.strip() for name in names.split(",")]
    unknown = [name for name in wanted if name not in columns]
    if unknown:
        raise BadInputError(
            f"unknown columns: {', '.join(unknown)}; known are {', '.join(columns)}"
        )
    return [columns[name] for name in wanted]


def harmless(text: str) -> str:
    """Text that no spreadsheet takes for a formula."""
    return f"'{text}" if text[:1] in ("=", "+", "-", "@", "\t", "\r") else text


def table_response(
    stem: str, columns: Sequence[Column], rows: QuerySet[Any] | Sequence[Any], form: str | None
) -> HttpResponseBase:
    """A table to download. Raises BadInputError on an unknown form or too many rows."""
    form = form or "csv"
    if form not in FORMS:
        raise BadInputError(f"as is one of {', '.join(FORMS)}, not {form!r}")
    count = rows.count() if isinstance(rows, QuerySet) else len(rows)
    if count > MOST_ROWS:
        raise BadInputError(f"{count:,} rows; {MOST_ROWS:,} fit at most. Narrow the list down.")
    name = f"{stem}-{timezone.now():%Y-%m-%d}.{form}"
    each = rows.iterator(chunk_size=1_000) if isinstance(rows, QuerySet) else iter(rows)
    if form == "xlsx":
        return FileResponse(
            _xlsx(columns, each), as_attachment=True, filename=name, content_type=XLSX_TYPE
        )
    response = StreamingHttpResponse(_csv(columns, each), content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


def _csv(columns: Sequence[Column], rows: Iterable[Any]) -> Iterator[str]:
    line = io.StringIO()
    writer = csv.writer(line)

    def flushed(cells: Iterable[object]) -> str:
        line.seek(0)
        line.truncate()
        writer.writerow(cells)
        return line.getvalue()

    # The mark tells spreadsheets that this is UTF-8.
    yield "\ufeff" + flushed(column.title for column in columns)
    for row in rows:
        yield flushed(_plain(column.value(row)) for column in columns)


def _plain(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, datetime):
        return value.isoformat(timespec="seconds")
    if isinstance(value, date | Decimal | int):
        return str(value)
    return harmless(str(value))


def _xlsx(columns: Sequence[Column], rows: Iterable[Any]) -> Any:
    file = tempfile.TemporaryFile()  # noqa: SIM115 - the response closes it
    book = xlsxwriter.Workbook(
        file,
        {"constant_memory": True, "strings_to_formulas": False, "strings_to_urls": False},
    )
    sheet = book.add_worksheet()
    bold = book.add_format({"bold": True})
    forms = {
        datetime: book.add_format({"num_format": "yyyy-mm-dd hh:mm:ss"}),
        date: book.add_format({"num_format": "yyyy-mm-dd"}),
    }
    # Only the look: the cell holds the amount as its own number.
    amount = book.add_format({"num_format": "#,##0.00##"})
    for at, column in enumerate(columns):
        sheet.write_string(0, at, column.title, bold)
        sheet.set_column(at, at, max(12, len(column.title) + 2))
    sheet.freeze_panes(1, 0)
    for line, row in enumerate(rows, start=1):
        for at, column in enumerate(columns):
            value = column.value(row)
            if value is None or value == "":
                continue
            if isinstance(value, datetime):
                plain = value.astimezone(timezone.get_current_timezone()).replace(tzinfo=None)
                sheet.write_datetime(line, at, plain, forms[datetime])
            elif isinstance(value, date):
                sheet.write_datetime(line, at, value, forms[date])
            elif isinstance(value, Decimal):
                sheet.write_number(line, at, value, amount)
            elif isinstance(value, int):
                sheet.write_number(line, at, value)
            else:
                sheet.write_string(line, at, harmless(str(value))[:32_767])
    book.close()
    file.seek(0)
    return file
