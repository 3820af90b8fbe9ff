"""What is read is never made to fit: totals stay as printed, doubt is said, ours stay ours."""

from datetime import date
from decimal import Decimal

import pytest

from tests.core.paper import page_of, read
from veridox.core.checks.completeness import SURE
from veridox.core.extract.hints import Hints, KnownParty
from veridox.core.money import Money
from veridox.core.pipeline.stages.check import risk
from veridox.core.reading import Field, Kind, Origin, Reading

OURS = Hints(buyers=(KnownParty(name="Merrowmere Aquarium Trust"),))


def bill(*, net="400.00", tax="80.00", total="480.00", more=()):
    return page_of(
        (40, (50, "Invoice", 2.0)), (60, (50, "Saltglass Systems Ltd")),
        (80, (50, "18 Foundry Lane")), (100, (50, "Invoice number: SG/10467")),
        (115, (50, "Invoice date: 12 November 2026")), (140, (50, "Merrowmere Aquarium Trust")),
        (400, (300, "Net total"), (540, f"{net} GBP", "right")),
        (420, (300, "VAT 20 %"), (540, f"{tax} GBP", "right")),
        (440, (300, "Total"), (540, f"{total} GBP", "right")),
        *more,
    )  # fmt: skip


@pytest.mark.parametrize("total", ["540.00", "408.00", "479.00", "4800.00"])
def test_a_wrong_total_stays_as_it_is_printed(total):
    reading = read(bill(total=total), hints=OURS)
    assert str(reading.money("gross_total").amount) == total
    assert str(reading.money("net_total").amount) == "400.00"
    assert reading.fields["gross_total"].origin is Origin.TEXT


def test_a_total_that_does_not_add_up_is_less_sure_than_one_that_does():
    wrong = read(bill(total="540.00"), hints=OURS).fields["gross_total"]
    right = read(bill(), hints=OURS).fields["gross_total"]
    assert wrong.confidence < right.confidence


def test_an_earlier_balance_that_would_add_up_does_not_replace_the_total():
    more = ((600, (50, "Balance of last month"), (540, "480.00 GBP", "right")),)
    reading = read(bill(total="540.00", more=more), hints=OURS)
    assert str(reading.money("gross_total").amount) == "540.00"


@pytest.mark.parametrize("label", ["Total brought forward", "Amount due last month", "Total"])
def test_nor_does_one_that_a_label_of_totals_stands_beside(label):
    more = ((700, (50, label), (540, "480.00 GBP", "right")),)
    reading = read(bill(total="540.00", more=more), hints=OURS)
    gross = reading.fields["gross_total"]
    # Two totals, one of which adds up, may be mistaken for each other; never for sure.
    assert str(gross.value.amount) == "540.00" or gross.confidence < SURE


def test_our_own_company_is_never_the_seller():
    reading = read(bill(), hints=OURS)
    assert reading.text("buyer.name") == "Merrowmere Aquarium Trust"
    assert reading.text("seller.name") == "Saltglass Systems Ltd"


def test_an_account_is_not_taken_for_a_tax_id():
    account = (700, (50, "Payment to IBAN GB71MRWK99000010201531"))
    reading = read(bill(more=(account,)), hints=OURS)
    assert reading.text("seller.tax_id") != "GB71MRWK99000010201531"
    assert reading.text("account") == "GB71MRWK99000010201531"


def test_a_dash_between_two_facts_is_no_minus():
    page = page_of(
        (40, (50, "Invoice", 2.0)), (100, (50, "Invoice number: SG/10467")),
        (300, (50, "Net £ 763.90 - VAT 22% £ 168.06 - Total £ 931.96")),
    )  # fmt: skip
    reading = read(page)
    names = ("net_total", "tax_total", "gross_total")
    amounts = [str(reading.money(name).amount) for name in names]
    assert amounts == ["763.90", "168.06", "931.96"]


def test_a_credit_note_printed_with_minus_is_positive_in_all_its_parts():
    page = page_of(
        (40, (50, "Credit note", 2.0)), (60, (50, "Saltglass Systems Ltd")),
        (100, (50, "Credit note number: SG/C-17")), (115, (50, "Date: 12 November 2026")),
        (200, (50, "Description"), (330, "Qty", "right"), (430, "Price", "right"),
         (540, "Amount", "right")),
        (220, (50, "Rope"), (330, "2", "right"), (430, "200.00", "right"),
         (540, "-400.00", "right")),
        (400, (300, "Net total"), (540, "-400.00 GBP", "right")),
        (420, (300, "VAT 20 %"), (540, "-80.00 GBP", "right")),
        (440, (300, "Total"), (540, "-480.00 GBP", "right")),
    )  # fmt: skip
    reading = read(page, hints=OURS)
    assert reading.kind is Kind.CREDIT_NOTE
    assert str(reading.money("gross_total").amount) == "480.00"
    assert str(reading.lines[0]["amount"].value.amount) == "400.00"
    assert reading.lines[0]["quantity"].value == Decimal(2)


# -- risk


def money(amount, confidence=1.0, origin=Origin.TEXT):
    return Field(value=Money.of(amount, "GBP"), confidence=confidence, origin=origin)


def reading_of(gross_origin, total="480.00"):
    return Reading(kind=Kind.INVOICE, fields={
        "issue_date": Field(value=date(2026, 11, 12), confidence=0.999),
        "net_total": money("400.00", 0.9), "tax_total": money("80.00", 0.9),
        "gross_total": money(total, 1.0, gross_origin),
    })  # fmt: skip


def test_a_persons_total_vouches_for_net_and_tax_that_make_it():
    assert risk(reading_of(Origin.PERSON)).share < risk(reading_of(Origin.TEXT)).share


def test_it_vouches_for_nothing_where_they_do_not_make_it():
    assert risk(reading_of(Origin.PERSON, "481.00")).share == risk(
        reading_of(Origin.TEXT, "481.00")
    ).share  # fmt: skip
