"""What a file shows once it was opened; no reader is needed to know it."""

from dataclasses import dataclass, field

from veridox.core.findings import Finding
from veridox.core.pages import Page


@dataclass(frozen=True, kw_only=True, slots=True)
class FilePages:
    """What a file shows.

    Attributes:
        media_type: as sniffed.
        pages: empty when it could not be read; then `findings` says why.
        findings: on the file as a whole.
        xml: XML files: the file itself, or those inside a PDF.
        pictures: upright pictures (JPEG) of pages that had to be turned, by number;
            boxes of words lie on them. Other pages are drawn from the file.
    """

    media_type: str
    pages: tuple[Page, ...] = ()
    findings: tuple[Finding, ...] = ()
    xml: tuple[bytes, ...] = ()
    pictures: dict[int, bytes] = field(default_factory=dict)
