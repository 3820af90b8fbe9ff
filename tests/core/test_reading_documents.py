"""The first reading on drawn documents of the three layouts."""

from dataclasses import replace
from datetime import date
from decimal import Decimal

import pytest

from demo import bills
from demo.drawing import LAYOUTS, delivery_note, scanned
from demo.merrowmere import ENTITIES
from veridox.core.checks import run_arithmetic
from veridox.core.extract.assemble import extract, positive
from veridox.core.extract.hints import Hints, KnownParty
from veridox.core.money import Money
from veridox.core.readers.files import OcrNeededError, read_pages
from veridox.core.readers.pdf import page_picture
from veridox.core.reading import Field, Kind, Reading, Source, reading_from_json, reading_to_json

HINTS = Hints(buyers=tuple(KnownParty(name=e.name, tax_id=e.tax_id) for e in ENTITIES))
DRAWN = [
    (bills.KRILL, "letterhead", "en"),
    (bills.SALT_SLIP, "band", "en"),
    (bills.VET_VISIT, "band", "en"),
    (bills.VET_VISIT, "letterhead", "en"),
    (bills.KIOSK, "letterhead", "en"),
    (bills.ROTOR, "window", "de"),
    (bills.WRONG_ORDER, "window", "de"),
    (bills.FLEECE, "window", "de"),
    (bills.WATER, "window", "de"),
]


def read(content: bytes):
    file = read_pages(content)
    (reading,) = extract(file.pages, Source(), HINTS)
    return reading


@pytest.mark.parametrize(("bill", "layout", "language"), DRAWN)
def test_header_fields_are_read_as_drawn(bill, layout, language):
    reading = read(LAYOUTS[layout](bill))
    assert reading.kind is Kind.INVOICE
    assert reading.language == language
    expected = {
        "number": bill.number,
        "issue_date": bill.issued,
        "due_date": bill.due,
        "order_number": bill.order or None,
        "currency": bill.currency,
        "seller.name": bill.vendor.name,
        "seller.tax_id": bill.vendor.tax_id,
        "buyer.name": bill.buyer.name,
        "net_total": Money(amount=bill.net, currency=bill.currency),
        "tax_total": Money(amount=bill.tax, currency=bill.currency),
        "gross_total": Money(amount=bill.gross, currency=bill.currency),
        "charges": Money(amount=bill.charge.amount, currency=bill.currency)
        if bill.charge
        else None,
    }
    assert {name: reading.value(name) for name in expected} == expected


@pytest.mark.parametrize(("bill", "layout", "language"), DRAWN)
def test_every_line_is_read_with_quantity_price_and_amount(bill, layout, language):
    reading = read(LAYOUTS[layout](bill))
    seen = [
        (row["quantity"].value, row["unit_price"].value, row["amount"].value.amount)
        for row in reading.lines
    ]
    assert seen == [(line.quantity, line.price, line.quantity * line.price) for line in bill.lines]


def test_a_wrapped_description_belongs_to_its_line():
    reading = read(LAYOUTS["window"](bills.WATER))
    assert reading.lines[0]["description"].value == "Wasseranalyse Standard 14 Parameter"


def test_every_value_names_its_page_box_and_source_text():
    reading = read(LAYOUTS["window"](bills.ROTOR))
    total = reading.fields["gross_total"]
    assert (total.page, total.text) == (1, "1.749,30 €")
    left, top, right, bottom = total.box
    assert 400 < left < right < 545
    assert 300 < top < bottom < 600
    assert 0.5 < total.confidence <= 1


def test_a_wrong_total_is_read_as_printed_and_not_repaired():
    reading = read(LAYOUTS["band"](bills.SALT_SLIP))
    assert reading.money("gross_total") == Money.of("1481.28", "GBP")
    assert [each.code for each in run_arithmetic(reading)] == ["total.sum"]


