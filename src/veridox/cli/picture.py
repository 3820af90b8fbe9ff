"""A page with what was read drawn on it."""

import io
from typing import TYPE_CHECKING

from PIL import Image, ImageDraw

from veridox.core.reading import Field, encode_value

if TYPE_CHECKING:
    from veridox.readerpool import ReadAnswer

INK = (20, 82, 74)
LINE_INK = (150, 96, 24)


def draw(page: bytes, dpi: int, answer: "ReadAnswer") -> bytes:
    """PNG of the first page: a thin box with its name around each value.

    Header fields are drawn in one colour with their names, cells of lines in
    another without.
    """
    picture = Image.open(io.BytesIO(page)).convert("RGB")
    canvas = ImageDraw.Draw(picture, "RGBA")
    scale = dpi / 72
    for reading in answer.readings:
        for row in reading.lines:
            for cell in row.values():
                _box(canvas, cell, scale, LINE_INK, "")
        for name, field in reading.fields.items():
            _box(canvas, field, scale, INK, name)
    out = io.BytesIO()
    picture.save(out, "PNG")
    return out.getvalue()


def _box(
    canvas: ImageDraw.ImageDraw, field: Field, scale: float, ink: tuple[int, int, int], name: str
) -> None:
    if field.box is None or field.page != 1 or encode_value(field.value) is None:
        return
    left, top, right, bottom = (part * scale for part in field.box)
    canvas.rectangle((left - 2, top - 1, right + 2, bottom + 1), outline=ink, fill=(*ink, 22))
    if name:
        width = canvas.textlength(name)
        canvas.rectangle((left - 2, top - 13, left + width + 4, top - 1), fill=(*ink, 225))
        canvas.text((left + 1, top - 13), name, fill=(255, 255, 255))
