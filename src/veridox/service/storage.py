"""Originals, content-addressed: written once under their SHA-256, never changed."""

import errno
import hashlib
import os
import tempfile
from collections.abc import Iterable
from pathlib import Path

from django.conf import settings

from veridox.service.errors import NoRoomError, NotThereError

FULL = (errno.ENOSPC, errno.EDQUOT, errno.EROFS, errno.EACCES, errno.EPERM)
"""What the system says when the disk is full, or nothing may be written there."""


def is_full(error: BaseException) -> bool:
    """Whether an error says that there is no room: the system's, or the database's (53100)."""
    if isinstance(error, OSError):
        return error.errno in FULL
    return getattr(error.__cause__, "sqlstate", "") == "53100"


class FileStore:
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

    @staticmethod
    def write(path: Path, content: bytes) -> None:
        """Write a file that can be made again: complete or not there, but not waited for."""
        handle, name = tempfile.mkstemp(dir=path.parent, prefix=".new-")
        with os.fdopen(handle, "wb") as file:
            file.write(content)
        os.replace(name, path)

    def holds(self, sha256: str) -> bool:
        """Whether the content is there."""
        return self._path(sha256).is_file()

    def get(self, sha256: str) -> bytes:
        """The content. Raises NotThereError when the store does not hold it."""
        try:
            return self._path(sha256).read_bytes()
        except FileNotFoundError:
            raise NotThereError(f"the store holds no file {sha256}") from None


def originals() -> FileStore:
    """The store of everything that came in, unchanged."""
    return FileStore(settings.CONFIGURATION.data / "originals")
