"""Types of files: one row for each says what it is called, known by, and opened as.

To have another kind of file read, add its row, and where it is not opened as one of those that
are there, a reader for it in `core/readers`.
"""

from dataclasses import dataclass
from enum import StrEnum
from typing import Final


class Opened(StrEnum):
    """How a file becomes pages, or that it does not."""

    PAGES = "pages"  # it has pages of its own
    PICTURE = "picture"  # its words are recognised
    OFFICE = "office"  # laid out on paper
    OLD_OFFICE = "old office"  # another program has to make a PDF of it
    STRUCTURED = "structured"  # an invoice for machines; its values are laid out, too
    WORDS = "words"  # laid out on paper
    MAIL = "mail"  # taken apart
    NOT = "not"  # kept with its mail


class Beside(StrEnum):
    """What a file of a mail is where another one beside it is surely a bill."""

    BILL = "bill"
    SUPPORTS = "supports"
    DRESS = "dress"  # a badge or a logo, where it is small or stands in the text


@dataclass(frozen=True, kw_only=True, slots=True)
class FileType:
    """A type of file.

    Attributes:
        media_type: as its content is sniffed.
        ending: usual end of its name, with the point; empty where there is none.
        name: what pipelines call it; empty where it is never read.
        opened: how it becomes pages.
        starts: bytes that its content begins with; told by more than that where empty.
        listed: whether files of mails are read only where the pipeline lists it.
        beside: what it is beside a bill.
    """

    media_type: str
    ending: str = ""
    name: str = ""
    opened: Opened = Opened.NOT
    starts: tuple[bytes, ...] = ()
    listed: bool = False
    beside: Beside = Beside.BILL


_OPEN_XML = "application/vnd.openxmlformats-officedocument."
_PICTURE, _OFFICE, _OLD = Opened.PICTURE, Opened.OFFICE, Opened.OLD_OFFICE
PDF: Final = "application/pdf"
XML: Final = "application/xml"
DOCX: Final = _OPEN_XML + "wordprocessingml.document"
XLSX: Final = _OPEN_XML + "spreadsheetml.sheet"
CSV: Final = "text/csv"
TIFF: Final = "image/tiff"
HTML: Final = "text/html"
PLAIN: Final = "text/plain"
OUTLOOK: Final = "application/vnd.ms-outlook"
TNEF: Final = "application/ms-tnef"
ZIP: Final = "application/zip"


def _picture(name: str, ending: str, *starts: bytes, listed: bool = False) -> FileType:
    return FileType(
        media_type=f"image/{name}", ending=ending, name=name, opened=_PICTURE, starts=starts,
        listed=listed, beside=Beside.DRESS,
    )  # fmt: skip


def _office(name: str, media_type: str, opened: Opened = _OFFICE, *starts: bytes) -> FileType:
    return FileType(
        media_type=media_type, ending=f".{name}", name=name, opened=opened, starts=starts,
        beside=Beside.SUPPORTS,
    )  # fmt: skip


FILE_TYPES: Final = (
    FileType(media_type=PDF, ending=".pdf", name="pdf", opened=Opened.PAGES),
    _picture("tiff", ".tif", b"II*\x00", b"MM\x00*"),
    _picture("png", ".png", b"\x89PNG\r\n\x1a\n"),
    _picture("jpeg", ".jpg", b"\xff\xd8\xff"),
    _picture("heic", ".heic"),
    _picture("webp", ".webp"),
    _picture("bmp", ".bmp"),
    # In mails they dress letters; nobody sends a bill as one without saying so.
    _picture("gif", ".gif", b"GIF87a", b"GIF89a", listed=True),
    _office("docx", DOCX),
    _office("xlsx", XLSX),
    _office("csv", CSV),
    _office("doc", "application/msword", _OLD),
    _office("xls", "application/vnd.ms-excel", _OLD),
    _office("rtf", "application/rtf", _OLD, b"{\\rtf"),
    FileType(media_type=HTML, ending=".html", name="html", opened=Opened.WORDS, listed=True),
    FileType(media_type=PLAIN, ending=".txt", name="text", opened=Opened.WORDS, listed=True),
    FileType(
        media_type=XML, ending=".xml", name="xml", opened=Opened.STRUCTURED,
        beside=Beside.SUPPORTS,
    ),
    FileType(media_type="message/rfc822", ending=".eml", opened=Opened.MAIL),
    FileType(media_type=OUTLOOK, ending=".msg", opened=Opened.MAIL),
    FileType(media_type=ZIP, ending=".zip"),
    FileType(media_type="text/calendar", ending=".ics"),
    FileType(media_type="text/vcard", ending=".vcf"),
    FileType(media_type=TNEF, starts=(b"x\x9f>\x22",)),
    FileType(media_type="application/x-7z-compressed", starts=(b"7z\xbc\xaf\x27\x1c",)),
    FileType(media_type="application/vnd.rar", starts=(b"Rar!\x1a\x07",)),
    FileType(media_type="application/gzip", starts=(b"\x1f\x8b",)),
    FileType(media_type="application/x-msdownload", starts=(b"MZ",)),
    FileType(media_type="application/x-elf", starts=(b"\x7fELF",)),
)  # fmt: skip
_BY_MEDIA = {each.media_type: each for each in FILE_TYPES}
NAMED: Final = {each.name: each for each in FILE_TYPES if each.name}
"""Types that pipelines may list, by the names that they use."""


def file_type(media_type: str) -> FileType:
    """The row of a media type; one that nothing is known of is kept unopened."""
    return _BY_MEDIA.get(media_type) or FileType(media_type=media_type)


def opened_as(*ways: Opened) -> frozenset[str]:
    """Media types that are opened in one of these ways."""
    return frozenset(each.media_type for each in FILE_TYPES if each.opened in ways)


MAILS: Final = opened_as(Opened.MAIL)
"""Media types of mails."""
