"""Text out of headers and parts whose charsets are odd, wrong or missing."""

import codecs
import email.message
import email.utils
from datetime import UTC, datetime
from email.errors import MessageError
from email.header import decode_header
from typing import Any

MAX_HEADER = 2_000
"""Characters of one header value that are kept."""
_ALIASES = {
    "ansi": "cp1252",
    "x-ansi": "cp1252",
    "iso-8859-8-i": "iso-8859-8",
    "iso-8859-6-i": "iso-8859-6",
    "ks_c_5601-1987": "cp949",
    "x-mac-roman": "mac-roman",
    "x-gbk": "gbk",
    "x-sjis": "cp932",
    "cp-850": "cp850",
    "unicode-1-1-utf-7": "utf-7",
    "utf8mb4": "utf-8",
    "unicode": "utf-16",
    # What is called Latin-1 in mails is nearly always what browsers take it for.
    "iso-8859-1": "cp1252",
    "us-ascii": "utf-8",
}


def decoded(content: bytes, charset: str | None) -> str:
    """Bytes as text by a charset's name; unknown or wrong ones fall back, nothing raises."""
    name = (charset or "").strip().strip("'\"").lower()
    for each in (_ALIASES.get(name, name), "utf-8", "cp1252"):
        try:
            return codecs.lookup(each).decode(content, "strict")[0].replace("\x00", "")
        except (LookupError, UnicodeError, ValueError, TypeError, AssertionError):
            continue
    return content.decode("latin-1").replace("\x00", "")


def clean(text: str) -> str:
    """One line without characters that cannot be shown."""
    return "".join(char if char.isprintable() else " " for char in text).strip()[:MAX_HEADER]


def header_text(value: object) -> str:
    """A header's value with its encoded words (RFC 2047) opened."""
    text = str(value)
    try:
        chunks = decode_header(text)
    except (MessageError, ValueError, LookupError, UnicodeError):
        chunks = [(text, None)]
    return clean("".join(_chunk(chunk, charset) for chunk, charset in chunks))


def _chunk(chunk: bytes | str, charset: str | None) -> str:
    if isinstance(chunk, bytes):
        return decoded(chunk, charset)
    try:
        raw = chunk.encode("ascii", "surrogateescape")
    except UnicodeEncodeError:
        return chunk
    # Bytes above 127 that stand in a header without any encoding.
    return decoded(raw, "utf-8")


def raw_headers(message: email.message.Message) -> list[tuple[str, str]]:
    """Names in small letters with values as they stand, bytes kept as surrogates."""
    return [(str(name).lower(), str(value)) for name, value in message.raw_items()]


def headers_named(message: email.message.Message, name: str) -> list[str]:
    """All values of one header."""
    return [header_text(value) for each, value in raw_headers(message) if each == name]


def header_of(message: email.message.Message, name: str) -> str:
    """The first value of one header, or empty."""
    return next(iter(headers_named(message, name)), "")


def address_of(message: email.message.Message, name: str) -> tuple[str, str]:
    """Name and address of the first mailbox in a header."""
    raw = next((value for each, value in raw_headers(message) if each == name), "")
    try:
        found = email.utils.getaddresses([raw.replace("\r", "").replace("\n", " ")])
    except (ValueError, IndexError):
        found = []
    shown, address = next(((n, a) for n, a in found if a), (found or [("", "")])[0])
    if "@" not in address:
        # Encoded words may hide the brackets: open them and try again.
        found = email.utils.getaddresses([header_text(raw)])
        shown, address = next(((n, a) for n, a in found if "@" in a), (shown, address))
    return header_text(shown), header_text(address).lower()[:320]


def sent_at(message: email.message.Message) -> datetime | None:
    """The Date header in UTC; None when it is missing or none."""
    return date_of(header_of(message, "date"))


def date_of(text: str) -> datetime | None:
    """A date as mails write it (RFC 5322, 3.3), in UTC."""
    try:
        sent = email.utils.parsedate_to_datetime(text)
        return sent.replace(tzinfo=UTC) if sent.tzinfo is None else sent.astimezone(UTC)
    except (ValueError, TypeError, IndexError, OverflowError):
        return None


def file_name(part: email.message.Message) -> str:
    """A part's file name (RFC 2183, RFC 2231; RFC 2047 where senders misuse it), or empty.

    A name is only ever shown and never used as a path; what looks like one is cut.
    """
    for header, key in (("content-disposition", "filename"), ("content-type", "name")):
        value = _parameter(part, key, header)
        if value:
            return bare_name(value)
    return ""


def _parameter(part: email.message.Message, key: str, header: str) -> str:
    try:
        found: Any = part.get_param(key, None, header, unquote=True)
    except (LookupError, UnicodeError, ValueError, TypeError, IndexError):
        return ""
    if isinstance(found, tuple):  # RFC 2231: charset, language, value
        charset, _, value = found
        return clean(decoded(value.encode("latin-1", "replace"), charset))
    return header_text(found) if found else ""


def bare_name(name: str) -> str:
    """The last part of what may be a path, at most 255 characters."""
    return clean(name.replace("\\", "/").rstrip("/").rsplit("/", 1)[-1])[:255]


def tame(part: email.message.Message) -> None:
    """Take away a name of a character set that no name can be: with a NUL in it, Python's parser
    gives up the whole mail."""
    try:
        charset = str(part.get_param("charset", ""))
    except (ValueError, LookupError, TypeError):
        charset = "\0"
    if "\0" in charset:
        part.replace_header("Content-Type", part.get_content_type())


def part_bytes(part: email.message.Message) -> bytes:
    """A part's content, decoded; as it stands when it cannot be."""
    try:
        payload = part.get_payload(decode=True)
    except (ValueError, LookupError, AssertionError):
        payload = None
    if isinstance(payload, bytes):
        return payload
    return str(part.get_payload()).encode("utf-8", "surrogateescape")


def part_text(part: email.message.Message, content: bytes) -> str:
    """A text part's words."""
    try:
        charset = part.get_content_charset()
    except (LookupError, UnicodeError, ValueError, TypeError):
        charset = None
    return decoded(content, charset)
