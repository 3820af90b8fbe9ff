"""A store in a folder of this machine, or of one that is mounted here."""

import hashlib
import os
import shutil
import tempfile
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path
from typing import Final

from veridox.service.errors import NoRoomError, NotThereError, is_full
from veridox.service.ports.driver import Access, Driver, Step
from veridox.service.ports.store import Store

LITTLE = 200 * 2**20
"""Bytes of free room below which a store is as good as full."""


@dataclass(frozen=True, kw_only=True, slots=True)
class FolderSettings:
    """A folder.

    Attributes:
        root: its path.
    """

    root: str


class FolderStore(Store):
    """Files by their hash below one folder.

    A file is complete or not there: temporary file, fsync, rename, fsync of the
    folder. Files without a record are harmless.
    """

    def __init__(self, root: Path) -> None:
        self.root = root

    def _path(self, sha256: str) -> Path:
        return self.root / sha256[:2] / sha256[2:4] / sha256

    def put(self, content: bytes) -> str:
        """Store content durably; returns its SHA-256 (hexadecimal)."""
        sha256 = hashlib.sha256(content).hexdigest()
        if self._path(sha256).exists():
            return sha256
        return self.put_parts([content], sha256)

    def put_parts(self, parts: Iterable[bytes], known: str = "") -> str:
        """Store content that comes in parts, without ever holding all of it.

        Args:
            parts: in their order.
            known: its SHA-256, where that was computed already.

        Raises:
            NoRoomError: the disk is full or cannot be written.
        """
        try:
            return self._put(parts, known)
        except OSError as error:
            if not is_full(error):
                raise
            raise NoRoomError(
                f"nothing can be stored below {self.root}: {error.strerror}; make room "
                "or let the service write there, nothing was lost"
            ) from error

    def _put(self, parts: Iterable[bytes], known: str) -> str:
        self.root.mkdir(parents=True, exist_ok=True)
        handle, name = tempfile.mkstemp(dir=self.root, prefix=".new-")
        digest = hashlib.sha256()
        try:
            with os.fdopen(handle, "wb") as file:
                for part in parts:
                    if not known:
                        digest.update(part)
                    file.write(part)
                file.flush()
                os.fsync(file.fileno())
            os.chmod(name, 0o440)
            sha256 = known or digest.hexdigest()
            path = self._path(sha256)
            path.parent.mkdir(parents=True, exist_ok=True)
            os.replace(name, path)
        except BaseException:
            Path(name).unlink(missing_ok=True)
            raise
        folder = os.open(path.parent, os.O_RDONLY)
        try:
            os.fsync(folder)
        finally:
            os.close(folder)
        return sha256

    def trouble(self) -> str:
        """See the port."""
        try:
            self.root.mkdir(parents=True, exist_ok=True)
            free = shutil.disk_usage(self.root).free
        except OSError as error:
            return f"cannot be used: {error.strerror}"
        if not os.access(self.root, os.W_OK):
            return "cannot be written"
        return "" if free >= LITTLE else f"nearly full: {free // 2**20} MB free"

    def holds(self, sha256: str) -> bool:
        """Whether the content is there."""
        return self._path(sha256).is_file()

    def get(self, sha256: str) -> bytes:
        """The content. Raises NotThereError when the store does not hold it."""
        try:
            return self._path(sha256).read_bytes()
        except FileNotFoundError:
            raise NotThereError(f"the store holds no file {sha256}") from None


def _open(access: Access[FolderSettings]) -> FolderStore:
    return FolderStore(Path(access.settings.root))


def _test(access: Access[FolderSettings], _: tuple[str, ...]) -> list[Step]:
    root = Path(access.settings.root)
    good = os.access(root if root.exists() else root.parent, os.W_OK)
    return [Step(name="write", good=good, detail=str(root))]


DRIVER: Final = Driver(
    kind="store", name="folder", settings=FolderSettings, open=_open, test=_test, usual=True
)
