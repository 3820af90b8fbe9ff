"""What a reader process can do: take a mail apart, read a file, draw a page."""

from collections.abc import Callable
from typing import Any

from veridox.core.extract import Hints, KnownParty, extract
from veridox.core.pages import Page
from veridox.core.readers import page_picture, read_mail, read_pages
from veridox.core.readers.pdf import PdfProblemError
from veridox.core.reading import Source, reading_to_json

Answer = tuple[dict[str, Any], list[bytes]]


def warm_up() -> None:
    """Load what is slow to import, before memory is limited."""
    import PIL.PngImagePlugin
    import pypdfium2  # noqa: F401

    PIL.PngImagePlugin.__name__  # noqa: B018 - the import is the point


def mail(header: dict[str, Any], blobs: list[bytes]) -> Answer:
    """A mail's headers, text and files."""
    del header
    content = read_mail(blobs[0])
    return {
        "message_id": content.message_id,
        "sender_name": content.sender_name,
        "sender_address": content.sender_address,
        "recipients": list(content.recipients),
        "subject": content.subject,
        "sent": content.sent.isoformat() if content.sent else None,
        "text": content.text,
        "headers": content.headers,
        "defects": list(content.defects),
        "files": [
            {
                "position": file.position,
                "name": file.name,
                "declared_type": file.declared_type,
                "media_type": file.media_type,
                "content_id": file.content_id,
                "inline": file.inline,
            }
            for file in content.files
        ],
    }, [file.content for file in content.files]


def read(header: dict[str, Any], blobs: list[bytes]) -> Answer:
    """A file's pages, readings and findings."""
    content = blobs[0]
    file = read_pages(content)
    source = Source(
        sha256=header.get("sha256", ""),
        name=header.get("name", ""),
        media_type=file.media_type,
        path=header.get("path", ""),
    )
    hints = Hints(buyers=tuple(KnownParty(**buyer) for buyer in header.get("buyers", ())))
    readings = extract(file.pages, source, hints)
    return {
        "media_type": file.media_type,
        "pages": [_page(page, words=bool(header.get("words"))) for page in file.pages],
        "readings": [reading_to_json(reading) for reading in readings],
        "findings": [finding.to_json() for finding in file.findings],
    }, []


def _page(page: Page, *, words: bool) -> dict[str, Any]:
    shape = {"number": page.number, "width": page.width, "height": page.height}
    if not words:
        return shape
    return {
        **shape,
        "text": page.text(),
        "words": [
            {"text": word.text, "box": list(word.box.rounded()), "confidence": word.confidence}
            for word in page.words
        ],
    }


def picture(header: dict[str, Any], blobs: list[bytes]) -> Answer:
    """A page as PNG."""
    try:
        return {}, [page_picture(blobs[0], header["page"], header["dpi"])]
    except PdfProblemError as problem:
        return {"problem": {"code": problem.code, "message": str(problem)}}, []


TASKS: dict[str, Callable[[dict[str, Any], list[bytes]], Answer]] = {
    "mail": mail,
    "read": read,
    "picture": picture,
}
