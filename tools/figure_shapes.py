"""Draw the ten figures of the installed free fonts, with which those of PDF files are compared.

python -m tools.figure_shapes
"""

import io
from pathlib import Path

import numpy as np
import pypdfium2 as pdfium
from PIL import Image
from pypdfium2 import raw
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from tools.corpus.sheet import FOLDER
from veridox.core.readers.pdf_digits import FIGURES, SHAPES, outlines, raster

PDFS_OWN = (
    "Helvetica", "Helvetica-Bold", "Helvetica-Oblique", "Times-Roman", "Times-Bold",
    "Times-Italic", "Courier", "Courier-Bold",
)  # fmt: skip

FAMILIES = ("dejavu", "liberation", "open-sans")
"""Folders of Debian's fonts; others that may be installed would change the picture."""


def names() -> list[str]:
    """PDF's own fonts and all those installed that can be embedded."""
    found = list(PDFS_OWN)
    for path in sorted(path for each in FAMILIES for path in (FOLDER / each).glob("*.ttf")):
        pdfmetrics.registerFont(TTFont(path.stem, str(path)))
        found.append(path.stem)
    return found


def row(name: str) -> np.ndarray | None:
    """The ten figures beside each other; None when the font lacks one."""
    out = io.BytesIO()
    canvas = Canvas(out)
    canvas.setFont(name, 12)
    canvas.drawString(72, 700, FIGURES)
    canvas.save()
    document = pdfium.PdfDocument(out.getvalue())
    text = document[0].get_textpage()
    font = raw.FPDFTextObj_GetFont(raw.FPDFText_GetTextObject(text.raw, 1))
    shapes = [raster(paths) if (paths := outlines(font, ord(each))) else None for each in FIGURES]
    found = [shape for shape in shapes if shape is not None]
    return np.hstack(found) if len(found) == len(FIGURES) else None


def main(target: Path = SHAPES) -> None:
    """Write the picture."""
    rows = [found for name in names() if (found := row(name)) is not None]
    Image.fromarray((np.vstack(rows) * 255).round().astype(np.uint8)).save(target, optimize=True)
    print(f"{len(rows)} fonts in {target} ({target.stat().st_size:,} bytes)")


if __name__ == "__main__":
    main()
