"""What the service needs of a store of originals."""

from collections.abc import Iterable
from typing import Protocol


class Store(Protocol):
    """Contents by their SHA-256 (hexadecimal): written once, complete or not there."""

    def put(self, content: bytes) -> str:
        """Store content durably; returns its SHA-256. Raises NoRoomError."""
        ...

    def put_parts(self, parts: Iterable[bytes], known: str = "") -> str:
        """The same for content in parts, without ever holding all of it.

        Args:
            parts: in their order.
            known: its SHA-256, where that was computed already.

        Raises:
            NoRoomError: there is no room, or nothing may be written.
        """
        ...

    def holds(self, sha256: str) -> bool:
        """Whether the content is there."""
        ...

    def trouble(self) -> str:
        """What keeps it from storing, or soon will; empty when nothing does."""
        ...

    def get(self, sha256: str) -> bytes:
        """The content. Raises NotThereError when the store does not hold it."""
        ...
