"""Find the lines of text of an upright picture."""

import cv2
import numpy as np

from veridox.core.pages import Box
from veridox.core.readers.ocr.models import Floats, Grey, detector

LONGEST = 1_600
"""Pixels of the longer side that the network sees; more finds no more lines."""
THRESHOLD = 0.2
"""From which probability on a pixel belongs to a line."""
SURE = 0.4
"""Mean probability of a line that is believed."""
GROWTH = 1.4
"""The network marks the core of a line; this much of area by circumference is added."""
_MEAN = np.array([0.485, 0.456, 0.406], np.float32)
_SPREAD = np.array([0.229, 0.224, 0.225], np.float32)


class Span(Box):
    """A line's rectangle, in pixels of the picture."""

    __slots__ = ()


def text_map(picture: Grey, longest: int = LONGEST) -> tuple[Floats, float]:
    """How likely each pixel is text, on a smaller picture; and how much smaller it is."""
    height, width = picture.shape
    scale = min(1.0, longest / max(height, width))
    wide = max(32, round(width * scale / 32) * 32)
    high = max(32, round(height * scale / 32) * 32)
    small = cv2.resize(picture, (wide, high), interpolation=cv2.INTER_AREA)
    colour = np.repeat(small[..., None], 3, axis=2).astype(np.float32) / 255
    batch = ((colour - _MEAN) / _SPREAD).transpose(2, 0, 1)[None]
    return detector().run(np.ascontiguousarray(batch))[0, 0], scale


def lines_of(picture: Grey) -> list[Span]:
    """The lines of an upright picture, from top to bottom."""
    found, _ = text_map(picture)
    high, wide = found.shape
    x_scale, y_scale = picture.shape[1] / wide, picture.shape[0] / high
    mask = (found > THRESHOLD).astype(np.uint8)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(mask, connectivity=4)
    lines = []
    for label in range(1, count):
        x, y, width, height, area = (int(value) for value in stats[label])
        if height < 3 or width < 3:
            continue
        inside = labels[y : y + height, x : x + width] == label
        if float(found[y : y + height, x : x + width][inside].mean()) < SURE:
            continue
        grow = area * GROWTH / (2 * (width + height))
        lines.append(
            Span(
                max(0.0, (x - grow) * x_scale),
                max(0.0, (y - grow) * y_scale),
                min(float(picture.shape[1]), (x + width + grow) * x_scale),
                min(float(picture.shape[0]), (y + height + grow) * y_scale),
            )
        )
    return sorted(lines, key=lambda line: (line.top, line.left))
