"""Pictures in colour: made grey to be read, and shown as they were read."""

import cv2
import numpy as np
from numpy.typing import NDArray

from veridox.core.readers.image import SHOWN_DPI
from veridox.core.readers.ocr.models import Grey
from veridox.core.readers.ocr.page import Seen

QUALITY = 82


def grey_of(picture: NDArray[np.uint8]) -> Grey:
    """Grey levels of a picture (red, green, blue).

    Half of it is the lightest of the three, so that coloured stamps fade where they
    cross black print; coloured print stays dark enough to be read.
    """
    plain = cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY)
    return np.asarray(cv2.addWeighted(plain, 0.5, picture.max(axis=2), 0.5, 0), np.uint8)


def upright_of(picture: NDArray[np.uint8], seen: Seen) -> NDArray[np.uint8]:
    """The picture as the page lies: its pixels, `SHOWN_DPI` to the inch, lie as its points do."""
    scale = SHOWN_DPI / 72
    size = (round(seen.width * scale), round(seen.height * scale))
    place = np.diag([scale, scale, 1.0]) @ seen.place
    shown = cv2.warpPerspective(
        picture, place, size, flags=cv2.INTER_AREA,
        borderMode=cv2.BORDER_CONSTANT, borderValue=(255, 255, 255),
    )  # fmt: skip
    return np.asarray(shown, np.uint8)


def as_jpeg(upright: NDArray[np.uint8]) -> bytes:
    """A picture (red, green, blue) as a JPEG file."""
    shown = cv2.cvtColor(upright, cv2.COLOR_RGB2BGR)
    _, data = cv2.imencode(".jpg", shown, [cv2.IMWRITE_JPEG_QUALITY, QUALITY])
    return bytes(data)
