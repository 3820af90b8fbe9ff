"""What else comes in with the post: forwarded mails, archives, machines, bills as text."""

import io
import zipfile
from datetime import UTC, date, datetime
from decimal import Decimal
from email.message import EmailMessage
from email.mime.image import MIMEImage
from email.utils import format_datetime, make_msgid

import pikepdf

from demo import bills
from demo import merrowmere as m
from demo.drawing import LAYOUTS, Bill, replace, signature_picture

POST_ROOM = "post@merrowmere.example"
PUMPS = replace(bills.WRONG_ORDER, number="2026/7801", issued=date(2026, 11, 16))
_visit, _panel = bills.VET_VISIT.lines
MAY, JUNE, JULY, AUGUST = (
    replace(bills.VET_VISIT, number=number, issued=day,
            lines=(_visit, replace(_panel, quantity=Decimal(panels))))
    for number, day, panels in (
        ("QV 21007", date(2026, 11, 12), 1), ("QV 21019", date(2026, 11, 17), 2),
        ("QV 21033", date(2026, 11, 18), 4), ("QV 21040", date(2026, 11, 20), 5),
    )
)  # fmt: skip
TABLE = """<p>Dear Merrowmere,</p><p>we bill for your water test as agreed.</p>
<table border="1" cellpadding="4">
<tr><td>Invoice number</td><td>NW-8840</td></tr><tr><td>Invoice date</td><td>12.11.2026</td></tr>
<tr><td>Net</td><td>EUR 420,00</td></tr><tr><td>VAT 19 %</td><td>EUR 79,80</td></tr>
<tr><td><b>Total</b></td><td><b>EUR 499,80</b></td></tr></table>
<p>Nordriff Wasserlabor <img src="https://pixel.nordriff.example/seen.gif" alt=""></p>
<script>alert("never")</script>"""


def _mail(sender: str, subject: str, text: str, **headers: str) -> EmailMessage:
    mail = EmailMessage()
    mail["From"], mail["To"], mail["Subject"] = sender, POST_ROOM, subject
    mail["Date"] = format_datetime(datetime.now(UTC))
    mail["Message-ID"] = make_msgid(domain=sender.rstrip(">").partition("@")[2])
    for name, value in headers.items():
        mail[name.replace("_", "-")] = value
    mail.set_content(text)
    return mail


def _from(vendor: m.Vendor, subject: str, text: str) -> EmailMessage:
    return _mail(f"{vendor.name} <{vendor.mail}>", subject, text)


def _pdf(bill: Bill, layout: str) -> bytes:
    return LAYOUTS[layout](bill)


def _zip(*files: tuple[str, bytes], locked: bool = False) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name, content in files:
            archive.writestr(name, content)
    data = bytearray(out.getvalue())
    if locked:  # the mark of an entry that asks for a password, in both of its places
        for mark, at in ((b"PK\x03\x04", 6), (b"PK\x01\x02", 8)):
            data[data.find(mark) + at] |= 1
    return bytes(data)


def _together(*pdfs: bytes) -> bytes:
    """One file of several, a blank page between them, as a feeder of sheets makes it."""
    book = pikepdf.new()
    for pdf in pdfs:
        if book.pages:
            book.add_blank_page()
        book.pages.extend(pikepdf.open(io.BytesIO(pdf)).pages)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _two_in_a_file() -> EmailMessage:
    mail = _from(m.QUILLFIN, "Urgent: both visits of the harbour seals", "In one file this time.")
    content = _together(_pdf(JULY, "band"), _pdf(AUGUST, "band"))
    mail.add_attachment(content, maintype="application", subtype="pdf", filename="visits.pdf")
    return mail


def _forwarded() -> EmailMessage:
    inner = _from(m.OSTREL, "Rechnung 2026/7801", "Sehr geehrte Damen und Herren, anbei.")
    inner.add_attachment(
        _pdf(PUMPS, "window"), maintype="application", subtype="pdf", filename="7801.pdf"
    )
    outer = _mail("Bo Lind <bo@merrowmere.example>", "Fwd: Rechnung 2026/7801", "Came to me.")
    outer.add_alternative('<p>Came to me.</p><img src="cid:sign">', subtype="html")
    logo = MIMEImage(signature_picture(), "png")
    logo["Content-ID"] = "<sign>"
    logo.add_header("Content-Disposition", "inline", filename="image001.png")
    outer.make_mixed()
    outer.attach(logo)
    outer.add_attachment(inner)
    return outer


def _archive(locked: bool) -> EmailMessage:
    subject = "Statement files, password by phone" if locked else "Two visits in November"
    vendor = m.SALTGLASS if locked else m.QUILLFIN
    files = [("SG-10501.pdf", _pdf(bills.SALT_SLIP, "band"))]
    if not locked:
        files = [("qv-21007.pdf", _pdf(MAY, "band")), ("qv-21019.pdf", _pdf(JUNE, "band"))]
    mail = _from(vendor, subject, "Please open the archive.")
    content = _zip(*files, locked=locked)
    mail.add_attachment(content, maintype="application", subtype="zip", filename="bills.zip")
    return mail


def _in_the_text() -> EmailMessage:
    mail = _from(m.NORDRIFF, "Rechnung NW-8840", "Please see the HTML part.")
    mail.add_alternative(TABLE, subtype="html")
    return mail


def _invitation() -> EmailMessage:
    mail = _mail("Ada Merrow <ada@merrowmere.example>", "Invitation: stock-taking", "Join us.")
    text = "BEGIN:VCALENDAR\r\nMETHOD:REQUEST\r\nEND:VCALENDAR\r\n"
    mail.add_alternative(text, subtype="calendar", params={"method": "REQUEST"})
    return mail


def _undelivered() -> EmailMessage:
    return _mail(
        "Mail Delivery <mailer-daemon@merrowmere.example>",
        "Undelivered Mail Returned to Sender",
        "The mail to labor@nordriff.example could not be delivered.",
    )


def awkward_mails() -> dict[str, EmailMessage]:
    """All of them by what they are."""
    away = _from(m.KORALLAN, "Out of office: Re: order", "I am back on Monday.")
    away["Auto-Submitted"] = "auto-replied"
    link = _from(m.BRINEFOLD, "Your invoice is ready", "See https://brinefold.example/b/8843")
    return {
        "forwarded as a file, with a logo": _forwarded(),
        "two bills in an archive": _archive(locked=False),
        "two bills in one file": _two_in_a_file(),
        "an archive with a password": _archive(locked=True),
        "a bill in the mail itself": _in_the_text(),
        "an automatic answer": away,
        "an invitation": _invitation(),
        "a returned mail": _undelivered(),
        "a link and no file": link,
    }


def unwanted_mails() -> list[EmailMessage]:
    """What lies in the AP inbox and is nobody's bill: the pipeline leaves it alone."""
    found = [
        _mail("Café Merrow <cafe@merrowmere.example>", "Lunch menu of the week", "Soup."),
        _from(m.SALTGLASS, "Invoice workshop on Thursday", "Come and learn."),
    ]
    for mail in found:
        mail.replace_header("To", "ap@merrowmere.example")
    return found
