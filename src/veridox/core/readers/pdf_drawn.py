"""What is drawn on a page of a PDF beside its words, and whether the words can be believed."""

import ctypes
import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from enum import StrEnum
from itertools import islice
from typing import Any

import pypdfium2 as pdfium
from pypdfium2 import raw

from veridox.core.pages import Box, Word
from veridox.core.readers.pdf_digits import lies

LEAST_LINE = 12.0
"""Points; shorter lines are parts of letters and signs."""
MOST_OBJECTS = 20_000
"""Objects of a page that are looked at."""
SAMPLES = 200
"""Characters whose mapping to Unicode is checked."""
WHOLE_PAGE = 0.6
"""Share of the page that the picture of a scan covers."""

_RULE = re.compile(r"([^\w\s])\1{3,}")


class Doubt(StrEnum):
    """Why a page's own words may not be what it shows."""

    NONE = "no words"  # nothing but a picture or curves
    UNMAPPED = "unmapped"  # the font does not say which letters its shapes are
    UNSEEN = "unseen"  # words that are not painted, or white
    SCAN = "scan"  # words that lie behind a picture of the whole page
    GARBLED = "garbled"  # letters that make no words
    FIGURES = "figures"  # a font that draws other figures than it says


@dataclass(frozen=True, kw_only=True, slots=True)
class OnPage:
    """What is drawn.

    Attributes:
        pictures: raster images.
        picture_area: points squared that they cover together; scans may come in strips.
        lines: straight lines and filled cells, as tables are drawn with.
        shapes: small filled shapes, of which drawn QR codes have hundreds.
        unseen: text objects that are not painted, or painted white.
        fonts: of the words, as pdfium knows them while the page is open.
    """

    pictures: int
    picture_area: float
    lines: int
    shapes: int
    unseen: int
    fonts: tuple[Any, ...]


def drawn_on(page: pdfium.PdfPage, mapping: tuple[float, ...]) -> OnPage:
    """Look at the objects of a page.

    Args:
        page: open.
        mapping: from PDF coordinates to points from the upright top left corner.
    """
    pictures, unpainted, shapes, lines, area = 0, 0, 0, 0, 0.0
    grounds: list[Box] = []
    white: list[Box] = []
    fonts: dict[int, Any] = {}
    colour = _Colour()
    for each, kind in islice(_objects(page.raw), MOST_OBJECTS):
        if kind == raw.FPDF_PAGEOBJ_TEXT:
            # Most objects are plain words: of them only the font is asked for.
            if font := raw.FPDFTextObj_GetFont(each):
                fonts.setdefault(ctypes.addressof(font.contents), font)
            if raw.FPDFTextObj_GetTextRenderMode(each) in UNPAINTED:
                unpainted += _box(each, mapping) is not None
            elif colour.is_white(each) and (box := _box(each, mapping)):
                white.append(box)
            continue
        box = _box(each, mapping)
        if box is None:
            continue
        if kind == raw.FPDF_PAGEOBJ_IMAGE:
            pictures += 1
            area += box.width * box.height
            grounds.append(box)
        elif max(box.width, box.height) >= LEAST_LINE:
            lines += 1
            if not colour.is_white(each):
                grounds.append(box)
        else:
            shapes += 1
    # White words on a dark band are there for all to see.
    hidden = sum(not any(_within(box, ground) for ground in grounds) for box in white)
    return OnPage(
        pictures=pictures,
        picture_area=area,
        lines=lines,
        shapes=shapes,
        unseen=unpainted + hidden,
        fonts=tuple(fonts.values()),
    )


UNPAINTED = (raw.FPDF_TEXTRENDERMODE_INVISIBLE, raw.FPDF_TEXTRENDERMODE_CLIP)
LOOKED_AT = (raw.FPDF_PAGEOBJ_IMAGE, raw.FPDF_PAGEOBJ_PATH, raw.FPDF_PAGEOBJ_TEXT)
DEEPEST = 4


