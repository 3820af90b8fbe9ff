"""Large bodies set apart before a mail is parsed.

The standard library's parser holds every line of a mail as a text of its own,
many times the mail's size. A long body in base64 has no structure to
find, so it is taken out first, and put back where its bytes are asked for.
"""

import binascii
import hashlib
import re
from dataclasses import dataclass, field

LEAST = 64 * 2**10
"""Bytes from which a body is set apart."""
_BEGIN = re.compile(rb"\n\r?\n(?=(?:[A-Za-z0-9+/]{60,76}\r?\n){16})")
_ENDS = (b"\n--", b"\n\n", b"\n\r\n")
_BASE64 = b"ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/=\r\n"


def _end(content: bytes, start: int) -> int:
    """Where a body ends: before a boundary or an empty line, or with the mail."""
    # Each by itself: searching for all with one pattern is a hundred times slower.
    found = [at for each in _ENDS if (at := content.find(each, start)) >= 0]
    stop = min(found, default=len(content))
    return stop - 1 if content[stop - 1 : stop] == b"\r" and stop > start else stop


@dataclass
class Bulk:
    """Bodies that were set apart, by the word that stands in their place."""

    bodies: dict[str, memoryview] = field(default_factory=dict)

    def set_apart(self, content: bytes) -> bytes:
        """The mail with a word in the place of each large body; itself when there is none."""
        if len(content) < LEAST:
            return content
        kept: list[bytes | memoryview] = []
        view, at = memoryview(content), 0
        for begin in _BEGIN.finditer(content):
            if begin.end() < at:
                continue
            stop = _end(content, begin.end())
            body = view[begin.end() : stop]
            if len(body) < LEAST or bytes(body).translate(None, _BASE64):
                continue
            digest = hashlib.sha256(body[:4096]).hexdigest()[:16]
            word = f"veridox-set-apart-{len(self.bodies)}-{digest}"
            self.bodies[word] = body
            kept += [view[at : begin.end()], word.encode()]
            at = stop
        if not kept:
            return content
        kept.append(view[at:])
        return b"".join(kept)

    def body_of(self, payload: str) -> memoryview | None:
        """The body that a payload stands for, or None."""
        return self.bodies.get(payload.strip()) if len(payload) < 100 else None

    def decoded(self, payload: str) -> bytes | None:
        """The bytes of a body in base64, or None when the payload stands for none."""
        body = self.body_of(payload)
        if body is None:
            return None
        try:
            return binascii.a2b_base64(body)
        except binascii.Error:
            return bytes(body)

    def restored(self, content: bytes) -> bytes:
        """Content with all bodies back in their places."""
        for word, body in self.bodies.items():
            if word.encode() in content:
                content = content.replace(word.encode(), bytes(body))
        return content
