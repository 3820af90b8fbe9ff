"""A file's bytes as pages, or as findings that say why there are none."""

from dataclasses import dataclass

from veridox.core.findings import Finding, Weight
from veridox.core.findings.wording import counted
from veridox.core.pages import Page
from veridox.core.readers.limits import Limits
from veridox.core.readers.pdf import PdfProblemError, pdf_pages
from veridox.core.readers.sniff import sniff

READABLE = frozenset({"application/pdf"})
"""Media types that become pages."""


@dataclass(frozen=True, kw_only=True, slots=True)
class FilePages:
    """What a file shows.

    Attributes:
        media_type: as sniffed.
        pages: empty when it could not be read; then `findings` says why.
        findings: on the file as a whole.
    """

    media_type: str
    pages: tuple[Page, ...] = ()
    findings: tuple[Finding, ...] = ()


def read_pages(content: bytes, limits: Limits | None = None) -> FilePages:
    """Pages of a file. Bad files give findings; only bugs raise."""
    limits = limits or Limits()
    media_type = sniff(content)
    if not content:
        return _stopped(
            media_type,
            "file.empty",
            "The file has no content (0 bytes).",
            "Ask for it again.",
        )
    if media_type not in READABLE:
        return _stopped(
            media_type,
            "file.broken",
            f"The file is {media_type}; only PDF files are read so far.",
            "Ask for a PDF, or enter the values by hand.",
        )
    try:
        pages = pdf_pages(content, limits)
    except PdfProblemError as problem:
        return _stopped(media_type, problem.code, str(problem), problem.hint)
    findings: list[Finding] = []
    silent = [page.number for page in pages if not page.words]
    if len(silent) == len(pages):
        findings.append(
            Finding(
                code="page.no_text",
                weight=Weight.BLOCK,
                message=f"No text yet: the file shows {counted(len(pages), 'page')} without text; "
                "it looks like a scan.",
                page=1,
                hint="Enter the values at the desk, or ask the vendor for the original PDF.",
            )
        )
    elif silent:
        findings.append(
            Finding(
                code="page.no_text",
                weight=Weight.NOTE,
                message="Without text: page " + ", ".join(map(str, silent)) + ".",
                page=silent[0],
                hint="Look whether these pages hold something that matters.",
            )
        )
    return FilePages(media_type=media_type, pages=pages, findings=tuple(findings))


def _stopped(media_type: str, code: str, message: str, hint: str) -> FilePages:
    finding = Finding(code=code, weight=Weight.BLOCK, message=message, hint=hint)
    return FilePages(media_type=media_type, findings=(finding,))
