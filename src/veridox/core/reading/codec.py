"""Readings as JSON: one shape for CLI, API, client, webhooks and exports."""

from collections.abc import Iterable, Mapping
from datetime import date
from decimal import Decimal, InvalidOperation
from typing import Any

from veridox.core.findings import Finding
from veridox.core.money import Money, is_currency
from veridox.core.pages import Box
from veridox.core.reading.fields import (
    ADJUSTMENT_CELLS,
    FIELDS,
    LINE_CELLS,
    TAX_CELLS,
    FieldSpec,
    FieldType,
    Kind,
)
from veridox.core.reading.reading import (
    Candidate,
    Field,
    Origin,
    Reading,
    Row,
    Source,
    Value,
)

JsonObject = dict[str, Any]
"""A JSON object; what is in it is checked by the functions of this module."""

MAX_TEXT = 2_000
"""Characters of the longest text that a field may hold."""


class ValueFormatError(ValueError):
    """A value does not have the form that its field's type asks for."""


def encode_value(value: Value) -> object:
    """A value as JSON: money as an object, dates as ISO 8601, numbers as text."""
    if isinstance(value, Money):
        return {"amount": value.plain(), "currency": value.currency}
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, Decimal):
        return format(value, "f")
    return value


def decode_value(
    kind: FieldType, data: object, *, currency: str | None = None, choices: tuple[str, ...] = ()
) -> Value:
    """A typed value from JSON or from a person's plain text.

    Money is taken as `{"amount", "currency"}`, as `"1421.28 GBP"`, or as
    `"1421.28"` when the document's `currency` is known. Numbers are written
    with a decimal point and no grouping: nothing is guessed here.

    Raises:
        ValueFormatError: says what was given and what is wanted.
    """
    if kind is FieldType.MONEY:
        return _decode_money(data, currency)
    if not isinstance(data, str) or not data.strip():
        raise ValueFormatError(f"{data!r} is not a text; give the value as a string")
    text = data.strip()
    if kind is FieldType.DATE:
        try:
            return date.fromisoformat(text)
        except ValueError:
            raise ValueFormatError(f"{text!r} is not a date; write it as 2026-03-31") from None
    if kind in (FieldType.NUMBER, FieldType.RATE):
        return _decode_number(text)
    if kind is FieldType.CURRENCY:
        if not is_currency(text):
            raise ValueFormatError(f"{text!r} is not an ISO 4217 code such as EUR or GBP")
        return text
    if kind is FieldType.CHOICE and choices and text not in choices:
        raise ValueFormatError(f"{text!r} is none of: {', '.join(choices)}")
    if len(text) > MAX_TEXT or any(ord(char) < 32 for char in text):
        raise ValueFormatError(f"text must be one line of at most {MAX_TEXT} characters")
    return text


def _decode_number(text: str) -> Decimal:
    try:
        number = Decimal(text)
    except InvalidOperation:
        raise ValueFormatError(
            f"{text!r} is not a number; write it with a decimal point, as in 1421.28"
        ) from None
    if not number.is_finite() or abs(number) >= Decimal(10) ** 15 or len(text) > 40:
        raise ValueFormatError(f"{text!r} is out of range")
    return number


def _decode_money(data: object, currency: str | None) -> Money:
    if isinstance(data, Mapping):
        if set(data) != {"amount", "currency"}:
            raise ValueFormatError('money is an object of exactly "amount" and "currency"')
        amount, code = data["amount"], data["currency"]
        if not isinstance(amount, str) or not isinstance(code, str):
            raise ValueFormatError("amount and currency are given as strings")
    elif isinstance(data, str):
        amount, _, code = data.strip().partition(" ")
        code = code.strip() or (currency or "")
        if not code:
            raise ValueFormatError(
                f"{data!r} has no currency and the document has none yet; write 1421.28 GBP"
            )
    else:
        raise ValueFormatError(f"{data!r} is not money; write 1421.28 GBP")
    if not is_currency(code):
        raise ValueFormatError(f"{code!r} is not an ISO 4217 code such as EUR or GBP")
    return Money(amount=_decode_number(amount.strip()), currency=code)


def _place(page: int | None, box: Box | None) -> JsonObject:
    return {"page": page, "box": list(box.rounded()) if box else None}


