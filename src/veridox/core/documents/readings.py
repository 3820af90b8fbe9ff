"""What a file says: a structured invoice before its pages, and what its payment codes add."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from veridox.core.einvoice import (
    EInvoiceProblemError,
    NotAnInvoiceError,
    alike,
    confirmed,
    structured_reading,
    with_payments,
)
from veridox.core.extract.assemble import extract
from veridox.core.extract.hints import Hints
from veridox.core.filetypes import XML
from veridox.core.findings import Finding, Weight
from veridox.core.readers.opened import FilePages
from veridox.core.reading import POSTED_KINDS, Reading, Source


@dataclass(frozen=True, kw_only=True, slots=True)
class Found:
    """What a file says.

    Attributes:
        readings: of its documents, in their order.
        findings: of opening it and of what its parts say against each other.
    """

    readings: tuple[Reading, ...]
    findings: tuple[Finding, ...]


def readings_of(
    file: FilePages, source: Source, hints: Hints, structured: Sequence[bytes] | None = None
) -> Found:
    """Readings of all documents of a file.

    Args:
        file: opened.
        source: of which file; its pages are filled in.
        hints: who we are, and which fields of its own a pipeline declares.
        structured: XML that came beside the file; where None, what lies in it.
    """
    beside = file.xml if structured is None else structured
    readings, findings = _said(file, source, hints, beside)
    paid = []
    for reading in readings:
        own = [page for page in file.pages if page.number in reading.source.pages]
        one, differences = with_payments(reading, own if len(readings) > 1 else file.pages)
        paid.append(one)
        findings = [*findings, *differences]
    return Found(readings=tuple(paid), findings=(*file.findings, *findings))


def _said(
    file: FilePages, source: Source, hints: Hints, structured: Sequence[bytes]
) -> tuple[tuple[Reading, ...], list[Finding]]:
    """What the pages say, or what a structured invoice says, compared with its pages."""
    alone = file.media_type == XML
    findings: list[Finding] = []
    for xml in structured:
        try:
            found = structured_reading(xml, replace(source, pages=_numbers(file)))
        except NotAnInvoiceError:
            continue
        except EInvoiceProblemError as problem:
            # Beside it stand pages that can be read all the same.
            weight = Weight.BLOCK if alone else Weight.WARN
            findings.append(
                Finding(code=problem.code, weight=weight, message=str(problem), hint=problem.hint)
            )
            continue
        if alone:
            return (found,), findings
        readings = extract(file.pages, source, hints)
        at = _its_document(found, readings)
        page = readings[at]
        if len(readings) > 1:
            found = replace(found, source=page.source)
        found, differences = confirmed(found, page)
        return (*readings[:at], found, *readings[at + 1 :]), [*findings, *differences]
    if alone and file.pages:
        findings = findings or [
            Finding(
                code="file.broken",
                weight=Weight.BLOCK,
                message="The XML is no invoice of a form that is read (UBL 2.1, UN/CEFACT CII).",
                hint="Look at it; enter the values by hand if it is an invoice.",
            )
        ]
        return (Reading(source=source, kind_confidence=0.0),), findings
    return extract(file.pages, source, hints), findings


def _its_document(structured: Reading, readings: Sequence[Reading]) -> int:
    """Which of several documents of a file its structured invoice is: that with the same number,
    else with the same total, else the first that asks to be paid."""
    for name in ("number", "gross_total"):
        own = structured.fields.get(name)
        for at, reading in enumerate(readings):
            shown = reading.fields.get(name)
            if own is not None and shown is not None and alike(name, own.value, shown.value):
                return at
    bills = [at for at, reading in enumerate(readings) if reading.kind in POSTED_KINDS]
    return bills[0] if bills else 0


def _numbers(file: FilePages) -> tuple[int, ...]:
    return tuple(page.number for page in file.pages)
