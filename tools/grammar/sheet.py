"""Paper on which words are put with what they state."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import lru_cache

from reportlab.pdfbase.pdfmetrics import stringWidth

from tools.corpus.sheet import font

Part = tuple[str, str]
"""A text and the tag of all its words."""
FAMILIES = {
    "sans": "Liberation Sans", "serif": "Liberation Serif", "mono": "Liberation Mono",
    "narrow": "Liberation Narrow", "wide": "DejaVu Sans", "open": "Open Sans",
}  # fmt: skip
ABOVE, BELOW = 0.94, 0.23
"""How far a word's box reaches from its baseline, in letter sizes, as the readers tell it."""


@lru_cache(maxsize=200_000)
def width_of(text: str, font: str, size: float) -> float:
    """Width of a text in points."""
    return float(stringWidth(text, font, size))


@dataclass(slots=True)
class Put:
    """A word on paper: its box in points from the top left, what it states, how it is drawn."""

    text: str
    left: float
    top: float
    right: float
    bottom: float
    tag: str
    page: int
    size: float
    font: str

    @property
    def baseline(self) -> float:
        """Points from the top."""
        return self.bottom - BELOW * self.size


class Sheet:
    """Pages of one size."""

    def __init__(self, width: float, height: float, family: str) -> None:
        self.width, self.height = width, height
        self.fonts = (font(FAMILIES[family], False), font(FAMILIES[family], True))
        self.words: list[Put] = []
        self.page = 1

    def wide(self, text: str, size: float, *, bold: bool = False) -> float:
        """Width of a text in points."""
        return width_of(text, self.fonts[bold], round(size, 2))

    def put(
        self, x: float, y: float, parts: Sequence[Part], size: float, how: str = "l", *,
        bold: bool = False, spaced: float = 1.0,
    ) -> float:  # fmt: skip
        """Parts in a row whose baseline is y; how: l, r or c for what x is. Returns the width.

        Parts are parted by a space, unless a text begins with "\\b": then it is glued.
        """
        name, size = self.fonts[bold], round(size, 2)
        space = width_of(" ", name, size) * spaced
        pieces: list[tuple[str, str, float, bool]] = []
        total = 0.0
        for text, tag in parts:
            glued = text.startswith("\b")
            for at, word in enumerate(text.lstrip("\b").split()):
                wide = width_of(word, name, size)
                stuck = glued and not at and bool(pieces)
                if pieces and not stuck:
                    total += space
                pieces.append((word, tag, wide, stuck))
                total += wide
        left = x if how == "l" else x - total if how == "r" else x - total / 2
        top, bottom = y - ABOVE * size, y + BELOW * size
        first = len(self.words)
        for word, tag, wide, stuck in pieces:
            if stuck and len(self.words) > first:
                # What is glued is one word for readers; its value says what it states.
                last = self.words[-1]
                last.text += word
                last.right = left + wide
                bracket = last.text[: -len(word)] in ("(", "[")
                last.tag = tag if bracket or not last.tag.startswith(VALUES) else last.tag
                left += wide
                continue
            if len(self.words) > first:
                left += space
            self.words.append(Put(word, left, top, left + wide, bottom, tag, self.page, size, name))
            left += wide
        return total

    def fold(self, text: str, size: float, wide: float, *, bold: bool = False) -> list[str]:
        """A text in rows that are no wider than asked, words kept whole."""
        rows, row = [], ""
        for word in text.split():
            longer = f"{row} {word}".strip()
            if row and self.wide(longer, size, bold=bold) > wide:
                rows.append(row)
                row = word
            else:
                row = longer
        return [*rows, row] if row else rows

    def turn(self) -> None:
        """Go on with a new page."""
        self.page += 1


VALUES = (
    "line.",
    "number",
    "issue",
    "due",
    "seller",
    "buyer",
    "net",
    "tax",
    "gross",
    "amount",
    "account",
)
"""Beginnings of tags of values."""


def drawn(words: Iterable[Put], width: float, height: float) -> bytes:
    """The same pages as a PDF, for readers."""
    import io

    from reportlab.pdfgen.canvas import Canvas

    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(width, height))
    page = 1
    for word in words:
        while word.page > page:
            canvas.showPage()
            page += 1
        canvas.setFont(word.font, word.size)
        canvas.drawString(word.left, height - word.baseline, word.text)
    canvas.save()
    return out.getvalue()