def _field_to_json(field: Field) -> JsonObject:
    return {
        "value": encode_value(field.value),
        "text": field.text,
        **_place(field.page, field.box),
        "confidence": round(field.confidence, 4),
        "origin": field.origin.value,
        "others": [
            {
                "value": encode_value(other.value),
                "confidence": round(other.confidence, 4),
                **_place(other.page, other.box),
            }
            for other in field.others
        ],
    }


def _field_from_json(data: JsonObject, spec: FieldSpec) -> Field:
    def place(part: JsonObject) -> tuple[int | None, Box | None]:
        box = part.get("box")
        return part.get("page"), Box(*box) if box else None

    page, box = place(data)
    others = []
    for other in data.get("others") or ():
        other_page, other_box = place(other)
        others.append(
            Candidate(
                value=decode_value(spec.type, other["value"]),
                confidence=other["confidence"],
                page=other_page,
                box=other_box,
            )
        )
    return Field(
        value=decode_value(spec.type, data["value"]),
        text=data.get("text") or "",
        page=page,
        box=box,
        confidence=data["confidence"],
        origin=Origin(data["origin"]),
        others=tuple(others),
    )


def reading_to_json(reading: Reading, findings: tuple[Finding, ...] = ()) -> JsonObject:
    """A reading, with the findings on it, in the documented JSON shape."""

    def rows(rows: tuple[Row, ...]) -> list[JsonObject]:
        return [{name: _field_to_json(cell) for name, cell in row.items()} for row in rows]

    source = reading.source
    declared = {name: spec.to_json() for name, spec in reading.extra.items()}
    beside = {"allowance_lines": reading.allowance_lines, "charge_lines": reading.charge_lines}
    return in_order(
        {
            "document": {
                "sha256": source.sha256,
                "name": source.name,
                "path": source.path,
                "media_type": source.media_type,
                "pages": list(source.pages),
                "kind": reading.kind.value,
                "language": reading.language,
                "confidence": round(reading.confidence, 4),
            },
            "fields": {name: _field_to_json(field) for name, field in reading.fields.items()},
            "lines": rows(reading.lines),
            "tax_lines": rows(reading.tax_lines),
            **{name: rows(each) for name, each in beside.items() if each},
            "findings": [finding.to_json() for finding in findings],
            **({"extra_fields": declared} if declared else {}),
        }
    )


def in_order(data: JsonObject) -> JsonObject:
    """The same JSON with fields and cells in the catalogue's order, as people expect them."""

    def ordered(part: JsonObject, specs: Iterable[str]) -> JsonObject:
        return {name: part[name] for name in specs if name in part}

    return {
        **data,
        "fields": ordered(data["fields"], (*FIELDS, *data.get("extra_fields", ()))),
        "lines": [ordered(row, LINE_CELLS) for row in data["lines"]],
        "tax_lines": [ordered(row, TAX_CELLS) for row in data["tax_lines"]],
        **{
            name: [ordered(row, ADJUSTMENT_CELLS) for row in data[name]]
            for name in ("allowance_lines", "charge_lines")
            if name in data
        },
    }


def reading_from_json(data: JsonObject) -> Reading:
    """Back from `reading_to_json` (findings are kept apart).

    Raises:
        KeyError, ValueError: the data is not of the documented shape.
    """

    def rows(rows: list[JsonObject], specs: dict[str, FieldSpec]) -> tuple[Row, ...]:
        return tuple(
            {name: _field_from_json(cell, specs[name]) for name, cell in row.items()}
            for row in rows
        )

    document = data["document"]
    extra = {name: FieldSpec.from_json(spec) for name, spec in data.get("extra_fields", {}).items()}
    specs = {**extra, **FIELDS}
    return Reading(
        source=Source(
            sha256=document["sha256"],
            name=document["name"],
            media_type=document["media_type"],
            pages=tuple(document["pages"]),
            path=document.get("path") or "",
        ),
        kind=Kind(document["kind"]),
        language=document["language"],
        fields={
            name: _field_from_json(field, specs[name]) for name, field in data["fields"].items()
        },
        lines=rows(data["lines"], LINE_CELLS),
        tax_lines=rows(data["tax_lines"], TAX_CELLS),
        allowance_lines=rows(data.get("allowance_lines", []), ADJUSTMENT_CELLS),
        charge_lines=rows(data.get("charge_lines", []), ADJUSTMENT_CELLS),
        extra=extra,
    )
