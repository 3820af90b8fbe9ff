"""Writers of the wrappers that mails come in: TNEF, compound files of MAPI properties, CMS."""

import struct
from dataclasses import dataclass, field
from itertools import pairwise

# -- TNEF ([MS-OXTNEF]) ---------------------------------------------------------


def tnef(files, text=""):
    """A winmail.dat with files of (name, content)."""
    out = struct.pack("<IH", 0x223E9F78, 1)
    if text:
        out += _attribute(1, 0x2800C, text.encode("cp1252") + b"\0")
    for name, content in files:
        out += _attribute(2, 0x69002, b"\0" * 14)
        out += _attribute(2, 0x18010, b"SHORT~1.DAT\0")
        out += _attribute(2, 0x6800F, content)
        wide = (name + "\0").encode("utf-16-le")
        padded = wide + b"\0" * (-len(wide) % 4)
        value = struct.pack("<HHII", 0x1F, 0x3707, 1, len(wide)) + padded
        out += _attribute(2, 0x69005, struct.pack("<I", 1) + value)
    return out


def _attribute(level, number, data):
    return (
        struct.pack("<BII", level, number, len(data)) + data + struct.pack("<H", sum(data) & 0xFFFF)
    )


# -- compound files ([MS-CFB]) of MAPI properties ([MS-OXMSG]) --------------------


@dataclass
class Saved:
    """A mail to be saved as .msg; files are (name, content or another Saved)."""

    subject: str = ""
    sender: str = ""
    sender_name: str = ""
    text: str = ""
    html: bytes = b""
    rich: bytes = b""
    to: tuple = ()
    files: list = field(default_factory=list)
    headers: str = ""


def saved(mail):
    """The bytes of a .msg file."""
    return _compound(_storage(mail, 32))


def _wide(text):
    return text.encode("utf-16-le")


def _storage(mail, header):
    tree = {"__properties_version1.0": b"\0" * header}
    for tag, value in (
        ("0037001F", mail.subject),
        ("0C1A001F", mail.sender_name),
        ("5D01001F", mail.sender),
        ("1000001F", mail.text),
        ("007D001F", mail.headers),
    ):
        if value:
            tree[f"__substg1.0_{tag}"] = _wide(value)
    if mail.html:
        tree["__substg1.0_10130102"] = mail.html
    if mail.rich:
        tree["__substg1.0_10090102"] = mail.rich
    for number, address in enumerate(mail.to):
        tree[f"__recip_version1.0_#{number:08X}"] = {
            "__properties_version1.0": b"\0" * 8,
            "__substg1.0_39FE001F": _wide(address),
        }
    for number, (name, content) in enumerate(mail.files):
        inside = {"__properties_version1.0": b"\0" * 8, "__substg1.0_3707001F": _wide(name)}
        if isinstance(content, Saved):
            inside["__substg1.0_3701000D"] = _storage(content, 24)
        else:
            inside["__substg1.0_37010102"] = content
        tree[f"__attach_version1.0_#{number:08X}"] = inside
    return tree


_SECTOR, _FREE, _END, _NONE = 512, 0xFFFFFFFF, 0xFFFFFFFE, 0xFFFFFFFF


def _compound(tree):
    """A compound file without small-sector streams: every stream is padded to 4,096 bytes."""
    entries, streams = [], []

    def add(name, value):
        at = len(entries)
        entries.append(None)
        if isinstance(value, dict):
            names = sorted(value, key=lambda each: (len(each), each.upper()))
            children = [add(each, value[each]) for each in names]
            kind = 5 if at == 0 else 1
            entries[at] = [name, kind, children, _END, 0]
        else:
            entries[at] = [name, 2, [], len(streams), len(value)]
            streams.append(value)
        return at

    add("Root Entry", tree)
    sectors, fat = [], []

    def store(data):
        count = max(1, -(-len(data) // _SECTOR))
        first = len(sectors)
        for index in range(count):
            sectors.append(data[index * _SECTOR : (index + 1) * _SECTOR].ljust(_SECTOR, b"\0"))
            fat.append(first + index + 1 if index < count - 1 else _END)
        return first

    starts = [store(data.ljust(4096, b"\0")) for data in streams]
    links = {}
    for _, _, children, _, _ in filter(None, entries):
        # Siblings as a chain of right children: a tree, if not a balanced one.
        for left, right in pairwise(children):
            links[left] = right
    directory = b""
    for at, (name, kind, children, start, size) in enumerate(entries):
        wide = _wide(name + "\0")
        where = starts[start] if kind == 2 else (_END if at == 0 else 0)
        size = max(size, 4096) if kind == 2 and size < 4096 else size
        directory += wide.ljust(64, b"\0") + struct.pack(
            "<HBBIII16sIQQIQ",
            len(wide),
            kind,
            1,
            _NONE,
            links.get(at, _NONE),
            children[0] if children else _NONE,
            b"\0" * 16,
            0,
            0,
            0,
            where,
            size,
        )
    first_directory = store(directory.ljust(-(-len(directory) // _SECTOR) * _SECTOR, b"\0"))
    tables = 1
    while (len(sectors) + tables) > tables * 128:
        tables += 1
    first_table = len(sectors)
    fat += [0xFFFFFFFD] * tables
    table = struct.pack(f"<{len(fat)}I", *fat).ljust(tables * _SECTOR, b"\xff")
    header = struct.pack(
        "<8s16sHHHHH6sIIIIIIIII",
        b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1",
        b"\0" * 16,
        0x3E,
        3,
        0xFFFE,
        9,
        6,
        b"\0" * 6,
        0,
        tables,
        first_directory,
        0,
        4096,
        _END,
        0,
        _END,
        0,
    )
    header += struct.pack("<109I", *[first_table + i if i < tables else _FREE for i in range(109)])
    return header + b"".join(sectors) + table


# -- CMS (RFC 5652) -----------------------------------------------------------------


def _der(tag, *parts):
    body = b"".join(parts)
    if len(body) < 128:
        return bytes([tag, len(body)]) + body
    size = len(body).to_bytes((len(body).bit_length() + 7) // 8, "big")
    return bytes([tag, 0x80 | len(size)]) + size + body


_SIGNED = bytes.fromhex("06092a864886f70d010702")
_DATA = bytes.fromhex("06092a864886f70d010701")
_ENVELOPED = bytes.fromhex("06092a864886f70d010703")


def signed(content):
    """CMS SignedData around content, with no signer: structure is all that matters here."""
    inner = _der(0x30, _DATA, _der(0xA0, _der(0x04, content)))
    data = _der(0x30, b"\x02\x01\x01", _der(0x31), inner, _der(0x31))
    return _der(0x30, _SIGNED, _der(0xA0, data))


def enveloped():
    """CMS EnvelopedData, of which only the beginning is looked at."""
    return _der(0x30, _ENVELOPED, _der(0xA0, _der(0x30, b"\x02\x01\x00")))
