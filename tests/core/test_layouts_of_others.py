"""Reading of pages that the demo's layouts do not draw."""

from datetime import date
from decimal import Decimal

import pytest

from tests.core.paper import page_of, read
from veridox.core.checks.completeness import SURE
from veridox.core.extract.hints import Hints, KnownParty
from veridox.core.extract.thresholds import CONTESTED
from veridox.core.money import Money
from veridox.core.reading import Kind, Origin

HEADER = (
    (40, (50, "Invoice", 2.0)),
    (80, (50, "Saltglass Systems Ltd")),
    (100, (50, "Invoice No: SG/7"), (300, "Date: 5 November 2026")),
)


def cells(reading, *names):
    return [tuple(str(row[name].value) if name in row else None for name in names)
            for row in reading.lines]  # fmt: skip


def test_columns_may_stand_in_any_order():
    reading = read(page_of(
        *HEADER,
        (200, (50, "Amount"), (150, "Qty"), (220, "Price"), (320, "Description")),
        (220, (50, "20.00 GBP"), (150, "4"), (220, "5.00"), (320, "Reef salt")),
        (240, (50, "9.00 GBP"), (150, "3"), (220, "3.00"), (320, "Test strips")),
    ))  # fmt: skip
    assert cells(reading, "quantity", "unit_price", "amount", "description") == [
        ("4", "5.00", "20.00 GBP", "Reef salt"),
        ("3", "3.00", "9.00 GBP", "Test strips"),
    ]


def test_quantity_and_unit_in_one_column_are_told_apart():
    reading = read(page_of(
        *HEADER,
        (200, (50, "Description"), (300, "Quantity"), (400, "Price"), (540, "Amount", "right")),
        (220, (50, "Reef salt"), (300, "10 sacks"), (400, "£5.00"), (540, "£50.00", "right")),
    ))  # fmt: skip
    assert cells(reading, "description", "quantity", "unit", "amount") == [
        ("Reef salt", "10", "sacks", "50.00 GBP")
    ]


def test_numbers_inside_a_description_stay_there():
    reading = read(page_of(
        *HEADER,
        (200, (50, "Description"), (330, "Qty"), (420, "Price", "right"), (540, "Amount", "right")),
        (220, (50, "Pipe 25 mm x 200, grey"), (340, "2", "right"), (420, "5.00", "right"),
         (540, "10.00 GBP", "right")),
    ))  # fmt: skip
    assert cells(reading, "description", "quantity") == [("Pipe 25 mm x 200, grey", "2")]


def test_a_discount_column_takes_part_in_the_lines_sum():
    reading = read(page_of(
        *HEADER,
        (200, (50, "Description"), (250, "Qty"), (310, "Price"), (380, "Discount"),
         (540, "Amount", "right")),
        (220, (50, "Feed for seals"), (250, "10"), (310, "5.00"), (380, "4.00"),
         (540, "46.00 GBP", "right")),
        (240, (50, "Reef salt"), (250, "3"), (310, "8.00"), (380, "1.00"),
         (540, "23.00 GBP", "right")),
        (280, (380, "Total"), (540, "69.00 GBP", "right")),
    ))  # fmt: skip
    assert cells(reading, "discount", "amount") == [
        ("4.00 GBP", "46.00 GBP"), ("1.00 GBP", "23.00 GBP"),
    ]  # fmt: skip
    assert reading.lines[0]["amount"].confidence > SURE


def test_a_table_goes_on_overleaf_without_its_carried_forward_rows():
    def head(y):
        return (y, (50, "Description"), (300, "Qty"), (400, "Price", "right"),
                (540, "Amount", "right"))  # fmt: skip

    first = page_of(
        *HEADER, head(200),
        (220, (50, "Feed"), (300, "1"), (400, "5.00", "right"), (540, "5.00 GBP", "right")),
        (800, (300, "Carried forward"), (540, "5.00 GBP", "right")),
    )  # fmt: skip
    second = page_of(
        (40, (300, "Brought forward"), (540, "5.00 GBP", "right")),
        head(60),
        (80, (50, "Salt"), (300, "2"), (400, "3.00", "right"), (540, "6.00 GBP", "right")),
        (120, (300, "Net total"), (540, "11.00 GBP", "right")),
        (140, (300, "VAT 20 %"), (540, "2.20 GBP", "right")),
        (160, (300, "Total"), (540, "13.20 GBP", "right")),
        number=2,
    )
    reading = read(first, second)
    assert cells(reading, "description", "amount") == [("Feed", "5.00 GBP"), ("Salt", "6.00 GBP")]
    assert reading.money("gross_total") == Money.of("13.20", "GBP")
    assert reading.fields["gross_total"].page == 2


