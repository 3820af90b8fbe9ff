"""What can be said of a condition before any document: always, never, follows from another.

Only what is certain is said. A condition becomes a set of things that must all hold; where two of
them cannot hold together, it never does. Names are asked for what they can be at all.
"""

from collections.abc import Iterable, Iterator
from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal
from typing import Final

from veridox.core.language.printed import printed
from veridox.core.language.syntax import (
    Binary,
    Call,
    Constant,
    Expression,
    Gather,
    Literal,
    Many,
    Name,
    Percent,
    Type,
    Unary,
)
from veridox.core.money import Money

_OPPOSITE: Final = {"==": "!=", "!=": "==", "<": ">=", ">=": "<", ">": "<=", "<=": ">"}
_TURNED: Final = {"<": ">", ">": "<", "<=": ">=", ">=": "<=", "==": "==", "!=": "!="}
_BOUNDS: Final = {
    "weekday": (1, 7), "month_of": (1, 12), "day_of": (1, 31), "length": (0, None),
    "count": (0, None),
}  # fmt: skip
"""What functions give at least and at most."""
_BRANCHES: Final = 64
"""Ways through `or` that are looked at; beyond them nothing is said."""


def verdict(condition: Expression) -> bool | None:
    """True when it always holds where it can be evaluated, False when never, else None."""
    if _never([condition]):
        return False
    return True if _never([_negated(condition)]) else None


def implies(one: Expression, other: Expression) -> bool:
    """Whether the other surely holds wherever the one does."""
    first, second = _compared(one), _compared(other)
    if first is not None and second is not None:
        # The usual entry: two comparisons with constants have to do with each other or not.
        (about, operator, value, unit), (its, its_operator, its_value, its_unit) = first, second
        if isinstance(about, Name) and isinstance(its, Name):
            if (about.name, unit) != (its.name, its_unit):
                return False
            limits = _Limits(about, unit)
            limits.add(operator, value)
            limits.add(_OPPOSITE[its_operator], its_value)
            return limits.empty()
    return _never([one, _negated(other)])


def names_in(expression: Expression) -> Iterator[str]:
    """Every name that an expression asks for, lists among them."""
    match expression:
        case Name():
            yield expression.name
        case Many():
            for each in expression.items:
                yield from names_in(each)
        case Unary():
            yield from names_in(expression.operand)
        case Binary():
            yield from names_in(expression.left)
            yield from names_in(expression.right)
        case Call():
            for each in expression.arguments:
                yield from names_in(each)
        case Gather():
            yield expression.over
            for part in (expression.body, expression.condition):
                if part is not None:
                    own = f"{expression.name}."
                    yield from (each for each in names_in(part) if not each.startswith(own))
        case Constant():
            return


def parts_of(expression: Expression) -> Iterator[Expression]:
    """An expression and all that it is made of."""
    yield expression
    match expression:
        case Call():
            parts: Iterable[Expression | None] = expression.arguments
        case Many():
            parts = expression.items
        case Unary():
            parts = (expression.operand,)
        case Binary():
            parts = (expression.left, expression.right)
        case Gather():
            parts = (expression.body, expression.condition)
        case _:
            return
    for part in parts:
        if part is not None:
            yield from parts_of(part)


def functions_in(expression: Expression) -> Iterator[str]:
    """Every function that an expression calls."""
    yield from (each.function for each in parts_of(expression) if isinstance(each, Call))


def currencies_in(expression: Expression) -> Iterator[str]:
    """The currency of each amount that stands in it, and those that `convert` is to give."""
    for part in parts_of(expression):
        if isinstance(part, Constant) and isinstance(part.value, Money):
            yield part.value.currency
        if isinstance(part, Call) and part.function == "convert":
            yield from (str(each.value) for each in part.arguments[1:2]
                        if isinstance(each, Constant))  # fmt: skip


def asks_for(expression: Expression, name: str) -> bool:
    """Whether it asks for a name."""
    return name in set(names_in(expression))


def _negated(expression: Expression) -> Expression:
    match expression:
        case Unary(operator="not"):
            return expression.operand
        case Unary(operator="is missing"):
            return replace(expression, operator="is not missing")
        case Unary(operator="is not missing"):
            return replace(expression, operator="is missing")
        case Binary(operator="and" | "or"):
            return Binary(
                operator="or" if expression.operator == "and" else "and",
                left=_negated(expression.left), right=_negated(expression.right), at=expression.at,
            )  # fmt: skip
        case Binary() if expression.operator in _OPPOSITE:
            return replace(expression, operator=_OPPOSITE[expression.operator])
        case _:
            return Unary(operator="not", operand=expression, at=expression.at)


