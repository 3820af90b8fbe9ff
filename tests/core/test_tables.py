"""Tables of strangers as rows: encodings, separators, headings, and what spreadsheets do."""

import io
import zipfile
from datetime import date, datetime

import openpyxl
import pytest

from veridox.core.readers.tables import (
    LONGEST_CELL,
    MOST_COLUMNS,
    TableProblemError,
    read_table,
    table_as_lines,
)

NAMES = "code;name\nV1;Müller & Söhne\n"


def rows_of(content, sheet=""):
    head, rows = read_table(content, sheet)
    return head, list(rows)


def book(*sheets, active=None):
    """A spreadsheet of sheets given as (title, rows)."""
    found = openpyxl.Workbook()
    found.remove(found.active)
    for title, rows in sheets:
        page = found.create_sheet(title)
        for row in rows:
            page.append(row)
    out = io.BytesIO()
    found.save(out)
    return out.getvalue()


@pytest.mark.parametrize(("encoding", "named"), [
    ("utf-8", "UTF-8"), ("utf-8-sig", "UTF-8"), ("utf-16", "UTF-16"), ("cp1252", "Windows-1252"),
])  # fmt: skip
def test_whatever_the_encoding_names_stay_what_they_are(encoding, named):
    head, rows = rows_of(NAMES.encode(encoding))
    assert head.header == ("code", "name")
    assert rows == [(2, ["V1", "Müller & Söhne"])]
    assert head.form == f"CSV, {named}, parted by semicolons"


@pytest.mark.parametrize(("sign", "named"), [
    (",", "commas"), (";", "semicolons"), ("\t", "tabs"), ("|", "bars"),
])  # fmt: skip
def test_what_parts_the_cells_is_found_out(sign, named):
    head, rows = rows_of(f"code{sign}name\nV1{sign}A\nV2{sign}B\n".encode())
    assert [cells for _, cells in rows] == [["V1", "A"], ["V2", "B"]]
    assert head.form.endswith(f"parted by {named}")


def test_rows_keep_their_numbers_past_blank_lines_and_breaks_in_cells():
    _, rows = rows_of(b'\ncode,name\n\nV1,"two\nlines"\n,\nV2,B\n')
    assert rows == [(4, ["V1", "two lines"]), (7, ["V2", "B"])]


def test_short_rows_are_filled_and_long_ones_told():
    head, rows = rows_of(b"code,name\nV1\nV2,B,C\nV3,C,\n")
    assert [cells for _, cells in rows] == [["V1", ""], ["V2", "B"], ["V3", "C"]]
    assert [(each["row"], each["message"]) for each in head.problems] == [
        (3, "has 3 cells, but there are 2 headings"),
    ]  # fmt: skip


@pytest.mark.parametrize(("content", "said"), [
    (b"", "empty"), (b" \n\n", "empty"), (b",,\n", "empty"),
    (b"code,,name\n1,2,3\n", "column 2 has no heading"),
    (b"code,name, CODE \n1,2,3\n", "stands twice, in columns 1 and 3"),
    (b"a,b\n\0\0\xff\xfe\0", "neither a CSV table nor an XLSX"),
    (",".join(f"c{n}" for n in range(MOST_COLUMNS + 1)).encode() + b"\n", "columns; 200 are taken"),
    (b'code,name\nV1,"open\n', "no readable CSV table"),
])  # fmt: skip
def test_what_is_no_table_is_told(content, said):
    with pytest.raises(TableProblemError, match=said):
        rows_of(content)


@pytest.mark.parametrize(("cell", "kept"), [
    ("=1+1", False), ("@SUM(A1)", False), ("+A1", False), ("-(3)", False),
    ("-12.50", True), ("+44 20 7946 0000", True), ("a=b", True),
])  # fmt: skip
def test_a_formula_is_no_value(cell, kept):
    head, rows = rows_of(f"code,name\nV1,{cell}\n".encode())
    assert rows[0][1][1] == (cell if kept else "")
    assert [each["row"] for each in head.problems] == ([] if kept else [2])


def test_a_cell_without_end_is_cut_and_told():
    head, rows = rows_of(b"code,name\nV1," + b"x" * (LONGEST_CELL + 1) + b"\n")
    assert len(rows[0][1][1]) == LONGEST_CELL
    assert head.problems[0]["column"] == "name"


def test_cells_of_a_spreadsheet_become_what_people_write():
    content = book(("Vendors", [
        # A spreadsheet knows no time zones.
        ["code", "day", "at", "price", "count", "blocked", "none"],
        ["V1", date(2026, 11, 5), datetime(2026, 11, 5, 8, 30), 0.1, 12, True, None],  # noqa: DTZ001
    ]))  # fmt: skip
    head, rows = rows_of(content)
    assert head.form == "XLSX, sheet 'Vendors'"
    assert rows == [(2, ["V1", "2026-11-05", "2026-11-05 08:30:00", "0.1", "12",
                         "yes", ""])]  # fmt: skip


def test_a_sheet_is_taken_by_its_name_and_one_that_is_none_is_told():
    content = book(("Old", [["code"], ["O1"]]), ("Active", [["code"], ["A1"]]))
    assert rows_of(content)[1] == [(2, ["O1"])]
    assert rows_of(content, "Active")[1] == [(2, ["A1"])]
    with pytest.raises(TableProblemError, match="there are Old, Active"):
        rows_of(content, "Gone")


def test_merged_cells_and_formulas_are_told_of_the_very_sheet():
    """Also where sheets were moved: then the first one is not the first in the archive."""
    found = openpyxl.load_workbook(io.BytesIO(book(
        ("Plain", [["code", "name"], ["P1", "A"]]), ("Odd", [["code", "name"], ["X1", "=1+1"]]),
    )))  # fmt: skip
    found["Odd"].merge_cells("A3:B3")
    found["Odd"]["A3"] = "X2"
    found.move_sheet("Odd", offset=-1)
    out = io.BytesIO()
    found.save(out)
    # As a program writes it that keeps each sheet's file where it was.
    swapped = _swap(out.getvalue(), "xl/worksheets/sheet1.xml", "xl/worksheets/sheet2.xml")
    head, _ = rows_of(swapped, "Plain")
    assert head.problems == []
    head, _ = rows_of(swapped, "Odd")
    assert [(each["row"], each["message"].split(";")[0]) for each in head.problems] == [
        (3, "cells A3:B3 are merged"), (2, "holds a formula whose value was never computed"),
    ]  # fmt: skip


def _swap(content, one, other):
    """The same workbook with two of its files under each other's names, and told so."""
    out = io.BytesIO()
    names = {one: other, other: one}
    with zipfile.ZipFile(io.BytesIO(content)) as old, zipfile.ZipFile(out, "w") as new:
        for each in old.namelist():
            data = old.read(each)
            if each == "xl/_rels/workbook.xml.rels":
                first, second = (name.removeprefix("xl/").encode() for name in (one, other))
                data = data.replace(first, b"@").replace(second, first).replace(b"@", second)
            new.writestr(names.get(each, each), data)
    return out.getvalue()


def test_a_damaged_spreadsheet_is_told():
    with pytest.raises(TableProblemError, match="neither a CSV table nor an XLSX"):
        rows_of(book(("A", [["code"], ["1"]]))[:900])


def test_rows_for_another_process_say_the_same():
    told, lines = table_as_lines(NAMES.encode())
    assert told["header"] == ["code", "name"]
    assert lines.decode() == '[2, ["V1", "Müller & Söhne"]]\n'
