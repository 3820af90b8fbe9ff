"""Invoices drawn with ReportLab in three layouts that share no code but the page."""

import io
from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import date
from decimal import ROUND_HALF_UP, Decimal

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4
from reportlab.pdfgen.canvas import Canvas

from demo.merrowmere import Entity, OrderLine, Vendor

WIDTH, HEIGHT = A4
CENT = Decimal("0.01")


@dataclass(frozen=True, kw_only=True)
class Charge:
    label: str
    amount: Decimal


@dataclass(frozen=True, kw_only=True)
class Bill:
    """What stands on a drawn document. `gross_slip` is added to the printed total."""

    vendor: Vendor
    buyer: Entity
    number: str
    issued: date
    due: date
    order: str
    currency: str
    lines: tuple[OrderLine, ...]
    tax_rate: Decimal
    charge: Charge | None = None
    gross_slip: Decimal = Decimal(0)
    title: str = ""
    account: str = ""
    remark: str = ""

    @property
    def paid_to(self) -> str:
        """The account that is printed: the vendor's own, where nothing else is said."""
        return self.account or self.vendor.iban

    @property
    def net(self) -> Decimal:
        total = sum((amount(line) for line in self.lines), Decimal(0))
        return total + (self.charge.amount if self.charge else 0)

    @property
    def tax(self) -> Decimal:
        return (self.net * self.tax_rate / 100).quantize(CENT, ROUND_HALF_UP)

    @property
    def gross(self) -> Decimal:
        return self.net + self.tax + self.gross_slip


def amount(line: OrderLine) -> Decimal:
    return (line.quantity * line.price).quantize(CENT, ROUND_HALF_UP)


def english(number: Decimal) -> str:
    return f"{number:,.2f}"


def german(number: Decimal) -> str:
    return f"{number:,.2f}".translate(str.maketrans({",": ".", ".": ","}))


def _canvas() -> tuple[Canvas, io.BytesIO]:
    out = io.BytesIO()
    # invariant: the same bill gives the same bytes, so that hashes repeat.
    return Canvas(out, pagesize=A4, invariant=1), out


