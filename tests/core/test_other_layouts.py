"""What tells values apart where labels and headers do not: gaps, arithmetic, custom."""

from datetime import date
from decimal import Decimal

import pytest

from tests.core.paper import page_of, read
from veridox.core.checks.completeness import SURE
from veridox.core.locales.numbers import COMMA, POINT, read_number, with_grouping_of
from veridox.core.reading.reading import cell_number

HEAD = ((40, (50, "Invoice", 2.0)), (80, (50, "Saltglass Systems Ltd")))


@pytest.mark.parametrize(
    ("style", "texts", "text", "value"),
    [
        (COMMA, ["12,50", "3,10"], "46 771,75", "46771.75"),  # nothing speaks against spaces
        (COMMA, ["1.234,56"], "4 118,83", None),
        (COMMA, ["5073,50"], "4 118,83", None),
        (POINT, ["1,234.56", "7.00"], "4 118.83", None),
        (POINT, ["1,234.56"], "4,118.83", "4118.83"),
    ],
)
def test_a_space_groups_digits_only_where_no_other_mark_does(style, texts, text, value):
    found = read_number(text, with_grouping_of(style, texts))
    assert (found and str(found)) == value


def totals_of(*rows, date_row=(100, (50, "Invoice date"), (200, "5 November 2026"))):
    return read(page_of(*HEAD, date_row, *rows))


def test_three_amounts_that_belong_together_need_no_labels():
    reading = totals_of(
        (400, (300, "Worth"), (540, "400.00 GBP", "right")),
        (420, (300, "Levy 20 %"), (540, "80.00 GBP", "right")),
        (440, (300, "All in all"), (540, "480.00 GBP", "right")),
    )
    found = [str(reading.money(name)) for name in ("tax_total", "gross_total")]
    assert found == ["80.00 GBP", "480.00 GBP"]
    # What is worth so much is the net total, or all that is billed.
    (*lines,) = (str(row["amount"].value) for row in reading.lines)
    assert str(reading.money("net_total")) == "400.00 GBP" or lines == ["400.00 GBP"]


def test_a_total_that_a_label_names_is_never_replaced_by_one_that_adds_up():
    reading = totals_of(
        (400, (300, "Net total"), (540, "400.00 GBP", "right")),
        (420, (300, "VAT 20 %"), (540, "80.00 GBP", "right")),
        (440, (300, "Total"), (540, "540.00 GBP", "right")),
        (700, (50, "Balance of last month"), (540, "480.00 GBP", "right")),
    )
    assert str(reading.money("gross_total")) == "540.00 GBP"


def test_the_only_date_is_the_date_of_issue_and_not_surely():
    reading = totals_of(date_row=(100, (50, "Orrowby, 5 November 2026")))
    named = totals_of(date_row=(100, (50, "Invoice date: 5 November 2026")))
    assert reading.day("issue_date") == named.day("issue_date") == date(2026, 11, 5)
    assert reading.fields["issue_date"].confidence < named.fields["issue_date"].confidence


def test_of_two_dates_without_labels_none_is_taken_for_sure():
    reading = totals_of(date_row=(100, (50, "5 November 2026"), (300, "9 November 2026")))
    issued = reading.fields.get("issue_date")
    assert issued is None or issued.confidence < SURE


def test_values_stand_below_their_labels_where_the_document_keeps_to_that():
    reading = read(page_of(
        *HEAD,
        (100, (50, "Invoice no."), (250, "Anchor Road 40")),
        (112, (50, "SG/10467")),
        (140, (50, "Due date"), (250, "Our van comes")),
        (152, (50, "5 December 2026")),
        (180, (50, "Order no."), (250, "Ropes")),
        (192, (50, "PO-26-0103")),
        (220, (50, "Customer no."), (250, "Thank you for your order.")),
        (232, (50, "K10023")),
        (300, (50, "Description"), (540, "Amount", "right")),
        (320, (50, "Anchor rope, 12 mm"), (540, "100.00 GBP", "right")),
        (360, (350, "Net total"), (540, "100.00 GBP", "right")),
        (375, (350, "VAT 20 %"), (540, "20.00 GBP", "right")),
        (390, (350, "Total"), (540, "120.00 GBP", "right")),
    ))  # fmt: skip
    assert reading.text("number") == "SG/10467"
    assert reading.text("order_number") == "PO-26-0103"


