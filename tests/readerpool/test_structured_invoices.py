"""UBL and CII alone, inside a PDF, and beside one."""

import io
from datetime import date
from decimal import Decimal
from pathlib import Path

import pikepdf
import pytest
from reportlab.pdfgen.canvas import Canvas

from veridox.core.checks import run_arithmetic
from veridox.core.einvoice import NotAnInvoiceError, structured_reading
from veridox.core.money import Money
from veridox.core.reading import Kind, Origin, Source
from veridox.readerpool import ReaderPool

DATA = Path(__file__).parent.parent / "data"
UBL = (DATA / "invoice-ubl.xml").read_text()
CII = (DATA / "invoice-cii.xml").read_text()


@pytest.fixture(scope="module")
def pool():
    with ReaderPool(size=1) as running:
        yield running


def gbp(amount):
    return Money(amount=Decimal(amount), currency="GBP")


@pytest.mark.parametrize("xml", [UBL, CII], ids=["UBL", "CII"])
def test_both_syntaxes_give_the_same_reading(xml):
    reading = structured_reading(xml.encode(), Source())
    values = {name: field.value for name, field in reading.fields.items()}
    assert values == {
        "number": "BF-2026-0413", "issue_date": date(2026, 11, 3), "due_date": date(2026, 12, 3),
        "currency": "GBP", "order_number": "PO-26-0117", "seller.name": "Brinefold Ltd",
        "seller.tax_id": "GB123456782", "buyer.name": "Merrowmere Aquarium Trust",
        "account": "GB00BRIN00000012345678", "lines_total": gbp("1148.40"),
        "net_total": gbp("1148.40"), "tax_total": gbp("229.68"), "gross_total": gbp("1378.08"),
        "amount_due": gbp("1378.08"),
    }  # fmt: skip
    (line,) = reading.lines
    assert {name: cell.value for name, cell in line.items()} == {
        "id": "1", "item_code": "KR-40", "description": "Frozen krill", "quantity": Decimal(40),
        "unit": "kg", "unit_price": Decimal("29.00"), "discount": gbp("11.60"),
        "tax_rate": Decimal(20), "amount": gbp("1148.40"),
    }  # fmt: skip
    (tax,) = reading.tax_lines
    assert (tax["category"].value, tax["rate"].value) == ("S", Decimal(20))
    assert reading.kind is Kind.INVOICE
    assert {field.origin for field in reading.fields.values()} == {Origin.EMBEDDED}
    assert run_arithmetic(reading) == ()


def test_a_credit_note_is_one_in_either_syntax():
    note = UBL.replace("<Invoice ", "<CreditNote ").replace("</Invoice>", "</CreditNote>")
    note = note.replace("xsd:Invoice-2", "xsd:CreditNote-2").replace(
        "InvoiceLine", "CreditNoteLine"
    )
    note = note.replace("InvoicedQuantity", "CreditedQuantity")
    for xml in (note, CII.replace(">380<", ">381<")):
        reading = structured_reading(xml.encode(), Source())
        assert reading.kind is Kind.CREDIT_NOTE
        assert reading.lines[0]["quantity"].value == Decimal(40)


def test_an_xml_file_is_read_and_shown(pool):
    answer = pool.read(UBL.encode(), words=True)
    assert answer.findings == ()
    assert answer.readings[0].text("number") == "BF-2026-0413"
    assert "PayableAmount 1378.08 GBP" in answer.pages[0]["text"]
    assert pool.picture(UBL.encode(), 1, 50).startswith(b"\x89PNG")
    # What was kept of it says the same.
    assert pool.read(b"", kept=answer.kept).readings == answer.readings


@pytest.mark.parametrize(
    ("xml", "code", "words"),
    [
        ("<a><b>1</b></a>", "file.broken", "no invoice"),
        (UBL[:900], "file.broken", "damaged"),
        (UBL.replace("?>", "?><!DOCTYPE a [<!ENTITY b 'c'>]>", 1), "file.broken", "document type"),
        (UBL.replace(">1378.08<", ">lots<"), "einvoice.invalid", "'lots'"),
        (UBL.replace(">GBP<", "><"), "einvoice.invalid", "BT-5"),
        (UBL.replace("2026-11-03", "2026-13-03"), "einvoice.invalid", "Issue date"),
        ('<p:FatturaElettronica xmlns:p="http://ivaservizi.agenziaentrate.gov.it/v1.2"/>',
         "einvoice.national", "Italian"),
        ('<Faktura xmlns="http://crd.gov.pl/wzor/2025/1/"/>', "einvoice.national", "Polish"),
        ('<f:Facturae xmlns:f="http://www.facturae.gob.es/v3"/>', "einvoice.national", "Spanish"),
    ],
)  # fmt: skip
def test_what_is_wrong_with_an_xml_file_is_said(pool, xml, code, words):
    if not xml.startswith("<?xml"):
        xml = '<?xml version="1.0"?>' + xml
    (finding,) = pool.read(xml.encode()).findings
    assert finding.code == code
    assert words in finding.message
    assert finding.blocks


