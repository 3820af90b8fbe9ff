"""Values of the language on their way to a plug-in and back."""

from datetime import date, timedelta
from decimal import Decimal, InvalidOperation
from typing import Any

from veridox.core.language.syntax import Literal, Percent, Type
from veridox.core.money import Money


class NonsenseError(ValueError):
    """A plug-in gave what is no answer."""


def to_json(value: Literal) -> dict[str, str]:
    """A value with its type."""
    match value:
        case bool():
            return {"type": "truth", "value": "true" if value else "false"}
        case Money():
            return {"type": "money", "value": str(value.amount), "currency": value.currency}
        case Percent():
            return {"type": "percent", "value": str(value.share)}
        case timedelta():
            return {"type": "duration", "value": str(value.days)}
        case date():
            return {"type": "date", "value": value.isoformat()}
        case Decimal():
            return {"type": "number", "value": str(value)}
        case _:
            return {"type": "text", "value": str(value)}


def from_json(data: Any, wanted: Type) -> Literal:
    """Back from a plug-in. Raises NonsenseError for another type, or what is no value."""
    if not isinstance(data, dict) or data.get("type") != wanted.value:
        said = data.get("type") if isinstance(data, dict) else type(data).__name__
        raise NonsenseError(f"it gave a {said}, not a {wanted.value}")
    text = str(data.get("value", ""))
    try:
        match wanted:
            case Type.TRUTH:
                return text == "true"
            case Type.MONEY:
                return Money(amount=_number(text), currency=str(data.get("currency", "")))
            case Type.PERCENT:
                return Percent(_number(text))
            case Type.DURATION:
                return timedelta(days=int(text))
            case Type.DATE:
                return date.fromisoformat(text)
            case Type.NUMBER:
                return _number(text)
    except (ValueError, OverflowError, InvalidOperation) as error:
        raise NonsenseError(f"it gave {text[:50]!r} as a {wanted.value}") from error
    if len(text) > 20_000:
        raise NonsenseError("it gave a text of more than 20,000 characters")
    return text


def _number(text: str) -> Decimal:
    number = Decimal(text)
    if not number.is_finite() or abs(number) > 10**18:
        raise NonsenseError(f"it gave {text[:50]!r} as a number")
    return number
