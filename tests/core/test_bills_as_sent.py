"""The bill as it is stored before it is sent, and as it is compared afterwards: field by field."""

from dataclasses import replace
from datetime import date
from decimal import Decimal

import pytest

from tests.core.test_checks import gbp
from veridox.core.posting import Bill, BillLine, Standing, bill_of, differences
from veridox.core.reading import Field, Kind, Reading


def cells(**values):
    return {name: Field(value=value) for name, value in values.items()}


LINE = cells(
    description="Salt", item_code="S-1", unit="kg", quantity=Decimal("10"),
    unit_price=Decimal("9.9990"), tax_rate=Decimal("20"), amount=gbp("99.99"),
)  # fmt: skip
PARTIES = {"vendor": "V1", "entity": "trust", "order_number": "PO-1"}


def reading(kind=Kind.INVOICE, lines=(LINE,), **more):
    return Reading(kind=kind, lines=lines, fields=cells(
        number="A-1", issue_date=date(2026, 11, 5), due_date=date(2026, 12, 5), currency="GBP",
        net_total=gbp("99.99"), tax_total=gbp("20.00"), gross_total=gbp("119.99"), **more,
    ))  # fmt: skip


def test_a_bill_says_everything_in_its_own_place():
    more = {"charges": gbp("5.00"), "allowances": gbp("3.00")}
    bill = bill_of(reading(**more), **PARTIES)
    assert bill.to_json() == {
        "entity": "trust", "vendor": "V1", "kind": "bill", "number": "A-1",
        "issue_date": "2026-11-05", "due_date": "2026-12-05", "order_number": "PO-1",
        "currency": "GBP", "net_total": "99.99", "tax_total": "20.00", "gross_total": "119.99",
        "charges": "5.00", "allowances": "3.00",
        "lines": [{"description": "Salt", "item_code": "S-1", "unit": "kg", "quantity": "10",
                   "unit_price": "9.9990", "tax_rate": "20", "amount": "99.99"}],
    }  # fmt: skip


def test_a_credit_note_is_a_credit():
    assert bill_of(reading(Kind.CREDIT_NOTE), **PARTIES).kind == "credit"


def test_what_is_not_stated_is_none():
    bill = bill_of(Reading(), vendor="", entity="").to_json()
    assert {bill[name] for name in ("entity", "vendor", "order_number", "due_date")} == {None}
    assert (bill["net_total"], bill["charges"], bill["lines"]) == (None, None, [])


def test_without_a_table_the_bill_has_one_line_with_the_net_total():
    (line,) = bill_of(reading(lines=()), **PARTIES).to_json()["lines"]
    assert line == {"description": "As per invoice A-1", "amount": "99.99"}


def test_a_line_without_an_amount_is_none_of_the_bills():
    lines = bill_of(reading(lines=(LINE, cells(description="a heading"))), **PARTIES).to_json()[
        "lines"
    ]
    assert [line["description"] for line in lines] == ["Salt"]


def test_a_line_without_a_description_is_known_by_its_code():
    (line,) = bill_of(
        reading(lines=(cells(item_code="S-1", amount=gbp("1")),)), **PARTIES
    ).to_json()["lines"]
    assert line == {"description": "S-1", "item_code": "S-1", "amount": "1.00"}


SENT = Bill(
    vendor="V1", entity="trust", kind="bill", number="A-1", currency="GBP",
    gross_total=gbp("120.00"),
    lines=(BillLine(description="a", amount=gbp("60.00")),
           BillLine(description="b", amount=gbp("40.00"))),
)  # fmt: skip


@pytest.mark.parametrize(("standing", "said"), [
    ({}, []),
    ({"gross_total": "121.00"}, ["total 121.00 instead of 120.00"]),
    ({"lines": ("60.00",)}, ["line amounts 60.00 instead of 60.00, 40.00"]),
    ({"lines": ("40.00", "60.00")}, ["line amounts 40.00, 60.00 instead of 60.00, 40.00"]),
    ({"attachments": ("abc",)}, ["not attached: note.pdf"]),
    ({"attachments": ()}, ["not attached: bill.pdf, note.pdf"]),
    ({"gross_total": "1.00", "lines": (), "attachments": ("abc", "def")},
     ["total 1.00 instead of 120.00", "line amounts  instead of 60.00, 40.00"]),
])  # fmt: skip
def test_what_stands_in_the_ledger_is_compared_part_by_part(standing, said):
    files = {"abc": "bill.pdf", "def": "note.pdf"}
    usual = {"gross_total": "120.00", "lines": ("60.00", "40.00"), "attachments": ("abc", "def")}
    assert list(differences(SENT, Standing(**{**usual, **standing}), files)) == said


def test_a_stored_bill_comes_back_as_it_was():
    more = {"charges": gbp("5.00"), "allowances": gbp("3.00")}
    for bill in (bill_of(reading(**more), **PARTIES), bill_of(Reading(), vendor="", entity="")):
        assert Bill.from_json(bill.to_json()) == bill


@pytest.mark.parametrize("change", [
    {"vendor": "V2"}, {"entity": "other"}, {"number": "A-2"}, {"due_date": None},
    {"order_number": ""}, {"gross_total": gbp("119.98")}, {"charges": gbp("1.00")}, {"lines": ()},
])  # fmt: skip
def test_any_change_of_a_bill_is_another_bill(change):
    bill = bill_of(reading(), **PARTIES)
    assert replace(bill, **change).digest != bill.digest
    assert replace(bill).digest == bill.digest
