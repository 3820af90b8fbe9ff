"""Word, Box and code: what stands on pages, and where."""

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum
from typing import NamedTuple


class Box(NamedTuple):
    """A rectangle in points (1/72 inch) from the top left corner of the upright page."""

    left: float
    top: float
    right: float
    bottom: float

    @property
    def width(self) -> float:
        """Width in points."""
        return self.right - self.left

    @property
    def height(self) -> float:
        """Height in points."""
        return self.bottom - self.top

    @property
    def middle(self) -> tuple[float, float]:
        """Centre as x, y in points."""
        return ((self.left + self.right) / 2, (self.top + self.bottom) / 2)

    def rounded(self) -> "Box":
        """To a tenth of a point: finer places mean nothing to a reader."""
        return Box(*(round(part, 1) for part in self))

    @staticmethod
    def around(boxes: Iterable["Box"]) -> "Box":
        """The smallest box that holds all of `boxes` (at least one)."""
        lefts, tops, rights, bottoms = zip(*boxes, strict=True)
        return Box(min(lefts), min(tops), max(rights), max(bottoms))


class WordOrigin(StrEnum):
    """How a word became known."""

    TEXT = "text"  # from the file's own text
    OCR = "ocr"  # recognised from a picture


@dataclass(frozen=True, kw_only=True, slots=True)
class Word:
    """A run of characters without white space.

    Attributes:
        text: as shown, ligatures resolved.
        box: where it stands.
        confidence: in [0, 1]; 1 for the file's own text.
        origin: text layer or OCR.
    """

    text: str
    box: Box
    confidence: float = 1.0
    origin: WordOrigin = WordOrigin.TEXT


@dataclass(frozen=True, kw_only=True, slots=True)
class QrCode:
    """A QR code: what it says, and where it stands."""

    text: str
    box: Box
