"""Mails taken apart: their bytes are in the file store, their record is still to be written."""

from dataclasses import dataclass, replace
from datetime import datetime

from veridox.core.pipeline import Collect
from veridox.core.readers.mail.content import MailContent
from veridox.core.readers.mail.documents import body_file, body_is_document
from veridox.readerpool import ReaderStoppedError
from veridox.service import wiring
from veridox.service.storage import originals


@dataclass(frozen=True, kw_only=True, slots=True)
class Arrival:
    """Where and when a mail was found on the server; handed-in mails have no place there."""

    folder: str
    uidvalidity: int
    uid: int
    received_at: datetime
    size: int
    sha256: str


@dataclass(frozen=True, slots=True)
class Kept:
    """A file as the store has it.

    Attributes:
        sha256: hexadecimal.
        size: bytes.
    """

    sha256: str
    size: int


@dataclass(frozen=True, kw_only=True, slots=True)
class Taken:
    """A mail that is ready to be recorded.

    Attributes:
        arrival: where it lies.
        content: its parts; the files come without their bytes, which the store has.
        kept: the same files as the store has them. The mail's own text is the
            last of both where it is to be a document.
        reads_body: whether it is.
        unreadable: no reader could open it.
    """

    arrival: Arrival
    content: MailContent
    kept: tuple[Kept, ...] = ()
    reads_body: bool = False
    unreadable: bool = False


def take_apart(raw: bytes, arrival: Arrival, collect: Collect, instead: MailContent) -> Taken:
    """Read a mail in the pool and put its files into the store.

    Args:
        raw: the mail.
        arrival: where it lies.
        collect: what the pipeline wants of it.
        instead: what to record of a mail that stops the reader; the reason is added.
    """
    try:
        content = wiring.reader_pool().mail(raw)
    except ReaderStoppedError as error:
        content = replace(instead, defects=(str(error),))
        return Taken(arrival=arrival, content=content, unreadable=True)
    reads_body = body_is_document(content, collect.body)
    files = (*content.files, body_file(content)) if reads_body else content.files
    # A mail of 60 MB must not stay in memory until its record is written.
    return Taken(
        arrival=arrival,
        content=replace(content, files=tuple(replace(file, content=b"") for file in files)),
        kept=tuple(_keep(file.content) for file in files),
        reads_body=reads_body,
    )


def _keep(content: bytes) -> Kept:
    return Kept(originals().put(content), len(content))


def unopened(
    subject: str, senders: tuple[tuple[str, str], ...] = (), reason: str = ""
) -> MailContent:
    """What is known of a mail that cannot be taken apart."""
    name, address = senders[0] if senders else ("", "")
    return MailContent(
        message_id="",
        sender_name=name,
        sender_address=address,
        recipients=(),
        subject=subject,
        sent=None,
        text="",
        defects=(reason,) if reason else (),
    )
