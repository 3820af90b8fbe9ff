"""PDF files by way of pdfium: words with boxes, and pictures of pages.

pdfium is not thread-safe; reader processes are single-threaded.
"""

import ctypes
import io
from collections.abc import Iterator
from dataclasses import replace
from functools import cache
from typing import TYPE_CHECKING, Any, Self

import pypdfium2 as pdfium
from PIL import Image
from pypdfium2 import raw

from veridox.core.pages import Box, Page, Word
from veridox.core.pages.tidy import tidied
from veridox.core.readers.codes import DPI as CODE_DPI
from veridox.core.readers.codes import codes_of
from veridox.core.readers.limits import Limits
from veridox.core.readers.pdf_drawn import Doubt, doubt_about, drawn_on
from veridox.core.readers.pdf_embedded import embedded_xml
from veridox.core.readers.pdf_repair import RepairError, repaired

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

_DEVICE = 1_000
"""Device units per point when asking pdfium to map page coordinates."""
MANY_SHAPES = 100
"""Small shapes on a page among which a QR code may be; the smallest has 200 dark squares."""
_HYPHENS = (0x02, 0xAD)
"""What pdfium makes of a hyphen at the end of a line, and the soft one; both are drawn as "-"."""
_ABUT = 0.06
"""Letters closer than this share of their height are of one word, whatever pdfium put between."""
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
    try:
        return pdfium.PdfDocument(repaired(content))
    except (pdfium.PdfiumError, RepairError) as error:
        raise PdfProblemError(
            "file.broken",
            f"The PDF cannot be opened; it is damaged or cut off ({len(content):,} bytes).",
            "Ask the vendor to send it again.",
        ) from error


class PdfFile:
    """An open PDF file; a context manager.

    Raises:
        PdfProblemError: it is damaged, protected or beyond the limits.
    """

    def __init__(self, content: bytes, limits: Limits) -> None:
        self.limits = limits
        self._content = content
        self._document = _open(content)
        self.count = len(self._document)

    def check_count(self) -> None:
        """Raises PdfProblemError for too many pages, or none."""
        if self.count == 0:
            raise PdfProblemError("file.broken", "The PDF has no pages.", "Ask for it again.")
        if self.count > self.limits.pages:
            raise PdfProblemError(
                "file.too_large",
                f"The PDF has {self.count} pages; {self.limits.pages} are read at most.",
                "Split it, or ask the vendor for the invoice alone.",
            )

    def xml(self) -> tuple[bytes, ...]:
        """XML files inside it, such as the structured form of a hybrid invoice."""
        return tuple(embedded_xml(self._document, self._content))

    def page(self, number: int) -> tuple[Page, Doubt | None]:
        """A page with the file's own words, upright; and why they may not be what it shows."""
        page = _load(self._document, number - 1, self.limits)
        try:
            shown, doubt, may_hold_code = _page(page, number, self.limits)
        finally:
            page.close()
        if may_hold_code:
            codes = codes_of(self.render(number, CODE_DPI), 72 / CODE_DPI)
            shown = replace(shown, codes=codes)
        return shown, doubt

    def render(self, number: int, dpi: float) -> "NDArray[np.uint8]":
        """A page's picture, red, green, blue; coarser where it would go over the limit."""
        import numpy as np  # not wherever mails are handled

        if not 1 <= number <= self.count:
            raise PdfProblemError(
                "file.broken", f"There is no page {number}; the file has {self.count}.", ""
            )
        page = _load(self._document, number - 1, self.limits)
        width, height = page.get_size()
        scale = min(dpi / 72, (self.limits.pixels / (width * height)) ** 0.5)
        picture = page.render(scale=scale, rev_byteorder=True).to_numpy()
        page.close()
        return np.ascontiguousarray(picture[:, :, :3])

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_: object) -> None:
        self._document.close()


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


