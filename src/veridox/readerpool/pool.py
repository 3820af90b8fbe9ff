"""The pool: what readers are asked, and what their answers mean."""

import hashlib
import io
import json
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field, fields
from datetime import datetime
from typing import Any, Self

from veridox.core.findings import Finding, Weight
from veridox.core.readers.mail.content import Became, Letter, MailContent, MailFile, MailKind, Part
from veridox.core.reading import ExtraField, Reading, reading_from_json
from veridox.readerpool.crew import (
    OCR_LIMITS,
    TABLE_LIMITS,
    Answer,
    Crew,
    PoolLimits,
    ReaderStoppedError,
)
from veridox.readerpool.old_office import NotConvertedError, as_pdf

CONVERTED = 4
"""Old office files whose PDF is kept at hand."""


def stopped_finding(error: ReaderStoppedError) -> Finding:
    """The finding on the file that stopped a reader."""
    return Finding(
        code="file.limit",
        weight=Weight.BLOCK,
        message=f"{error} The original is kept.",
        found=error.reason,
        hint="Look at the original; enter the values by hand if it is an invoice.",
    )


@dataclass(frozen=True, kw_only=True, slots=True)
class ReadAnswer:
    """What reading a file gave.

    Attributes:
        media_type: as sniffed.
        pages: shape of each page (`number`, `width`, `height`; words when asked for).
        readings: one per document in the file.
        findings: on the file.
        kept: all pages with their words, to be given as `kept` when the file is read again.
        pictures: upright pictures (JPEG) of pages that had to be turned, by number.
    """

    media_type: str = ""
    pages: tuple[dict[str, Any], ...] = ()
    readings: tuple[Reading, ...] = ()
    findings: tuple[Finding, ...] = ()
    kept: bytes = b""
    pictures: dict[int, bytes] = field(default_factory=dict)


@dataclass(frozen=True, kw_only=True, slots=True)
class TableAnswer:
    """What a table says.

    Attributes:
        header: its headings.
        form: how it was read, for people.
        problems: of single cells: `row`, `column`, `message`.
        lines: its rows as JSON lines, `[number, [cell, ...]]`.
    """

    header: tuple[str, ...]
    form: str
    problems: tuple[dict[str, Any], ...]
    lines: bytes

    def rows(self) -> Iterator[tuple[int, list[str]]]:
        """Each row with its number in the file."""
        for line in io.BytesIO(self.lines):
            number, cells = json.loads(line)
            yield number, cells


def _moment(text: str | None) -> datetime | None:
    return datetime.fromisoformat(text) if text else None


def _letter(shape: dict[str, Any] | None) -> Letter | None:
    if shape is None:
        return None
    recipients = tuple(shape["recipients"])
    return Letter(**{**shape, "sent": _moment(shape["sent"]), "recipients": recipients})


def _mail_file(shape: dict[str, Any], content: bytes) -> MailFile:
    within, letter = tuple(shape["within"]), _letter(shape["letter"])
    return MailFile(**{**shape, "content": content, "within": within, "letter": letter})


