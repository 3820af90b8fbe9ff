"""Clean a picture up before it is read: the sheet in a photo, shadows, faint print."""

import cv2
import numpy as np
from numpy.typing import NDArray

from veridox.core.readers.ocr.models import Grey
from veridox.core.readers.ocr.upright import Matrix

LEAST_SHEET, MOST_SHEET = 0.25, 0.97
"""Share of a photo that a sheet of paper takes."""
LEAST_SIDES = 3
"""Sides on which ground must show: a dark band across a page has only one."""
EDGE = 0.008
"""Share of the longer side that is ground, not an uneven edge."""
FAINT = 110
"""Grey levels between paper and print below which print is faint."""
UNEVEN = 60
"""Grey levels between the lightest and the darkest paper of a page that is not evenly lit."""
BLANK = 215.0
"""Share of the paper's light, of 255, above which nothing is print."""


def sheet_corners(picture: Grey) -> NDArray[np.float32] | None:
    """The corners of a light sheet on a darker ground, clockwise from the top left.

    None when the picture is the sheet itself.
    """
    scale = 800 / max(picture.shape)
    small = cv2.resize(picture, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
    small = cv2.GaussianBlur(small, (0, 0), 2)
    level, mask = cv2.threshold(small, 0, 255, cv2.THRESH_BINARY | cv2.THRESH_OTSU)
    # Print and shadows on the sheet are holes in it, not its end.
    mask = cv2.morphologyEx(mask, cv2.MORPH_CLOSE, np.ones((25, 25), np.uint8))
    contours, _ = cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    if not contours:
        return None
    hull = cv2.convexHull(max(contours, key=cv2.contourArea))
    share = cv2.contourArea(hull) / small.size
    if not LEAST_SHEET < share < MOST_SHEET:
        return None
    outside = np.full(small.shape, 255, np.uint8)
    cv2.fillConvexPoly(outside, hull, 0)
    if small[outside > 0].mean() > level - 15:
        return None  # what is left over is as light as the sheet: a margin, no ground
    length = cv2.arcLength(hull, closed=True)
    for part in (0.02, 0.03, 0.05, 0.08):
        corners = cv2.approxPolyDP(hull, part * length, closed=True)
        if len(corners) == 4:
            found = _clockwise(corners.reshape(4, 2).astype(np.float32) / np.float32(scale))
            return found if _ground_around(found, picture.shape) >= LEAST_SIDES else None
    return None


def _ground_around(corners: NDArray[np.float32], shape: tuple[int, ...]) -> int:
    """On how many of its four sides something else than the sheet is to be seen."""
    high, wide = shape[:2]
    edge = EDGE * max(high, wide)
    top_left, top_right, bottom_right, bottom_left = corners
    return (
        int(min(top_left[0], bottom_left[0]) > edge)
        + int(max(top_right[0], bottom_right[0]) < wide - edge)
        + int(min(top_left[1], top_right[1]) > edge)
        + int(max(bottom_left[1], bottom_right[1]) < high - edge)
    )


def _clockwise(corners: NDArray[np.float32]) -> NDArray[np.float32]:
    total, difference = corners.sum(axis=1), np.diff(corners, axis=1)[:, 0]
    order = [total.argmin(), difference.argmin(), total.argmax(), difference.argmax()]
    return corners[order]


def flattened(corners: NDArray[np.float32]) -> tuple[Matrix, tuple[int, int]]:
    """The map that makes a sheet a rectangle, and its width and height in pixels."""
    top, right, bottom, left = (
        float(np.linalg.norm(corners[at] - corners[(at + 1) % 4])) for at in range(4)
    )
    width, height = round(max(top, bottom)), round(max(left, right))
    target = np.array([[0, 0], [width, 0], [width, height], [0, height]], np.float32)
    matrix = cv2.getPerspectiveTransform(corners.astype(np.float32), target)
    return np.asarray(matrix, np.float64), (width, height)


def is_faint(picture: Grey) -> bool:
    """Whether print stands out little from the paper, or the paper is not evenly lit."""
    small = cv2.resize(picture, (400, 560), interpolation=cv2.INTER_AREA)
    light = float(np.percentile(small, 90))
    # A short letter has little ink: the darkest few pixels tell, not the average.
    dark = float(np.percentile(picture[::2, ::2], 0.05))
    places = [
        small[y : y + 140, x : x + 100] for y in range(0, 560, 140) for x in range(0, 400, 100)
    ]
    papers = [float(np.percentile(place, 85)) for place in places]
    return light - dark < FAINT or max(papers) - min(papers) > UNEVEN


def evened(picture: Grey) -> Grey:
    """The paper made white everywhere and the print stretched to black.

    The paper is what is left when print is taken away (dilation, median) at a
    quarter of the size; the picture is divided by it.
    """
    quarter = cv2.resize(picture, None, fx=0.25, fy=0.25, interpolation=cv2.INTER_AREA)
    paper = cv2.medianBlur(cv2.dilate(quarter, np.ones((9, 9), np.uint8)), 31)
    paper = cv2.GaussianBlur(paper, (0, 0), 7)
    whole = cv2.resize(paper, (picture.shape[1], picture.shape[0]))
    even = np.minimum(picture / np.maximum(whole.astype(np.float32), 1) * 255, 255)
    dark = min(float(np.percentile(even[::2, ::2], 0.1)), BLANK)
    stretched = (even - dark) * (255 / (250 - dark))
    clean = np.clip(stretched, 0, 255).astype(np.uint8)
    return np.asarray(cv2.GaussianBlur(clean, (0, 0), 0.8), np.uint8)
