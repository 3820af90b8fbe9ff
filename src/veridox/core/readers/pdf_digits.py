"""Whether the figures that a PDF's fonts draw are the figures that its text claims.

A font says by itself which letter each of its shapes stands for, and a file may say it wrongly:
then "4" is on the page, "9" in the text, and nothing about the text looks odd. Amounts and
account numbers are figures, so the shapes of the ten figures are compared with those of known
fonts.
"""

import ctypes
from collections.abc import Iterable, Sequence
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PIL import Image, ImageChops, ImageDraw
from pypdfium2 import raw

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    Shape = NDArray[np.floating]
    """How much of each cell is covered: HIGH rows, WIDE columns, from 0 to 1."""

FIGURES = "0123456789"
WIDE, HIGH = 16, 24
SHAPES = Path(__file__).parent / "digits.png"
"""The figures of known fonts, a font a row; drawn by `python -m tools.figure_shapes`."""
NO_LETTER = 0xF8FF
"""Stands for nothing in any font; shows what a font draws for what it has not."""
CLEARLY, LIKE = 0.06, 0.86
"""A shape is another figure when it is that much more like it, and so much like it at all.

Of 59 fonts none is misjudged by the fonts of other families: in the worst case a figure is 0.04
more like another one, and then at most 0.83 like it."""
_FINE = 3
"""Dots a side of each cell while drawing."""
MOST_JUDGED = 5_000
_judged: dict[tuple[tuple[int, float, float, float, float], ...], bool] = {}
"""Verdicts on fonts by their figures; a reader process is replaced after some files."""

Path_ = list[tuple[float, float]]


def lies(fonts: Iterable[Any]) -> bool:
    """Whether any of the fonts (pdfium's) draws another figure than it says."""
    return any(_lies(font) for font in fonts)


def _lies(font: Any) -> bool:
    # Most invoices come in the same few fonts: looking at their shapes takes milliseconds, at
    # where those begin a fraction of one.
    key = tuple(_beginning(font, code) for code in (NO_LETTER, *map(ord, FIGURES)))
    if key not in _judged:
        if len(_judged) >= MOST_JUDGED:
            _judged.clear()
        _judged[key] = any(claimed != drawn for claimed, drawn in figures_of(font))
    return _judged[key]


