"""What a mail holds, as values."""

from dataclasses import dataclass, field
from datetime import datetime
from enum import StrEnum


class MailKind(StrEnum):
    """What a mail is. Everything but a letter is listed and not processed."""

    LETTER = "letter"  # written or sent to us, by a person or a billing system
    CALENDAR = "calendar"  # an invitation or its answer (RFC 5545, RFC 6047)
    DELIVERY = "delivery report"  # RFC 3464
    RECEIPT = "read report"  # RFC 8098
    AUTO_REPLY = "auto-reply"  # RFC 3834
    OWN = "own notice"  # this service sent it


class Became(StrEnum):
    """What became of a part."""

    TEXT = "text"  # the mail's own words
    HTML = "html"  # the same, with markup
    FILE = "file"
    LEFT_OUT = "left out"  # a file that is kept with the reason why it is not read
    OPENED = "opened"  # it holds other parts, which are listed themselves
    REPORT = "report"  # a notice of a mail system, for machines


class LeftOut(StrEnum):
    """Why a file is kept and not read."""

    DRESS = "dress"  # a logo or another picture of the letter's layout
    SIGNATURE = "signature"  # a digital signature or a visiting card
    CALENDAR = "calendar"  # an appointment
    REPEAT = "repeat"  # the same content came before in this mail
    SYSTEM = "system"  # what an operating system puts into archives
    LOCKED = "locked"  # needs a password, or is enciphered
    LIMIT = "limit"  # over a limit on depth, count or size
    DAMAGED = "damaged"  # cannot be opened


@dataclass(frozen=True, kw_only=True, slots=True)
class Letter:
    """The mail that a file came in: for a forwarded one, the inner mail.

    Attributes:
        message_id: without the angle brackets.
        sent: as the Date header says, in UTC; None when there is none.
        text: its own words, as plain text.
    """

    message_id: str = ""
    sender_name: str = ""
    sender_address: str = ""
    recipients: tuple[str, ...] = ()
    subject: str = ""
    sent: datetime | None = None
    text: str = ""


@dataclass(frozen=True, kw_only=True, slots=True)
class MailFile:
    """One file of a mail.

    Attributes:
        position: from 1, in the mail's order.
        name: as declared, without any path; `file-2.pdf` when there is none.
        declared_type, media_type: what the mail says, and what the content is.
        content: decoded bytes.
        content_id: without the angle brackets, empty when there is none.
        inline: the mail asks for it to be shown within its text.
        shown: the text's HTML refers to it.
        within: names of the archives and mails that it lies in, outermost first.
        letter: the inner mail that it came in; None for the mail itself.
        left_out, reason: why it is not to be read; empty for files to read.
    """

    position: int
    name: str
    declared_type: str
    media_type: str
    content: bytes
    content_id: str = ""
    inline: bool = False
    shown: bool = False
    within: tuple[str, ...] = ()
    letter: Letter | None = None
    left_out: str = ""
    reason: str = ""


@dataclass(frozen=True, kw_only=True, slots=True)
class Part:
    """One part of the mail's structure and what became of it.

    Attributes:
        path: position in the structure, as `2.1`; parts of an archive go on with `/`.
        media_type: declared.
        size: decoded bytes.
        became: see `Became`.
        file: position of the file that it became, or 0.
    """

    path: str
    media_type: str
    size: int
    became: Became
    file: int = 0


@dataclass(frozen=True, kw_only=True, slots=True)
class MailContent:
    """A mail, taken apart.

    Attributes:
        kind, kind_reason: what it is, and by what that shows.
        text: its own words as plain text; made from the HTML where only that came.
        html: its own words with markup as they came, unsanitised; may be empty.
        links: addresses that text and HTML lead to.
        forwarded: the letter of the mail that was forwarded, when there is one
            and only one; then it speaks for the mail.
        parts: every part of the structure with what became of it.
    """

    message_id: str
    sender_name: str
    sender_address: str
    recipients: tuple[str, ...]
    subject: str
    sent: datetime | None
    text: str
    html: str = ""
    kind: MailKind = MailKind.LETTER
    kind_reason: str = ""
    links: tuple[str, ...] = ()
    forwarded: Letter | None = None
    headers: dict[str, str] = field(default_factory=dict)
    files: tuple[MailFile, ...] = ()
    parts: tuple[Part, ...] = ()
    defects: tuple[str, ...] = ()

    @property
    def letter(self) -> Letter:
        """Who speaks: the inner mail of a forwarded one, else the mail itself."""
        return self.forwarded or Letter(
            message_id=self.message_id,
            sender_name=self.sender_name,
            sender_address=self.sender_address,
            recipients=self.recipients,
            subject=self.subject,
            sent=self.sent,
            text=self.text,
        )
