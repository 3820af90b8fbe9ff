"""At least forty awkward mails, each with what must come out of it.

`python -m tests.awkward.mails FOLDER` writes them as .eml files to look at.
"""

import base64
import io
import struct
import sys
import zipfile
import zlib
from dataclasses import dataclass, field
from email.message import EmailMessage
from email.mime.application import MIMEApplication
from email.mime.base import MIMEBase
from email.mime.image import MIMEImage
from email.mime.message import MIMEMessage
from email.mime.multipart import MIMEMultipart
from email.mime.text import MIMEText
from pathlib import Path

from tests.awkward.containers import Saved, enveloped, saved, signed, tnef

PDF = b"%PDF-1.4\n1 0 obj<</Type/Catalog>>endobj\ntrailer<</Root 1 0 R>>\n%%EOF\n"
PDF2 = PDF + b"% second\n"
XML = b"<?xml version='1.0'?><Invoice xmlns='urn:oasis:names:specification:ubl'/>"


def png(width, height, fill=0):
    """A grey picture, stored without shrinking so that bytes grow with its size."""
    rows = b"".join(
        b"\0" + bytes([(fill + x * y) % 251 for x in range(width)]) for y in range(height)
    )

    def chunk(kind, data):
        return (
            struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))
        )

    head = chunk(b"IHDR", struct.pack(">IIBBBBB", width, height, 8, 0, 0, 0, 0))
    return (
        b"\x89PNG\r\n\x1a\n" + head + chunk(b"IDAT", zlib.compress(rows, 0)) + chunk(b"IEND", b"")
    )


LOGO = png(120, 40)
PHOTO = png(900, 1200)


@dataclass(frozen=True)
class Awkward:
    """A mail and what must come out of it.

    Attributes:
        files: names of the files to read, in order.
        left: names of files left out, with the code of the reason.
        kind: see `MailKind`.
        sender, subject: of who speaks (the inner mail of a forwarded one).
        text: words that must stand in the mail's text.
    """

    content: bytes
    files: tuple = ()
    left: dict = field(default_factory=dict)
    kind: str = "letter"
    sender: str = "bills@brinefold.example"
    subject: str | None = None
    text: str = ""


