"""Whether a picture belongs to the letter's dress (a logo, a line, a badge), by several signs."""

import re
import struct

_SMALL_BYTES = 40_000
_SMALL_SIDE = 220
_SMALL_AREA = 160_000
_NAMES = re.compile(
    r"^(image\d{1,3}|logo|banner|footer|header|signature|icon|facebook|linkedin|spacer|"
    r"outlook-|pixel|badge|signatur|unterschrift|firma)",
    re.IGNORECASE,
)
NEEDED = 3
"""Signs that must come together; a photo of a bill shown in the text has one or two."""


def picture_size(content: bytes) -> tuple[int, int] | None:
    """Width and height in pixels from the file's first bytes; None when they do not tell."""
    try:
        if content.startswith(b"\x89PNG"):
            width, height = struct.unpack_from(">II", content, 16)
        elif content[:4] == b"GIF8":
            width, height = struct.unpack_from("<HH", content, 6)
        elif content.startswith(b"\xff\xd8"):
            return _jpeg_size(content)
        elif content.startswith(b"BM"):
            width, height = struct.unpack_from("<ii", content, 18)
        else:
            return None
    except struct.error:
        return None
    return abs(width), abs(height)


def _jpeg_size(content: bytes) -> tuple[int, int] | None:
    at = 2
    while at + 9 < len(content) and content[at] == 0xFF:
        marker = content[at + 1]
        if 0xC0 <= marker <= 0xCF and marker not in (0xC4, 0xC8, 0xCC):
            height, width = struct.unpack_from(">HH", content, at + 5)
            return width, height
        at += 2 + struct.unpack_from(">H", content, at + 2)[0]
    return None


def signs_of_dress(
    name: str, media_type: str, content: bytes, *, shown: bool, inline: bool
) -> list[str]:
    """What speaks for a picture that only dresses the letter, in words; empty for other files."""
    if not media_type.startswith("image/") or media_type == "image/tiff":
        return []
    signs: list[str] = []
    if shown:
        signs.append("shown within the text")
    elif inline:
        signs.append("marked as part of the text")
    size = picture_size(content)
    if size is not None:
        width, height = size
        if min(size) <= _SMALL_SIDE and width * height <= _SMALL_AREA:
            signs.append(f"small ({width} x {height} pixels)")
        elif max(size) >= 5 * max(1, min(size)):
            signs.append(f"a strip ({width} x {height} pixels)")
    if len(content) <= _SMALL_BYTES:
        signs.append(f"{len(content):,} bytes")
    if _NAMES.match(name):
        signs.append(f"named {name}")
    return signs
