"""What is drawn on a page of a PDF beside its words, and whether the words can be believed."""

import ctypes
import re
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

import pypdfium2 as pdfium
from pypdfium2 import raw

from veridox.core.pages import Box, Word
from veridox.core.readers.pdf_digits import lies

THIN = 3.0
"""Points; a thinner box is a line."""
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
        rules: lines and filled cells.
        shapes: small filled shapes, of which drawn QR codes have hundreds.
        unseen: text objects that are not painted, or painted white.
        fonts: of the words, as pdfium knows them while the page is open.
    """

    pictures: int
    picture_area: float
    rules: tuple[Box, ...]
    shapes: int
    unseen: int
    fonts: tuple[Any, ...]


def drawn_on(page: pdfium.PdfPage, mapping: tuple[float, ...]) -> OnPage:
    """Look at the objects of a page.

    Args:
        page: open.
        mapping: from PDF coordinates to points from the upright top left corner.
    """
    pictures, unpainted, shapes, area = 0, 0, 0, 0.0
    rules: list[Box] = []
    grounds: list[Box] = []
    white: list[Box] = []
    fonts: dict[int, Any] = {}
    kinds = (raw.FPDF_PAGEOBJ_IMAGE, raw.FPDF_PAGEOBJ_PATH, raw.FPDF_PAGEOBJ_TEXT)
    for number, each in enumerate(page.get_objects(filter=kinds, max_depth=4)):
        if number >= MOST_OBJECTS:
            break
        is_text = each.type == raw.FPDF_PAGEOBJ_TEXT
        if is_text and (font := raw.FPDFTextObj_GetFont(each.raw)):
            fonts.setdefault(ctypes.addressof(font.contents), font)
        if is_text and not _is_unpainted(each.raw) and not _is_white(each.raw):
            continue  # most objects are plain words
        box = _box(each.raw, mapping)
        if box is None:
            continue
        if is_text:
            if _is_unpainted(each.raw):
                unpainted += 1
            else:
                white.append(box)
        elif each.type == raw.FPDF_PAGEOBJ_IMAGE:
            pictures += 1
            area += box.width * box.height
            grounds.append(box)
        elif max(box.width, box.height) >= LEAST_LINE:
            rules.append(box.rounded())
            if not _is_white(each.raw):
                grounds.append(box)
        else:
            shapes += 1
    # White words on a dark band are there for all to see.
    hidden = sum(not any(_within(box, ground) for ground in grounds) for box in white)
    return OnPage(
        pictures=pictures,
        picture_area=area,
        rules=tuple(dict.fromkeys(rules)),
        shapes=shapes,
        unseen=unpainted + hidden,
        fonts=tuple(fonts.values()),
    )


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


def _is_unpainted(each: Any) -> bool:
    mode = raw.FPDFTextObj_GetTextRenderMode(each)
    return mode in (raw.FPDF_TEXTRENDERMODE_INVISIBLE, raw.FPDF_TEXTRENDERMODE_CLIP)


def _is_white(each: Any) -> bool:
    red, green, blue, alpha = (ctypes.c_uint() for _ in range(4))
    if not raw.FPDFPageObj_GetFillColor(each, red, green, blue, alpha):
        return False
    return alpha.value < 10 or min(red.value, green.value, blue.value) > 245


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
        return Doubt.NONE if drawn.pictures or drawn.rules or count else None
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
