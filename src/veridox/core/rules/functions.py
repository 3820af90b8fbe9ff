"""The functions of the language: one row each."""

from collections.abc import Callable, Collection
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Final, cast

from veridox.core.rules.syntax import Literal, Type

Run = Callable[[Collection[str], list[Literal]], Literal]
"""Computes from the codes of the document's findings and the arguments' values."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Function:
    """One function: types of its arguments and its result, what it does, what it is good for."""

    takes: tuple[Type, ...]
    gives: Type
    run: Run
    help: str


def _days_between(codes: Collection[str], values: list[Literal]) -> Literal:
    del codes
    first, second = (cast(date, value) for value in values)
    return Decimal((second - first).days)


FUNCTIONS: Final[dict[str, Function]] = {
    "found": Function(
        takes=(Type.TEXT,), gives=Type.TRUTH, help="a finding of this code stands",
        run=lambda codes, values: values[0] in codes,
    ),
    "lower": Function(
        takes=(Type.TEXT,), gives=Type.TEXT, help="the text in small letters",
        run=lambda _, values: str(values[0]).lower(),
    ),
    "startswith": Function(
        takes=(Type.TEXT, Type.TEXT), gives=Type.TRUTH,
        help="the first text begins with the second, whatever the capitals",
        run=lambda _, values: str(values[0]).lower().startswith(str(values[1]).lower()),
    ),
    "days_between": Function(
        takes=(Type.DATE, Type.DATE), gives=Type.NUMBER, run=_days_between,
        help="days from the first to the second; negative when that was earlier",
    ),
}  # fmt: skip
