"""Records of the service as frozen values. `raw` holds everything the service sent."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from decimal import Decimal
from pathlib import Path
from typing import Any

from veridox.client.readings import Reading, reading_of

Raw = Mapping[str, Any]


@dataclass(frozen=True, kw_only=True, slots=True)
class Finding:
    """What a check says about a document."""

    code: str
    weight: str
    message: str
    fields: tuple[str, ...]
    expected: str | None
    found: str | None
    difference: str | None
    hint: str | None
    page: int | None


@dataclass(frozen=True, kw_only=True, slots=True)
class Posting:
    """What became of a document in the ledger; `problem` says what holds it up."""

    id: str
    state: str
    number: str
    link: str
    problem: str


@dataclass(frozen=True, kw_only=True, slots=True)
class Document:
    """A document. `order` is the first of its `orders`, all that it names and that are known;
    `reading` is there when it was fetched alone, not from a list."""

    id: int
    version: int
    state: str
    kind: str
    number: str
    seller_name: str
    vendor: str | None
    order: str | None
    orders: tuple[str, ...]
    currency: str
    gross_total: Decimal | None
    queue: str
    reasons: tuple[str, ...]
    findings: tuple[Finding, ...]
    posting: Posting | None
    file: int
    file_name: str
    pipeline: str
    pipeline_version: int
    received_at: datetime
    reading: Reading
    raw: Raw


@dataclass(frozen=True, kw_only=True, slots=True)
class File:
    """A file; `documents` is filled by `files.wait` and `files.get`."""

    id: int
    name: str
    state: str
    reason: str
    media_type: str
    sha256: str
    findings: tuple[Finding, ...]
    document_ids: tuple[int, ...]
    documents: tuple[Document, ...]
    raw: Raw


def finding_of(data: Raw) -> Finding:
    """From JSON."""
    return Finding(
        code=data["code"],
        weight=data["weight"],
        message=data["message"],
        fields=tuple(data["fields"]),
        expected=data["expected"],
        found=data["found"],
        difference=data["difference"],
        hint=data["hint"],
        page=data["page"],
    )


def document_of(data: Raw) -> Document:
    """From JSON, of a list or alone."""
    posting = data.get("posting")
    total = data.get("gross_total")
    return Document(
        id=data["id"],
        version=data["version"],
        state=data["state"],
        kind=data["kind"],
        number=data["number"],
        seller_name=data["seller_name"],
        vendor=data["vendor"],
        order=data["order"],
        orders=tuple(data["orders"]),
        currency=data["currency"],
        gross_total=Decimal(total) if total is not None else None,
        queue=data["queue"],
        reasons=tuple(data["reasons"]),
        findings=tuple(finding_of(each) for each in data.get("findings") or ()),
        posting=_posting(posting) if posting else None,
        file=data["file"],
        file_name=data["file_name"],
        pipeline=data["pipeline"],
        pipeline_version=data["pipeline_version"],
        received_at=datetime.fromisoformat(data["received_at"]),
        reading=reading_of(data.get("reading") or {}),
        raw=data,
    )


def _posting(data: Raw) -> Posting:
    return Posting(
        id=data["id"],
        state=data["state"],
        number=data["number"],
        link=data["link"],
        problem=data["problem"],
    )


def file_of(data: Raw, documents: tuple[Document, ...] = ()) -> File:
    """From JSON, with documents that were fetched for it."""
    return File(
        id=data["id"],
        name=data["name"],
        state=data["state"],
        reason=data["reason"],
        media_type=data["media_type"],
        sha256=data["sha256"],
        findings=tuple(finding_of(each) for each in data["findings"]),
        document_ids=tuple(data["documents"]),
        documents=documents,
        raw=data,
    )


def part_of(file: str | Path | bytes, name: str) -> dict[str, tuple[str, bytes]]:
    """A file by path, or bytes with a name, as a part of a form."""
    if isinstance(file, bytes):
        return {"file": (name or "upload.pdf", file)}
    return {"file": (name or Path(file).name, Path(file).read_bytes())}
