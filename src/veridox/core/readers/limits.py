"""Limits that no honest document reaches."""

from dataclasses import dataclass


@dataclass(frozen=True, kw_only=True, slots=True)
class Limits:
    """What a reader accepts.

    Attributes:
        pages: most pages of one file.
        page_side: longest side of a page in points (14,400 is PDF's own limit).
        characters: most characters of text on one page.
        pixels: most pixels of one rendered picture.
        image_pixels: most pixels of a picture that was sent.
        cells: most cells of one sheet.
        mail_parts: most MIME parts of one mail.
        mail_depth: deepest nesting of parts, mails within mails and archives.
        archive_files: most files of one archive.
        archive_bytes: most bytes taken out of one archive.
        archive_ratio: most that a file of an archive may grow.
    """

    pages: int = 200
    page_side: float = 14_400
    characters: int = 200_000
    pixels: int = 25_000_000
    image_pixels: int = 90_000_000
    cells: int = 50_000
    mail_parts: int = 500
    mail_depth: int = 30
    archive_files: int = 200
    archive_bytes: int = 64 * 2**20
    archive_ratio: float = 200.0
