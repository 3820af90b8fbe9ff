"""Files out of a winmail.dat: the Transport Neutral Encapsulation Format ([MS-OXTNEF])."""

import struct
from dataclasses import dataclass, field

SIGNATURE = 0x223E9F78
_MESSAGE, _ATTACHMENT = 1, 2
_ATTACH_DATA = 0x6800F  # attAttachData
_ATTACH_TITLE = 0x18010  # attAttachTitle
_ATTACH_RENDER = 0x69002  # attAttachRenddata: a new attachment begins
_ATTACH_PROPERTIES = 0x69005  # attAttachment: its MAPI properties
_BODY = 0x2800C  # attBody
_LONG_NAME, _SHORT_NAME, _MIME, _OBJECT = 0x3707, 0x3704, 0x370E, 0x3701
_FIXED = {0x02: 4, 0x03: 4, 0x04: 4, 0x0A: 4, 0x0B: 4, 0x05: 8, 0x06: 8, 0x07: 8, 0x14: 8, 0x40: 8}
_FIXED_GUID = 0x48
_TEXT, _WIDE, _NESTED, _BINARY = 0x1E, 0x1F, 0x0D, 0x102


@dataclass
class TnefFile:
    """A file; `nested` when its content is a TNEF stream of its own (a mail)."""

    name: str = ""
    media_type: str = ""
    content: bytes = b""
    nested: bool = False


@dataclass
class Tnef:
    """Text and files of a stream."""

    text: str = ""
    files: list[TnefFile] = field(default_factory=list)


def is_tnef(content: bytes) -> bool:
    """Whether content begins as TNEF does."""
    return len(content) > 6 and struct.unpack_from("<I", content)[0] == SIGNATURE


def read_tnef(content: bytes) -> Tnef:
    """Text and files. Raises ValueError when the stream is cut or damaged."""
    if not is_tnef(content):
        raise ValueError("no TNEF signature")
    found, at = Tnef(), 6
    try:
        while at + 9 <= len(content):
            level, attribute, length = struct.unpack_from("<BII", content, at)
            data = content[at + 9 : at + 9 + length]
            if len(data) < length or level not in (_MESSAGE, _ATTACHMENT):
                raise ValueError("the stream is cut short")
            at += 9 + length + 2  # a checksum follows
            _take(found, attribute, data)
    except (struct.error, IndexError) as error:
        raise ValueError("the stream is damaged") from error
    return found


def _take(found: Tnef, attribute: int, data: bytes) -> None:
    if attribute == _ATTACH_RENDER:
        found.files.append(TnefFile())
    elif attribute == _BODY:
        found.text = _text(data)
    elif found.files:
        file = found.files[-1]
        if attribute == _ATTACH_DATA:
            file.content = data
        elif attribute == _ATTACH_TITLE:
            file.name = file.name or _text(data)
        elif attribute == _ATTACH_PROPERTIES:
            _properties(file, data)


def _text(data: bytes) -> str:
    return data.rstrip(b"\x00").decode("cp1252", "replace")


def _properties(file: TnefFile, data: bytes) -> None:
    """MAPI properties: a count, then type, id and values padded to four bytes each."""
    count = struct.unpack_from("<I", data)[0]
    at = 4
    for _ in range(min(count, 10_000)):
        kind, number = struct.unpack_from("<HH", data, at)
        at += 4
        if number >= 0x8000:  # a named property carries its name
            at = _skip_name(data, at)
        values, at = _values(data, at, kind)
        if not values:
            continue
        value = values[0]
        if number in (_LONG_NAME, _SHORT_NAME) and (number == _LONG_NAME or not file.name):
            file.name = _decode(value, kind)
        elif number == _MIME:
            file.media_type = _decode(value, kind)
        elif number == _OBJECT and kind & 0xFFF in (_NESTED, _BINARY):
            # Embedded objects begin with the 16 bytes of their interface.
            file.content, file.nested = value[16:], is_tnef(value[16:])


def _skip_name(data: bytes, at: int) -> int:
    at += 16
    (kind,) = struct.unpack_from("<I", data, at)
    at += 4
    (length,) = struct.unpack_from("<I", data, at)
    return at + 4 + ((length + 3) // 4 * 4 if kind == 1 else 0)


def _values(data: bytes, at: int, kind: int) -> tuple[list[bytes], int]:
    several, bare = bool(kind & 0x1000), kind & 0xFFF
    size = 16 if bare == _FIXED_GUID else _FIXED.get(bare)
    count = 1
    if several or size is None:
        (count,) = struct.unpack_from("<I", data, at)
        at += 4
    values: list[bytes] = []
    for _ in range(min(count, 10_000)):
        length = size
        if length is None:
            (length,) = struct.unpack_from("<I", data, at)
            at += 4
        if at + length > len(data):
            raise ValueError("a property is cut short")
        values.append(data[at : at + length])
        at += (length + 3) // 4 * 4
    return values, at


def _decode(value: bytes, kind: int) -> str:
    if kind & 0xFFF == _WIDE:
        return value.decode("utf-16-le", "replace").rstrip("\x00")
    return _text(value)
