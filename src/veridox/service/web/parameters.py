"""Query parameters as values. All raise BadInputError with the parameter's name."""

from collections.abc import Callable
from datetime import date, datetime, time
from decimal import Decimal, InvalidOperation
from typing import Any

from django.utils import timezone
from django.utils.dateparse import parse_date, parse_datetime

from veridox.service.errors import BadInputError


def yes_of(name: str, text: Any) -> bool:
    """`yes` or `no`."""
    if text not in ("yes", "no"):
        raise BadInputError(f"{name} is yes or no, not {text!r}")
    return bool(text == "yes")


def amount_of(name: str, text: str) -> Decimal:
    """An amount with a decimal point."""
    try:
        amount = Decimal(text)
    except InvalidOperation:
        amount = Decimal("NaN")
    if not amount.is_finite() or abs(amount) >= Decimal(10) ** 14:
        raise BadInputError(f"{name} is an amount such as 1421.28, not {text!r}")
    return amount


def _parsed(parse: Callable[[str], Any], text: str) -> Any:
    try:
        return parse(text)
    except ValueError:
        return None


def day_of(name: str, text: str) -> date:
    """A calendar day."""
    day: date | None = _parsed(parse_date, text)
    if day is None:
        raise BadInputError(f"{name} is a day such as 2026-03-31, not {text!r}")
    return day


def moment_of(name: str, text: str) -> datetime:
    """A moment; a day alone begins at midnight UTC."""
    moment: datetime | None = _parsed(parse_datetime, text)
    if moment is None:
        day: date | None = _parsed(parse_date, text)
        if day is None:
            raise BadInputError(f"{name} is a moment or a day such as 2026-03-31, not {text!r}")
        moment = datetime.combine(day, time())
    return moment if timezone.is_aware(moment) else timezone.make_aware(moment)
