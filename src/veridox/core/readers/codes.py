"""QR codes of a page's picture."""

from typing import TYPE_CHECKING

from veridox.core.pages import Box, QrCode

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

DPI = 150
"""Resolution at which the smallest payment codes can be read."""
LONGEST = 4_000
"""Characters; a QR code holds fewer (ISO/IEC 18004)."""


def codes_of(picture: "NDArray[np.uint8]", scale: float) -> tuple[QrCode, ...]:
    """The QR codes of an upright picture.

    Args:
        picture: grey, or red, green, blue.
        scale: points for each pixel.
    """
    import zxingcpp  # not wherever mails are handled

    found = []
    for code in zxingcpp.read_barcodes(
        picture, formats=zxingcpp.BarcodeFormats([zxingcpp.BarcodeFormat.QRCode])
    ):
        at = code.position
        corners = (at.top_left, at.top_right, at.bottom_right, at.bottom_left)
        across, down = [each.x * scale for each in corners], [each.y * scale for each in corners]
        box = Box(min(across), min(down), max(across), max(down)).rounded()
        found.append(QrCode(text=code.text[:LONGEST], box=box))
    return tuple(found)
