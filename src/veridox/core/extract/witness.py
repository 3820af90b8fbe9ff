"""What the words under a value say about it: recognised words make a value less sure."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

from veridox.core.pages import Page, Word
from veridox.core.pages.words import WordOrigin
from veridox.core.reading import ON_PAGE, Field, Origin, Reading


def witnessed(reading: Reading, pages: Sequence[Page]) -> Reading:
    """The reading with the origin and doubt of recognised words in its values."""
    recognised = {
        page.number: [word for word in page.words if word.origin is WordOrigin.OCR]
        for page in pages
    }
    if not any(recognised.values()):
        return reading

    def row(cells: Mapping[str, Field]) -> dict[str, Field]:
        return {name: _field(cell, recognised) for name, cell in cells.items()}

    return replace(
        reading,
        fields=row(reading.fields),
        lines=tuple(row(line) for line in reading.lines),
        tax_lines=tuple(row(line) for line in reading.tax_lines),
    )


def _field(field: Field, recognised: Mapping[int, Sequence[Word]]) -> Field:
    if field.box is None or field.page is None or field.origin not in ON_PAGE:
        return field
    box = field.box
    under = [
        word
        for word in recognised.get(field.page, ())
        if box.left - 0.5 <= word.box.middle[0] <= box.right + 0.5
        and box.top - 0.5 <= word.box.middle[1] <= box.bottom + 0.5
    ]
    if not under:
        return field
    least = min(word.confidence for word in under)
    return replace(field, origin=Origin.OCR, confidence=field.confidence * least)
