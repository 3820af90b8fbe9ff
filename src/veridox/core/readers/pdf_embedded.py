"""Files inside a PDF: by its name tree, by associations (/AF), and behind annotations."""

import io
from collections.abc import Iterator
from typing import Any

import pypdfium2 as pdfium

MOST = 20_000_000
"""Bytes of an embedded file that is looked at."""
MOST_FILES = 50
_SIGNS = (b"/AFRelationship", b"/FileAttachment")
"""What a PDF holds whose embedded files may be in no name tree."""


def embedded_xml(document: pdfium.PdfDocument, content: bytes) -> Iterator[bytes]:
    """XML files inside a PDF.

    Args:
        document: open.
        content: its bytes; files outside the name tree are sought in them.
    """
    found = False
    for index in range(min(document.count_attachments(), MOST_FILES)):
        data = _data(document, index)
        if _is_xml(data):
            found = True
            yield data
    if not found and any(sign in content for sign in _SIGNS):
        yield from _elsewhere(content)


def _data(document: pdfium.PdfDocument, index: int) -> bytes:
    try:
        attachment = document.get_attachment(index)
        return bytes(attachment.get_data())
    except (pdfium.PdfiumError, ValueError):
        return b""


def _is_xml(data: bytes) -> bool:
    start = data[:200].lstrip(b"\xef\xbb\xbf\xff\xfe \t\r\n")
    return start.startswith((b"<?xml", b"<", b"\x00<")) and len(data) <= MOST


def _elsewhere(content: bytes) -> Iterator[bytes]:
    import pikepdf  # takes its time; few files need it

    try:
        with pikepdf.open(io.BytesIO(content), suppress_warnings=True) as document:
            specs: list[Any] = list(document.Root.get("/AF", []))
            for page in document.pages:
                specs += list(page.obj.get("/AF", []))
                for note in page.obj.get("/Annots", []):
                    if note.get("/Subtype") == "/FileAttachment" and "/FS" in note:
                        specs.append(note["/FS"])
            for spec in specs[:MOST_FILES]:
                streams = spec.get("/EF", {})
                stream = streams.get("/UF", streams.get("/F"))
                data = stream.read_bytes() if stream is not None else b""
                if _is_xml(data):
                    yield data
    except (pikepdf.PdfError, ValueError, TypeError, KeyError, AttributeError, RuntimeError):
        return  # what cannot be found is not there; the pages are read all the same
