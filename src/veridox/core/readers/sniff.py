"""What a file is, by its content: names and declared types are not trusted."""

_SIGNATURES = (
    (b"\x89PNG\r\n\x1a\n", "image/png"),
    (b"\xff\xd8\xff", "image/jpeg"),
    (b"GIF87a", "image/gif"),
    (b"GIF89a", "image/gif"),
    (b"II*\x00", "image/tiff"),
    (b"MM\x00*", "image/tiff"),
    (b"PK\x03\x04", "application/zip"),
    (b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1", "application/x-ole-storage"),
    (b"{\\rtf", "application/rtf"),
    (b"MZ", "application/x-msdownload"),
    (b"\x7fELF", "application/x-elf"),
)


def sniff(content: bytes) -> str:
    """The media type that the first bytes speak of.

    PDF readers accept up to 1,024 bytes before the header, so do we. Unknown
    binary content is `application/octet-stream`, no content `inode/x-empty`.
    """
    if not content:
        return "inode/x-empty"
    head = content[:1024]
    if b"%PDF-" in head:
        return "application/pdf"
    for signature, media_type in _SIGNATURES:
        if head.startswith(signature):
            return media_type
    if b"\x00" in head:
        return "application/octet-stream"
    start = head.lstrip(b"\xef\xbb\xbf \t\r\n").lower()
    if start.startswith(b"<?xml"):
        return "application/xml"
    if start.startswith((b"<!doctype html", b"<html")):
        return "text/html"
    if start.startswith(b"begin:vcalendar"):
        return "text/calendar"
    try:
        content[:4096].decode("utf-8")
    except UnicodeDecodeError as error:
        if error.start < 4080:  # a letter cut at the end is no sign of binary content
            return "application/octet-stream"
    return "text/plain"
