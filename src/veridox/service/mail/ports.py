"""What the service needs of a mailbox; adapters provide it."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import datetime
from typing import Protocol, Self


@dataclass(frozen=True, kw_only=True, slots=True)
class Outline:
    """A mail as the server describes it without sending it.

    Attributes:
        uid: in the selected folder.
        size: in bytes.
        received_at: when the server got it (INTERNALDATE), with a zone.
        subject: decoded.
        has_files: its structure names a file or an attachment.
    """

    uid: int
    size: int
    received_at: datetime
    subject: str
    has_files: bool


@dataclass(frozen=True, kw_only=True, slots=True)
class Location:
    """Where a mail lies; `uid` is None when the server did not tell."""

    folder: str
    uidvalidity: int | None = None
    uid: int | None = None


@dataclass(frozen=True, kw_only=True, slots=True)
class Step:
    """One step of a connection test."""

    name: str
    good: bool
    detail: str


class Mailbox(Protocol):
    """An open, signed-in mailbox. Raises UnreachableError when the line breaks."""

    def __enter__(self) -> Self: ...

    def __exit__(self, *_: object) -> None: ...

    def select(self, folder: str) -> int:
        """Open a folder; returns its UIDVALIDITY."""
        ...

    def search(self, *, unread: bool) -> list[int]:
        """UIDs in the open folder."""
        ...

    def outlines(self, uids: Iterable[int]) -> Iterator[Outline]:
        """Descriptions of mails; those gone meanwhile are left out."""
        ...

    def fetch(self, uid: int) -> bytes | None:
        """The whole mail without setting its read mark; None when it is gone."""
        ...

    def mark_read(self, uid: int) -> None:
        """Set the read mark."""
        ...

    def move(self, uid: int, folder: str) -> Location:
        """Move a mail to a folder, which is made when it is not there."""
        ...

    def find(self, folder: str, message_id: str) -> Location | None:
        """A mail by its Message-ID in a folder."""
        ...

    def wait(self, seconds: float) -> bool:
        """Wait for news in the open folder; whether there was any."""
        ...
