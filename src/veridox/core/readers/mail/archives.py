"""Files out of zip archives, within limits on count, size and ratio."""

import io
import zipfile
import zlib
from collections.abc import Iterator
from dataclasses import dataclass

from veridox.core.readers.limits import Limits
from veridox.core.readers.mail.content import LeftOut
from veridox.core.readers.mail.decoding import bare_name

_SYSTEM = ("thumbs.db", "desktop.ini", ".ds_store")
_RATIO_FROM = 1 * 2**20
"""Bytes below which a high ratio means nothing: short texts shrink a lot."""


@dataclass(frozen=True, slots=True)
class Entry:
    """A file of an archive; `left_out` and `reason` when it could not be taken out."""

    name: str
    content: bytes = b""
    left_out: str = ""
    reason: str = ""


def zip_entries(content: bytes, limits: Limits) -> Iterator[Entry]:
    """The files of a zip archive in their order.

    Raises:
        ValueError: the archive itself is damaged.
    """
    try:
        archive = zipfile.ZipFile(io.BytesIO(content))
    except (zipfile.BadZipFile, ValueError, NotImplementedError, OSError) as error:
        raise ValueError(f"the archive cannot be opened: {error}") from error
    left = limits.archive_bytes
    with archive:
        files = [info for info in archive.infolist() if not info.is_dir()]
        for info in files[: limits.archive_files]:
            entry = _entry(archive, info, left, limits)
            left -= len(entry.content)
            yield entry
        for info in files[limits.archive_files :]:
            reason = f"beyond the {limits.archive_files} files that are taken out of an archive"
            yield Entry(bare_name(info.filename), b"", LeftOut.LIMIT, reason)


def _entry(archive: zipfile.ZipFile, info: zipfile.ZipInfo, left: int, limits: Limits) -> Entry:
    name = bare_name(info.filename) or "unnamed"
    if info.flag_bits & 0x1:
        return Entry(name, b"", LeftOut.LOCKED, "the archive asks for a password")
    ratio = info.file_size / max(1, info.compress_size)
    if info.file_size > _RATIO_FROM and ratio > limits.archive_ratio:
        return Entry(name, b"", LeftOut.LIMIT, f"it would grow to {ratio:,.0f} times its size")
    if info.file_size > left:
        reason = f"more than {limits.archive_bytes:,} bytes in one archive"
        return Entry(name, b"", LeftOut.LIMIT, reason)
    try:
        with archive.open(info) as stream:
            # What the archive says of the size is not to be trusted.
            content = stream.read(left + 1)
    except (
        zipfile.BadZipFile, zlib.error, EOFError, RuntimeError, NotImplementedError, OSError,
        ValueError, OverflowError,
    ) as error:  # fmt: skip
        return Entry(name, b"", LeftOut.DAMAGED, f"it cannot be taken out: {error}")
    if len(content) > left:
        reason = f"more than {limits.archive_bytes:,} bytes in one archive"
        return Entry(name, b"", LeftOut.LIMIT, reason)
    if info.filename.startswith("__MACOSX/") or name.lower() in _SYSTEM:
        return Entry(name, content, LeftOut.SYSTEM, "put there by an operating system")
    return Entry(name, content)
