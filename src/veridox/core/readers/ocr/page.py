"""A picture of a page, as upright words."""

import re
from dataclasses import dataclass

import cv2
import numpy as np

from veridox.core.pages import Box, QrCode, Word
from veridox.core.pages.tidy import parted
from veridox.core.pages.words import WordOrigin
from veridox.core.readers.codes import codes_of
from veridox.core.readers.ocr.clean import evened, flattened, is_faint, sheet_corners
from veridox.core.readers.ocr.detect import Span, lines_of
from veridox.core.readers.ocr.models import SMALL, TINY, Grey
from veridox.core.readers.ocr.recognise import Sign, read_lines, words_of
from veridox.core.readers.ocr.upright import (
    LEAST_SKEW,
    Matrix,
    quarter_turn,
    straightened,
    way_of_lines,
)

DPI = 200
"""Resolution at which pictures are read."""
A4 = (595.3, 841.9)
"""Points; the size of a page whose size nobody tells."""
UNSURE = 0.97
"""Probability of a line's least sure sign below which it is read a second time."""
WRONG_WAY = 0.8
"""Mean probability below which text may stand on its head."""
_UNPARTED = re.compile(r"\D{0,3}\d{4,}[.,]\d{2}\D{0,3}")
MAYBE_PARTED = 0.98
"""An amount of thousands without a sign between them may have lost one: the apostrophe, as thin
as it is, leaves nothing by which the network could know."""
WITNESSES = 6
"""Lines that are read to see which way is up."""


@dataclass(frozen=True, slots=True)
class Seen:
    """What a picture shows.

    Attributes:
        width, height: of the upright page, in points.
        words: with boxes on the upright page.
        codes: QR codes on the upright page.
        turned: whether the page lies otherwise than in the picture that was given.
        place: from pixels of the picture that was given to points of the page.
    """

    width: float
    height: float
    words: tuple[Word, ...]
    codes: tuple[QrCode, ...]
    turned: bool
    place: Matrix


def read_picture(
    picture: Grey, size: tuple[float, float] | None = None, *, photo: bool = False
) -> Seen:
    """Read a picture.

    Args:
        picture: grey; not yet upright.
        size: width and height in points, where they are known.
        photo: whether it may be a photo of a sheet lying on something.
    """
    place = np.eye(3)
    whole = (picture.shape[1], picture.shape[0])
    corners = sheet_corners(picture) if photo else None
    if corners is not None:
        place, whole = flattened(corners)
        size = None
    across = whole[0] > whole[1]
    points = size or ((A4[1], A4[0]) if across else A4)
    if size is None:  # the shape is known, the size is not
        long = A4[1]
        points = (
            (long, long * whole[1] / whole[0]) if across else (long * whole[0] / whole[1], long)
        )
    # The rows of a fax may be wider apart than its columns.
    wanted = (max(32, round(points[0] * DPI / 72)), max(32, round(points[1] * DPI / 72)))
    place = np.diag([wanted[0] / whole[0], wanted[1] / whole[1], 1.0]) @ place
    work = _through(picture, place, wanted)
    turned = corners is not None
    upended, skew = way_of_lines(work)
    if abs(skew) >= LEAST_SKEW:
        place = straightened((wanted[1], wanted[0]), skew) @ place
    if upended:
        turn, wanted = quarter_turn((wanted[1], wanted[0]), 1)
        place = turn @ place
        points = (points[1], points[0])
    if upended or abs(skew) >= LEAST_SKEW:
        work = _through(picture, place, wanted)
        turned = True
    if is_faint(work):
        work = evened(work)
    lines = lines_of(work)
    if lines and _on_its_head(work, lines):
        turn, _ = quarter_turn(work.shape, 2)
        place = turn @ place
        work = np.ascontiguousarray(work[::-1, ::-1])
        lines = lines_of(work)
        turned = True
    points_per_pixel = 72 / DPI
    return Seen(
        points[0],
        points[1],
        tuple(_words(work, lines, points_per_pixel)),
        codes_of(work, points_per_pixel),
        turned,
        np.diag([points_per_pixel, points_per_pixel, 1.0]) @ place,
    )


def _through(picture: Grey, place: Matrix, size: tuple[int, int]) -> Grey:
    """The picture seen through a map, edges filled with paper."""
    if np.allclose(place, np.diag([place[0, 0], place[1, 1], 1])):
        shrink = size[0] < picture.shape[1]
        how = cv2.INTER_AREA if shrink else cv2.INTER_CUBIC
        return np.asarray(cv2.resize(picture, size, interpolation=how), np.uint8)
    factor = float(np.sqrt(abs(np.linalg.det(place[:2, :2]))))
    if factor < 0.8:
        # Taking one pixel of several makes thin strokes break: blur first.
        picture = np.asarray(cv2.GaussianBlur(picture, (0, 0), 0.4 / factor), np.uint8)
    paper = int(np.median(picture[::8, ::8]))
    return np.asarray(
        cv2.warpPerspective(
            picture, place, size, flags=cv2.INTER_CUBIC,
            borderMode=cv2.BORDER_CONSTANT, borderValue=paper,
        ),
        np.uint8,
    )  # fmt: skip


def _on_its_head(picture: Grey, lines: list[Span]) -> bool:
    """Whether the longest lines read better when they are turned round."""
    longest = sorted(lines, key=lambda line: -line.width)[:WITNESSES]
    upright = _mean(read_lines(picture, longest))
    if upright >= WRONG_WAY:
        return False
    height, width = picture.shape
    turned = np.ascontiguousarray(picture[::-1, ::-1])
    other = [Span(width - x1, height - y1, width - x0, height - y0) for x0, y0, x1, y1 in longest]
    return _mean(read_lines(turned, other)) > upright + 0.05


def _mean(lines: list[tuple[Sign, ...]]) -> float:
    every = [sign.probability for line in lines for sign in line]
    return sum(every) / len(every) if every else 0.0


def _words(picture: Grey, lines: list[Span], scale: float) -> list[Word]:
    first = read_lines(picture, lines, TINY)
    again = [at for at, signs in enumerate(first) if _is_worth_another_look(signs)]
    for at, signs in zip(
        again, read_lines(picture, [lines[at] for at in again], SMALL), strict=True
    ):
        if signs and _least(signs) > _least(first[at]):
            first[at] = signs
    words = [
        Word(
            text=read.text,
            box=Box(
                read.span.left * scale, read.span.top * scale,
                read.span.right * scale, read.span.bottom * scale,
            ),
            confidence=min(read.probability, MAYBE_PARTED)
            if _UNPARTED.fullmatch(read.text)
            else read.probability,
            origin=WordOrigin.OCR,
        )
        for line, signs in zip(lines, first, strict=True)
        for read in words_of(picture, line, signs)
    ]  # fmt: skip
    return [piece for word in words for piece in parted(word)]


def _least(signs: tuple[Sign, ...]) -> float:
    return min((sign.probability for sign in signs), default=0.0)


def _is_worth_another_look(signs: tuple[Sign, ...]) -> bool:
    """A line with figures of which one is unsure; words of prose matter less."""
    return any(sign.text.isdigit() for sign in signs) and _least(signs) < UNSURE