def _finish(canvas: Canvas, out: io.BytesIO) -> bytes:
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def letterhead(bill: Bill) -> bytes:
    """English: letterhead left, label and value pairs right, ruled table."""
    canvas, out = _canvas()
    seller = bill.vendor
    canvas.setFont("Helvetica-Bold", 17)
    canvas.drawString(50, HEIGHT - 60, seller.name)
    canvas.setFont("Helvetica", 9)
    canvas.drawString(50, HEIGHT - 76, f"{seller.street}, {seller.town}")
    canvas.drawString(50, HEIGHT - 88, f"VAT Reg No: {spaced(seller.tax_id)}")
    canvas.setFont("Helvetica-Bold", 20)
    canvas.drawRightString(WIDTH - 50, HEIGHT - 60, bill.title or "INVOICE")
    pairs = [
        ("Invoice No", bill.number),
        ("Invoice Date", f"{bill.issued:%d %B %Y}"),
        ("Due Date", f"{bill.due:%d %B %Y}"),
        ("Your Order No", bill.order),
        ("Customer No", "MW-0081"),
    ]
    y = HEIGHT - 130
    for label, value in pairs:
        if value:
            canvas.setFont("Helvetica", 9)
            canvas.drawString(350, y, label)
            canvas.setFont("Helvetica-Bold", 9)
            canvas.drawString(440, y, value)
            y -= 14
    canvas.setFont("Helvetica", 8)
    canvas.drawString(50, HEIGHT - 130, "Bill to:")
    canvas.setFont("Helvetica", 10)
    for step, text in enumerate((bill.buyer.name, bill.buyer.street, bill.buyer.town)):
        canvas.drawString(50, HEIGHT - 144 - 13 * step, text)
    y = HEIGHT - 250
    canvas.setFont("Helvetica-Bold", 9)
    canvas.drawString(50, y, "Code")
    canvas.drawString(110, y, "Description")
    canvas.drawRightString(365, y, "Qty")
    canvas.drawString(375, y, "Unit")
    canvas.drawRightString(465, y, "Unit Price")
    canvas.drawRightString(WIDTH - 50, y, "Amount")
    canvas.line(50, y - 4, WIDTH - 50, y - 4)
    canvas.setFont("Helvetica", 9)
    heading = ""
    for line in bill.lines:
        if line.order and line.order != heading:
            y -= 18
            heading = line.order
            canvas.drawString(110, y, f"Your order {heading}")
        y -= 18
        canvas.drawString(50, y, line.item)
        canvas.drawString(110, y, line.description)
        canvas.drawRightString(365, y, f"{line.quantity:f}")
        canvas.drawString(375, y, line.unit)
        canvas.drawRightString(465, y, english(line.price))
        canvas.drawRightString(WIDTH - 50, y, english(amount(line)))
    canvas.line(50, y - 8, WIDTH - 50, y - 8)
    y -= 26
    rows = [("Net total", english(bill.net))]
    if bill.charge:
        rows.insert(0, (bill.charge.label, english(bill.charge.amount)))
    rows.append((f"VAT {bill.tax_rate.normalize():f} %", english(bill.tax)))
    for label, value in rows:
        canvas.drawString(400, y, label)
        canvas.drawRightString(WIDTH - 50, y, value)
        y -= 15
    canvas.setFont("Helvetica-Bold", 11)
    canvas.drawString(400, y - 2, f"Total {bill.currency}")
    canvas.drawRightString(WIDTH - 50, y - 2, english(bill.gross))
    canvas.setFont("Helvetica", 8)
    canvas.drawString(50, 84, bill.remark)
    canvas.drawString(50, 70, f"Payment within 30 days to IBAN {bill.paid_to}")
    canvas.drawString(50, 58, f"Questions? {seller.mail}    Page 1 of 1")
    return _finish(canvas, out)


def window(bill: Bill) -> bytes:
    """German: address window, block of reference data, positions, totals in a box."""
    canvas, out = _canvas()
    seller = bill.vendor
    canvas.setFont("Times-Bold", 15)
    canvas.drawRightString(WIDTH - 60, HEIGHT - 55, seller.name)
    canvas.setFont("Times-Roman", 7)
    canvas.drawString(65, HEIGHT - 128, f"{seller.name} · {seller.street} · {seller.town}")
    canvas.setFont("Times-Roman", 11)
    for step, text in enumerate((bill.buyer.name, bill.buyer.street, bill.buyer.town)):
        canvas.drawString(65, HEIGHT - 145 - 14 * step, text)
    canvas.setFont("Times-Roman", 10)
    y = HEIGHT - 140
    for label, value in (
        ("Rechnungsnummer:", bill.number),
        ("Rechnungsdatum:", f"{bill.issued:%d.%m.%Y}"),
        ("Kundennummer:", "70014"),
        ("Ihre Bestellung:", bill.order),
    ):
        if value:
            canvas.drawString(370, y, label)
            canvas.drawRightString(WIDTH - 60, y, value)
            y -= 14
    canvas.setFont("Times-Bold", 16)
    canvas.drawString(65, HEIGHT - 255, bill.title or "Rechnung")
    canvas.setFont("Times-Bold", 9.5)
    y = HEIGHT - 290
    canvas.drawString(65, y, "Pos.")
    canvas.drawString(95, y, "Art.-Nr.")
    canvas.drawString(155, y, "Bezeichnung")
    canvas.drawRightString(365, y, "Menge")
    canvas.drawString(373, y, "Einheit")
    canvas.drawRightString(460, y, "Einzelpreis")
    canvas.drawRightString(WIDTH - 60, y, "Gesamtpreis")
    canvas.setFont("Times-Roman", 9.5)
    for position, line in enumerate(bill.lines, start=1):
        y -= 20
        canvas.drawString(65, y, str(position))
        canvas.drawString(95, y, line.item)
        first, _, rest = line.description.partition(", ")
        canvas.drawString(155, y, first)
        canvas.drawRightString(365, y, f"{line.quantity:f}")
        canvas.drawString(373, y, line.unit)
        canvas.drawRightString(460, y, german(line.price))
        canvas.drawRightString(WIDTH - 60, y, german(amount(line)))
        if rest:
            y -= 11
            canvas.drawString(155, y, rest)
    y -= 30
    canvas.rect(325, y - 50, WIDTH - 60 - 325 + 6, 66)
    rows = [("Nettobetrag", bill.net), (f"zzgl. {bill.tax_rate.normalize():f} % MwSt.", bill.tax)]
    if bill.charge:
        rows.insert(0, (bill.charge.label, bill.charge.amount))
    for label, value in rows:
        canvas.drawString(332, y, label)
        canvas.drawRightString(WIDTH - 60, y, german(value) + " €")
        y -= 16
    canvas.setFont("Times-Bold", 10.5)
    canvas.drawString(332, y - 4, "Rechnungsbetrag")
    canvas.drawRightString(WIDTH - 60, y - 4, german(bill.gross) + " €")
    canvas.setFont("Times-Roman", 9.5)
    canvas.drawString(65, y - 60, f"Zahlbar bis {bill.due:%d.%m.%Y} ohne Abzug.")
    canvas.setFont("Times-Roman", 7.5)
    canvas.drawString(65, 62, f"{seller.name}, {seller.street}, {seller.town}")
    canvas.drawString(65, 52, f"USt-IdNr.: {seller.tax_id}    Steuernummer: 44/118/02017")
    canvas.drawString(65, 76, bill.remark)
    canvas.drawString(330, 62, f"IBAN: {bill.paid_to}")
    canvas.drawString(330, 52, "Amtsgericht Nordfleet HRB 20417")
    return _finish(canvas, out)


