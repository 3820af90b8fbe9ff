"""What a file is, by its content: names and declared types are not trusted."""

import re

from veridox.core.filetypes import CSV, DOCX, FILE_TYPES, HTML, OUTLOOK, PDF, PLAIN, XLSX, XML, ZIP
from veridox.core.readers.separated import separator_of

_STARTS = tuple((start, each.media_type) for each in FILE_TYPES for start in each.starts)
# A compound file's directory holds the names of its streams in UTF-16.
_COMPOUND = b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1"
_STREAMS = (
    ("__properties_version1.0", OUTLOOK),
    ("WordDocument", "application/msword"),
    ("Workbook", "application/vnd.ms-excel"),
)
_SLIDES = "application/vnd.openxmlformats-officedocument.presentationml.presentation"
_MEMBERS = (
    (b"word/document.xml", DOCX),
    (b"xl/workbook.xml", XLSX),
    (b"ppt/presentation.xml", _SLIDES),
)
_MAIL = re.compile(
    rb"(?:(?:from|to|cc|subject|date|received|return-path|message-id|mime-version|delivered-to|"
    rb"x-[a-z-]+|content-type|reply-to|sender|dkim-signature|authentication-results)"
    rb":[^\r\n]*(?:\r?\n[ \t][^\r\n]*)*\r?\n){3}",
    re.IGNORECASE,
)


def sniff(content: bytes) -> str:
    """The media type that the content speaks of.

    PDF readers accept up to 1,024 bytes before the header, so do we. Unknown
    binary content is `application/octet-stream`, no content `inode/x-empty`.
    """
    if not content:
        return "inode/x-empty"
    head = content[:1024]
    for signature, media_type in _STARTS:
        if head.startswith(signature):
            return media_type
    if head.startswith((b"PK\x03\x04", b"PK\x05\x06")):
        return _zipped(content)
    if head.startswith(_COMPOUND):
        return _compound(content)
    if b"%PDF-" in head and not _MAIL.match(head):
        return PDF
    if (
        head.startswith(b"BM")
        and len(content) > 26
        and head[14:18] in (b"(\x00\x00\x00", b"|\x00\x00\x00")
    ):
        return "image/bmp"
    if head[4:8] == b"ftyp" and head[8:12] in (b"heic", b"heix", b"mif1", b"msf1", b"hevc"):
        return "image/heic"
    if head.startswith(b"RIFF") and head[8:12] == b"WEBP":
        return "image/webp"
    return _text(content, head)


_HTML = re.compile(
    rb"(?:<!--.*?-->\s*)*<(?:html|head|body|meta|style|title|div|p|table|span|br|center|font|h[1-6]|"
    rb"b|i|ul|ol|tr|td|a|img)(?:[\s/][^>]*)?>",
    re.DOTALL,
)
"""An element of HTML: bodies of mails seldom say what they are."""


def _text(content: bytes, head: bytes) -> str:
    if head.startswith((b"\xff\xfe<\x00", b"\xfe\xff\x00<")):
        return XML  # in UTF-16
    if b"\x00" in head:
        return "application/octet-stream"
    start = head.lstrip(b"\xef\xbb\xbf \t\r\n").lower()
    if start.startswith(b"<?xml"):
        return HTML if b"<html" in start else XML
    if start.startswith(b"<!doctype html") or _HTML.match(start):
        return HTML
    if start.startswith(b"begin:vcalendar"):
        return "text/calendar"
    if start.startswith(b"begin:vcard"):
        return "text/vcard"
    if _MAIL.match(content[:16_384].lstrip()):
        return "message/rfc822"
    try:
        content[:4096].decode("utf-8")
    except UnicodeDecodeError as error:
        if error.start < 4080:  # a letter cut at the end is no sign of binary content
            control = sum(1 for byte in head if byte < 32 and byte not in b"\t\r\n\x0c")
            if control:
                return "application/octet-stream"
    # Text, also in one of the old eight-bit charsets.
    separated = separator_of(content[:16_384].decode("utf-8", "replace"))
    return CSV if separated else PLAIN


def _zipped(content: bytes) -> str:
    # The names of the members stand at the end of the archive.
    tail = content[-131_072:]
    if b"[Content_Types].xml" in content[:65_536] or b"[Content_Types].xml" in tail:
        for member, media_type in _MEMBERS:
            if member in tail:
                return media_type
    return ZIP


def _compound(content: bytes) -> str:
    for name, media_type in _STREAMS:
        if name.encode("utf-16-le") in content:
            return media_type
    return "application/x-ole-storage"
