"""The parts of an expression."""

from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal
from enum import StrEnum

from veridox.core.money import Money


class Type(StrEnum):
    """What an expression yields."""

    NUMBER = "number"
    PERCENT = "percent"
    MONEY = "money"
    DATE = "date"
    DURATION = "duration"
    TEXT = "text"
    TRUTH = "truth"
    LIST = "list"


@dataclass(frozen=True, slots=True)
class Percent:
    """A percentage as its share: 2 % is 0.02."""

    share: Decimal


Literal = Decimal | Percent | Money | date | timedelta | str | bool


@dataclass(frozen=True, kw_only=True, slots=True)
class Constant:
    """A literal. `at` is the offset of its first character."""

    value: Literal
    type: Type
    at: int


@dataclass(frozen=True, kw_only=True, slots=True)
class Name:
    """A name of the list `NAMES`."""

    name: str
    at: int


@dataclass(frozen=True, kw_only=True, slots=True)
class Many:
    """A list of literals or names."""

    items: tuple["Expression", ...]
    at: int


@dataclass(frozen=True, kw_only=True, slots=True)
class Unary:
    """`not x`, `-x`; `x is missing` and `x is not missing` of a name or a function's result."""

    operator: str
    operand: "Expression"
    at: int


@dataclass(frozen=True, kw_only=True, slots=True)
class Binary:
    """Two operands with an operator between them."""

    operator: str
    left: "Expression"
    right: "Expression"
    at: int


@dataclass(frozen=True, kw_only=True, slots=True)
class Call:
    """A function of the language with its arguments."""

    function: str
    arguments: tuple["Expression", ...]
    at: int


@dataclass(frozen=True, kw_only=True, slots=True)
class Gather:
    """`any(body for name in over if condition)`, and the like; `count(lines)` has no body.

    Within body and condition, `name.amount` and the like are the row's.
    """

    function: str
    over: str
    name: str
    body: "Expression | None"
    condition: "Expression | None"
    at: int


Expression = Constant | Name | Many | Unary | Binary | Call | Gather
