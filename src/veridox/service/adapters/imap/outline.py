"""What a server says of a mail (ENVELOPE, BODYSTRUCTURE) as an outline."""

import base64
import binascii
import quopri
from collections.abc import Iterator
from datetime import UTC, datetime
from typing import Any

from imapclient import SEEN

from veridox.core.readers.mail.decoding import bare_name, decoded, header_text
from veridox.service.ports.mailbox import Outline, Piece

ITEMS = ["ENVELOPE", "RFC822.SIZE", "INTERNALDATE", "BODYSTRUCTURE", "FLAGS"]


def outline_of(uid: int, answer: dict[bytes, Any]) -> Outline:
    """One mail of a FETCH answer."""
    envelope = answer.get(b"ENVELOPE")
    received = answer.get(b"INTERNALDATE")
    if not isinstance(received, datetime):
        received = datetime.now(UTC)
    flags = [_text(flag) for flag in answer.get(b"FLAGS", ())]
    return Outline(
        uid=uid,
        size=int(answer.get(b"RFC822.SIZE", 0)),
        # IMAPClient gives local time without a zone.
        received_at=received.astimezone(UTC),
        read=_text(SEEN) in flags,
        keywords=frozenset(flag for flag in flags if not flag.startswith("\\")),
        message_id=_text(envelope.message_id).strip("<> ")[:998] if envelope else "",
        subject=header_text(_text(envelope.subject)) if envelope else "",
        senders=_people(envelope.from_) if envelope else (),
        recipients=(*_people(envelope.to), *_people(envelope.cc)) if envelope else (),
        pieces=tuple(_pieces(answer.get(b"BODYSTRUCTURE"), "")),
    )


def decoded_piece(piece: Piece, content: bytes) -> str:
    """A text piece's source as text."""
    encoding = piece.encoding.lower()
    try:
        if encoding == "base64":
            content = base64.b64decode(content + b"==", validate=False)
        elif encoding == "quoted-printable":
            content = quopri.decodestring(content)
    except (binascii.Error, ValueError):
        pass
    return decoded(content, piece.charset)


def _text(raw: Any) -> str:
    if isinstance(raw, bytes):
        return decoded(raw, "utf-8")
    return str(raw or "")


def _people(addresses: Any) -> tuple[tuple[str, str], ...]:
    found = []
    for each in addresses or ():
        mailbox, host = _text(each.mailbox), _text(each.host)
        address = f"{mailbox}@{host}" if host else mailbox
        found.append((header_text(_text(each.name)), header_text(address).lower()))
    return tuple(found)


def _pieces(structure: Any, number: str) -> Iterator[Piece]:
    if not isinstance(structure, tuple) or not structure:
        return
    if isinstance(structure[0], list):  # multipart: the parts come first, in a list
        for at, part in enumerate(structure[0], start=1):
            yield from _pieces(part, f"{number}.{at}".strip("."))
        return
    kind, subtype = _text(structure[0]).lower(), _text(structure[1]).lower()
    parameters = _pairs(structure[2] if len(structure) > 2 else None)
    disposition, attributes = _disposition(structure)
    name = attributes.get("filename") or parameters.get("name") or ""
    yield Piece(
        number=number or "1",
        media_type=f"{kind}/{subtype}",
        name=bare_name(name),
        size=int(structure[6]) if len(structure) > 6 and isinstance(structure[6], int) else 0,
        attachment=disposition == "attachment",
        shown=bool(structure[3]) if len(structure) > 3 else False,
        encoding=_text(structure[5]) if len(structure) > 5 else "",
        charset=parameters.get("charset", ""),
    )


def _disposition(structure: tuple[Any, ...]) -> tuple[str, dict[str, str]]:
    """(name, parameters) as body-fld-dsp; where it stands depends on the type, so look for it."""
    for each in structure[7:]:
        if (
            isinstance(each, tuple)
            and len(each) == 2
            and isinstance(each[0], bytes)
            and (each[1] is None or isinstance(each[1], tuple))
            and each[0].lower() in (b"attachment", b"inline", b"form-data")
        ):
            return _text(each[0]).lower(), _pairs(each[1])
    return "", {}


def _pairs(flat: Any) -> dict[str, str]:
    """Parameters with RFC 2231 continuations joined and values decoded."""
    if not isinstance(flat, tuple):
        return {}
    raw = {
        _text(key).lower(): _text(value) for key, value in zip(flat[::2], flat[1::2], strict=False)
    }
    found: dict[str, str] = {}
    for key in raw:
        base = key.split("*")[0]
        if base not in found:
            found[base] = _joined(base, raw)
    return found


def _joined(base: str, raw: dict[str, str]) -> str:
    if base in raw:
        return header_text(raw[base])
    pieces = [(key, raw[key]) for key in sorted(raw, key=_order) if key.split("*")[0] == base]
    coded = any(key.endswith("*") for key, _ in pieces)
    text = "".join(value for _, value in pieces)
    if not coded:
        return header_text(text)
    charset, _, rest = text.partition("'")
    content = rest.partition("'")[2] if rest else charset
    return decoded(_unquoted(content), charset if rest else "utf-8")


def _order(key: str) -> tuple[str, int]:
    parts = key.split("*")
    return parts[0], int(parts[1]) if len(parts) > 1 and parts[1].isdigit() else 0


def _unquoted(text: str) -> bytes:
    from urllib.parse import unquote_to_bytes

    return unquote_to_bytes(text)
