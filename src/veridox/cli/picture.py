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
    # The light rim keeps the box visible on dark ground.
    canvas.rectangle((left - 3, top - 2, right + 3, bottom + 2), outline=(255, 255, 255, 160))
    canvas.rectangle((left - 2, top - 1, right + 2, bottom + 1), outline=ink, fill=(*ink, 22))
    if name:
        _tag(canvas, (left, top, right, bottom), ink, name)


def _tag(
    canvas: ImageDraw.ImageDraw,
    box: tuple[float, float, float, float],
    ink: tuple[int, int, int],
    name: str,
) -> None:
    """The name beside its box: to the right where there is room, else to the left.

    Above or below it would cover the labels and values that stand there.
    """
    left, top, right, bottom = box
    width, middle = canvas.textlength(name) + 6, (top + bottom) / 2
    page_width = canvas.im.size[0]
    start = right + 5 if right + 5 + width < page_width - 2 else left - 5 - width
    canvas.rectangle((start, middle - 6, start + width, middle + 6), fill=(*ink, 235))
    canvas.text((start + 3, middle - 6), name, fill=(255, 255, 255))