def _page(page: pdfium.PdfPage, number: int, limits: Limits) -> tuple[Page, Doubt | None, bool]:
    """A page, the doubt about its words, and whether it may show a QR code."""
    width, height = page.get_size()
    text = page.get_textpage()
    try:
        count = text.count_chars()
        if count > limits.characters:
            raise PdfProblemError(
                "file.too_large",
                f"Page {number} holds {count:,} characters; {limits.characters:,} are read.",
                "Look at the file; no invoice page is like this.",
            )
        mapping = _mapping(page)
        words = tidied(tuple(_words(text.raw, count, mapping, width, height)))
        drawn = drawn_on(page, mapping)
        doubt = doubt_about(text.raw, count, words, drawn, width * height)
    finally:
        text.close()
    shown = Page(
        number=number, width=width, height=height, words=words, pictures=drawn.pictures
    )  # fmt: skip
    return shown, doubt, doubt is None and (drawn.pictures > 0 or drawn.shapes > MANY_SHAPES)


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
    # Plain floats and no calls of our own for each letter: this loop is most of the time that
    # a digital page takes.
    a, b, c, d, e, f = mapping
    rect = raw.FS_RECTF()
    get_code, get_box = raw.FPDFText_GetUnicode, raw.FPDFText_GetLooseCharBox
    made = raw.FPDFText_IsGenerated
    letters: list[str] = []
    left = top = right = bottom = 0.0  # of the word so far
    last = (0.0, 0.0, 0.0, 0.0)
    space = -1  # index of the white space behind the word so far
    for index in range(count):
        code = get_code(text, index)
        char = _letter(code)
        if not char or not get_box(text, index, rect):
            if not char and space < 0:
                space = index
            continue
        x0, x1 = a * rect.left + b * rect.top + c, a * rect.right + b * rect.bottom + c
        y0, y1 = d * rect.left + e * rect.top + f, d * rect.right + e * rect.bottom + f
        if x0 > x1:
            x0, x1 = x1, x0
        if y0 > y1:
            y0, y1 = y1, y0
        box = (x0, y0, x1, y1)
        if letters and (
            _parted(last, box) if space < 0 else not (_abut(last, box) and made(text, space) == 1)
        ):
            yield from _word(letters, left, top, right, bottom, width, height)
            letters = []
        last, space = box, -1
        if letters:
            left, right = x0 if x0 < left else left, x1 if x1 > right else right
            top, bottom = y0 if y0 < top else top, y1 if y1 > bottom else bottom
        else:
            left, top, right, bottom = last
        letters.append(char)
    if letters:
        yield from _word(letters, left, top, right, bottom, width, height)


@cache
def _letter(code: int) -> str:
    """The character of a code; empty for white space and what is no character."""
    if code in _HYPHENS:
        return "-"
    if not 32 < code < 0x110000 or 0xD800 <= code < 0xE000 or code in (0xFFFE, 0xFFFF):
        return ""
    char = chr(code)
    return "" if char.isspace() else char


def _word(
    letters: list[str], left: float, top: float, right: float, bottom: float,
    width: float, height: float,
) -> Iterator[Word]:  # fmt: skip
    # Text outside the visible page is returned by pdfium but not shown.
    if 0 <= (left + right) / 2 <= width and 0 <= (top + bottom) / 2 <= height:
        yield Word(text="".join(letters), box=Box(left, top, right, bottom))


def _abut(last: tuple[float, ...], box: tuple[float, ...]) -> bool:
    """Whether two letters stand so close on one line that nothing parts them.

    pdfium makes white space of its own where letters are placed one by one; only its own is
    doubted, never what the file says.
    """
    _, top0, right0, bottom0 = last
    left1, top1, _, bottom1 = box
    size = max(bottom0 - top0, bottom1 - top1, 1.0)
    return abs(left1 - right0) < _ABUT * size and abs(top0 + bottom0 - top1 - bottom1) < size


def _parted(last: tuple[float, ...], box: tuple[float, ...]) -> bool:
    """Whether a letter begins a new word although no space came before it."""
    left0, top0, right0, bottom0 = last
    left1, top1, right1, bottom1 = box
    high0, high1 = bottom0 - top0, bottom1 - top1
    size = high0 if high0 > high1 else high1
    size = size if size > 1.0 else 1.0
    gap = left1 - right0
    wide0, wide1 = right0 - left0, right1 - left1
    narrower = wide0 if wide0 < wide1 else wide1
    if gap > -0.6 * narrower:
        away = (top0 + bottom0 - top1 - bottom1) / 2
        return gap > _WORD_GAP * size or not -0.6 * size <= away <= 0.6 * size
    shared = min(right0, right1) - max(left0, left1)
    if shared > 0.6 * narrower:
        # One above the other: text that runs up or down the page, or is drawn twice.
        between = max(top0, top1) - min(bottom0, bottom1)
        return between > _WORD_GAP * max(wide0, wide1, 1.0)
    away = abs(top0 + bottom0 - top1 - bottom1) / 2
    return left1 < left0 - size or away > 0.6 * size


def page_picture(content: bytes, number: int, dpi: int, limits: Limits | None = None) -> bytes:
    """A page as a PNG picture.

    Args:
        content: the PDF file.
        number: page number from 1.
        dpi: dots per inch; lowered where the picture would go over the limit.

    Raises:
        PdfProblemError: the file is damaged, or has no such page.
    """
    with PdfFile(content, limits or Limits()) as file:
        return as_png(file.render(number, dpi))


def as_png(picture: "NDArray[np.uint8]") -> bytes:
    """A picture (red, green, blue) as a PNG file."""
    out = io.BytesIO()
    # Somebody waits for it: a tenth smaller would take half as long again.
    Image.fromarray(picture).save(out, "PNG", compress_level=2)
    return out.getvalue()
