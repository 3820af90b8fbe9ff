"""Straight lines of a picture, as tables are ruled with."""

import cv2
import numpy as np

from veridox.core.pages import Box
from veridox.core.readers.ocr.models import Grey

SHORTEST = 30
"""Pixels of the half-size picture: at 200 dpi some 8 mm; no letter has a stroke as long."""
THICKEST = 5


def rules_of(picture: Grey, scale: float) -> tuple[Box, ...]:
    """Lying and standing lines of an upright picture.

    Args:
        picture: grey.
        scale: points for each pixel.
    """
    half = cv2.resize(picture, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA)
    scale *= 2
    ink = cv2.adaptiveThreshold(
        half, 255, cv2.ADAPTIVE_THRESH_MEAN_C, cv2.THRESH_BINARY_INV, 21, 10
    )
    found = []
    for shape in ((SHORTEST, 1), (1, SHORTEST)):
        lines = cv2.morphologyEx(ink, cv2.MORPH_OPEN, np.ones(shape[::-1], np.uint8))
        count, _, stats, _ = cv2.connectedComponentsWithStats(lines, connectivity=8)
        for x, y, width, height, _ in stats[1:count]:
            if min(width, height) <= THICKEST:
                box = Box(x * scale, y * scale, (x + width) * scale, (y + height) * scale)
                found.append(box.rounded())
    return tuple(found)
