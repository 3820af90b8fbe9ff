"""Payment codes on pages: drawn, scanned, and saying something else than the print."""

import io
from decimal import Decimal

import pytest
from PIL import Image
from reportlab.graphics import renderPDF
from reportlab.graphics.barcode.qr import QrCodeWidget
from reportlab.graphics.shapes import Drawing
from reportlab.pdfgen.canvas import Canvas

from tools.corpus.camera import scan, scanned
from veridox.core.einvoice import payments, with_payments
from veridox.core.money import Money
from veridox.core.pages import Box, Page, QrCode
from veridox.core.readers.files import read_pages
from veridox.core.reading import Field, Kind, Origin, Reading
from veridox.readerpool import ReaderPool

EPC = "\n".join(
    ["BCD", "002", "1", "SCT", "", "Korallan Technik GmbH", "DE34 9999 0000 2020 5100 00",
     "EUR1749.30", "", "", "RE-26-30871"]
)  # fmt: skip
SWISS = "\n".join(
    ["SPC", "0200", "1", "CH4431999123000889012", "S", "Ostrel Pumpen AG", "Weg", "1", "3000",
     "Bern", "CH", *[""] * 7, "446.25", "CHF", *[""] * 7, "QRR", "210000000003139471430009017",
     "", "EPD"]
)  # fmt: skip
ROWS = [
    "Korallan Technik GmbH", "RECHNUNG", "Rechnungsnummer RE-26-30871",
    "Rechnungsdatum 02.11.2026", "Nettosumme 1.470,00 EUR", "MwSt. 19 % 279,30 EUR",
    "Gesamtbetrag 1.749,30 EUR",
]  # fmt: skip


@pytest.fixture(scope="module")
def pool():
    with ReaderPool(size=1) as running:
        yield running


def page(code, rows=ROWS):
    out = io.BytesIO()
    canvas = Canvas(out, invariant=1)
    for at, row in enumerate(rows):
        canvas.drawString(60, 760 - 24 * at, row)
    widget = QrCodeWidget(code, barLevel="M", barWidth=120, barHeight=120)
    drawing = Drawing(120, 120)
    drawing.add(widget)
    renderPDF.draw(drawing, canvas, 60, 100)
    canvas.save()
    return out.getvalue()


def page_with(code):
    found = QrCode(text=code, box=Box(0, 0, 9, 9))
    return Page(number=1, width=9, height=9, words=(), codes=(found,))


def asked(code):
    return payments([page_with(code)])


def test_both_standards_are_understood():
    (sepa,) = asked(EPC)
    assert (sepa.account, sepa.payee) == ("DE34999900002020510000", "Korallan Technik GmbH")
    assert sepa.amount == Money(amount=Decimal("1749.30"), currency="EUR")
    assert sepa.reference == "RE-26-30871"
    (swiss,) = asked(SWISS)
    assert (swiss.account, swiss.payee) == ("CH4431999123000889012", "Ostrel Pumpen AG")
    assert swiss.amount == Money(amount=Decimal("446.25"), currency="CHF")
    assert swiss.reference == "210000000003139471430009017"


@pytest.mark.parametrize(
    "code", ["https://veridox.invalid", "BCD\n002", EPC.replace("SCT", "XYZ"), SWISS[:60], ""]
)
def test_other_codes_ask_for_nothing(code):
    assert asked(code) == []


def test_an_amount_that_is_none_is_left_to_the_payer():
    assert asked(EPC.replace("EUR1749.30", ""))[0].amount is None
    assert asked(EPC.replace("EUR1749.30", "EURlots"))[0].amount is None


def test_a_drawn_code_gives_the_account_and_its_place(pool):
    answer = pool.read(page(EPC))
    account = answer.readings[0].fields["account"]
    assert (account.value, account.origin) == ("DE34999900002020510000", Origin.CODE)
    assert account.box[0] == pytest.approx(70, abs=20)
    assert answer.findings == ()


def test_a_code_is_found_on_a_scan():
    import numpy as np

    picture = scan()(scanned(page(EPC), 0, 200), np.random.default_rng(3)).picture
    out = io.BytesIO()
    Image.fromarray(picture).save(out, "PNG", dpi=(200, 200))
    (found,) = read_pages(out.getvalue()).pages[0].codes
    assert found.text == EPC


def test_another_amount_in_the_code_is_told(pool):
    answer = pool.read(page(EPC.replace("1749.30", "1794.30")))
    (finding,) = answer.findings
    assert (finding.code, finding.fields) == ("payment.code_differs", ("gross_total",))
    assert "1794.30 EUR" in finding.message or "1,794.30 EUR" in finding.message
    assert not finding.blocks


@pytest.mark.parametrize(
    ("printed", "stops"),
    [("DE77 9999 0000 1234 5678 90", True), ("DE34 9999 0000 2020 5100 00", False)],
)
def test_another_account_in_the_code_stops_the_document(printed, stops):
    field = Field(value=printed, text=printed, page=1, box=Box(1, 1, 2, 2), confidence=0.9)
    reading = Reading(kind=Kind.INVOICE, fields={"account": field})
    after, findings = with_payments(reading, [page_with(EPC)])
    assert [finding.blocks for finding in findings] == [True] * stops
    assert after.fields["account"].value == printed
    assert after.fields["account"].confidence == (0.9 if stops else 0.999)