def _beginning(font: Any, code: int) -> tuple[int, float, float, float, float]:
    """How many strokes a shape has, and two of their points."""
    glyph = raw.FPDFFont_GetGlyphPath(font, code, 100.0)
    count = raw.FPDFGlyphPath_CountGlyphSegments(glyph) if glyph else 0
    if count <= 0:
        return (0, 0.0, 0.0, 0.0, 0.0)
    x, y, x1, y1 = (ctypes.c_float() for _ in range(4))
    raw.FPDFPathSegment_GetPoint(raw.FPDFGlyphPath_GetGlyphPathSegment(glyph, 0), x, y)
    raw.FPDFPathSegment_GetPoint(raw.FPDFGlyphPath_GetGlyphPathSegment(glyph, count // 2), x1, y1)
    return (count, x.value, y.value, x1.value, y1.value)


def figures_of(font: Any) -> list[tuple[str, str]]:
    """The figures that a font claims to have, and which ones their shapes clearly are."""
    nothing = outlines(font, NO_LETTER)
    found = []
    for figure in FIGURES:
        paths = outlines(font, ord(figure))
        shape = raster(paths) if paths and paths != nothing else None
        if shape is not None:
            found.append((figure, drawn_figure(shape, int(figure))))
    return found


def drawn_figure(shape: "Shape", claimed: int) -> str:
    """Which figure a shape is: the claimed one unless it is clearly another."""
    import numpy as np

    fonts = known().reshape(-1, WIDE * HIGH)
    mine = shape.reshape(-1)
    # Mean squares of differences, multiplied out: one product instead of hundreds of pictures.
    away = (_squares() - 2 * (fonts @ mine) + mine @ mine) / mine.size
    likeness = (1 - away).reshape(-1, len(FIGURES)).max(axis=0)  # the best of all fonts
    best = int(np.argmax(likeness))
    other = likeness[best] > LIKE and likeness[best] > likeness[claimed] + CLEARLY
    return FIGURES[best if other else claimed]


@cache
def _squares() -> "NDArray[np.floating]":
    """Of each known shape: the sum of its squares."""
    fonts = known().reshape(-1, WIDE * HIGH)
    found: NDArray[np.floating] = (fonts * fonts).sum(axis=1)
    return found


@cache
def known() -> "NDArray[np.floating]":
    """Shapes of the ten figures in known fonts: fonts, figures, HIGH, WIDE."""
    import numpy as np

    with Image.open(SHAPES) as picture:
        cells = np.asarray(picture, np.float32) / np.float32(255)
    fonts = cells.shape[0] // HIGH
    return np.ascontiguousarray(cells.reshape(fonts, HIGH, len(FIGURES), WIDE).swapaxes(1, 2))


def outlines(font: Any, code: int) -> list[Path_]:
    """The closed lines of a letter's shape, curves as short straight lines; y counts upwards."""
    glyph = raw.FPDFFont_GetGlyphPath(font, code, 100.0)
    if not glyph:
        return []
    paths: list[Path_] = []
    curve: Path_ = []
    x, y = ctypes.c_float(), ctypes.c_float()
    get_point, get_kind = raw.FPDFPathSegment_GetPoint, raw.FPDFPathSegment_GetType
    for index in range(raw.FPDFGlyphPath_CountGlyphSegments(glyph)):
        segment = raw.FPDFGlyphPath_GetGlyphPathSegment(glyph, index)
        get_point(segment, x, y)
        kind, point = get_kind(segment), (x.value, y.value)
        if kind == raw.FPDF_SEGMENT_MOVETO or not paths:
            paths.append([point])
        elif kind == raw.FPDF_SEGMENT_BEZIERTO:
            curve.append(point)
            if len(curve) == 3:
                paths[-1] += _bent(paths[-1][-1], *curve)
                curve = []
        else:
            paths[-1].append(point)
    return [path for path in paths if len(path) > 2]


def _bent(
    start: tuple[float, float], one: tuple[float, float], two: tuple[float, float],
    end: tuple[float, float],
) -> Path_:  # fmt: skip
    """A curve as two straight lines: the cells are wider than what lies between."""
    x = (start[0] + 3 * (one[0] + two[0]) + end[0]) / 8
    y = (start[1] + 3 * (one[1] + two[1]) + end[1]) / 8
    return [(x, y), end]


def raster(paths: Sequence[Path_]) -> "Shape | None":
    """A shape in cells, stretched to their height; narrow shapes stay narrow. None if flat."""
    import numpy as np

    across, down = ([point[axis] for path in paths for point in path] for axis in (0, 1))
    left, bottom = min(across), min(down)
    width, height = max(across) - left, max(down) - bottom
    if width <= 0 or height <= 0:
        return None
    share = min(1.0, width / height * HIGH / WIDE)
    scale, start = share / width, (1 - share) / 2
    wide, high = WIDE * _FINE - 1, HIGH * _FINE - 1
    whole = Image.new("1", (wide + 1, high + 1))
    for path in paths:
        one = Image.new("1", whole.size)
        dots = [
            (((x - left) * scale + start) * wide, (1 - (y - bottom) / height) * high)
            for x, y in path
        ]
        ImageDraw.Draw(one).polygon(dots, fill=1)
        whole = ImageChops.logical_xor(whole, one)  # a hole lies within its outline
    cells = whole.convert("L").resize((WIDE, HIGH), Image.Resampling.BOX)
    return np.asarray(cells, np.float32) / np.float32(255)
