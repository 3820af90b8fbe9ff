"""The ten mails of the scenario, with fourteen files."""

import smtplib
from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime
from email.message import EmailMessage
from email.utils import format_datetime, make_msgid

from demo import bills
from demo import merrowmere as m
from demo.drawing import (
    LAYOUTS,
    Bill,
    delivery_note,
    scanned,
    signature_picture,
)

INBOX = "ap@merrowmere.example"
DOMAIN = "merrowmere.example"


@dataclass(frozen=True, kw_only=True)
class Attached:
    name: str
    content: Callable[[], bytes]
    kind: tuple[str, str] = ("application", "pdf")


@dataclass(frozen=True, kw_only=True)
class Mail:
    """A mail of the scenario; `expect` says what becomes of each of its files."""

    name: str
    sender: m.Vendor
    subject: str
    text: str
    files: tuple[Attached, ...]
    expect: tuple[str, ...]

    def message(self) -> EmailMessage:
        mail = EmailMessage()
        mail["From"] = f"{self.sender.name} <{self.sender.mail}>"
        mail["To"] = INBOX
        mail["Subject"] = self.subject
        mail["Date"] = format_datetime(datetime.now(UTC))
        mail["Message-ID"] = make_msgid(domain=self.sender.mail.partition("@")[2])
        mail.set_content(self.text)
        for file in self.files:
            maintype, subtype = file.kind
            mail.add_attachment(
                file.content(), maintype=maintype, subtype=subtype, filename=file.name
            )
        return mail


def _drawn(bill: Bill, layout: str) -> Attached:
    name = bill.number.replace("/", "-").replace(" ", "-").lower() + ".pdf"
    return Attached(name=name, content=lambda: LAYOUTS[layout](bill))


def _cut(bill: Bill) -> Attached:
    return Attached(
        name=bill.number.lower() + ".pdf", content=lambda: LAYOUTS["window"](bill)[:700]
    )


ENGLISH = "Please find our invoice attached.\n\nKind regards\n"
GERMAN = (
    "Sehr geehrte Damen und Herren,\n\nanbei erhalten Sie unsere Rechnung.\n\n"
    "Mit freundlichen Grüßen\n"
)

MAILS = (
    Mail(name="clean, English", sender=m.BRINEFOLD, subject="Invoice BF-2026-0413", text=ENGLISH,
         files=(_drawn(bills.KRILL, "letterhead"),), expect=("posted",)),
    Mail(name="clean, German", sender=m.KORALLAN, subject="Rechnung RE-26-30871", text=GERMAN,
         files=(_drawn(bills.ROTOR, "window"),), expect=("posted",)),
    Mail(name="does not add up", sender=m.SALTGLASS, subject="Invoice SG/10442", text=ENGLISH,
         files=(_drawn(bills.SALT_SLIP, "band"),), expect=("at_desk",)),
    Mail(name="unknown vendor", sender=m.TIDEWRACK, subject="Your invoice from Tidewrack",
         text=ENGLISH, files=(_drawn(bills.KIOSK, "letterhead"),), expect=("at_desk",)),
    Mail(name="another vendor's order", sender=m.OSTREL, subject="Rechnung 2026/7718", text=GERMAN,
         files=(_drawn(bills.WRONG_ORDER, "window"),), expect=("at_desk",)),
    Mail(name="sent twice", sender=m.BRINEFOLD, subject="Copy invoice BF-2026-0413",
         text="In case our first mail did not reach you.\n",
         files=(_drawn(bills.KRILL, "letterhead"),), expect=("at_desk",)),
    Mail(name="with delivery note and signature", sender=m.QUILLFIN,
         subject="Invoice QV 20931 and delivery note", text=ENGLISH,
         files=(_drawn(bills.VET_VISIT, "band"),
                Attached(name="delivery-note-dn-551.pdf",
                         content=lambda: delivery_note(bills.VET_VISIT, "DN-551")),
                Attached(name="signature.png", content=signature_picture, kind=("image", "png"))),
         expect=("posted", "aside", "file aside")),
    Mail(name="a broken file beside a good one", sender=m.NORDRIFF,
         subject="Rechnungen NW-8814 und NW-8815", text=GERMAN,
         files=(_drawn(bills.WATER, "window"), _cut(bills.WATER_DAMAGED)),
         expect=("posted", "at_desk")),
    Mail(name="a scan", sender=m.SALTGLASS, subject="Invoice SG/10467 (scan)", text=ENGLISH,
         files=(Attached(name="scan0007.pdf",
                         content=lambda: scanned(LAYOUTS["band"](bills.SKIMMER))),),
         expect=("posted",)),
    Mail(name="two invoices in one mail", sender=m.KORALLAN,
         subject="Rechnungen RE-26-30902 und RE-26-30903", text=GERMAN,
         files=(_drawn(bills.UPKEEP, "window"), _drawn(bills.FLEECE, "window")),
         expect=("posted", "posted")),
)  # fmt: skip


def send(message: EmailMessage, port: int, sent_from: str = "") -> None:
    """Hand a mail to the mailroom, as the world does; `sent_from` is a stranger's envelope."""
    with smtplib.SMTP("127.0.0.1", port) as server:
        server.send_message(message, from_addr=sent_from or None)
