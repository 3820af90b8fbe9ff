"""A file's bytes as pages, or as findings that say why there are none."""

from dataclasses import replace

from veridox.core.filetypes import XML, Opened, file_type, opened_as
from veridox.core.findings import Finding, Weight
from veridox.core.findings.wording import counted
from veridox.core.pages import Page
from veridox.core.readers import image
from veridox.core.readers.image import ImageProblemError
from veridox.core.readers.limits import Limits
from veridox.core.readers.office import OfficeProblemError
from veridox.core.readers.opened import FilePages
from veridox.core.readers.paper import PaperProblemError, on_paper
from veridox.core.readers.pdf import PdfFile, PdfProblemError
from veridox.core.readers.pdf_drawn import Doubt
from veridox.core.readers.sniff import sniff
from veridox.core.readers.xml import XmlProblemError

LAID_OUT = opened_as(Opened.WORDS, Opened.STRUCTURED, Opened.OFFICE)
"""Media types without pages of their own; they are laid out on paper."""
READABLE = opened_as(Opened.PAGES, Opened.PICTURE) | LAID_OUT
"""Media types that become pages."""
NO_TEXT = "page.no_text"


class OcrNeededError(Exception):
    """Pictures have to be read, and the caller said that they cannot be here."""


def read_pages(content: bytes, limits: Limits | None = None, *, ocr: bool = True) -> FilePages:
    """Pages of a file. Bad files give findings; only bugs raise.

    Args:
        content: the file.
        limits: what is accepted.
        ocr: whether pictures may be read here; it takes seconds and a gigabyte.

    Raises:
        OcrNeededError: without `ocr`, when a page is a picture.
    """
    limits = limits or Limits()
    media_type = sniff(content)
    if not content:
        return _stopped(
            media_type,
            "file.empty",
            "The file has no content (0 bytes).",
            "Ask for it again.",
        )
    if file_type(media_type).opened is Opened.OLD_OFFICE:
        return _stopped(
            media_type, "file.broken",
            f"The file is an old office file ({file_type(media_type).ending}); LibreOffice, which "
            "opens such files, is not installed here or could not open this one.",
            "Ask the vendor for a PDF, or enter the values by hand.",
        )  # fmt: skip
    if media_type not in READABLE:
        return _stopped(
            media_type,
            "file.broken",
            f"The file is {media_type}, which holds no pages to read.",
            "Ask for a PDF, or enter the values by hand.",
        )
    try:
        if file_type(media_type).opened is Opened.PICTURE:
            found = _of_image(content, media_type, limits, ocr=ocr)
        else:
            found = _of_pdf(as_pdf(content, media_type, limits), limits, ocr=ocr)
            if media_type == XML:
                found = replace(found, xml=(content,))
    except XmlProblemError as problem:
        return _stopped(
            media_type, "file.broken", f"The XML cannot be read: {problem}.",
            "Ask the vendor to send it again.",
        )  # fmt: skip
    except PaperProblemError as problem:
        return _stopped(
            media_type, "file.broken", f"The text has no pages: {problem}.", "Look at the mail."
        )
    except OfficeProblemError as problem:
        return _stopped(
            media_type, problem.code, f"The file cannot be read: {problem}.",
            "Ask the vendor for a PDF.",
        )  # fmt: skip
    except (PdfProblemError, ImageProblemError) as problem:
        return _stopped(media_type, problem.code, str(problem), problem.hint)
    return replace(found, media_type=media_type, findings=(*found.findings, *_silent(found.pages)))


def _of_pdf(content: bytes, limits: Limits, *, ocr: bool) -> FilePages:
    pages: list[Page] = []
    findings: list[Finding] = []
    pictures: dict[int, bytes] = {}
    with PdfFile(content, limits) as file:
        file.check_count()
        xml = file.xml()
        for number in range(1, file.count + 1):
            page, doubt = file.page(number)
            if doubt is not None:
                if not ocr:
                    raise OcrNeededError
                page, upright, finding = _looked_at(file, page, doubt)
                findings += finding
                if upright:
                    pictures[number] = upright
            pages.append(page)
    return FilePages(
        media_type="", pages=tuple(pages), findings=tuple(findings), pictures=pictures, xml=xml
    )


