"""Readings as typed values."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Any

_DATES = frozenset({"issue_date", "due_date", "tax_point", "delivery_date"})
_NUMBERS = frozenset({"quantity", "unit_price", "price_base", "tax_rate", "rate"})


@dataclass(frozen=True, kw_only=True, slots=True)
class Money:
    """An exact amount in a currency (ISO 4217)."""

    amount: Decimal
    currency: str

    def __str__(self) -> str:
        return f"{self.amount:,} {self.currency}"


Value = str | date | Decimal | Money


@dataclass(frozen=True, kw_only=True, slots=True)
class Field:
    """A value with its evidence.

    Attributes:
        value: text, date, number or money.
        text: as it stands in the source.
        page: from 1; None when it stands on no page.
        box: left, top, right, bottom in points from the page's top left corner.
        confidence: in [0, 1].
        origin: `text`, `ocr`, `derived`, `person`, ...
        others: other values that were considered, with their confidence.
    """

    value: Value
    text: str
    page: int | None
    box: tuple[float, float, float, float] | None
    confidence: float
    origin: str
    others: tuple[tuple[Value, float], ...] = ()


class AbsentFieldError(AttributeError):
    """The document does not state this field; `reading.get(name)` gives None instead."""


@dataclass(frozen=True, kw_only=True)
class Reading(Mapping[str, Field]):
    """Header fields by EN 16931 name, with `lines` and `tax_lines`.

    `reading.number` and `reading["number"]` are the same; names with a dot are
    reached by `reading["seller.name"]`.
    """

    fields: Mapping[str, Field]
    lines: tuple[Mapping[str, Field], ...]
    tax_lines: tuple[Mapping[str, Field], ...]
    kind: str
    language: str
    raw: Mapping[str, Any]

    def __getitem__(self, name: str) -> Field:
        return self.fields[name]

    def __iter__(self) -> Iterator[str]:
        return iter(self.fields)

    def __len__(self) -> int:
        return len(self.fields)

    def __getattr__(self, name: str) -> Field:
        try:
            return self.fields[name]
        except KeyError:
            known = ", ".join(self.fields) or "none"
            raise AbsentFieldError(f"{name} is not stated; stated are: {known}") from None


def _value(kind: str, data: Any) -> Value:
    if isinstance(data, dict):
        return Money(amount=Decimal(data["amount"]), currency=data["currency"])
    if kind == "date":
        return date.fromisoformat(data)
    if kind in ("number", "rate"):
        return Decimal(data)
    return str(data)


def _kind(name: str, declared: Mapping[str, Any]) -> str:
    """What a value is: by the catalogue, or by what the pipeline declares."""
    if name in declared:
        return str(declared[name]["type"])
    return "date" if name in _DATES else "number" if name in _NUMBERS else "text"


def _field(kind: str, data: Mapping[str, Any]) -> Field:
    box = data.get("box")
    return Field(
        value=_value(kind, data["value"]),
        text=data.get("text") or "",
        page=data.get("page"),
        box=(box[0], box[1], box[2], box[3]) if box else None,
        confidence=data["confidence"],
        origin=data["origin"],
        others=tuple(
            (_value(kind, other["value"]), other["confidence"])
            for other in data.get("others") or ()
        ),
    )


def _fields(data: Mapping[str, Any], declared: Mapping[str, Any] | None = None) -> dict[str, Field]:
    return {name: _field(_kind(name, declared or {}), each) for name, each in data.items()}


def reading_of(data: Mapping[str, Any]) -> Reading:
    """From the documented JSON shape."""
    document = data.get("document") or {}
    return Reading(
        fields=_fields(data.get("fields") or {}, data.get("extra_fields")),
        lines=tuple(_fields(row) for row in data.get("lines") or ()),
        tax_lines=tuple(_fields(row) for row in data.get("tax_lines") or ()),
        kind=document.get("kind", ""),
        language=document.get("language", ""),
        raw=data,
    )
