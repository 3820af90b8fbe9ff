"""Turn a picture so that its text stands upright: quarter turns and skew."""

import cv2
import numpy as np
from numpy.typing import NDArray

from veridox.core.readers.ocr.detect import THRESHOLD, text_map
from veridox.core.readers.ocr.models import Grey

LOOK = 960
"""Pixels of the longer side that are enough to see which way lines run."""
LEAST_SKEW = 0.12
"""Degrees below which turning costs more sharpness than it gains."""
MOST_SKEW = 15.0

Matrix = NDArray[np.float64]
"""3 x 3, from pixels of one picture to pixels of another."""


def way_of_lines(picture: Grey) -> tuple[bool, float]:
    """Whether lines run up and down, and how many degrees they are off that course.

    A line that falls to the right has a positive angle.
    """
    found, _ = text_map(picture, LOOK)
    mask = (found > THRESHOLD).astype(np.uint8)
    contours, _ = cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    lying: list[tuple[float, float]] = []
    standing: list[tuple[float, float]] = []
    for contour in contours:
        _, (width, height), _ = cv2.minAreaRect(contour)
        long, short = max(width, height), min(width, height)
        if long < 24 or long < 4 * short:
            continue
        course = _course(contour)
        if abs(course) <= 45:
            lying.append((course, long))
        else:
            standing.append((course - 90 if course > 0 else course + 90, long))
    upended = sum(long for _, long in standing) > 1.5 * sum(long for _, long in lying)
    return upended, _middle(standing if upended else lying)


def _course(contour: cv2.typing.MatLike) -> float:
    """Degrees in (-90, 90] along which a patch is longest, from its moments.

    The sides of its bounding rectangle would jump from 0 to half a degree.
    """
    moments = cv2.moments(contour)
    spread = moments["mu20"] - moments["mu02"]
    return float(np.degrees(0.5 * np.arctan2(2 * moments["mu11"], spread)))


def _middle(angles: list[tuple[float, float]]) -> float:
    """The median angle; long lines tell it better by the square of their length."""
    if not angles:
        return 0.0
    half, so_far = sum(long**2 for _, long in angles) / 2, 0.0
    for angle, long in sorted(angles):
        so_far += long**2
        if so_far >= half:
            return angle if abs(angle) <= MOST_SKEW else 0.0
    return 0.0


def quarter_turn(shape: tuple[int, ...], quarters: int) -> tuple[Matrix, tuple[int, int]]:
    """The map of quarter turns clockwise, and the new width and height."""
    height, width = shape[:2]
    rows, size = {
        0: ([[1, 0, 0], [0, 1, 0]], (width, height)),
        1: ([[0, -1, height], [1, 0, 0]], (height, width)),
        2: ([[-1, 0, width], [0, -1, height]], (width, height)),
        3: ([[0, 1, 0], [-1, 0, width]], (height, width)),
    }[quarters % 4]
    return np.array([*rows, [0, 0, 1]], np.float64), size


def straightened(shape: tuple[int, ...], degrees: float) -> Matrix:
    """The map that takes a skew away, about the middle of the picture."""
    height, width = shape[:2]
    turn = cv2.getRotationMatrix2D((width / 2, height / 2), degrees, 1.0)
    return np.vstack([turn, [0, 0, 1]])