def _looked_at(file: PdfFile, page: Page, doubt: Doubt) -> tuple[Page, bytes, list[Finding]]:
    """A page whose words are missing or in doubt, compared with what it shows."""
    from veridox.core.readers.ocr import DPI, read_picture
    from veridox.core.readers.ocr.look import look_of
    from veridox.core.readers.ocr.picture import as_jpeg, grey_of, upright_of
    from veridox.core.readers.seen import BELIEVED, agreement, without_unseen

    picture = file.render(page.number, DPI)
    seen = read_picture(grey_of(picture), (page.width, page.height))
    # On a page that lies askew in its file boxes lie elsewhere; compare where it does not.
    agreed = agreement(page.words, seen.words, figures=doubt is Doubt.FIGURES)
    if doubt is not Doubt.NONE and not seen.turned and agreed > BELIEVED:
        page = replace(page, codes=seen.codes)
        if doubt is Doubt.UNSEEN:
            page = replace(page, words=without_unseen(page.words, seen.words))
        return page, b"", []
    upright = upright_of(picture, seen)
    shown = replace(
        page, width=seen.width, height=seen.height, words=seen.words, codes=seen.codes,
        look=look_of(upright),
    )  # fmt: skip
    turned = as_jpeg(upright) if seen.turned else b""
    if doubt is Doubt.NONE or not page.words or doubt is Doubt.SCAN:
        return shown, turned, []
    finding = Finding(
        code="page.text_differs",
        weight=Weight.NOTE,
        message=f"The file's own text of page {page.number} is not what the page shows "
        f"({doubt.value}); the page was read as a picture.",
        page=page.number,
        hint="Look at the page, not at text copied from it.",
    )
    return shown, turned, [finding]


def _of_image(content: bytes, media_type: str, limits: Limits, *, ocr: bool) -> FilePages:
    frames = image.frames(content, media_type, limits)
    if not ocr:
        if not image.is_large(content, limits):
            next(frames, None)  # what cannot be opened is told without the large reader
        raise OcrNeededError
    from veridox.core.readers.ocr import read_picture
    from veridox.core.readers.ocr.look import look_of
    from veridox.core.readers.ocr.picture import as_jpeg, grey_of, upright_of

    pages: list[Page] = []
    pictures: dict[int, bytes] = {}
    for number, frame in enumerate(frames, start=1):
        seen = read_picture(grey_of(frame.picture), frame.points, photo=frame.points is None)
        upright = upright_of(frame.picture, seen)
        pages.append(
            Page(
                number=number, width=seen.width, height=seen.height, words=seen.words, pictures=1,
                codes=seen.codes, look=look_of(upright),
            )
        )  # fmt: skip
        pictures[number] = as_jpeg(upright)
    return FilePages(media_type=media_type, pages=tuple(pages), pictures=pictures)


def _silent(pages: tuple[Page, ...]) -> list[Finding]:
    """Pages without words."""
    silent = [page.number for page in pages if not page.words]
    if not silent:
        return []
    if len(silent) == len(pages):
        shows = "is blank or shows" if len(pages) == 1 else "are blank or show"
        return [
            Finding(
                code=NO_TEXT,
                weight=Weight.BLOCK,
                message=f"No text: {counted(len(pages), 'page')} {shows} nothing that can be read.",
                page=1,
                hint="Look at the file; enter the values by hand, or ask the vendor for the "
                "original.",
            )
        ]
    return [
        Finding(
            code=NO_TEXT,
            weight=Weight.NOTE,
            message="Without text: page " + ", ".join(map(str, silent)) + ".",
            page=silent[0],
            hint="Look whether these pages hold something that matters.",
        )
    ]


def as_pdf(content: bytes, media_type: str, limits: Limits | None = None) -> bytes:
    """The file as a PDF: itself, or its text on paper.

    Raises:
        PaperProblemError, OfficeProblemError, XmlProblemError: it cannot be laid out.
    """
    return on_paper(content, media_type, limits) if media_type in LAID_OUT else content


def _stopped(media_type: str, code: str, message: str, hint: str) -> FilePages:
    finding = Finding(code=code, weight=Weight.BLOCK, message=message, hint=hint)
    return FilePages(media_type=media_type, findings=(finding,))
