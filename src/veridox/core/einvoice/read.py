"""A structured e-invoice as a reading."""

from collections.abc import Iterator
from dataclasses import replace
from datetime import date
from decimal import Decimal, InvalidOperation
from typing import Any

from lxml import etree

from veridox.core.einvoice.syntax import NATIONAL, ROOTS, UBL, Paths, Syntax
from veridox.core.money import Money
from veridox.core.reading import (
    ADJUSTMENT_CELLS,
    FIELDS,
    LINE_CELLS,
    TAX_CELLS,
    Field,
    FieldSpec,
    FieldType,
    Kind,
    Origin,
    Reading,
    Row,
    Source,
    Value,
)

KINDS = {"381": Kind.CREDIT_NOTE, "396": Kind.CREDIT_NOTE, "325": Kind.PRO_FORMA,
         "261": Kind.CREDIT_NOTE, "308": Kind.CREDIT_NOTE}  # fmt: skip
"""Type codes (UNTDID 1001) that are no plain invoice."""
UNITS = {"C62": "piece", "H87": "piece", "EA": "each", "KGM": "kg", "GRM": "g", "TNE": "t",
         "LTR": "l", "MTR": "m", "MTK": "m2", "MTQ": "m3", "HUR": "h", "DAY": "day",
         "MON": "month", "KWH": "kWh", "SET": "set", "PR": "pair", "XBX": "box", "XPX": "pallet",
         "XCT": "carton", "BX": "box", "LS": "flat"}  # fmt: skip
"""Usual names of UN/ECE Recommendation 20 and 21 codes; others stay codes."""
SURE = 0.9999


class NotAnInvoiceError(Exception):
    """XML that is no structured invoice."""


class EInvoiceProblemError(Exception):
    """A structured invoice that cannot be read; carries the finding's code and a hint."""

    def __init__(self, code: str, message: str, hint: str) -> None:
        super().__init__(message)
        self.code = code
        self.hint = hint


def structured_reading(content: bytes, source: Source) -> Reading:
    """The reading of a UBL invoice or credit note, or of a CII invoice.

    Raises:
        NotAnInvoiceError: it is other XML.
        EInvoiceProblemError: it is damaged, of a form that is not read, or holds values
            that are none.
    """
    root = _root(content)
    syntax = ROOTS.get(root.tag)
    if syntax is None:
        _refuse(root)
        raise NotAnInvoiceError(f"the root is {root.tag}")
    currency = _text(root, syntax, syntax.header["currency"])
    if not currency:
        raise EInvoiceProblemError(
            "einvoice.invalid",
            f"The {syntax.title} invoice names no currency (BT-5).",
            "Ask the vendor for a valid invoice.",
        )
    code = _text(root, syntax, (syntax.kind,))
    kind = KINDS.get(code, Kind.INVOICE)
    if root.tag.startswith(f"{{{UBL}CreditNote"):
        kind = Kind.CREDIT_NOTE
    fields = dict(_cells(root, syntax, syntax.header, FIELDS, currency))
    _complete(fields, root, syntax)
    return Reading(
        source=source,
        kind=kind,
        kind_confidence=SURE,
        fields=fields,
        lines=tuple(_line(each, syntax, currency) for each in _all(root, syntax, syntax.lines)),
        tax_lines=tuple(
            dict(_cells(each, syntax, syntax.tax, TAX_CELLS, currency))
            for each in _all(root, syntax, syntax.taxes)
        ),
        allowance_lines=_adjustments(root, syntax, syntax.taken_off, currency),
        charge_lines=_adjustments(root, syntax, syntax.put_on, currency),
    )


def _adjustments(root: Any, syntax: Syntax, path: str, currency: str) -> tuple[Row, ...]:
    return tuple(
        dict(_cells(each, syntax, syntax.adjustment, ADJUSTMENT_CELLS, currency))
        for each in _all(root, syntax, path)
    )


MEANS = {"10": "cash", "20": "cheque", "30": "credit transfer", "42": "credit transfer",
         "48": "card", "54": "card", "55": "card", "57": "standing agreement",
         "58": "credit transfer", "49": "direct debit", "59": "direct debit",
         "97": "set off"}  # fmt: skip
"""Means of payment (UNTDID 4461) in words; others stay codes."""


