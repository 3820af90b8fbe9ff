"""PDF files by way of pdfium: words with boxes, and pictures of pages.

pdfium is not thread-safe; reader processes are single-threaded.
"""

import ctypes
import io
from collections.abc import Iterator
from typing import Any

import pypdfium2 as pdfium
from pypdfium2 import raw

from veridox.core.pages import Box, Page, Word
from veridox.core.readers.limits import Limits

_DEVICE = 1_000
"""Device units per point when asking pdfium to map page coordinates."""
_WORD_GAP = 0.35
"""A gap of this share of the letter height parts two words even without a space."""


class PdfProblemError(Exception):
    """A PDF file that cannot be read; carries the finding's code and a hint."""

    def __init__(self, code: str, message: str, hint: str) -> None:
        super().__init__(message)
        self.code = code
        self.hint = hint


def _open(content: bytes) -> pdfium.PdfDocument:
    try:
        return pdfium.PdfDocument(content)
    except pdfium.PdfiumError as error:
        if getattr(error, "err_code", None) == raw.FPDF_ERR_PASSWORD:
            raise PdfProblemError(
                "file.password",
                "The PDF asks for a password before it shows anything.",
                "Ask the vendor for a file without a password.",
            ) from error
        raise PdfProblemError(
            "file.broken",
            f"The PDF cannot be opened; it is damaged or cut off ({len(content):,} bytes).",
            "Ask the vendor to send it again.",
        ) from error


def pdf_pages(content: bytes, limits: Limits) -> tuple[Page, ...]:
    """All pages with their words, upright.

    Raises:
        PdfProblemError: the file is damaged, protected or beyond the limits.
    """
    document = _open(content)
    try:
        count = len(document)
        if count == 0:
            raise PdfProblemError("file.broken", "The PDF has no pages.", "Ask for it again.")
        if count > limits.pages:
            raise PdfProblemError(
                "file.too_large",
                f"The PDF has {count} pages; {limits.pages} are read at most.",
                "Split it, or ask the vendor for the invoice alone.",
            )
        return tuple(_page(document, index, limits) for index in range(count))
    finally:
        document.close()


def _load(document: pdfium.PdfDocument, index: int, limits: Limits) -> pdfium.PdfPage:
    try:
        page = document[index]
    except pdfium.PdfiumError as error:
        raise PdfProblemError(
            "file.broken",
            f"Page {index + 1} of the PDF cannot be opened; the file is damaged.",
            "Ask the vendor to send it again.",
        ) from error
    width, height = page.get_size()
    if not 0 < width <= limits.page_side or not 0 < height <= limits.page_side:
        raise PdfProblemError(
            "file.too_large",
            f"Page {index + 1} measures {width:.0f} x {height:.0f} points; "
            f"{limits.page_side:.0f} are read at most.",
            "Ask the vendor for a page of usual size.",
        )
    return page


def _page(document: pdfium.PdfDocument, index: int, limits: Limits) -> Page:
    page = _load(document, index, limits)
    width, height = page.get_size()
    pictures = sum(1 for _ in page.get_objects(filter=(raw.FPDF_PAGEOBJ_IMAGE,), max_depth=4))
    text = page.get_textpage()
    try:
        count = text.count_chars()
        if count > limits.characters:
            raise PdfProblemError(
                "file.too_large",
                f"Page {index + 1} holds {count:,} characters; {limits.characters:,} are read.",
                "Look at the file; no invoice page is like this.",
            )
        words = tuple(_words(text.raw, count, _mapping(page), width, height))
    finally:
        text.close()
        page.close()
    return Page(number=index + 1, width=width, height=height, words=words, pictures=pictures)


def _mapping(page: pdfium.PdfPage) -> tuple[float, ...]:
    """The affine map from PDF coordinates to points from the upright top left corner.

    Asked of pdfium at three points, so that /Rotate and the crop box's origin
    are what pdfium itself makes of them.
    """
    width, height = page.get_size()
    size = (0, 0, int(width * _DEVICE), int(height * _DEVICE), 0)

    def device(x: float, y: float) -> tuple[float, float]:
        left, top = ctypes.c_int(), ctypes.c_int()
        raw.FPDF_PageToDevice(page.raw, *size, x, y, left, top)
        return left.value / _DEVICE, top.value / _DEVICE

    x0, y0 = device(0, 0)
    x1, y1 = device(100, 0)
    x2, y2 = device(0, 100)
    return (
        (x1 - x0) / 100,
        (x2 - x0) / 100,
        x0,
        (y1 - y0) / 100,
        (y2 - y0) / 100,
        y0,
    )


def _words(
    text: Any, count: int, mapping: tuple[float, ...], width: float, height: float
) -> Iterator[Word]:
    a, b, c, d, e, f = mapping
    rect = raw.FS_RECTF()
    letters: list[str] = []
    boxes: list[Box] = []

    def finish() -> Iterator[Word]:
        if letters:
            box = Box.around(boxes)
            x, y = box.middle
            # Text outside the visible page is returned by pdfium but not shown.
            if 0 <= x <= width and 0 <= y <= height:
                yield Word(text="".join(letters), box=box)
            letters.clear()
            boxes.clear()

    for index in range(count):
        code = raw.FPDFText_GetUnicode(text, index)
        char = chr(code) if 0 < code < 0x110000 and not 0xD800 <= code < 0xE000 else ""
        if not char or char.isspace() or code in (0xFFFE, 0xFFFF, 2) or ord(char) < 32:
            yield from finish()
            continue
        if not raw.FPDFText_GetLooseCharBox(text, index, rect):
            continue
        x0, y0 = a * rect.left + b * rect.top + c, d * rect.left + e * rect.top + f
        x1, y1 = (
            a * rect.right + b * rect.bottom + c,
            d * rect.right + e * rect.bottom + f,
        )
        box = Box(min(x0, x1), min(y0, y1), max(x0, x1), max(y0, y1))
        if boxes and _parted(boxes[-1], box):
            yield from finish()
        letters.append(char)
        boxes.append(box)
    yield from finish()


def _parted(last: Box, box: Box) -> bool:
    """Whether a letter begins a new word although no space came before it."""
    shared = min(last.right, box.right) - max(last.left, box.left)
    if shared > 0.6 * min(last.width, box.width):
        # One above the other: text that runs up or down the page, or is drawn twice.
        gap = max(last.top, box.top) - min(last.bottom, box.bottom)
        return gap > _WORD_GAP * max(last.width, box.width, 1.0)
    size = max(last.height, box.height, 1.0)
    far = box.left - last.right > _WORD_GAP * size or box.left < last.left - size
    return far or abs(box.middle[1] - last.middle[1]) > 0.6 * size


def page_picture(content: bytes, number: int, dpi: int, limits: Limits | None = None) -> bytes:
    """A page as a PNG picture.

    Args:
        content: the PDF file.
        number: page number from 1.
        dpi: dots per inch; lowered where the picture would go over the limit.

    Raises:
        PdfProblemError: the file is damaged, or has no such page.
    """
    limits = limits or Limits()
    document = _open(content)
    try:
        if not 1 <= number <= len(document):
            raise PdfProblemError(
                "file.broken",
                f"There is no page {number}; the file has {len(document)}.",
                "",
            )
        page = _load(document, number - 1, limits)
        width, height = page.get_size()
        scale = min(dpi / 72, (limits.pixels / (width * height)) ** 0.5)
        picture = page.render(scale=scale).to_pil()
        out = io.BytesIO()
        picture.save(out, "PNG")
        return out.getvalue()
    finally:
        document.close()
