"""A page: its size and what stands on it."""

from dataclasses import dataclass

from veridox.core.pages.layout import rows_of
from veridox.core.pages.words import QrCode, Word


@dataclass(frozen=True, kw_only=True, slots=True)
class Page:
    """One upright page.

    Attributes:
        number: from 1, in the file's order.
        width, height: in points.
        words: in no promised order; see `rows_of` for reading order.
        pictures: number of raster images on the page (a scan has one and no words).
        codes: QR codes.
        look: how it looks (`core.readers.ocr.look`), where its words were read from its picture.
    """

    number: int
    width: float
    height: float
    words: tuple[Word, ...]
    pictures: int = 0
    codes: tuple[QrCode, ...] = ()
    look: int | None = None

    def text(self) -> str:
        """Plain text in reading order, a line per row of words."""
        return "\n".join(row.text for row in rows_of(self))