def test_a_service_invoice_without_a_table_has_its_totals_and_what_makes_them():
    reading = read(page_of(
        *HEADER,
        (300, (50, "Consultation in October"), (540, "400.00 GBP", "right")),
        (340, (300, "Subtotal"), (540, "400.00 GBP", "right")),
        (360, (300, "VAT 20%"), (540, "80.00 GBP", "right")),
        (380, (300, "Amount due"), (540, "480.00 GBP", "right")),
    ))  # fmt: skip
    assert cells(reading, "description", "amount") == [("Consultation in October", "400.00 GBP")]
    assert [str(reading.money(n)) for n in ("net_total", "tax_total", "gross_total")] == [
        "400.00 GBP", "80.00 GBP", "480.00 GBP",
    ]  # fmt: skip


def totals(*rows):
    return read(page_of(*HEADER, *(
        (300 + 20 * index, (300, label), (540, amount, "right"))
        for index, (label, amount) in enumerate(rows)
    )))  # fmt: skip


def test_of_several_totals_the_one_that_adds_up_is_taken():
    reading = totals(
        ("Total", "100.00 GBP"), ("VAT 20 %", "20.00 GBP"), ("Total", "120.00 GBP"),
        ("Subtotal", "100.00 GBP"),
    )  # fmt: skip
    assert reading.money("gross_total") == Money.of("120.00", "GBP")
    assert reading.money("net_total") == Money.of("100.00", "GBP")


def test_several_rates_are_tax_lines_and_add_up_to_the_tax_total():
    reading = totals(
        ("Net total", "200.00 GBP"), ("VAT 20 %", "20.00 GBP"), ("VAT 5 %", "5.00 GBP"),
        ("Total", "225.00 GBP"),
    )  # fmt: skip
    assert [str(row["rate"].value) for row in reading.tax_lines] == ["20", "5"]
    assert reading.money("tax_total") == Money.of("25.00", "GBP")
    assert reading.fields["tax_total"].origin == "derived"


def test_an_amount_without_any_currency_is_read_and_its_currency_never_sure():
    reading = totals(("Net total", "100.00"), ("VAT 20 %", "20.00"), ("Total", "120.00"))
    assert reading.money("gross_total") == Money.of("120.00", "GBP")
    assert reading.fields["currency"].origin is Origin.DERIVED
    assert reading.fields["currency"].confidence < SURE


def test_a_percentage_is_never_taken_for_an_amount():
    reading = totals(("VAT", "20.00 %"), ("Total", "120.00 GBP"))
    assert "tax_total" not in reading.fields


@pytest.mark.parametrize(("label", "field", "value"), [
    ("Invoice number", "number", "X-991"),
    ("Rechnungs-Nr.", "number", "X-991"),
    ("RECHNUNGSNUMMER", "number", "X-991"),
    ("Your order no.", "order_number", "X-991"),
    ("Ihre Bestellung", "order_number", "X-991"),
    ("Delivery note no", "delivery_note", "X-991"),
])  # fmt: skip
@pytest.mark.parametrize("place", ["behind", "right", "below"])
def test_a_value_is_found_behind_right_of_or_below_its_label(label, field, value, place):
    rows = {
        "behind": [(200, (50, f"{label}: {value}"))],
        "right": [(200, (50, label), (300, value))],
        "below": [(200, (50, label)), (214, (50, value))],
    }[place]
    reading = read(page_of((40, (50, "Invoice", 2.0)), *rows))
    assert reading.text(field) == value


def test_labels_of_two_languages_beside_each_other_name_one_value():
    head = ((40, (50, "Rechnung / Invoice", 2.0)), (60, (50, "Quillfin Ltd")))
    reading = read(page_of(*head, (100, (50, "Rechnungsnr. / Invoice no."), (300, "4711-A"))))
    assert reading.text("number") == "4711-A"


@pytest.mark.parametrize(
    "label", ["Customer no", "Kundennummer", "Our reference", "Delivery note no"]
)
def test_numbers_of_other_things_are_not_the_invoice_number(label):
    reading = read(page_of((40, (50, "Invoice", 2.0)), (100, (50, label), (300, "K-77"))))
    assert "number" not in reading.fields


def test_a_label_within_a_sentence_that_names_no_number_is_no_label():
    reading = read(page_of(
        (100, (50, "Please quote the invoice number in all letters to our office of 2026")),
    ))  # fmt: skip
    assert not {"number", "order_number"} & set(reading.fields)


