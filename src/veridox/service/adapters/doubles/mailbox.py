"""A mailbox in memory, with the port's behaviour. For tests and plug-in authors."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from datetime import UTC, date, datetime
from email.message import Message
from typing import Self

from veridox.core.pipeline import Wanted
from veridox.core.readers.mail.decoding import file_name, header_of, headers_named, part_text
from veridox.core.readers.mail.walk import parse
from veridox.service.errors import AdapterError, UnreachableError
from veridox.service.ports.mailbox import Location, Mailbox, Outline, Piece, opaque_outline


@dataclass
class Kept:
    """A mail in a folder."""

    content: bytes
    read: bool = False
    keywords: set[str] = field(default_factory=set)
    received: datetime = field(default_factory=lambda: datetime.now(UTC))


@dataclass
class MemoryMailbox(Mailbox):
    """Folders of mails by UID.

    Attributes:
        folders: by name.
        breaks_at: names of operations at which the line breaks, once each.
        in_one: whether moves are done or not done (MOVE), see the port.
        keeps_keywords: whether keywords are kept.
        garbled: UIDs whose description cannot be understood.
        broken: UIDs at whose fetch the line breaks every time.
    """

    folders: dict[str, dict[int, Kept]] = field(default_factory=lambda: {"INBOX": {}})
    breaks_at: set[str] = field(default_factory=set)
    uidvalidity: int = 1
    in_one: bool = True
    keeps_keywords: bool = True
    garbled: set[int] = field(default_factory=set)
    broken: set[int] = field(default_factory=set)
    _open: str = "INBOX"
    _next: int = 1

    @property
    def moves_in_one(self) -> bool:
        """See the port."""
        return self.in_one

    def put(self, content: bytes, folder: str = "INBOX", received: datetime | None = None) -> int:
        """Deliver a mail; returns its UID."""
        uid, self._next = self._next, self._next + 1
        kept = Kept(content=content, received=received or datetime.now(UTC))
        self.folders.setdefault(folder, {})[uid] = kept
        return uid

    def number_anew(self) -> None:
        """The server numbers every folder anew, as after a restore from a backup."""
        self.uidvalidity += 1
        for mails in self.folders.values():
            kept = list(mails.values())
            mails.clear()
            for each in kept:
                mails[self._next] = each
                self._next += 1

    def _line(self, operation: str) -> None:
        if operation in self.breaks_at:
            self.breaks_at.discard(operation)
            raise UnreachableError(f"the line broke at {operation}")

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_: object) -> None:
        return None

    def select(self, folder: str, *, look: bool = False) -> int:
        """See the port."""
        del look
        self._line("select")
        if folder not in self.folders:
            raise AdapterError(f"there is no folder {folder!r} in the mailbox")
        self._open = folder
        return self.uidvalidity

    def search(self, wanted: Wanted, today: date) -> list[int]:
        """See the port: a wide net, so that all other conditions are left to us."""
        del today
        mails = self.folders[self._open]
        return [uid for uid, mail in mails.items() if not (wanted.unread and mail.read)]

    def outlines(self, uids: Iterable[int]) -> Iterator[Outline]:
        """See the port."""
        for uid in uids:
            mail = self.folders[self._open].get(uid)
            if mail is not None and uid in self.garbled:
                yield opaque_outline(
                    uid, len(mail.content), mail.received, "year 10000 is out of range",
                    read=mail.read, keywords=frozenset(mail.keywords),
                )  # fmt: skip
            elif mail is not None:
                message = parse(mail.content)
                yield Outline(
                    uid=uid,
                    size=len(mail.content),
                    received_at=mail.received,
                    read=mail.read,
                    keywords=frozenset(mail.keywords),
                    message_id=header_of(message, "message-id").strip("<> "),
                    subject=header_of(message, "subject"),
                    senders=_people(message, "from"),
                    recipients=(*_people(message, "to"), *_people(message, "cc")),
                    pieces=tuple(_pieces(message, "")),
                )

    def fetch(self, uid: int) -> Iterator[bytes] | None:
        """See the port."""
        self._line("fetch")
        if uid in self.broken:
            raise UnreachableError("the line broke in the middle of the mail")
        mail = self.folders[self._open].get(uid)
        return iter([mail.content]) if mail else None

    def reopen(self) -> None:
        """See the port."""
        self._line("reopen")

    def texts(self, uid: int, pieces: Iterable[Piece]) -> str:
        """See the port."""
        message = parse(self.folders[self._open][uid].content)
        wanted = {piece.number for piece in pieces}
        return "\n".join(text for number, text in _texts(message, "") if number in wanted)

    def mark(self, uids: list[int], keyword: str = "") -> None:
        """See the port."""
        self._line("mark")
        here = self.folders[self._open]
        for mail in (here[uid] for uid in uids if uid in here):
            mail.read = True
            if keyword and self.keeps_keywords:
                mail.keywords.add(keyword)

    def move(self, uid: int, folder: str) -> Location:
        """See the port."""
        self._line("move")
        mail = self.folders[self._open][uid]
        new = self.put(mail.content, folder, mail.received)
        self.folders[folder][new].read = mail.read
        self._line("between copy and removal")
        del self.folders[self._open][uid]
        self._line("answer to move")
        return Location(folder=folder, uidvalidity=self.uidvalidity, uid=new)

    def remove(self, uid: int) -> None:
        """See the port."""
        self.folders[self._open].pop(uid, None)

    def find(self, folder: str, message_id: str) -> Location | None:
        """See the port."""
        for uid, mail in self.folders.get(folder, {}).items():
            if header_of(parse(mail.content), "message-id").strip("<> ") == message_id:
                return Location(folder=folder, uidvalidity=self.uidvalidity, uid=uid)
        return None

    def wait(self, seconds: float) -> bool:
        """See the port."""
        del seconds
        return False


def _people(message: Message, header: str) -> tuple[tuple[str, str], ...]:
    from email.utils import getaddresses

    found = getaddresses(headers_named(message, header))
    return tuple((name, address.lower()) for name, address in found if address)


def _leaves(message: Message, number: str) -> Iterator[tuple[str, Message]]:
    payload = message.get_payload()
    if message.is_multipart() and isinstance(payload, list) and not _is_mail(message):
        for at, part in enumerate(payload, start=1):
            if isinstance(part, Message):
                yield from _leaves(part, f"{number}.{at}".strip("."))
    else:
        yield number or "1", message


def _is_mail(message: Message) -> bool:
    return message.get_content_type() == "message/rfc822"


def _pieces(message: Message, number: str) -> Iterator[Piece]:
    for at, part in _leaves(message, number):
        disposition = str(part.get("content-disposition", "")).split(";")[0].strip().lower()
        yield Piece(
            number=at,
            media_type=part.get_content_type(),
            name=file_name(part),
            size=len(str(part.get_payload())),
            attachment=disposition == "attachment",
            shown=bool(part.get("content-id")),
        )


def _texts(message: Message, number: str) -> Iterator[tuple[str, str]]:
    for at, part in _leaves(message, number):
        payload = part.get_payload(decode=True)
        if part.get_content_maintype() == "text" and isinstance(payload, bytes):
            yield at, part_text(part, payload)