def test_half_a_number_is_none():
    reading = read(page_of(*HEAD, (100, (50, "Invoice no."), (200, "RE-2026-"))))
    assert "number" not in reading.fields


@pytest.mark.parametrize(
    ("heads", "cells"),
    [
        (("Description", "Qty", "Unit price", "Amount"), ("Rope", "3", "84.50", "253.50")),
        (("Description", "Unit price", "Qty", "Amount"), ("Rope", "84.50", "3", "253.50")),
        (("Description", "Tally", "Unit price", "Amount"), ("Rope", "3", "84.50", "253.50")),
    ],
)
def test_quantity_and_price_are_told_by_header_or_by_their_product(heads, cells):
    def row(y, texts):
        name, *numbers = zip((50, 330, 430, 540), texts, strict=True)
        return (y, name, *((x, text, "right") for x, text in numbers))

    rows = [row(200, heads), *(row(y, cells) for y in (220, 240, 260))]
    reading = read(page_of(*HEAD, (100, (50, "All amounts in GBP")), *rows))
    assert len(reading.lines) == 3
    for line in reading.lines:
        assert cell_number(line, "quantity") == 3
        assert cell_number(line, "unit_price") == Decimal("84.50")
        # Nothing sums the lines up, and labels of columns may say anything.
        assert line["amount"].confidence > 0.5


def test_a_header_of_two_rows_is_one():
    reading = read(page_of(
        *HEAD, (100, (50, "All amounts in GBP")),
        (200, (50, "Product"), (300, "Quantity"), (400, "Unit"), (500, "Line")),
        (212, (50, "description"), (400, "price"), (500, "total")),
        (230, (50, "Rope"), (300, "3"), (400, "84.50"), (500, "253.50")),
    ))  # fmt: skip
    (line,) = reading.lines
    assert (cell_number(line, "quantity"), cell_number(line, "unit_price")) == (3, Decimal("84.50"))


def test_a_line_for_carriage_is_no_total_of_charges():
    reading = read(page_of(
        *HEAD,
        (200, (50, "Description"), (330, "Qty", "right"), (430, "Price", "right"),
         (540, "Amount", "right")),
        (220, (50, "Rope"), (330, "3", "right"), (430, "84.50", "right"),
         (540, "253.50 GBP", "right")),
        (240, (50, "Carriage"), (330, "1", "right"), (430, "18.00", "right"),
         (540, "18.00 GBP", "right")),
        (280, (300, "Net total"), (540, "271.50 GBP", "right")),
        (300, (300, "VAT 20 %"), (540, "54.30 GBP", "right")),
        (320, (300, "Total"), (540, "325.80 GBP", "right")),
    ))  # fmt: skip
    assert len(reading.lines) == 2
    assert "charges" not in reading.fields
    assert reading.fields["net_total"].confidence > SURE


def test_lines_of_numbers_alone_have_no_description():
    reading = read(page_of(
        *HEAD, (100, (50, "All amounts in GBP")),
        (200, (50, "Description"), (540, "Amount", "right")),
        (220, (50, "3 84.50"), (540, "253.50", "right")),
        (240, (50, "2 10.00"), (540, "20.00", "right")),
        (260, (50, "1 18.00"), (540, "18.00", "right")),
    ))  # fmt: skip
    assert len(reading.lines) == 3
    assert cell_number(reading.lines[0], "quantity") == 3
    assert "description" not in reading.lines[0]