def zipped(*files, password=False):
    """A zip archive; with `password`, its entries are marked as locked."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in files:
            archive.writestr(name, content)
    data = bytearray(out.getvalue())
    if password:
        for mark, at in ((b"PK\x03\x04", 6), (b"PK\x01\x02", 8)):
            start = 0
            while (start := data.find(mark, start)) >= 0:
                data[start + at] |= 1
                start += 4
    return bytes(data)


def head(
    message, subject="Invoice 4711", sender="Brinefold Feeds <bills@brinefold.example>", **more
):
    """The usual headers on a mail, with bytes out."""
    for name, value in (
        ("From", sender),
        ("To", "ap@merrowmere.example"),
        ("Subject", subject),
        ("Date", "Tue, 14 Apr 2026 09:12:00 +0200"),
        ("Message-ID", f"<{zlib.crc32(subject.encode())}@brinefold.example>"),
    ):
        if name not in message:
            message[name] = value
    for name, value in more.items():
        message[name.replace("_", "-")] = value
    return message


def file(content, name, kind="application/pdf", disposition="attachment", cid=""):
    """A part with a file."""
    part = MIMEBase(*kind.split("/"))
    part.set_payload(base64.encodebytes(content).decode())
    part["Content-Transfer-Encoding"] = "base64"
    if disposition:
        part.add_header("Content-Disposition", disposition, **({"filename": name} if name else {}))
    if cid:
        part["Content-ID"] = f"<{cid}>"
    return part


def mixed(*parts, kind="mixed", text="Please find our invoice attached.", **more):
    """A mail with a text and parts."""
    message = MIMEMultipart(kind)
    if text:
        message.attach(MIMEText(text, "plain", "utf-8"))
    for part in parts:
        message.attach(part)
    return head(message, **more)


def related(html, *pictures):
    """HTML with pictures that it shows."""
    part = MIMEMultipart("related")
    part.attach(MIMEText(html, "html", "utf-8"))
    for each in pictures:
        part.attach(each)
    return part


def picture(content, cid, name="image001.png"):
    """A picture shown within the text."""
    part = MIMEImage(content, "png")
    part["Content-ID"] = f"<{cid}>"
    part.add_header("Content-Disposition", "inline", filename=name)
    return part


def inner(subject="Rechnung 88", sender="Korallan Technik <faktura@korallan.example>", *parts):
    """A mail to be forwarded."""
    return mixed(
        *(parts or (file(PDF, "rechnung-88.pdf"),)), subject=subject, sender=sender, text="Anbei."
    )


def raw(headers, body):
    """A mail written by hand."""
    return headers.replace("\n", "\r\n").encode("utf-8") + b"\r\n\r\n" + body


def report(kind, part):
    """A multipart/report (RFC 6522)."""
    message = MIMEMultipart("report", **{"report-type": kind})
    message.attach(MIMEText("About your mail.", "plain", "utf-8"))
    message.attach(part)
    message.attach(MIMEMessage(inner()))
    return message


def status(kind):
    """The machine-readable part of a report."""
    part = MIMEBase("message", kind)
    part.set_payload([MIMEText("Reporting-MTA: dns; mail.brinefold.example", "plain")])
    return part


def calendar(method=True):
    """An invitation."""
    text = "BEGIN:VCALENDAR\r\nMETHOD:REQUEST\r\nBEGIN:VEVENT\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n"
    part = MIMEText(text, "calendar", "utf-8")
    if method:
        part.set_param("method", "REQUEST")
    return part


HAND = """From: Brinefold Feeds <bills@brinefold.example>
To: ap@merrowmere.example
Subject: {subject}
MIME-Version: 1.0"""
B64 = base64.encodebytes(PDF)


def _plain():
    yield "one file", Awkward(mixed(file(PDF, "4711.pdf")).as_bytes(), ("4711.pdf",))
    yield (
        "several files",
        Awkward(
            mixed(
                file(PDF, "a.pdf"), file(PDF2, "b.pdf"), file(XML, "b.xml", "application/xml")
            ).as_bytes(),
            ("a.pdf", "b.pdf", "b.xml"),
        ),
    )
    yield (
        "the same file twice",
        Awkward(
            mixed(file(PDF, "a.pdf"), file(PDF, "copy of a.pdf")).as_bytes(),
            ("a.pdf",),
            {"copy of a.pdf": "repeat"},
        ),
    )
    yield (
        "no multipart at all",
        Awkward(
            raw(
                HAND.format(subject="x") + "\nContent-Type: application/pdf; name=x.pdf\n"
                "Content-Transfer-Encoding: base64",
                B64,
            ),
            ("x.pdf",),
        ),
    )
    yield (
        "a link and no file",
        Awkward(
            head(
                MIMEText("Get it at https://brinefold.example/bills/4711.", "plain", "utf-8")
            ).as_bytes(),
            text="https://brinefold.example/bills/4711",
        ),
    )
    yield "an empty file", Awkward(mixed(file(b"", "empty.pdf")).as_bytes(), ("empty.pdf",))
    yield (
        "html only",
        Awkward(
            head(
                MIMEText(
                    "<p>Total</p><table><tr><td>Net</td><td>10.00</td></tr></table>",
                    "html",
                    "utf-8",
                )
            ).as_bytes(),
            text="Net\t10.00",
        ),
    )
    yield (
        "an executable",
        Awkward(mixed(file(b"MZ\x90\0\3", "invoice.pdf.exe")).as_bytes(), ("invoice.pdf.exe",)),
    )


def _names():
    def named(header, **more):
        body = (
            b"--b\r\nContent-Type: application/pdf\r\nContent-Transfer-Encoding: base64\r\n"
            + header
            + b"\r\n\r\n"
            + B64
            + b"\r\n--b--\r\n"
        )
        top = HAND.format(subject="names") + '\nContent-Type: multipart/mixed; boundary="b"'
        return Awkward(raw(top, body), **more)

    yield (
        "name by RFC 2231",
        named(
            b"Content-Disposition: attachment; filename*=UTF-8''Rechnung%20M%C3%A4rz.pdf",
            files=("Rechnung März.pdf",),
        ),
    )
    yield (
        "name by RFC 2231 in pieces",
        named(
            b"Content-Disposition: attachment; filename*0*=ISO-8859-1''Geb%FCh;\r\n"
            b" filename*1=ren.pdf",
            files=("Gebühren.pdf",),
        ),
    )
    yield (
        "name as an encoded word",
        named(
            b'Content-Disposition: attachment; filename="=?iso-8859-15?Q?Preis_in_=A4.pdf?="',
            files=("Preis in €.pdf",),
        ),
    )
    yield (
        "name in raw bytes",
        named(
            "Content-Disposition: attachment; filename=Wäsche.pdf".encode(), files=("Wäsche.pdf",)
        ),
    )
    yield (
        "name in an unknown charset",
        named(
            b"Content-Disposition: attachment; filename*=x-unheard''Kr%E4n.pdf", files=("Krän.pdf",)
        ),
    )
    yield (
        "name with a path",
        named(
            b'Content-Disposition: attachment; filename="..\\\\..\\\\etc\\\\passwd.pdf"',
            files=("passwd.pdf",),
        ),
    )
    yield (
        "name only in the type",
        Awkward(
            raw(
                HAND.format(subject="t")
                + '\nContent-Type: application/octet-stream; name="t.pdf"\n'
                "Content-Transfer-Encoding: base64",
                B64,
            ),
            ("t.pdf",),
        ),
    )
    yield (
        "no name and no type",
        Awkward(
            raw(
                HAND.format(subject="n") + '\nContent-Type: multipart/mixed; boundary="b"',
                b"--b\r\nContent-Disposition: attachment\r\n"
                b"Content-Transfer-Encoding: base64\r\n\r\n" + B64 + b"\r\n--b--\r\n",
            ),
            ("file-1.pdf",),
        ),
    )
    yield (
        "disposition that lies",
        Awkward(mixed(file(PDF, "shown.pdf", disposition="inline")).as_bytes(), ("shown.pdf",)),
    )
    yield (
        "type that lies",
        Awkward(mixed(file(PDF, "scan.jpg", "image/jpeg")).as_bytes(), ("scan.jpg",)),
    )


def _pictures():
    yield (
        "logo in the signature",
        Awkward(
            mixed(
                related('<p>Hi</p><img src="cid:l1">', picture(LOGO, "l1")),
                file(PDF, "i.pdf"),
                text="",
            ).as_bytes(),
            ("i.pdf",),
            {"image001.png": "dress"},
        ),
    )
    yield (
        "photo of a bill shown in the text",
        Awkward(
            mixed(
                related('<img src="cid:p1">', picture(PHOTO, "p1", "IMG_2044.png")), text=""
            ).as_bytes(),
            ("IMG_2044.png",),
        ),
    )
    yield (
        "logo and photo",
        Awkward(
            mixed(
                related(
                    '<img src="cid:p1"><img src="cid:l1">',
                    picture(PHOTO, "p1", "till.png"),
                    picture(LOGO, "l1", "logo.png"),
                ),
                text="",
            ).as_bytes(),
            ("till.png",),
            {"logo.png": "dress"},
        ),
    )
    yield (
        "a small picture that is a file",
        Awkward(mixed(file(LOGO, "till slip.png", "image/png")).as_bytes(), ("till slip.png",)),
    )
    yield (
        "a pdf beside the text",
        Awkward(
            mixed(
                related("<p>See</p>", file(PDF, "r.pdf", disposition="inline", cid="c9")), text=""
            ).as_bytes(),
            ("r.pdf",),
        ),
    )


def _wrapped():
    yield (
        "forwarded as a file",
        Awkward(
            mixed(
                MIMEMessage(inner()), subject="Fwd: Rechnung 88", sender="bo@merrowmere.example"
            ).as_bytes(),
            ("rechnung-88.pdf",),
            sender="faktura@korallan.example",
            subject="Rechnung 88",
        ),
    )
    twice = mixed(MIMEMessage(inner()), subject="FW: Rechnung 88", sender="ada@merrowmere.example")
    yield (
        "forwarded twice",
        Awkward(
            mixed(
                MIMEMessage(twice), subject="Fwd: FW: Rechnung 88", sender="bo@merrowmere.example"
            ).as_bytes(),
            ("rechnung-88.pdf",),
            sender="faktura@korallan.example",
            subject="Rechnung 88",
        ),
    )
    yield (
        "two forwarded mails",
        Awkward(
            mixed(
                MIMEMessage(inner()),
                MIMEMessage(inner("Invoice 9", "Ostrel <a@ostrel.example>", file(PDF2, "9.pdf"))),
                subject="Two bills",
                sender="bo@merrowmere.example",
            ).as_bytes(),
            ("rechnung-88.pdf", "9.pdf"),
            sender="bo@merrowmere.example",
            subject="Two bills",
        ),
    )
    quoted = (
        "Please pay.\n\n-------- Weitergeleitete Nachricht --------\n"
        "Betreff: Rechnung 5\nVon: x\n\n"
        "Von: Ostrel Pumpen AG <faktura@ostrel.example>\nGesendet: 14.04.2026 09:00\n"
        "An: bo@merrowmere.example\nBetreff: Rechnung 5\n\nGuten Tag"
    )
    yield (
        "forwarded within the text",
        Awkward(
            mixed(
                file(PDF, "5.pdf"),
                text=quoted,
                subject="WG: Rechnung 5",
                sender="bo@merrowmere.example",
            ).as_bytes(),
            ("5.pdf",),
            sender="faktura@ostrel.example",
            subject="Rechnung 5",
        ),
    )
    yield (
        "a reply that quotes",
        Awkward(
            mixed(
                file(PDF, "5.pdf"),
                text=quoted,
                subject="Re: Rechnung 5",
                sender="bo@merrowmere.example",
            ).as_bytes(),
            ("5.pdf",),
            sender="bo@merrowmere.example",
        ),
    )
    yield (
        "eml as a plain file",
        Awkward(
            mixed(
                file(inner().as_bytes(), "mail.eml", "application/octet-stream"),
                sender="bo@merrowmere.example",
            ).as_bytes(),
            ("rechnung-88.pdf",),
            sender="faktura@korallan.example",
        ),
    )
    enclosed = MIMEBase("message", "rfc822")
    enclosed["Content-Transfer-Encoding"] = "base64"
    enclosed.set_payload(base64.encodebytes(inner().as_bytes()).decode())
    yield (
        "message in base64",
        Awkward(
            mixed(enclosed, sender="bo@merrowmere.example").as_bytes(),
            ("rechnung-88.pdf",),
            sender="faktura@korallan.example",
        ),
    )
    mail = Saved(
        "Faktura 7",
        "info@halvard.example",
        "Halvard",
        "Hej",
        to=("ap@merrowmere.example",),
        files=[("faktura 7.pdf", PDF)],
    )
    yield (
        "msg file",
        Awkward(
            mixed(
                file(saved(mail), "Faktura 7.msg", "application/vnd.ms-outlook"),
                sender="bo@merrowmere.example",
            ).as_bytes(),
            ("faktura 7.pdf",),
            sender="info@halvard.example",
            subject="Faktura 7",
        ),
    )
    yield (
        "msg within msg",
        Awkward(
            mixed(
                file(
                    saved(Saved("Fwd", "bo@merrowmere.example", files=[("inner", mail)])), "f.msg"
                ),
                sender="bo@merrowmere.example",
            ).as_bytes(),
            ("faktura 7.pdf",),
            sender="info@halvard.example",
        ),
    )
    yield (
        "winmail.dat",
        Awkward(
            mixed(
                file(
                    tnef([("Invoice May.pdf", PDF), ("list.xml", XML)], "Dear all"),
                    "winmail.dat",
                    "application/ms-tnef",
                )
            ).as_bytes(),
            ("Invoice May.pdf", "list.xml"),
        ),
    )
    yield (
        "winmail.dat cut short",
        Awkward(
            mixed(
                file(tnef([("a.pdf", PDF)])[:-20], "winmail.dat", "application/ms-tnef")
            ).as_bytes(),
            (),
            {"winmail.dat": "damaged"},
        ),
    )
    yield (
        "signed beside",
        Awkward(
            mixed(
                mixed(file(PDF, "s.pdf")),
                file(b"\x30\x03\x02\x01\x01", "smime.p7s", "application/pkcs7-signature"),
                kind="signed",
                text="",
            ).as_bytes(),
            ("s.pdf",),
            {"smime.p7s": "signature"},
        ),
    )
    part = MIMEMultipart("mixed")
    part.attach(MIMEText("Signed text", "plain", "utf-8"))
    part.attach(file(PDF, "within.pdf"))
    opaque = MIMEApplication(signed(part.as_bytes()), "pkcs7-mime", name="smime.p7m")
    yield "signed as a whole", Awkward(head(opaque).as_bytes(), ("within.pdf",), text="Signed text")
    yield (
        "enciphered",
        Awkward(
            head(MIMEApplication(enveloped(), "pkcs7-mime", name="smime.p7m")).as_bytes(),
            (),
            {"smime.p7m": "locked"},
        ),
    )


def _archives():
    def with_zip(content, *files, left=None):
        mail = mixed(file(content, "bills.zip", "application/zip"))
        return Awkward(mail.as_bytes(), files, left or {})

    yield "zip", with_zip(zipped(("in/a.pdf", PDF), ("b.pdf", PDF2)), "a.pdf", "b.pdf")
    yield "zip within zip", with_zip(zipped(("x.zip", zipped(("deep.pdf", PDF)))), "deep.pdf")
    yield (
        "zip with a password",
        with_zip(zipped(("a.pdf", PDF), password=True), left={"a.pdf": "locked"}),
    )
    yield "zip cut short", with_zip(zipped(("a.pdf", PDF))[:40], left={"bills.zip": "damaged"})
    yield (
        "zip bomb",
        with_zip(zipped(("zeros.pdf", b"\0" * 30_000_000)), left={"zeros.pdf": "limit"}),
    )
    yield (
        "zip with system files",
        with_zip(
            zipped(("__MACOSX/._a.pdf", b"x"), ("a.pdf", PDF), ("Thumbs.db", b"y")),
            "a.pdf",
            left={"._a.pdf": "system", "Thumbs.db": "system"},
        ),
    )
    nest = zipped(("end.pdf", PDF))
    for _ in range(40):
        nest = zipped(("n.zip", nest))
    yield "zips nested forty deep", with_zip(nest, left={"n.zip": "limit"})
    yield (
        "a mail in a zip",
        Awkward(
            mixed(file(zipped(("m.eml", inner().as_bytes())), "mails.zip")).as_bytes(),
            ("rechnung-88.pdf",),
            sender="faktura@korallan.example",
        ),
    )
    yield (
        "docx stays whole",
        Awkward(
            mixed(
                file(
                    zipped(("[Content_Types].xml", "x"), ("word/document.xml", "y")), "letter.docx"
                )
            ).as_bytes(),
            ("letter.docx",),
        ),
    )


def _not_letters():
    yield (
        "delivery report",
        Awkward(
            head(
                report("delivery-status", status("delivery-status")),
                sender="MAILER-DAEMON@brinefold.example",
            ).as_bytes(),
            ("rechnung-88.pdf",),
            kind="delivery report",
            sender="mailer-daemon@brinefold.example",
        ),
    )
    yield (
        "read report",
        Awkward(
            head(report("disposition-notification", status("disposition-notification"))).as_bytes(),
            ("rechnung-88.pdf",),
            kind="read report",
        ),
    )
    yield (
        "out of office",
        Awkward(
            head(MIMEText("I am away", "plain"), Auto_Submitted="auto-replied").as_bytes(),
            kind="auto-reply",
        ),
    )
    yield (
        "billing system",
        Awkward(
            mixed(
                file(PDF, "auto.pdf"), Auto_Submitted="auto-generated", Precedence="bulk"
            ).as_bytes(),
            ("auto.pdf",),
        ),
    )
    alternative = MIMEMultipart("alternative")
    alternative.attach(MIMEText("Meet us", "plain"))
    alternative.attach(calendar())
    yield (
        "invitation",
        Awkward(head(alternative).as_bytes(), (), {"file-1.ics": "calendar"}, kind="calendar"),
    )
    yield (
        "an appointment beside a bill",
        Awkward(
            mixed(calendar(), file(PDF, "b.pdf")).as_bytes(), ("b.pdf",), {"file-1.ics": "calendar"}
        ),
    )
    yield (
        "bounce without a report",
        Awkward(
            head(
                MIMEText("could not be delivered", "plain"),
                subject="Undelivered Mail Returned to Sender",
                sender="Mail Delivery <mailer-daemon@brinefold.example>",
            ).as_bytes(),
            kind="delivery report",
            sender="mailer-daemon@brinefold.example",
        ),
    )


def _broken():
    yield (
        "boundary never closed",
        Awkward(mixed(file(PDF, "open.pdf")).as_bytes().rsplit(b"--", 2)[0], ("open.pdf",)),
    )
    yield (
        "base64 with dirt in it",
        Awkward(
            raw(
                HAND.format(subject="d") + "\nContent-Type: application/pdf; name=d.pdf\n"
                "Content-Transfer-Encoding: base64",
                B64.replace(b"\n", b"!\r\n"),
            ),
            ("d.pdf",),
        ),
    )
    yield (
        "subject in raw latin-1",
        Awkward(
            mixed(file(PDF, "l.pdf"))
            .as_bytes()
            .replace(b"Subject: Invoice 4711", "Subject: Gebühr".encode("latin-1")),
            ("l.pdf",),
            subject="Gebühr",
        ),
    )
    yield (
        "encoded word in an odd charset",
        Awkward(
            mixed(file(PDF, "m.pdf"))
            .as_bytes()
            .replace(b"Subject: Invoice 4711", b"Subject: =?x-mac-roman?Q?Geb=9Fhr?="),
            ("m.pdf",),
            subject="Gebühr",
        ),
    )
    yield (
        "text in a charset nobody knows",
        Awkward(
            raw(
                HAND.format(subject="c") + "\nContent-Type: text/plain; charset=x-nope",
                "Grüße".encode("cp1252"),
            ),
            text="Grüße",
        ),
    )
    yield "no headers", Awkward(b"just words", sender="")
    yield (
        "multipart without parts",
        Awkward(
            raw(
                HAND.format(subject="e") + '\nContent-Type: multipart/mixed; boundary="b"',
                b"nothing",
            ),
            text="nothing",
        ),
    )
    address = "=?utf-8?q?Sch=C3=B6n=2C_Feeds?= <Bills@Brinefold.example>"
    yield (
        "comma in a coded name",
        Awkward(mixed(file(PDF, "q.pdf"), sender=address).as_bytes(), ("q.pdf",)),
    )
    empty = EmailMessage()
    yield "nothing but an address", Awkward(head(empty, subject="").as_bytes())


def all_mails():
    """Every awkward mail by name."""
    found = {}
    for group in (_plain, _names, _pictures, _wrapped, _archives, _not_letters, _broken):
        for name, mail in group():
            assert name not in found, name
            found[name] = mail
    return found


def main():
    """Write them to a folder."""
    folder = Path(sys.argv[1])
    folder.mkdir(parents=True, exist_ok=True)
    for name, mail in all_mails().items():
        (folder / f"{name.replace(' ', '-')}.eml").write_bytes(mail.content)


if __name__ == "__main__":
    main()
