"""Pictures (PNG, JPEG, TIFF, HEIC, WebP, BMP, GIF) as frames to be read."""

import io
import warnings
from collections.abc import Iterator
from dataclasses import dataclass
from typing import TYPE_CHECKING

from PIL import Image, ImageFile, ImageOps

from veridox.core.readers.limits import Limits

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

WORKED_ON = 24_000_000
"""Pixels above which a picture is made smaller first: A4 at 600 dpi is 35 million."""
USUAL_DPI = (90.0, 1_300.0)
"""What scanners and fax machines write; cameras write 72 or nothing."""
USUAL_INCHES = (2.0, 40.0)
SHOWN_DPI = 150
"""Resolution of the upright pictures that people look at."""


class ImageProblemError(Exception):
    """A picture that cannot be read; carries the finding's code and a hint."""

    def __init__(self, code: str, message: str, hint: str) -> None:
        super().__init__(message)
        self.code = code
        self.hint = hint


@dataclass(frozen=True, slots=True)
class Frame:
    """One picture of a file.

    Attributes:
        picture: height x width x 3: red, green, blue; as the camera was held.
        points: width and height in points, where the file tells its resolution.
    """

    picture: "NDArray[np.uint8]"
    points: tuple[float, float] | None


def frames(content: bytes, media_type: str, limits: Limits) -> Iterator[Frame]:
    """All pictures of a file, in its order.

    Raises:
        ImageProblemError: the file is damaged or beyond the limits.
    """
    if media_type == "image/heic":
        import pillow_heif

        pillow_heif.register_heif_opener(thumbnails=False)
    try:
        # Sizes are looked at before anything is unpacked; our limit is the stricter one.
        Image.MAX_IMAGE_PIXELS = None
        # Others in this process may have allowed it: half a picture must never pass as a whole.
        ImageFile.LOAD_TRUNCATED_IMAGES = False
        with warnings.catch_warnings(action="ignore"), Image.open(io.BytesIO(content)) as image:
            # Warnings are of odd tags; what matters shows in the picture.
            count = getattr(image, "n_frames", 1)
            # Of an animation or a burst the first picture is the document.
            count = count if media_type == "image/tiff" else 1
            if count > limits.pages:
                raise ImageProblemError(
                    "file.too_large",
                    f"The file has {count} pages; {limits.pages} are read at most.",
                    "Split it, or ask the vendor for the invoice alone.",
                )
            for number in range(count):
                image.seek(number)
                yield _frame(image, number + 1, limits)
    except (
        OSError, ValueError, SyntaxError, EOFError, TypeError, KeyError, IndexError, OverflowError,
    ) as error:  # fmt: skip
        raise ImageProblemError(
            "file.broken",
            f"The picture cannot be opened; it is damaged or cut off ({len(content):,} bytes).",
            "Ask the vendor to send it again.",
        ) from error


def is_large(content: bytes, limits: Limits) -> bool:
    """Whether unpacking a picture takes much memory; one that will be refused is not large."""
    try:
        with warnings.catch_warnings(action="ignore"), Image.open(io.BytesIO(content)) as image:
            return WORKED_ON < image.width * image.height <= limits.image_pixels
    except (OSError, ValueError, SyntaxError, TypeError, KeyError, IndexError, OverflowError):
        return False


def _frame(image: Image.Image, number: int, limits: Limits) -> Frame:
    import numpy as np  # not wherever mails are handled

    width, height = image.size
    if width * height > limits.image_pixels or min(width, height) < 16:
        raise ImageProblemError(
            "file.too_large" if min(width, height) >= 16 else "file.broken",
            f"Picture {number} measures {width:,} x {height:,} pixels; "
            f"{limits.image_pixels:,} are read at most, and 16 a side at least.",
            "Ask the vendor for a picture of usual size.",
        )
    points = _points(image)
    upright = ImageOps.exif_transpose(image)
    if upright.size != image.size and points:
        points = (points[1], points[0])
    while upright.width * upright.height > WORKED_ON:
        upright = upright.reduce(2)
    return Frame(np.asarray(_on_white(upright), np.uint8), points)


def _points(image: Image.Image) -> tuple[float, float] | None:
    dpi = image.info.get("dpi")
    if not isinstance(dpi, tuple) or len(dpi) != 2:
        return None
    across, down = float(dpi[0]), float(dpi[1])
    inches = [image.width / max(across, 1), image.height / max(down, 1)]
    # A fax may have half as many rows as columns to the inch.
    if all(USUAL_DPI[0] <= each <= USUAL_DPI[1] for each in (across, down)) and all(
        USUAL_INCHES[0] <= each <= USUAL_INCHES[1] for each in inches
    ):
        return inches[0] * 72, inches[1] * 72
    return None


def _on_white(image: Image.Image) -> Image.Image:
    """In colour, with what is transparent as white paper."""
    if image.mode.startswith("I") or image.mode == "F":
        import numpy as np

        levels = np.asarray(image, np.float64)
        top = float(levels.max()) or 1.0
        return Image.fromarray((levels / top * 255).astype(np.uint8)).convert("RGB")
    if image.mode in ("RGBA", "LA", "PA") or "transparency" in image.info:
        cover = image.convert("RGBA")
        paper = Image.new("RGBA", cover.size, "white")
        return Image.alpha_composite(paper, cover).convert("RGB")
    return image.convert("RGB")


def smaller(picture: bytes, dpi: int) -> bytes:
    """An upright picture of a page (JPEG of `SHOWN_DPI`) as PNG, as fine as is asked for."""
    with Image.open(io.BytesIO(picture)) as image:
        share = min(1.0, dpi / SHOWN_DPI)
        size = (max(1, round(image.width * share)), max(1, round(image.height * share)))
        out = io.BytesIO()
        image.resize(size, Image.Resampling.BOX).save(out, "PNG", compress_level=2)
        return out.getvalue()