def band(bill: Bill) -> bytes:
    """English: coloured band, labels above their values, shaded rows, totals below."""
    canvas, out = _canvas()
    seller = bill.vendor
    canvas.setFillColor(HexColor("#24506b"))
    canvas.rect(0, HEIGHT - 92, WIDTH, 92, stroke=0, fill=1)
    canvas.setFillColor(HexColor("#ffffff"))
    canvas.setFont("Helvetica-Bold", 22)
    canvas.drawString(40, HEIGHT - 56, bill.title or "Tax Invoice")
    canvas.setFont("Helvetica", 12)
    canvas.drawRightString(WIDTH - 40, HEIGHT - 48, seller.name)
    canvas.setFont("Helvetica", 8)
    canvas.drawRightString(WIDTH - 40, HEIGHT - 64, f"{seller.street}, {seller.town}")
    canvas.setFillColor(HexColor("#000000"))
    columns = [
        ("Invoice number", bill.number),
        ("Date of issue", bill.issued.strftime("%d/%m/%Y")),
        ("Payment due", bill.due.strftime("%d/%m/%Y")),
        ("Purchase order", bill.order),
    ]
    for step, (label, value) in enumerate(column for column in columns if column[1]):
        canvas.setFont("Helvetica", 7.5)
        canvas.drawString(40 + 130 * step, HEIGHT - 122, label)
        canvas.setFont("Helvetica-Bold", 10)
        canvas.drawString(40 + 130 * step, HEIGHT - 136, value)
    canvas.setFont("Helvetica", 7.5)
    canvas.drawString(40, HEIGHT - 170, "Invoice to")
    canvas.setFont("Helvetica", 10)
    for step, text in enumerate((bill.buyer.name, bill.buyer.street, bill.buyer.town)):
        canvas.drawString(40, HEIGHT - 184 - 13 * step, text)
    y = HEIGHT - 250
    canvas.setFont("Helvetica-Bold", 9)
    canvas.drawString(46, y, "Details")
    canvas.drawRightString(340, y, "Quantity")
    canvas.drawRightString(440, y, "Price each")
    canvas.drawRightString(WIDTH - 46, y, "Line total")
    canvas.setFont("Helvetica", 9)
    for position, line in enumerate(bill.lines):
        y -= 20
        if position % 2 == 0:
            canvas.setFillColor(HexColor("#eef3f6"))
            canvas.rect(40, y - 6, WIDTH - 80, 20, stroke=0, fill=1)
            canvas.setFillColor(HexColor("#000000"))
        canvas.drawString(46, y, line.description)
        canvas.drawRightString(340, y, f"{line.quantity:f}")
        canvas.drawRightString(440, y, f"£{english(line.price)}")
        canvas.drawRightString(WIDTH - 46, y, f"£{english(amount(line))}")
    y -= 34
    rows = [("Subtotal", bill.net), (f"VAT @ {bill.tax_rate.normalize():f}%", bill.tax)]
    if bill.charge:
        rows.insert(0, (bill.charge.label, bill.charge.amount))
    for label, value in rows:
        canvas.drawRightString(440, y, label)
        canvas.drawRightString(WIDTH - 46, y, f"£{english(value)}")
        y -= 16
    canvas.setFont("Helvetica-Bold", 12)
    canvas.drawRightString(440, y - 4, "Amount due")
    canvas.drawRightString(WIDTH - 46, y - 4, f"£{english(bill.gross)}")
    canvas.setFont("Helvetica", 8)
    canvas.drawString(40, 60, f"VAT number {spaced(seller.tax_id)}   ·   {seller.mail}")
    return _finish(canvas, out)