def _complete(fields: dict[str, Field], root: Any, syntax: Syntax) -> None:
    """Values that are no single element: the period, the means in words, another currency."""
    days = [_text(root, syntax, (path,)) for path in syntax.period]
    if any(days):
        text = "/".join(_day(day).isoformat() if day else "" for day in days)
        fields["period"] = Field(value=text, text=text, confidence=SURE, origin=Origin.EMBEDDED)
    means = fields.get("payment_means")
    if means is not None:
        fields["payment_means"] = replace(means, value=MEANS.get(means.text, means.text))
    accounting, books = fields.get("tax_total_accounting"), fields.get("tax_currency")
    if accounting is not None and isinstance(accounting.value, Money) and books is not None:
        money = Money(amount=accounting.value.amount, currency=str(books.value))
        fields["tax_total_accounting"] = replace(accounting, value=money)


def _root(content: bytes) -> Any:
    # Nothing is fetched, no entity is put in, and a document type is not needed by any invoice.
    parser = etree.XMLParser(
        resolve_entities=False, no_network=True, load_dtd=False, huge_tree=False
    )
    try:
        root = etree.fromstring(content, parser)
    except (etree.XMLSyntaxError, ValueError) as error:
        raise EInvoiceProblemError(
            "file.broken", f"The XML is damaged: {error}.", "Ask the vendor to send it again."
        ) from error
    if root.getroottree().docinfo.doctype:
        raise EInvoiceProblemError(
            "file.broken",
            "The XML declares a document type, as no invoice does.",
            "Ask the vendor for a valid invoice.",
        )
    return root


def _refuse(root: Any) -> None:
    name = etree.QName(root)
    for local, part, title in NATIONAL:
        if name.localname == local and part in (name.namespace or ""):
            raise EInvoiceProblemError(
                "einvoice.national",
                f"The file is {title}; its form is not read.",
                "Ask the vendor for a PDF or an invoice after EN 16931, or enter it by hand.",
            )


def _all(element: Any, syntax: Syntax, path: str) -> list[Any]:
    found: list[Any] = element.xpath(path, namespaces=syntax.namespaces)
    return found


def _text(element: Any, syntax: Syntax, paths: tuple[str, ...]) -> str:
    for path in paths:
        for found in _all(element, syntax, path):
            text = found if isinstance(found, str) else _of(found)
            if text.strip():
                return " ".join(text.split())
    return ""


def _of(element: Any) -> str:
    """The text of an element; of one that holds others, theirs with commas."""
    if not len(element):
        return "".join(element.itertext())
    return ", ".join(text for each in element.itertext() if (text := each.strip()))


def _cells(
    element: Any, syntax: Syntax, paths: Paths, specs: dict[str, FieldSpec], currency: str
) -> Iterator[tuple[str, Field]]:
    for name, each in paths.items():
        text = _text(element, syntax, each)
        if text:
            value = _value(name, text, specs[name], currency)
            yield name, Field(value=value, text=text, confidence=SURE, origin=Origin.EMBEDDED)


def _line(element: Any, syntax: Syntax, currency: str) -> dict[str, Field]:
    row = dict(_cells(element, syntax, syntax.line, LINE_CELLS, currency))
    for name, path in (("discount", syntax.allowances), ("charge", syntax.line_charges)):
        amounts = [
            Decimal("".join(each.itertext()).strip() or "0") for each in _all(element, syntax, path)
        ]
        if any(amounts):
            money = Money(amount=sum(amounts, Decimal(0)), currency=currency)
            row[name] = Field(value=money, confidence=SURE, origin=Origin.EMBEDDED)
    return row


def _value(name: str, text: str, spec: FieldSpec, currency: str) -> Value:
    try:
        if spec.type is FieldType.MONEY:
            return Money(amount=_number(text), currency=currency)
        if spec.type in (FieldType.NUMBER, FieldType.RATE):
            return _number(text)
        if spec.type is FieldType.DATE:
            return _day(text)
    except (ValueError, InvalidOperation) as error:
        raise EInvoiceProblemError(
            "einvoice.invalid",
            f"{spec.title} ({spec.term}) says {text[:40]!r}, which is no {spec.type.value}.",
            "Ask the vendor for a valid invoice.",
        ) from error
    return UNITS.get(text, text) if name == "unit" else text


def _number(text: str) -> Decimal:
    number = Decimal(text)
    if not number.is_finite():
        raise ValueError(text)
    return number


def _day(text: str) -> date:
    # CII writes 20261103 (UNTDID 2379, 102), UBL 2026-11-03, with a zone at times.
    return date.fromisoformat(text[:10] if "-" in text else text[:8])
