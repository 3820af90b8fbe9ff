"""A page that is drawn and remembers where every word stands."""

import io
from dataclasses import dataclass, field
from functools import cache
from pathlib import Path

from reportlab.lib.pagesizes import A4
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

WIDTH, HEIGHT = A4
FOLDER = Path("/usr/share/fonts/truetype")
FONTS: dict[str, tuple[str, str]] = {
    "Helvetica": ("Helvetica", "Helvetica-Bold"),
    "Times": ("Times-Roman", "Times-Bold"),
    "Courier": ("Courier", "Courier-Bold"),
    "DejaVu Sans": ("dejavu/DejaVuSans", "dejavu/DejaVuSans-Bold"),
    "DejaVu Serif": ("dejavu/DejaVuSerif", "dejavu/DejaVuSerif-Bold"),
    "Liberation Sans": ("liberation/LiberationSans-Regular", "liberation/LiberationSans-Bold"),
    "Liberation Serif": ("liberation/LiberationSerif-Regular", "liberation/LiberationSerif-Bold"),
    "Liberation Mono": ("liberation/LiberationMono-Regular", "liberation/LiberationMono-Bold"),
    "Liberation Narrow": (
        "liberation/LiberationSansNarrow-Regular", "liberation/LiberationSansNarrow-Bold",
    ),
    "Open Sans": ("open-sans/OpenSans-Regular", "open-sans/OpenSans-Bold"),
}  # fmt: skip
"""Plain and bold: PDF's own fonts, and those of Debian's packages by their file."""


@cache
def font(family: str, bold: bool) -> str:
    """The name under which a font can be drawn. Raises LookupError when it is not installed."""
    name = FONTS[family][bold]
    if "/" not in name:
        return name
    path = FOLDER / f"{name}.ttf"
    if not path.exists():
        raise LookupError(f"the font {path} is not installed")
    pdfmetrics.registerFont(TTFont(path.stem, str(path)))
    return path.stem


@dataclass(frozen=True, slots=True)
class Drawn:
    """A word as it was drawn.

    Attributes:
        text: without white space.
        left, top, right, bottom: points from the top left corner.
        token: which key token (amount, date, id, account) it belongs to; 0 for none.
        page: number from 1.
    """

    text: str
    left: float
    top: float
    right: float
    bottom: float
    token: int
    page: int


@dataclass
class Sheet:
    """Pages to draw on; y counts from the top."""

    family: str
    size: float
    words: list[Drawn] = field(default_factory=list)
    tokens: int = 0
    page: int = 1

    def __post_init__(self) -> None:
        self._out = io.BytesIO()
        self.canvas = Canvas(self._out, pagesize=A4, invariant=1)

    def text(
        self,
        x: float,
        y: float,
        text: str,
        *,
        bold: bool = False,
        size: float = 0,
        right: bool = False,
        key: bool = False,
        grey: float = 0.0,
    ) -> float:
        """Draw a line with its baseline at y. Returns where it ends.

        Args:
            x: left end, or right end with `right`.
            key: its words together are one key token.
            grey: 0 black to 1 white.
        """
        size = size or self.size
        name = font(self.family, bold)
        width = pdfmetrics.stringWidth(text, name, size)
        at = x - width if right else x
        self.canvas.setFont(name, size)
        self.canvas.setFillGray(grey)
        self.canvas.drawString(at, HEIGHT - y, text)
        if key:
            self.tokens += 1
        ascent, descent = pdfmetrics.getAscentDescent(name, size)
        start = 0
        for word in text.split():
            start = text.index(word, start)
            left = at + pdfmetrics.stringWidth(text[:start], name, size)
            start += len(word)
            wide = pdfmetrics.stringWidth(word, name, size)
            token = self.tokens if key else 0
            self.words.append(
                Drawn(word, left, y - ascent, left + wide, y - descent, token, self.page)
            )
        return at + width

    def width(self, text: str, *, bold: bool = False, size: float = 0) -> float:
        """Points that a text takes."""
        return float(pdfmetrics.stringWidth(text, font(self.family, bold), size or self.size))

    def rule(self, x0: float, y0: float, x1: float, y1: float, width: float = 0.6) -> None:
        """A line."""
        self.canvas.setLineWidth(width)
        self.canvas.setStrokeGray(0)
        self.canvas.line(x0, HEIGHT - y0, x1, HEIGHT - y1)

    def box(self, x: float, y: float, width: float, height: float, fill: float) -> None:
        """A filled box with its top left corner at x, y; fill is a grey."""
        self.canvas.setFillGray(fill)
        self.canvas.rect(x, HEIGHT - y - height, width, height, stroke=0, fill=1)

    def next_page(self) -> None:
        """Begin another page."""
        self.canvas.showPage()
        self.page += 1

    def pdf(self) -> bytes:
        """All pages as a PDF file; to be called once."""
        self.canvas.showPage()
        self.canvas.save()
        return self._out.getvalue()