def _objects(page: Any) -> Iterator[tuple[Any, int]]:
    """Pictures, paths and words of a page, and of the forms in it, with what they are.

    Asked of pdfium itself: a page has thousands, and a Python object for each costs more than all
    that is asked of it.
    """
    ways = (raw.FPDFPage_CountObjects, raw.FPDFPage_GetObject)
    yield from _inside(page, *ways, level=1)


def _inside(
    parent: Any, count: Callable[[Any], int], get: Callable[[Any, int], Any], level: int
) -> Iterator[tuple[Any, int]]:
    for index in range(count(parent)):
        each = get(parent, index)
        kind = raw.FPDFPageObj_GetType(each)
        if kind in LOOKED_AT:
            yield each, kind
        elif kind == raw.FPDF_PAGEOBJ_FORM and level < DEEPEST:
            ways = (raw.FPDFFormObj_CountObjects, raw.FPDFFormObj_GetObject)
            yield from _inside(each, *ways, level=level + 1)


def _within(box: Box, ground: Box) -> bool:
    x, y = box.middle
    return ground.left <= x <= ground.right and ground.top <= y <= ground.bottom


def _box(each: Any, mapping: tuple[float, ...]) -> Box | None:
    left, bottom, right, top = (ctypes.c_float() for _ in range(4))
    if not raw.FPDFPageObj_GetBounds(each, left, bottom, right, top):
        return None
    a, b, c, d, e, f = mapping
    x0, y0 = a * left.value + b * top.value + c, d * left.value + e * top.value + f
    x1, y1 = a * right.value + b * bottom.value + c, d * right.value + e * bottom.value + f
    return Box(min(x0, x1), min(y0, y1), max(x0, x1), max(y0, y1))


class _Colour:
    """Asks for the colour that objects are filled with; one place in memory for all of them."""

    def __init__(self) -> None:
        self._parts = tuple(ctypes.c_uint() for _ in range(4))

    def is_white(self, each: Any) -> bool:
        """Whether an object is filled white, or with nothing."""
        red, green, blue, alpha = self._parts
        if not raw.FPDFPageObj_GetFillColor(each, red, green, blue, alpha):
            return False
        if alpha.value < 10:
            return True
        return red.value > 245 and green.value > 245 and blue.value > 245


def doubt_about(
    text: Any, count: int, words: tuple[Word, ...], drawn: OnPage, area: float
) -> Doubt | None:
    """Why the words should be compared with what the page shows; None when they need not.

    Args:
        text: pdfium's text page.
        count: its characters.
        words, drawn: what was found on the page.
        area: the page's, in points squared.
    """
    if not words:
        return Doubt.NONE if drawn.pictures or drawn.lines or count else None
    if _unmapped(text, count) > 0.03:
        return Doubt.UNMAPPED
    if drawn.picture_area > WHOLE_PAGE * area:
        return Doubt.SCAN
    if drawn.unseen:
        return Doubt.UNSEEN
    if _garbled(words):
        return Doubt.GARBLED
    return Doubt.FIGURES if lies(drawn.fonts) else None


def _unmapped(text: Any, count: int) -> float:
    """Share of characters that stand for no letter anybody could name."""
    every = range(0, count, max(1, count // SAMPLES))
    bad = 0
    for index in every:
        code = raw.FPDFText_GetUnicode(text, index)
        private = 0xE000 <= code <= 0xF8FF or code in (0, 0xFFFD)
        bad += private or raw.FPDFText_HasUnicodeMapError(text, index) == 1
    return bad / len(every)


def _garbled(words: tuple[Word, ...]) -> bool:
    """Whether most words of letters have no vowel, or signs abound where letters should be."""
    # Rules of dashes, and dots that lead to an amount, are typed, not garbled.
    texts = [_RULE.sub("", word.text) for word in words]
    letters = [text for text in texts if len(text) >= 4 and text.isalpha()]
    signs = sum(not char.isalnum() for text in texts for char in text)
    every = sum(map(len, texts))
    if every > 100 and signs / every > 0.4:
        return True
    if len(letters) < 15:
        return False
    without = sum(not set(text.lower()) & set("aeiouyäöüáéíóúàèìòùâêîôûåæøąęó") for text in letters)
    return without / len(letters) > 0.4
