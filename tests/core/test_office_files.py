"""Office files become pages whose tables keep their shape."""

import io
import zipfile
from datetime import date

import docx
import openpyxl
import pytest

from veridox.core.filetypes import CSV, DOCX, XLSX
from veridox.core.readers.files import read_pages
from veridox.core.readers.limits import Limits
from veridox.core.readers.separated import separator_of
from veridox.core.readers.sniff import sniff

LINES = [("Frozen krill", 40, 18.5, 740.0), ("Sand filter", 2, 1204.2, 2408.4)]


def saved(document):
    out = io.BytesIO()
    document.save(out)
    return out.getvalue()


def letter():
    document = docx.Document()
    document.sections[0].header.paragraphs[0].text = "Brinefold Ltd"
    document.add_paragraph("Invoice no.\tBF-2026-0413")
    table = document.add_table(rows=0, cols=4)
    for line in LINES:
        for cell, value in zip(table.add_row().cells, line, strict=True):
            cell.text = str(value)
    last = table.add_row().cells
    last[0].merge(last[2]).text = "Total"
    last[3].text = "3,148.40"
    return saved(document)


def book():
    book = openpyxl.Workbook()
    sheet = book.active
    sheet.append(["Invoice", "BF-2026-0413", "", date(2026, 11, 3)])
    for line in LINES:
        sheet.append(line)
    for row in (2, 3):
        sheet.cell(row, 4).number_format = "#,##0.00"
    sheet.append(["Total", None, None, 3148.4])
    sheet.cell(4, 4).number_format = '"£"#,##0.00'
    sheet.merge_cells("A4:C4")
    book.create_sheet("Notes").append(["Second sheet", "of two"])
    hidden = book.create_sheet("Secret")
    hidden.append(["nobody sees this"])
    hidden.sheet_state = "hidden"
    return saved(book)


TABLE = "item;quantity;amount\nKrill;40;740,00\nFilter;2;2.408,40\n"


@pytest.mark.parametrize(
    ("content", "kind"),
    [(letter(), DOCX), (book(), XLSX), (TABLE.encode(), CSV)],
)
def test_what_they_are_is_told_by_their_content(content, kind):
    assert sniff(content) == kind


def rows_of_text(content):
    file = read_pages(content, ocr=False)
    assert file.findings == ()
    return [line for page in file.pages for line in page.text().splitlines()], file


def test_a_letter_keeps_its_table_and_header():
    lines, file = rows_of_text(letter())
    assert lines[0] == "Brinefold Ltd"
    assert "Invoice no. BF-2026-0413" in lines
    assert "Frozen krill 40 18.5 740.0" in lines
    assert "Total 3,148.40" in lines
    words = {word.text: word.box for word in file.pages[0].words}
    # Cells of a column stand below each other.
    assert words["740.0"].left == pytest.approx(words["2408.4"].left, abs=1)


def test_a_sheet_shows_values_as_their_formats_do():
    lines, file = rows_of_text(book())
    assert lines[0] == "Invoice BF-2026-0413 2026-11-03"
    assert "Sand filter 2 1204.2 2,408.40" in lines
    assert "Total £3,148.40" in lines
    assert len(file.pages) == 2
    assert "Second sheet of two" in lines
    assert "Secret" not in file.pages[1].text()
    assert not any("nobody" in line for line in lines)


@pytest.mark.parametrize("separator", [";", ",", "\t", "|"])
def test_separated_values_are_parted_at_what_parts_them(separator):
    text = TABLE.replace(",", ".").replace(";", separator)
    assert separator_of(text) == separator
    lines, _ = rows_of_text(text.encode("latin-1"))
    assert lines == ["item quantity amount", "Krill 40 740.00", "Filter 2 2.408.40"]


@pytest.mark.parametrize("text", ["", "one line", "Dear Anna,\n\nthank you, and\nbest regards\n"])
def test_a_letter_is_no_table(text):
    assert separator_of(text) == ""


def test_formulas_are_never_run():
    book = openpyxl.Workbook()
    book.active.append(["Total", "=1+1", "x"])
    lines, _ = rows_of_text(saved(book))
    assert lines == ["Total x"]


def with_part(content, name, text):
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(content)) as old, zipfile.ZipFile(out, "w") as new:
        for part in old.infolist():
            new.writestr(part, text if part.filename == name else old.read(part))
    return out.getvalue()


ENTITIES = b'<?xml version="1.0"?><!DOCTYPE a [<!ENTITY b "bbbb"><!ENTITY c "&b;&b;">]><a>&c;</a>'


@pytest.mark.parametrize(
    ("content", "code"),
    [
        (with_part(book(), "xl/worksheets/sheet1.xml", ENTITIES), "file.broken"),
        (with_part(letter(), "word/document.xml", ENTITIES), "file.broken"),
        (with_part(letter(), "word/document.xml", b"<cut"), "file.broken"),
        (book()[:-40], "file.broken"),
        (with_part(book(), "xl/worksheets/sheet1.xml", b" " * 70_000_000), "file.too_large"),
    ],
    ids=["entities in a sheet", "entities in a letter", "no XML", "cut off", "bomb"],
)
def test_a_bad_office_file_gives_one_clear_finding(content, code):
    file = read_pages(content, ocr=False)
    assert [finding.code for finding in file.findings] == [code]
    assert file.findings[0].blocks


def test_a_sheet_without_end_is_not_laid_out():
    wide = openpyxl.Workbook()
    wide.active.cell(3_000, 40, "far away")
    assert read_pages(saved(wide), Limits()).findings[0].code == "file.too_large"


RAGGED = """Kelpwick Supplies Ltd
4 Dock Lane,Merrowmere MW1 4QD
Invoice number,KW-2211,,Date,05/11/2026

Description,Qty,Price,Amount
Reef salt,4,31.50,126.00
Filter pads,10,2.20,22.00,
,,Net,148.00
,,Total GBP,177.60
"""
LETTER = """Hello Ada,
thank you, Bo and Ilse, for the pumps, hoses and salt,
which came on Monday, as you said, and in good order.
We owe 20,00 for the crates, 5,00 for the ice, 31,50 in all,
and 4,00 for the boat, which we pay at once.
"""


def test_rows_of_unequal_length_are_a_table_and_a_letter_is_none():
    assert separator_of(RAGGED) == ","
    assert separator_of(RAGGED.replace(",", ";")) == ";"
    assert separator_of(LETTER) == ""
