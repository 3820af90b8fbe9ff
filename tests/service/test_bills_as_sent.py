"""The bill as it is stored before it is sent, and as it is compared afterwards: field by field."""

from datetime import date
from decimal import Decimal
from types import SimpleNamespace

import pytest

from tests.core.test_checks import gbp
from veridox.core.reading import Field, Kind, Reading
from veridox.service.ledgers import posting as carrying
from veridox.service.ledgers.actions.prepare import bill_of, family_of
from veridox.service.ledgers.ports import Standing


def cells(**values):
    return {name: Field(value=value) for name, value in values.items()}


LINE = cells(
    description="Salt", item_code="S-1", unit="kg", quantity=Decimal("10"),
    unit_price=Decimal("9.9990"), tax_rate=Decimal("20"), amount=gbp("99.99"),
)  # fmt: skip
DOCUMENT = SimpleNamespace(
    entity=SimpleNamespace(code="trust"), vendor=SimpleNamespace(code="V1"),
    order=SimpleNamespace(number="PO-1"),
)  # fmt: skip


def reading(kind=Kind.INVOICE, lines=(LINE,), **more):
    return Reading(kind=kind, lines=lines, fields=cells(
        number="A-1", issue_date=date(2026, 11, 5), due_date=date(2026, 12, 5), currency="GBP",
        net_total=gbp("99.99"), tax_total=gbp("20.00"), gross_total=gbp("119.99"), **more,
    ))  # fmt: skip


def test_a_bill_says_everything_in_its_own_place():
    more = {"charges": gbp("5.00"), "allowances": gbp("3.00")}
    assert bill_of(DOCUMENT, reading(**more)) == {
        "entity": "trust", "vendor": "V1", "kind": "bill", "number": "A-1",
        "issue_date": "2026-11-05", "due_date": "2026-12-05", "order_number": "PO-1",
        "currency": "GBP", "net_total": "99.99", "tax_total": "20.00", "gross_total": "119.99",
        "charges": "5.00", "allowances": "3.00",
        "lines": [{"description": "Salt", "item_code": "S-1", "unit": "kg", "quantity": "10",
                   "unit_price": "9.9990", "tax_rate": "20", "amount": "99.99"}],
    }  # fmt: skip


def test_a_credit_note_is_a_credit():
    assert bill_of(DOCUMENT, reading(Kind.CREDIT_NOTE))["kind"] == "credit"


def test_what_is_not_stated_is_none():
    bare = SimpleNamespace(entity=None, vendor=None, order=None)
    bill = bill_of(bare, Reading())
    assert {bill[name] for name in ("entity", "vendor", "order_number", "due_date")} == {None}
    assert (bill["net_total"], bill["charges"], bill["lines"]) == (None, None, [])


def test_without_a_table_the_bill_has_one_line_with_the_net_total():
    (line,) = bill_of(DOCUMENT, reading(lines=()))["lines"]
    assert line == {"description": "As per invoice A-1", "amount": "99.99"}


def test_a_line_without_an_amount_is_none_of_the_bills():
    lines = bill_of(DOCUMENT, reading(lines=(LINE, cells(description="a heading"))))["lines"]
    assert [line["description"] for line in lines] == ["Salt"]


def test_a_line_without_a_description_is_known_by_its_code():
    (line,) = bill_of(DOCUMENT, reading(lines=(cells(item_code="S-1", amount=gbp("1")),)))["lines"]
    assert line == {"description": "S-1", "item_code": "S-1", "amount": "1.00"}


@pytest.mark.parametrize(("tax_id", "family"), [
    ("GB 220 5190 11", "tax 220519011"), ("220519011", "tax 220519011"),
    ("DE862541651", "tax DE862541651"), ("", "code V1"),
])  # fmt: skip
def test_vendors_of_one_tax_id_are_one_family(tax_id, family):
    assert family_of(SimpleNamespace(tax_id=tax_id, code="V1")) == family


SENT = {"gross_total": "120.00", "lines": [{"amount": "60.00"}, {"amount": "40.00"}]}


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
def test_what_stands_in_the_ledger_is_compared_part_by_part(monkeypatch, standing, said):
    files = [SimpleNamespace(name="bill.pdf", sha256="abc"),
             SimpleNamespace(name="note.pdf", sha256="def")]  # fmt: skip
    monkeypatch.setattr(carrying, "_to_attach", lambda posting: files)
    usual = {"gross_total": "120.00", "lines": ("60.00", "40.00"), "attachments": ("abc", "def")}
    found = carrying._differences(SimpleNamespace(bill=SENT), Standing(**{**usual, **standing}))
    assert found == said
