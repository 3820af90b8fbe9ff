"""What a reader process can do: take a mail apart, read a file, draw a page."""

from collections.abc import Callable
from dataclasses import asdict, dataclass, replace
from datetime import datetime
from typing import Any

from veridox.core.documents import readings_of
from veridox.core.extract.hints import Hints, KnownParty
from veridox.core.filetypes import Opened, file_type
from veridox.core.pages import Page
from veridox.core.readers.codec import file_from_json, file_to_json
from veridox.core.readers.files import OcrNeededError, as_pdf, read_pages
from veridox.core.readers.image import smaller
from veridox.core.readers.mail.read import read_mail
from veridox.core.readers.mail.safe import safe_html
from veridox.core.readers.office import OfficeProblemError
from veridox.core.readers.opened import FilePages
from veridox.core.readers.paper import PaperProblemError
from veridox.core.readers.pdf import PdfProblemError, page_picture
from veridox.core.readers.sniff import sniff
from veridox.core.readers.tables import TableProblemError, table_as_lines
from veridox.core.readers.xml import XmlProblemError
from veridox.core.reading import ExtraField, Source, reading_to_json

Answer = tuple[dict[str, Any], list[bytes]]


@dataclass
class _Here:
    """What this process may do."""

    ocr: bool = False


_HERE = _Here()


def warm_up(*, ocr: bool) -> None:
    """Load what is slow to import, before memory is limited."""
    import numpy  # noqa: F401
    import PIL.PngImagePlugin
    import pypdfium2  # noqa: F401

    PIL.PngImagePlugin.__name__  # noqa: B018 - the import is the point
    _HERE.ocr = ocr
    if ocr:
        import cv2

        cv2.setNumThreads(0)  # no thread can be started here
        from veridox.core.readers.ocr.models import SMALL, TINY, detector, recogniser

        detector(), recogniser(TINY), recogniser(SMALL)


def run(name: str, header: dict[str, Any], blobs: list[bytes]) -> Answer:
    """Do a task; one that has pictures to read, or an old office file, is for another process."""
    if header.get("old_office") == "ask":
        kind = file_type(sniff(blobs[0]))
        if kind.opened is Opened.OLD_OFFICE:
            return {"old_office": kind.media_type}, []
    try:
        return TASKS[name](header, blobs)
    except OcrNeededError:
        return {"ocr_needed": True}, []


def mail(header: dict[str, Any], blobs: list[bytes]) -> Answer:
    """A mail's headers, text, safe HTML and files."""
    del header
    content = read_mail(blobs[0])
    told = asdict(replace(content, html=safe_html(content.html), files=()))
    told["files"] = [asdict(replace(file, content=b"")) for file in content.files]
    return _plain(told), [file.content for file in content.files]


def _plain(value: Any) -> Any:
    """Values that JSON knows: dates as text, bytes left to the blobs."""
    if isinstance(value, dict):
        return {key: _plain(each) for key, each in value.items() if not isinstance(each, bytes)}
    if isinstance(value, list | tuple):
        return [_plain(each) for each in value]
    if isinstance(value, str):
        # A lone surrogate cannot be sent as UTF-8.
        return value.encode("utf-8", "replace").decode()
    return value.isoformat() if isinstance(value, datetime) else value


def read(header: dict[str, Any], blobs: list[bytes]) -> Answer:
    """A file's pages, readings and findings; pages read before are taken as they were."""
    file = file_from_json(blobs[1]) if header.get("kept") else _pages(blobs[0])
    source = Source(
        sha256=header.get("sha256", ""),
        name=header.get("name", ""),
        media_type=header.get("media_type") or file.media_type,
        path=header.get("path", ""),
    )
    hints = Hints(
        buyers=tuple(KnownParty(**buyer) for buyer in header.get("buyers", ())),
        extra=tuple(map(ExtraField.from_json, header.get("extra", ()))),
    )
    found = readings_of(file, source, hints, blobs[2:] if header.get("structured") else None)
    return {
        "media_type": source.media_type,
        "pages": [_page(page, words=bool(header.get("words"))) for page in file.pages],
        "readings": [reading_to_json(reading) for reading in found.readings],
        "findings": [finding.to_json() for finding in found.findings],
        "turned": list(file.pictures),
    }, [file_to_json(file), *file.pictures.values()]


def _pages(content: bytes) -> FilePages:
    return read_pages(content, ocr=_HERE.ocr)


def _page(page: Page, *, words: bool) -> dict[str, Any]:
    shape = {
        "number": page.number, "width": page.width, "height": page.height, "look": page.look,
    }  # fmt: skip
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
    """A page as PNG, upright as its words lie."""
    content, number, dpi = blobs[0], header["page"], header["dpi"]
    try:
        media_type = sniff(content)
        if file_type(media_type).opened is not Opened.PICTURE:
            return {}, [page_picture(as_pdf(content, media_type), number, dpi)]
        upright = _pages(content).pictures.get(number)
        if upright is None:
            return _problem("page.absent", f"the file has no page {number}")
        return {}, [smaller(upright, dpi)]
    except (PaperProblemError, OfficeProblemError, XmlProblemError) as problem:
        return _problem("file.broken", str(problem))
    except PdfProblemError as problem:
        return _problem(problem.code, str(problem))


def shown(header: dict[str, Any], blobs: list[bytes]) -> Answer:
    """An upright picture of a page, kept from its reading, as PNG."""
    return {}, [smaller(blobs[0], header["dpi"])]


def words(header: dict[str, Any], blobs: list[bytes]) -> Answer:
    """One page's words and text."""
    file = file_from_json(blobs[0]) if header.get("kept") else _pages(blobs[0])
    page = next((each for each in file.pages if each.number == header["page"]), None)
    if page is None:
        return _problem("page.absent", f"the file has {len(file.pages)} pages")
    return _page(page, words=True), []


def table(header: dict[str, Any], blobs: list[bytes]) -> Answer:
    """A table's headings, and its rows as JSON lines."""
    try:
        told, lines = table_as_lines(blobs[0], header.get("sheet", ""))
    except TableProblemError as problem:
        return _problem("table", str(problem))
    return told, [lines]


def _problem(code: str, message: str) -> Answer:
    return {"problem": {"code": code, "message": message}}, []


TASKS: dict[str, Callable[[dict[str, Any], list[bytes]], Answer]] = {
    "mail": mail,
    "read": read,
    "picture": picture,
    "shown": shown,
    "words": words,
    "table": table,
}