def spaced(tax_id: str) -> str:
    """GB ids as they are printed: GB 123 4567 89."""
    return f"{tax_id[:2]} {tax_id[2:5]} {tax_id[5:9]} {tax_id[9:]}"


def delivery_note(bill: Bill, number: str) -> bytes:
    """What travels with the goods: the same lines without any price."""
    canvas, out = _canvas()
    canvas.setFont("Helvetica-Bold", 18)
    canvas.drawString(50, HEIGHT - 60, "DELIVERY NOTE")
    canvas.setFont("Helvetica", 10)
    canvas.drawString(50, HEIGHT - 84, bill.vendor.name)
    canvas.drawString(350, HEIGHT - 84, f"Delivery note no: {number}")
    canvas.drawString(350, HEIGHT - 98, f"Date: {bill.issued:%d %B %Y}")
    y = HEIGHT - 150
    for line in bill.lines:
        canvas.drawString(50, y, line.description)
        canvas.drawRightString(480, y, f"{line.quantity:f} {line.unit}")
        y -= 18
    canvas.drawString(50, y - 30, "Received in good order: ______________________")
    return _finish(canvas, out)


def scanned(pdf: bytes, blur: float = 0.5) -> bytes:
    """The first page as a scanner would give it: a grey picture in a PDF, no text.

    With a blur of 15 nothing can be read any more.
    """
    import pypdfium2
    from PIL import ImageFilter

    document = pypdfium2.PdfDocument(pdf)
    picture = document[0].render(scale=150 / 72).to_pil().convert("L")
    document.close()
    picture = picture.rotate(0.6, fillcolor=250).filter(ImageFilter.GaussianBlur(blur))
    out = io.BytesIO()
    picture.save(out, "PDF", resolution=150)
    return out.getvalue()


def signature_picture() -> bytes:
    """A small picture such as mail signatures carry."""
    from PIL import Image, ImageDraw

    picture = Image.new("RGB", (160, 48), "#f4f8f7")
    draw = ImageDraw.Draw(picture)
    draw.arc((8, 8, 40, 40), 20, 330, fill="#2b6f6a", width=4)
    draw.text((52, 16), "Quillfin Vets", fill="#2b6f6a")
    out = io.BytesIO()
    picture.save(out, "PNG")
    return out.getvalue()


Layout = Callable[[Bill], bytes]
LAYOUTS: dict[str, Layout] = {"letterhead": letterhead, "window": window, "band": band}

__all__ = ["LAYOUTS", "Bill", "Charge", "delivery_note", "replace", "scanned", "signature_picture"]
