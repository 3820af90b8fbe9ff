"""Cells of a file of facts: texts, as they are read."""

from collections.abc import Callable, Mapping
from decimal import Decimal, InvalidOperation
from typing import TypeVar

from veridox.core.money import Money


class FactsError(ValueError):
    """A file of facts that cannot be used; says where."""


def truth(row: Mapping[str, str], name: str, usual: bool) -> bool:
    """`true` or `false`; `usual` where the cell is empty."""
    text = row.get(name, "true" if usual else "false")
    if text not in ("true", "false"):
        raise FactsError(f"{name} is true or false, not {text!r}")
    return text == "true"


T = TypeVar("T")


def several(row: Mapping[str, str], name: str) -> tuple[str, ...]:
    """Several texts of one cell, parted by `|`."""
    return tuple(each.strip() for each in row.get(name, "").split("|") if each.strip())


def read_as(how: Callable[[str], T], text: str) -> T:
    """A text as what it stands for. Raises FactsError with what `how` says is wrong."""
    try:
        return how(text)
    except (ValueError, InvalidOperation) as error:
        raise FactsError(f"{text!r}: {error}") from error


def money(text: str) -> Money:
    """An amount with its currency: `1000.00 GBP`."""
    amount, _, currency = text.partition(" ")
    try:
        return Money(amount=Decimal(amount), currency=currency)
    except (InvalidOperation, ValueError) as error:
        raise FactsError(f"{text!r} is no amount; write it as 1000.00 GBP") from error


def number(row: Mapping[str, str], name: str, usual: str = "0") -> Decimal:
    """A number of a row; `usual` where there is none."""
    text = row.get(name, usual)
    try:
        found = Decimal(text)
    except InvalidOperation as error:
        raise FactsError(f"{name} is a number, not {text!r}") from error
    if not found.is_finite():
        raise FactsError(f"{name} is a number, not {text!r}")
    return found
