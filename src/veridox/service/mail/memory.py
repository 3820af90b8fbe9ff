"""A mailbox in memory, with the port's behaviour. For tests and plug-in authors."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from datetime import UTC, datetime
from email import message_from_bytes
from typing import Self

from veridox.service.errors import UnreachableError
from veridox.service.mail.ports import Location, Mailbox, Outline


@dataclass
class Kept:
    """A mail in a folder."""

    content: bytes
    read: bool = False


@dataclass
class MemoryMailbox(Mailbox):
    """Folders of mails by UID.

    Attributes:
        folders: by name.
        breaks_at: names of operations at which the line breaks, once each.
    """

    folders: dict[str, dict[int, Kept]] = field(default_factory=lambda: {"INBOX": {}})
    breaks_at: set[str] = field(default_factory=set)
    uidvalidity: int = 1
    _open: str = "INBOX"
    _next: int = 1

    def put(self, content: bytes, folder: str = "INBOX") -> int:
        """Deliver a mail; returns its UID."""
        uid, self._next = self._next, self._next + 1
        self.folders.setdefault(folder, {})[uid] = Kept(content=content)
        return uid

    def _line(self, operation: str) -> None:
        if operation in self.breaks_at:
            self.breaks_at.discard(operation)
            raise UnreachableError(f"the line broke at {operation}")

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_: object) -> None:
        return None

    def select(self, folder: str) -> int:
        """See the port."""
        self._line("select")
        self._open = folder
        self.folders.setdefault(folder, {})
        return self.uidvalidity

    def search(self, *, unread: bool) -> list[int]:
        """See the port."""
        mails = self.folders[self._open]
        return [uid for uid, mail in mails.items() if not (unread and mail.read)]

    def outlines(self, uids: Iterable[int]) -> Iterator[Outline]:
        """See the port."""
        for uid in uids:
            mail = self.folders[self._open].get(uid)
            if mail is not None:
                message = message_from_bytes(mail.content)
                yield Outline(
                    uid=uid,
                    size=len(mail.content),
                    received_at=datetime.now(UTC),
                    subject=str(message["subject"] or ""),
                    has_files=any(part.get_filename() for part in message.walk()),
                )

    def fetch(self, uid: int) -> bytes | None:
        """See the port."""
        self._line("fetch")
        mail = self.folders[self._open].get(uid)
        return mail.content if mail else None

    def mark_read(self, uid: int) -> None:
        """See the port."""
        self._line("mark_read")
        self.folders[self._open][uid].read = True

    def move(self, uid: int, folder: str) -> Location:
        """See the port."""
        self._line("move")
        mail = self.folders[self._open].pop(uid)
        new = self.put(mail.content, folder)
        self.folders[folder][new].read = mail.read
        self._line("answer to move")
        return Location(folder=folder, uidvalidity=self.uidvalidity, uid=new)

    def find(self, folder: str, message_id: str) -> Location | None:
        """See the port."""
        for uid, mail in self.folders.get(folder, {}).items():
            if str(message_from_bytes(mail.content)["message-id"]).strip("<> ") == message_id:
                return Location(folder=folder, uidvalidity=self.uidvalidity, uid=uid)
        return None

    def wait(self, seconds: float) -> bool:
        """See the port."""
        del seconds
        return False
