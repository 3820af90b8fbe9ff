"""A mail's bytes as sender, subject, text and files (RFC 5322, RFC 2045 to 2047, RFC 2183)."""

import email
import email.message
import email.policy
import email.utils
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import UTC, datetime
from email.errors import MessageError
from email.header import decode_header, make_header

from veridox.core.readers.limits import Limits
from veridox.core.readers.sniff import sniff

MAX_TEXT = 100_000
"""Characters of a mail's own text that are kept."""
MAX_HEADER = 2_000
"""Characters of one header value that are kept."""
ADDRESS_HEADERS = ("to", "cc", "delivered-to", "x-original-to")


@dataclass(frozen=True, kw_only=True, slots=True)
class MailFile:
    """One file of a mail.

    Attributes:
        position: from 1, in the mail's order.
        name: as declared, without any path; `file-2` when there is none.
        declared_type, media_type: what the mail says, and what the content is.
        content: decoded bytes.
        content_id: without the angle brackets, empty when there is none.
        inline: the mail asks for it to be shown within its text.
    """

    position: int
    name: str
    declared_type: str
    media_type: str
    content: bytes
    content_id: str = ""
    inline: bool = False


@dataclass(frozen=True, kw_only=True, slots=True)
class MailContent:
    """A mail, taken apart. Text is plain text; HTML alone is left to later readers."""

    message_id: str
    sender_name: str
    sender_address: str
    recipients: tuple[str, ...]
    subject: str
    sent: datetime | None
    text: str
    headers: dict[str, str] = field(default_factory=dict)
    files: tuple[MailFile, ...] = ()
    defects: tuple[str, ...] = ()


def read_mail(content: bytes, limits: Limits | None = None) -> MailContent:
    """Take a mail apart. Broken headers and parts are read as far as they go; nothing raises.

    One part that cannot be decoded becomes a file with its raw bytes: a person
    can look at it, and the mail's other files are not held up.
    """
    limits = limits or Limits()
    # compat32 keeps broken headers as they are; the newer policies raise on some.
    message = email.message_from_bytes(content, policy=email.policy.compat32)
    sender_name, sender_address = email.utils.parseaddr(_header(message, "from"))
    addresses = email.utils.getaddresses(
        [value for name in ADDRESS_HEADERS for value in _headers(message, name)]
    )
    texts: list[str] = []
    files: list[MailFile] = []
    defects: list[str] = []
    for count, part in enumerate(_leaves(message, limits.mail_depth, defects), start=1):
        if count > limits.mail_parts:
            defects.append(f"more than {limits.mail_parts} parts; the rest was left out")
            break
        if _is_body(part):
            texts.append(_text(part))
        elif _is_file(part):
            files.append(_file(part, len(files) + 1))
    return MailContent(
        message_id=_header(message, "message-id").strip("<> ")[:998],
        sender_name=sender_name[:MAX_HEADER],
        sender_address=sender_address.lower()[:320],
        recipients=tuple(dict.fromkeys(address.lower() for _, address in addresses if address)),
        subject=_header(message, "subject"),
        sent=_sent(message),
        text="\n".join(texts)[:MAX_TEXT],
        headers={name.lower(): _header(message, name) for name in dict.fromkeys(message.keys())},
        files=tuple(files),
        defects=tuple(defects),
    )


def _clean(text: str) -> str:
    return "".join(char if char.isprintable() else " " for char in text).strip()[:MAX_HEADER]


def _decode(value: object) -> str:
    try:
        return _clean(str(make_header(decode_header(str(value)))))
    except (LookupError, UnicodeError, MessageError, ValueError):
        return _clean(str(value))


def _header(message: email.message.Message, name: str) -> str:
    value = message.get(name)
    return "" if value is None else _decode(value)


def _headers(message: email.message.Message, name: str) -> list[str]:
    return [_decode(value) for value in message.get_all(name, [])]


def _sent(message: email.message.Message) -> datetime | None:
    try:
        sent = email.utils.parsedate_to_datetime(_header(message, "date"))
    except (ValueError, TypeError, IndexError, OverflowError):
        return None
    try:
        return sent.replace(tzinfo=UTC) if sent.tzinfo is None else sent.astimezone(UTC)
    except (ValueError, OverflowError):
        return None


def _leaves(
    message: email.message.Message, depth: int, defects: list[str]
) -> Iterator[email.message.Message]:
    if depth == 0:
        defects.append("parts are nested too deeply; the innermost were left out")
        return
    payload = message.get_payload()
    if message.is_multipart() and isinstance(payload, list):
        for part in payload:
            if not isinstance(part, email.message.Message):
                continue
            yield from _leaves(part, depth - 1, defects)
    else:
        yield message


def _disposition(part: email.message.Message) -> str:
    return str(part.get("content-disposition", "")).split(";")[0].strip().lower()


def _file_name(part: email.message.Message) -> str:
    try:
        name = part.get_filename() or ""
    except (LookupError, UnicodeError, ValueError, TypeError):
        name = ""
    # A name is only ever shown and never used as a path; what looks like one is cut.
    return _decode(name).replace("\\", "/").rsplit("/", 1)[-1][:255]


def _is_body(part: email.message.Message) -> bool:
    named = bool(_file_name(part)) or _disposition(part) == "attachment"
    return part.get_content_type() == "text/plain" and not named


def _is_file(part: email.message.Message) -> bool:
    if _file_name(part) or _disposition(part) == "attachment":
        return True
    return part.get_content_maintype() not in ("text", "multipart")


def _bytes(part: email.message.Message) -> bytes:
    try:
        payload = part.get_payload(decode=True)
    except (ValueError, LookupError, AssertionError):
        payload = None
    if isinstance(payload, bytes):
        return payload
    return str(part.get_payload()).encode("utf-8", "surrogateescape")


def _text(part: email.message.Message) -> str:
    content = _bytes(part)
    charset = part.get_content_charset() or "utf-8"
    try:
        return content.decode(charset, "replace").replace("\x00", "")
    except LookupError:
        return content.decode("utf-8", "replace").replace("\x00", "")


def _file(part: email.message.Message, position: int) -> MailFile:
    content = _bytes(part)
    return MailFile(
        position=position,
        name=_file_name(part) or f"file-{position}",
        declared_type=part.get_content_type()[:255],
        media_type=sniff(content),
        content=content,
        content_id=str(part.get("content-id", "")).strip("<> ")[:255],
        inline=_disposition(part) == "inline" or bool(part.get("content-id")),
    )