def test_other_xml_is_told_apart():
    with pytest.raises(NotAnInvoiceError):
        structured_reading(b"<html/>", Source())


def page(total="GBP 1,378.08"):
    out = io.BytesIO()
    canvas = Canvas(out, invariant=1)
    rows = ["Brinefold Ltd", "INVOICE", "Invoice number BF-2026-0413",
            "Invoice date 3 November 2026", "Net total GBP 1,148.40", "VAT 20 % 229.68",
            f"Total GBP {total}"]  # fmt: skip
    for at, row in enumerate(rows):
        canvas.drawString(60, 760 - 24 * at, row)
    canvas.save()
    return out.getvalue()


def hybrid(pdf, xml, where):
    document = pikepdf.open(io.BytesIO(pdf))
    if where == "name tree":
        document.attachments["invoice.xml"] = pikepdf.AttachedFileSpec(document, xml.encode())
    else:
        stream = document.make_stream(xml.encode())
        spec = pikepdf.Dictionary(
            Type=pikepdf.Name.Filespec, F="invoice.xml", EF=pikepdf.Dictionary(F=stream),
            AFRelationship=pikepdf.Name.Alternative,
        )  # fmt: skip
        if where == "association":
            document.Root.AF = pikepdf.Array([document.make_indirect(spec)])
        else:
            note = pikepdf.Dictionary(
                Type=pikepdf.Name.Annot, Subtype=pikepdf.Name.FileAttachment,
                Rect=[0, 0, 9, 9], FS=document.make_indirect(spec),
            )  # fmt: skip
            document.pages[0].Annots = pikepdf.Array([document.make_indirect(note)])
    out = io.BytesIO()
    document.save(out)
    return out.getvalue()


@pytest.mark.parametrize("where", ["name tree", "association", "annotation"])
def test_the_structured_form_inside_a_pdf_prevails_with_its_places_on_the_page(pool, where):
    answer = pool.read(hybrid(page(), CII, where))
    (reading,) = answer.readings
    assert answer.findings == ()
    gross = reading.fields["gross_total"]
    assert (gross.origin, gross.page, gross.text) == (Origin.EMBEDDED, 1, "GBP 1,378.08")
    assert gross.box is not None
    assert reading.lines[0]["item_code"].value == "KR-40"


def test_a_page_that_says_something_else_is_told(pool):
    answer = pool.read(hybrid(page("1,438.08"), CII, "name tree"))
    (finding,) = answer.findings
    assert (finding.code, finding.fields) == ("einvoice.differs", ("gross_total",))
    assert finding.blocks
    assert (finding.page, finding.box is not None) == (1, True)
    assert answer.readings[0].money("gross_total") == gbp("1378.08")


def test_xml_inside_that_is_no_invoice_changes_nothing(pool):
    plain = pool.read(page()).readings
    assert pool.read(hybrid(page(), "<notes/>", "name tree")).readings[0].fields == plain[0].fields


def test_a_damaged_structured_form_leaves_the_page(pool):
    answer = pool.read(hybrid(page(), CII.replace(">1378.08<", ">x<"), "name tree"))
    (finding,) = answer.findings
    assert (finding.code, finding.blocks) == ("einvoice.invalid", False)
    assert answer.readings[0].money("gross_total") == gbp("1378.08")
    assert answer.readings[0].fields["gross_total"].origin is Origin.TEXT


def test_xml_that_came_beside_the_page_is_the_same_invoice(pool):
    answer = pool.read(page(), structured=UBL.encode())
    assert answer.readings[0].text("order_number") == "PO-26-0117"
    assert answer.readings[0].fields["number"].box is not None


def test_each_line_names_its_order_and_its_line_there():
    reference = (
        "<cac:OrderLineReference><cbc:LineID>3</cbc:LineID><cac:OrderReference>"
        "<cbc:ID>PO-26-0118</cbc:ID></cac:OrderReference></cac:OrderLineReference>"
    )
    ubl = UBL.replace("<cac:AllowanceCharge>", reference + "<cac:AllowanceCharge>", 1)
    agreed = "<ram:SpecifiedLineTradeAgreement>"
    ordered = (
        f"{agreed}<ram:BuyerOrderReferencedDocument>"
        "<ram:IssuerAssignedID>PO-26-0118</ram:IssuerAssignedID><ram:LineID>3</ram:LineID>"
        "</ram:BuyerOrderReferencedDocument>"
    )
    for text in (ubl, CII.replace(agreed, ordered, 1)):
        reading = structured_reading(text.encode(), Source())
        line = reading.lines[0]
        assert (line["order_number"].value, line["order_line"].value) == ("PO-26-0118", "3")
        assert line["order_number"].origin is Origin.EMBEDDED