def _never(together: list[Expression]) -> bool:
    """Whether they cannot all hold."""
    ways = _ways(together)
    return ways is not None and all(_contradicts(way) for way in ways)


def _ways(together: list[Expression]) -> list[list[Expression]] | None:
    """Each way through `or` as things that hold together; None for too many."""
    ways: list[list[Expression]] = [[]]
    for each in together:
        match each:
            case Binary(operator="and"):
                own = _ways([each.left, each.right])
            case Binary(operator="or"):
                left, right = _ways([each.left]), _ways([each.right])
                own = None if left is None or right is None else [*left, *right]
            case Unary(operator="not", operand=Binary() | Unary()) if not isinstance(
                turned := _negated(each.operand), Unary
            ):
                own = _ways([turned])
            case _:
                own = [[each]]
        if own is None or len(ways) * len(own) > _BRANCHES:
            return None
        ways = [[*before, *more] for before in ways for more in own]
    return ways


def _contradicts(way: Iterable[Expression]) -> bool:
    said: dict[str, bool] = {}
    limits: dict[tuple[str, str], _Limits] = {}
    for each in way:
        holds, inner = True, each
        while isinstance(inner, Unary) and inner.operator == "not":
            holds, inner = not holds, inner.operand
        if isinstance(inner, Constant) and inner.type is Type.TRUTH and inner.value is not holds:
            return True
        if isinstance(inner, Unary) and inner.operator == "is not missing":
            holds, inner = not holds, replace(inner, operator="is missing")
        key = printed(inner)
        if said.setdefault(key, holds) is not holds:
            return True
        compared = _compared(inner) if holds else None
        if compared is not None:
            about, operator, value, unit = compared
            own = limits.setdefault((printed(about), unit), _Limits(about, unit))
            own.add(operator, value)
    return any(each.empty() for each in limits.values())


Orderable = Decimal | date | timedelta | str


def _compared(expression: Expression) -> tuple[Expression, str, Orderable, str] | None:
    """What is compared, how, with which value, and its unit (a currency, or the sort of value)."""
    if not isinstance(expression, Binary) or expression.operator not in _TURNED:
        return None
    left, right, operator = expression.left, expression.right, expression.operator
    if isinstance(left, Constant):
        left, right, operator = right, left, _TURNED[operator]
    if not isinstance(right, Constant) or isinstance(left, Constant):
        return None
    value, unit = _orderable(right.value)
    return None if value is None else (left, operator, value, unit)


def _orderable(value: Literal) -> tuple[Orderable | None, str]:
    if isinstance(value, Money):
        return value.amount, value.currency
    if isinstance(value, Percent):
        return value.share, "%"
    if isinstance(value, bool):
        return None, ""
    return value, type(value).__name__


class _Limits:
    """What a value must be to meet all comparisons with constants."""

    def __init__(self, about: Expression, unit: str) -> None:
        self.low: tuple[Orderable, bool] | None = None  # and whether it may be this itself
        self.high: tuple[Orderable, bool] | None = None
        self.equal: set[Orderable] = set()
        self.unequal: set[Orderable] = set()
        if isinstance(about, Name) and about.name == "risk" and unit == "%":
            self.add(">=", Decimal(0))
            self.add("<=", Decimal(1))
        function = about.function if isinstance(about, Call | Gather) else ""
        least, most = _BOUNDS.get(function, (None, None))
        if least is not None:
            self.add(">=", Decimal(least))
        if most is not None:
            self.add("<=", Decimal(most))

    def add(self, operator: str, value: Orderable) -> None:
        itself = operator.endswith("=")
        if operator == "==":
            self.equal.add(value)
        elif operator == "!=":
            self.unequal.add(value)
        elif operator in (">", ">="):
            if self.low is None or (value, not itself) > (self.low[0], not self.low[1]):
                self.low = value, itself
        elif self.high is None or (value, itself) < self.high:
            self.high = value, itself

    def empty(self) -> bool:
        if len(self.equal) > 1 or self.equal & self.unequal:
            return True
        for value in self.equal:
            if not self._between(value):
                return True
        if self.low is None or self.high is None:
            return False
        (low, low_itself), (high, high_itself) = self.low, self.high
        if low > high:  # type: ignore[operator]
            return True
        if low == high:
            return not (low_itself and high_itself) or low in self.unequal
        return False

    def _between(self, value: Orderable) -> bool:
        if self.low is not None:
            low, itself = self.low
            if value < low or (value == low and not itself):  # type: ignore[operator]
                return False
        if self.high is not None:
            high, itself = self.high
            if value > high or (value == high and not itself):  # type: ignore[operator]
                return False
        return True