def test_an_order_date_is_not_the_invoice_date():
    reading = read(page_of(
        (100, (50, "Order date:"), (200, "1 October 2026")),
        (120, (50, "Invoice date:"), (200, "5 November 2026")),
    ))  # fmt: skip
    assert reading.day("issue_date") == date(2026, 11, 5)


def test_two_different_numbers_under_equal_labels_leave_doubt():
    head = ((40, (50, "Invoice", 2.0)), (60, (50, "Quillfin Ltd")))
    total = (300, (50, "Total"), (300, "120.00 GBP"))
    one, other = (100, (50, "Invoice no: A-1")), (130, (50, "Invoice no: B-2"))
    sure = read(page_of(*head, one, total))
    unsure = read(page_of(*head, one, other, total))
    assert sure.fields["number"].confidence > unsure.fields["number"].confidence
    assert unsure.fields["number"].confidence <= CONTESTED
    field = unsure.fields["number"]
    assert {field.value, *(other.value for other in field.others)} == {"A-1", "B-2"}


OURS = Hints(buyers=(KnownParty(name="Merrowmere Aquarium Trust", tax_id="GB740175356"),))


def test_our_own_tax_id_is_never_the_sellers():
    reading = read(page_of(
        (100, (50, "VAT No: GB740175356")), (120, (50, "VAT No: GB220519011")),
    ), hints=OURS)  # fmt: skip
    assert reading.text("seller.tax_id") == "GB220519011"
    assert reading.text("buyer.tax_id") == "GB740175356"


def test_our_own_name_is_never_the_sellers():
    reading = read(page_of(
        (40, (50, "Merrowmere Aquarium Trust", 2.0)), (70, (50, "The Old Slipway 3")),
        (120, (50, "Invoice")), (140, (50, "Saltglass Systems Ltd")), (160, (50, "4 Dock Lane")),
        (180, (50, "Invoice no. K-77")), (300, (300, "Total"), (500, "£66.00")),
    ), hints=OURS)  # fmt: skip
    assert reading.text("seller.name") == "Saltglass Systems Ltd"
    assert reading.text("buyer.name") == "Merrowmere Aquarium Trust"


def test_a_tax_id_that_fails_its_checksum_is_trusted_less():
    total = (300, (300, "Total"), (500, "£66.00"))
    good = read(page_of(*HEADER, (120, (50, "VAT No: GB 220 5190 11")), total))
    bad = read(page_of(*HEADER, (120, (50, "VAT No: GB 220 5190 12")), total))
    assert bad.fields["seller.tax_id"].confidence < good.fields["seller.tax_id"].confidence


@pytest.mark.parametrize(("title", "kind"), [
    ("INVOICE", Kind.INVOICE), ("Tax Invoice", Kind.INVOICE), ("Rechnung", Kind.INVOICE),
    ("Credit Note", Kind.CREDIT_NOTE), ("Gutschrift", Kind.CREDIT_NOTE),
    ("Rechnungskorrektur", Kind.CREDIT_NOTE), ("Payment Reminder", Kind.REMINDER),
    ("Mahnung", Kind.REMINDER), ("Pro forma invoice", Kind.PRO_FORMA), ("Angebot", Kind.PRO_FORMA),
    ("Statement of Account", Kind.STATEMENT), ("Lieferschein", Kind.DELIVERY_NOTE),
    ("Order Confirmation", Kind.ORDER_CONFIRMATION), ("Lunch menu", Kind.OTHER),
])  # fmt: skip
def test_the_title_tells_the_kind(title, kind):
    assert read(page_of((40, (50, title, 2.0)))).kind is kind


def test_a_reminder_that_speaks_of_an_invoice_is_still_a_reminder():
    reading = read(page_of(
        (40, (50, "Payment Reminder", 2.0)), (100, (50, "Invoice no: A-1")),
        (120, (50, "Invoice"), (200, "see above")),
    ))  # fmt: skip
    assert reading.kind is Kind.REMINDER


def test_german_thousands_and_english_ones_are_not_mixed_up():
    german = read(page_of(
        (40, (50, "Rechnung", 2.0)), (300, (300, "Rechnungsbetrag"), (540, "1.234,50 €", "right")),
    ))  # fmt: skip
    english = totals(("Total", "1,234.50 GBP"))
    assert german.money("gross_total").amount == english.money("gross_total").amount
    assert german.money("gross_total").amount == Decimal("1234.50")
