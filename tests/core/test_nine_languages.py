"""Labels, numbers and dates of nine languages, on pages and in drawn bills."""

from datetime import date
from decimal import Decimal

import pytest

from tests.core.paper import page_of, read
from tools.bench_reading import judge
from tools.corpus.bills import LANGUAGES, bill
from tools.corpus.held_back import drawn
from tools.corpus.printer import Printer
from tools.corpus.wording import wording
from veridox.core.extract.assemble import extract
from veridox.core.extract.hints import Hints, KnownParty
from veridox.core.locales.labels import as_in_labels
from veridox.core.readers.files import read_pages
from veridox.core.reading import FIELDS, FieldType, Source


@pytest.mark.parametrize("language", LANGUAGES)
@pytest.mark.parametrize("variant", [0, -1])
def test_every_label_of_the_header_and_the_totals(language, variant):
    words = {name: variants[0][variant] for name, variants in wording()[language].items()}
    amount = "1,200.00" if language == "en" else "1.200,00"
    tax = "240.00" if language == "en" else "240,00"
    total = "1,440.00" if language == "en" else "1.440,00"
    rows = [
        (40, (50, words["invoice"], 2.0)),
        (80, (50, "Saltglass Systems Ltd")),
        (120, (50, words["number"]), (200, "SG/10467")),
        (135, (50, words["issued"]), (200, "12.11.2026")),
        (150, (50, words["due"]), (200, "12.12.2026")),
        (165, (50, words["order"]), (200, "PO-26-0103")),
        (400, (50, words["net"]), (540, f"{amount} EUR", "right")),
        (415, (50, words["tax"].replace("{rate}", "20")), (540, f"{tax} EUR", "right")),
        (430, (50, words["gross"]), (540, f"{total} EUR", "right")),
        (460, (50, words["thanks"])),
    ]
    reading = read(page_of(*rows))
    assert reading.text("number") == "SG/10467"
    assert reading.day("issue_date") == date(2026, 11, 12)
    assert reading.day("due_date") == date(2026, 12, 12)
    assert reading.text("order_number") == "PO-26-0103"
    found = [reading.money(name) for name in ("net_total", "tax_total", "gross_total")]
    assert [each and each.amount for each in found] == [Decimal(1200), Decimal(240), Decimal(1440)]


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("Date : 4 mars 2026", date(2026, 3, 4)),
        ("Fecha: 4 de marzo de 2026", date(2026, 3, 4)),
        ("Data: 1º gennaio 2026", date(2026, 1, 1)),
        ("Data wystawienia: 14 października 2026", date(2026, 10, 14)),
        ("Fakturadatum: 9 maj 2026", date(2026, 5, 9)),
        ("Factuurdatum: 3 mrt. 2026", date(2026, 3, 3)),
    ],
)
def test_dates_in_words(text, value):
    assert read(page_of((40, (50, "Invoice", 2.0)), (80, (50, text)))).day("issue_date") == value


def test_a_phrase_means_what_it_means_in_the_documents_language():
    """To some "total líquido" is the net total, to others what is left to pay."""
    rows = [
        (40, (50, "Fatura", 2.0)), (60, (50, "Fatura nº 17")),
        (80, (50, "Data de emissão 12.11.2026")), (95, (50, "Vencimento 12.12.2026")),
        (400, (50, "Total líquido"), (540, "100,00 EUR", "right")),
        (415, (50, "IVA 23 %"), (540, "23,00 EUR", "right")),
        (430, (50, "Total a pagar"), (540, "123,00 EUR", "right")),
    ]  # fmt: skip
    reading = read(page_of(*rows))
    assert str(reading.money("net_total")) == "100.00 EUR"
    assert str(reading.money("amount_due")) == "123.00 EUR"
    assert reading.money("gross_total") == reading.money("amount_due")


SUMS = {name for name, spec in FIELDS.items() if spec.type is FieldType.MONEY}


@pytest.mark.parametrize("language", LANGUAGES)
def test_a_drawn_bill_has_the_totals_it_was_drawn_with(language):
    printer = Printer(bill(5, language, most=5), f"test {language}", held_back=False)
    pages = read_pages(drawn(printer)).pages
    ours = Hints(buyers=(KnownParty(name=printer.bill.buyer[0]),))
    (reading,) = extract(pages, Source(), ours)
    judged = judge(reading, printer.truth())
    wrong = [each[:3] for each in judged.fields if each[1] is not None and not each[3]]
    assert [each for each in wrong if FIELDS[each[0]].posted or each[0] in SUMS] == []
    assert len(wrong) <= 1
    assert judged.lines_right == judged.lines
    assert judged.kind_right


@pytest.mark.parametrize(
    ("read_as", "meant"),
    [
        ("rechnungsnunmer", "rechnungsnummer"),
        ("fakturadatun", "fakturadatum"),
        ("invoice", "invoice"),
        ("tota", "tota"),  # short words are too like each other
        ("merrowmere", "merrowmere"),
    ],
)
def test_a_label_with_a_letter_misread_is_known(read_as, meant):
    assert as_in_labels(read_as) == meant
