"""What the service needs of a mailbox; adapters provide it."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import date, datetime
from typing import Protocol, Self

from veridox.core.pipeline import Wanted

_NO_FILES = (
    "text/calendar", "text/vcard", "application/pkcs7-signature", "application/x-pkcs7-signature",
    "application/pgp-signature", "message/delivery-status", "message/disposition-notification",
)  # fmt: skip
_SMALL_PICTURE = 40_000


@dataclass(frozen=True, kw_only=True, slots=True)
class Piece:
    """A leaf of a mail's structure as the server describes it.

    Attributes:
        number: by which the server sends it, as `2.1`.
        media_type: in small letters.
        name: file name, decoded; empty when there is none.
        size: in bytes, encoded.
        attachment: the mail marks it as an attachment.
        shown: it has a Content-ID, so that the text can show it.
        encoding, charset: how to read its bytes.
    """

    number: str
    media_type: str
    name: str
    size: int
    attachment: bool
    shown: bool
    encoding: str = ""
    charset: str = ""

    @property
    def is_text(self) -> bool:
        """Whether it is shown as the mail itself."""
        return (
            self.media_type in ("text/plain", "text/html") and not self.attachment and not self.name
        )


@dataclass(frozen=True, kw_only=True, slots=True)
class Outline:
    """A mail as the server describes it without sending it.

    Attributes:
        uid: in the selected folder.
        size: in bytes.
        received_at: when the server got it (INTERNALDATE), with a zone.
        read: it carries the read mark.
        keywords: other flags.
        message_id: without the angle brackets.
        subject: decoded.
        senders, recipients: name and address of each, decoded.
        pieces: leaves of its structure.
        opaque: why the server's description could not be understood; then only `uid`,
            `size`, `received_at` and the flags are known. Empty for all usual mails.
    """

    uid: int
    size: int
    received_at: datetime
    read: bool
    keywords: frozenset[str]
    message_id: str
    subject: str
    senders: tuple[tuple[str, str], ...]
    recipients: tuple[tuple[str, str], ...]
    pieces: tuple[Piece, ...]
    opaque: str = ""


def file_names(outline: Outline) -> tuple[str, ...]:
    """Names of what may be a bill; pictures that dress the text and signatures are none."""
    return tuple(
        piece.name
        for piece in outline.pieces
        if not piece.is_text
        and piece.media_type not in _NO_FILES
        and not (
            piece.media_type.startswith("image/")
            and piece.shown
            and not piece.attachment
            and piece.size < _SMALL_PICTURE
        )
    )


def opaque_outline(
    uid: int, size: int, received_at: datetime, why: str, *, read: bool, keywords: frozenset[str]
) -> Outline:
    """A mail of which the server's description could not be understood."""
    return Outline(
        uid=uid, size=size, received_at=received_at, read=read, keywords=keywords, message_id="",
        subject="", senders=(), recipients=(), pieces=(), opaque=why or "no reason is known",
    )  # fmt: skip


@dataclass(frozen=True, kw_only=True, slots=True)
class Location:
    """Where a mail lies; `uid` is None when the server did not tell."""

    folder: str
    uidvalidity: int | None = None
    uid: int | None = None


class Mailbox(Protocol):
    """An open, signed-in mailbox. Raises UnreachableError when the line breaks."""

    @property
    def moves_in_one(self) -> bool:
        """Whether a move is done or not done; else it is a copy and a removal."""
        ...

    def __enter__(self) -> Self: ...

    def __exit__(self, *_: object) -> None: ...

    def select(self, folder: str, *, look: bool = False) -> int:
        """Open a folder, with `look` for reading only; returns its UIDVALIDITY.

        Raises:
            NotThereError: there is no such folder.
        """
        ...

    def search(self, wanted: Wanted, today: date) -> list[int]:
        """UIDs in the open folder that may meet the conditions: none that does is left out."""
        ...

    def outlines(self, uids: Iterable[int]) -> Iterator[Outline]:
        """Descriptions of mails; those gone meanwhile are left out.

        One that cannot be understood comes as `opaque` and keeps no other from coming.
        """
        ...

    def reopen(self) -> None:
        """A line of its own once more, with the same folder open, after one mail broke it.

        Raises:
            UnreachableError: it is not one mail, the server is away.
        """
        ...

    def fetch(self, uid: int) -> Iterator[bytes] | None:
        """The whole mail in parts, without setting its read mark; None when it is gone."""
        ...

    def texts(self, uid: int, pieces: Iterable[Piece]) -> str:
        """The decoded source of text pieces."""
        ...

    def mark(self, uids: list[int], keyword: str = "") -> None:
        """Set the read mark, and a keyword where the server keeps any."""
        ...

    def move(self, uid: int, folder: str) -> Location:
        """Move a mail to a folder, which is made when it is not there."""
        ...

    def remove(self, uid: int) -> None:
        """Take a mail out of the open folder; it lies elsewhere already."""
        ...

    def find(self, folder: str, message_id: str) -> Location | None:
        """A mail by its Message-ID in a folder."""
        ...

    def wait(self, seconds: float) -> bool:
        """Wait for news in the open folder; whether there was any."""
        ...