@dataclass
class ReaderPool:
    """Readers for this process. Thread-safe; use as a context manager or call `close`.

    Pictures are read by readers of their own: the networks take a gigabyte and
    seconds, which no other file is allowed.

    Attributes:
        size: most readers at once, of each kind; they are started when first needed.
        limits, ocr_limits: of the two kinds.
    """

    size: int = 2
    limits: PoolLimits = field(default_factory=PoolLimits)
    ocr_limits: PoolLimits = OCR_LIMITS

    def __post_init__(self) -> None:
        self.plain = Crew(self.size, self.limits)
        self.seeing = Crew(self.size, self.ocr_limits)
        self.tables = Crew(1, TABLE_LIMITS)
        self._converted: dict[bytes, bytes] = {}

    def _read(self, header: dict[str, Any], blobs: list[bytes]) -> Answer:
        """By a plain reader, and by one that reads pictures when that one asks for it."""
        # What was kept of a file is no old office file.
        may = {} if header.get("kept") else {"old_office": "ask"}
        answer, parts = self.plain.run({**header, **may}, blobs)
        if media_type := answer.get("old_office"):
            header, blobs = {**header, "media_type": media_type}, self._as_pdf(blobs, media_type)
            answer, parts = self.plain.run(header, blobs)
        return self.seeing.run(header, blobs) if answer.get("ocr_needed") else (answer, parts)

    def _as_pdf(self, blobs: list[bytes], media_type: str) -> list[bytes]:
        """The file made a PDF, when that can be; pages are asked for one after the other."""
        key = hashlib.sha256(blobs[0]).digest()
        if key not in self._converted:
            try:
                made = as_pdf(blobs[0], media_type)
            except NotConvertedError:
                made = blobs[0]  # the reader says that it cannot be read
            while len(self._converted) >= CONVERTED:
                self._converted.pop(next(iter(self._converted)), None)
            self._converted[key] = made
        return [self._converted.get(key, blobs[0]), *blobs[1:]]

    def read(
        self,
        content: bytes,
        *,
        sha256: str = "",
        name: str = "",
        path: str = "",
        buyers: tuple[tuple[str, str], ...] = (),
        words: bool = False,
        kept: bytes = b"",
        structured: bytes = b"",
        extra: Iterable[ExtraField] = (),
    ) -> ReadAnswer:
        """Read a file. A file that stops a reader gives a finding, not an error.

        Args:
            content: the file.
            sha256, name, path: kept in the reading's source.
            buyers: name and tax id of our own entities.
            words: also return each page's text and words.
            kept: what an earlier reading of the same file gave as `kept`; its pages are
                not looked at again.
            structured: an XML file that came beside it and is the same invoice.
            extra: fields to find beside those of the catalogue.
        """
        header = {
            "task": "read",
            "sha256": sha256,
            "name": name,
            "path": path,
            "buyers": [{"name": buyer, "tax_id": tax_id} for buyer, tax_id in buyers],
            "words": words,
            "extra": [each.to_json() for each in extra],
        }
        try:
            header |= {"kept": bool(kept), "structured": bool(structured)}
            given = [content, kept, structured] if structured else [content, kept]
            answer, blobs = self._read(header, given)
            return ReadAnswer(
                media_type=answer["media_type"],
                pages=tuple(answer["pages"]),
                readings=tuple(reading_from_json(each) for each in answer["readings"]),
                findings=tuple(Finding.from_json(each) for each in answer["findings"]),
                kept=blobs[0],
                pictures=dict(zip(answer["turned"], blobs[1:], strict=True)),
            )
        except ReaderStoppedError as error:
            return ReadAnswer(findings=(stopped_finding(error),))

    def mail(self, content: bytes) -> MailContent:
        """Take a mail apart. Raises ReaderStoppedError when the mail stops the reader."""
        answer, blobs = self.plain.run({"task": "mail"}, [content])
        files = tuple(
            _mail_file(shape, blob) for shape, blob in zip(answer["files"], blobs, strict=True)
        )
        parts = tuple(
            Part(**{**part, "became": Became(part["became"])}) for part in answer["parts"]
        )
        told = {each.name: answer[each.name] for each in fields(MailContent)}
        return MailContent(
            **{
                **told,
                "sent": _moment(answer["sent"]),
                "kind": MailKind(answer["kind"]),
                "recipients": tuple(answer["recipients"]),
                "links": tuple(answer["links"]),
                "defects": tuple(answer["defects"]),
                "forwarded": _letter(answer["forwarded"]),
                "files": files,
                "parts": parts,
            }
        )

    def picture(self, content: bytes, page: int, dpi: int = 110) -> bytes:
        """A page as PNG.

        Raises:
            ReaderStoppedError: the page stops the reader.
            LookupError: the file has no such page or cannot be opened.
        """
        answer, blobs = self._read({"task": "picture", "page": page, "dpi": dpi}, [content])
        if not blobs:
            raise LookupError(answer["problem"]["message"])
        return blobs[0]

    def shown(self, upright: bytes, dpi: int) -> bytes:
        """An upright picture kept from a reading, as PNG. Raises ReaderStoppedError."""
        return self.plain.run({"task": "shown", "dpi": dpi}, [upright])[1][0]

    def words(self, content: bytes, page: int, *, kept: bytes = b"") -> dict[str, Any]:
        """A page's shape, plain text and words with their boxes in points.

        Args:
            content: the file.
            page: number from 1.
            kept: what reading it gave as `kept`; then the content is not needed.

        Raises:
            ReaderStoppedError: the page stops the reader.
            LookupError: the file has no such page or cannot be opened.
        """
        header = {"task": "words", "page": page, "kept": bool(kept)}
        answer, _ = self._read(header, [kept or content])
        if "problem" in answer:
            raise LookupError(answer["problem"]["message"])
        return answer

    def table(self, content: bytes, sheet: str = "") -> TableAnswer:
        """A table of master data (CSV or XLSX) as rows of text.

        Args:
            content: the file.
            sheet: of a spreadsheet; the first one when empty.

        Raises:
            ReaderStoppedError: the file stops the reader.
            LookupError: it is no table; says why.
        """
        answer, blobs = self.tables.run({"task": "table", "sheet": sheet}, [content])
        if "problem" in answer:
            raise LookupError(answer["problem"]["message"])
        return TableAnswer(
            header=tuple(answer["header"]), form=answer["form"],
            problems=tuple(answer["problems"]), lines=blobs[0],
        )  # fmt: skip

    def warm_up(self) -> None:
        """Start all plain readers now, so that whoever comes first need not wait for one."""
        self.plain.warm_up()

    def close(self) -> None:
        """End all idle readers."""
        self.plain.close()
        self.seeing.close()
        self.tables.close()

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_: object) -> None:
        self.close()