def test_a_field_that_is_not_stated_is_absent():
    reading = read(LAYOUTS["letterhead"](bills.KIOSK))
    assert "order_number" not in reading.fields


def test_day_and_month_follow_the_currencys_custom():
    bill = replace(bills.SALT_SLIP, issued=date(2026, 4, 3))
    assert read(LAYOUTS["band"](bill)).day("issue_date") == date(2026, 4, 3)


def test_a_delivery_note_is_told_from_an_invoice():
    assert read(delivery_note(bills.VET_VISIT, "DN-1")).kind is Kind.DELIVERY_NOTE


def test_a_credit_notes_amounts_are_positive_and_its_kind_carries_the_sign():
    lines = tuple(replace(line, quantity=-line.quantity) for line in bills.KRILL.lines)
    bill = replace(bills.KRILL, lines=lines, title="CREDIT NOTE")
    reading = read(LAYOUTS["letterhead"](bill))
    assert reading.kind is Kind.CREDIT_NOTE
    assert reading.money("gross_total") == Money(amount=-bill.gross, currency="GBP")
    assert all(row["quantity"].value > 0 for row in reading.lines)


def test_a_credit_note_whose_slip_repeats_its_total_without_sign_is_positive_all_over():
    def eur(amount):
        return Field(value=Money(amount=Decimal(amount), currency="EUR"), confidence=1)

    reading = Reading(
        kind=Kind.CREDIT_NOTE,
        fields={"gross_total": eur("120"), "net_total": eur("-100"), "tax_total": eur("-20")},
        lines=({"amount": eur("-100")},),
    )
    turned = positive(reading)
    assert [turned.money(name).amount for name in reading.fields] == [120, 100, 20]
    assert turned.lines[0]["amount"].value.amount == 100
    # An invoice that is less than nothing in one place is what it says.
    bill = replace(reading, kind=Kind.INVOICE)
    assert positive(bill) == bill


def test_a_scan_is_read_from_its_picture():
    file = read_pages(scanned(LAYOUTS["band"](bills.SKIMMER)))
    assert file.findings == ()
    page = file.pages[0]
    assert page.pictures == 1
    assert {word.origin for word in page.words} == {"ocr"}
    (reading,) = extract(file.pages, Source())
    assert reading.text("number") == bills.SKIMMER.number
    assert reading.fields["gross_total"].origin == "ocr"


def test_a_scan_is_left_to_who_may_read_pictures():
    with pytest.raises(OcrNeededError):
        read_pages(scanned(LAYOUTS["band"](bills.SKIMMER)), ocr=False)


@pytest.mark.parametrize(
    ("content", "code"),
    [
        (b"", "file.empty"),
        (b"%PDF-1.4 nothing more", "file.broken"),
        (b"PK\x03\x04 not a PDF", "file.broken"),
        (LAYOUTS["band"](bills.KRILL)[:900], "file.broken"),
    ],
)
def test_a_bad_file_gives_one_clear_finding(content, code):
    file = read_pages(content)
    assert [finding.code for finding in file.findings] == [code]
    assert file.findings[0].blocks
    assert file.pages == ()


def test_a_page_is_drawn_as_png():
    assert page_picture(LAYOUTS["band"](bills.KRILL), 1, 72).startswith(b"\x89PNG")


def test_a_reading_survives_its_json_form():
    reading = read(LAYOUTS["window"](bills.FLEECE))
    once = reading_to_json(reading)
    assert reading_to_json(reading_from_json(once)) == once
    assert once["fields"]["gross_total"]["value"] == {"amount": "403.41", "currency": "EUR"}
    assert once["lines"][0]["quantity"]["value"] == "8"


def test_rates_are_read_with_their_tax_lines():
    (line,) = read(LAYOUTS["window"](bills.ROTOR)).tax_lines
    assert line["rate"].value == Decimal(19)
    assert line["amount"].value == Money.of("279.30", "EUR")
