"""The wire between pool and reader: a JSON header and byte blobs, each with its length.

Layout: 4 bytes length of the header, the header as JSON, then for each blob
8 bytes length and its bytes; the header's `blobs` says how many there are.
Nothing is ever unpickled.
"""

import json
import struct
from typing import IO, Any

MAX_HEADER = 64 * 2**20
MAX_BLOB = 256 * 2**20
MAX_BLOBS = 1_000


class FrameError(Exception):
    """The other side ended, or sent something that is no frame."""


def write_frame(stream: IO[bytes], header: dict[str, Any], blobs: list[bytes]) -> None:
    """Send one frame."""
    head = json.dumps({**header, "blobs": len(blobs)}).encode()
    stream.write(struct.pack(">I", len(head)))
    stream.write(head)
    for blob in blobs:
        stream.write(struct.pack(">Q", len(blob)))
        stream.write(blob)
    stream.flush()


def _exactly(stream: IO[bytes], count: int) -> bytes:
    parts = []
    while count > 0:
        part = stream.read(count)
        if not part:
            raise FrameError("the stream ended")
        parts.append(part)
        count -= len(part)
    return b"".join(parts)


def read_frame(stream: IO[bytes]) -> tuple[dict[str, Any], list[bytes]]:
    """Receive one frame. Raises FrameError at the end of the stream or on nonsense."""
    (length,) = struct.unpack(">I", _exactly(stream, 4))
    if length > MAX_HEADER:
        raise FrameError(f"a header of {length} bytes is beyond the limit")
    try:
        header = json.loads(_exactly(stream, length))
    except ValueError as error:
        raise FrameError("the header is not JSON") from error
    if not isinstance(header, dict) or not isinstance(header.get("blobs"), int):
        raise FrameError("the header is no object with a number of blobs")
    if not 0 <= header["blobs"] <= MAX_BLOBS:
        raise FrameError("too many blobs")
    blobs = []
    for _ in range(header["blobs"]):
        (size,) = struct.unpack(">Q", _exactly(stream, 8))
        if size > MAX_BLOB:
            raise FrameError(f"a blob of {size} bytes is beyond the limit")
        blobs.append(_exactly(stream, size))
    return header, blobs
