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
        mail_parts: most MIME parts of one mail.
        mail_depth: deepest nesting of MIME parts.
    """

    pages: int = 200
    page_side: float = 14_400
    characters: int = 200_000
    pixels: int = 25_000_000
    mail_parts: int = 500
    mail_depth: int = 30
