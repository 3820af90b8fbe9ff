"""Values of expressions. What cannot be evaluated says so; it never counts as false."""

from collections.abc import Collection
from datetime import date, timedelta
from decimal import Decimal, DivisionByZero, InvalidOperation

import re2

from veridox.core.language.functions import (
    FUNCTIONS,
    Around,
    Calls,
    NotEvaluableError,
    Rates,
    compiled,
    in_currency,
)
from veridox.core.language.lists import Lists
from veridox.core.language.names import Names
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
    Unary,
)
from veridox.core.money import Money

MAX_STEPS = 200_000
"""Parts that are looked at before an expression is given up: rows times what is asked of each."""


def evaluate(
    expression: Expression,
    names: Names,
    codes: Collection[str] = (),
    lists: Lists | None = None,
    rates: Rates | None = None,
    calls: Calls | None = None,
) -> Literal:
    """The value of an expression that has passed the type check.

    Args:
        expression: from `compile_condition`.
        names: values by name; absent ones are missing.
        codes: codes of the document's findings, for `found(...)`.
        lists: rows of the lists that it goes through.
        rates: exchange rates, where somebody knows them.
        calls: functions of plug-ins.

    Raises:
        NotEvaluableError: the document stops at the gate that asked.
    """
    around = Around(codes=codes, rates=rates, calls=calls)
    return _Evaluation(names, around, lists or {}, _Steps()).value(expression)


class _Steps:
    """Counts what is looked at, in all rows together."""

    def __init__(self) -> None:
        self.left = MAX_STEPS

    def one(self) -> None:
        self.left -= 1
        if self.left < 0:
            raise NotEvaluableError(f"it takes more than {MAX_STEPS:,} steps")


class _Evaluation:
    def __init__(self, names: Names, around: Around, lists: Lists, steps: _Steps) -> None:
        self.names = names
        self.around = around
        self.lists = lists
        self.steps = steps

    def value(self, expression: Expression) -> Literal:
        self.steps.one()
        match expression:
            case Constant():
                return expression.value
            case Name():
                if expression.name not in self.names:
                    raise NotEvaluableError(f"{expression.name} is missing")
                return self.names[expression.name]
            case Unary():
                return self._unary(expression)
            case Binary():
                return self._binary(expression)
            case Call():
                return self._call(expression)
            case Gather():
                return self._gather(expression)
            case Many():
                raise NotEvaluableError("a list has no value of its own")

    def _unary(self, expression: Unary) -> Literal:
        if expression.operator in ("is missing", "is not missing"):
            return self._missing(expression.operand) is (expression.operator == "is missing")
        operand = self.value(expression.operand)
        if expression.operator == "not":
            return not operand
        if isinstance(operand, Percent):
            return Percent(-operand.share)
        return -operand  # type: ignore[operator, return-value]  # number or money by the type check

    def _missing(self, operand: Expression) -> bool:
        if isinstance(operand, Name):
            return operand.name not in self.names
        try:
            self.value(operand)
        except NotEvaluableError:
            if self.steps.left < 0:
                raise
            return True
        return False

    def _binary(self, expression: Binary) -> Literal:
        operator = expression.operator
        if operator == "and":
            return bool(self.value(expression.left)) and bool(self.value(expression.right))
        if operator == "or":
            return bool(self.value(expression.left)) or bool(self.value(expression.right))
        left = self.value(expression.left)
        if operator == "in":
            assert isinstance(expression.right, Many)  # noqa: S101 - the type check saw to it
            return any(self._is(left, self.value(item)) for item in expression.right.items)
        right = self.value(expression.right)
        if operator == "matches":
            return _matches(str(left), str(right))
        if isinstance(left, Money) and isinstance(right, Money):
            left, right = self._alike(expression, left, right)
        if operator in ("==", "!="):
            return (left == right) is (operator == "==")
        if operator in ("<", "<=", ">", ">="):
            return _compare(operator, left, right)
        return _arithmetic(operator, left, right)

    def _is(self, left: Literal, right: Literal) -> bool:
        if isinstance(left, Money) and isinstance(right, Money):
            left = in_currency(self.around, left, right.currency)
        return left == right

    def _alike(self, expression: Binary, left: Money, right: Money) -> tuple[Money, Money]:
        """Both in the currency of the one that stands in the condition, else of the first."""
        written = isinstance(expression.right, Constant)
        currency = right.currency if written else left.currency
        around = self.around
        return in_currency(around, left, currency), in_currency(around, right, currency)

    def _call(self, expression: Call) -> Literal:
        arguments = [self.value(argument) for argument in expression.arguments]
        return FUNCTIONS[expression.function].run(self.around, arguments)

    def _gather(self, gather: Gather) -> Literal:
        if gather.over not in self.lists:
            raise NotEvaluableError(f"{gather.over} are missing")
        rows = [inside for row in self.lists[gather.over] if (inside := self._row(gather, row))]
        if gather.body is None:
            return Decimal(len(rows))
        if gather.function in ("any", "all"):
            return _any_or_all(gather.function, gather.body, rows)
        values = [inside.value(gather.body) for inside in rows]
        if gather.function == "sum":
            return _sum(gather, values)
        if not values:
            raise NotEvaluableError(f"{gather.over} has no row to take the {gather.function} of")
        least = gather.function == "min"
        found = values[0]
        for value in values[1:]:
            if _compare("<" if least else ">", value, found):
                found = value
        return found

    def _row(self, gather: Gather, row: Names) -> "_Evaluation | None":
        """What looks at one row, None when the condition leaves it out."""
        names = {**self.names, **{f"{gather.name}.{cell}": value for cell, value in row.items()}}
        inside = _Evaluation(names, self.around, self.lists, self.steps)
        if gather.condition is not None and not inside.value(gather.condition):
            return None
        return inside


def _any_or_all(function: str, body: Expression, rows: list[_Evaluation]) -> bool:
    """One row decides, whatever cannot be evaluated of the others; else nothing may be open."""
    decides, doubt = function == "any", None
    for inside in rows:
        try:
            if bool(inside.value(body)) is decides:
                return decides
        except NotEvaluableError as error:
            doubt = doubt or error
    if doubt is not None:
        raise doubt
    return not decides


def _sum(gather: Gather, values: list[Literal]) -> Literal:
    if not values:
        raise NotEvaluableError(f"{gather.over} has no row to add up")
    total = values[0]
    for value in values[1:]:
        total = _arithmetic("+", total, value)
    return total


def _matches(text: str, pattern: str) -> bool:
    """Wildcards: * for anything, ? for one character; case does not matter."""
    wild = {"*": ".*", "?": "."}
    parts = (wild.get(char, re2.escape(char)) for char in pattern.lower())
    return compiled("(?s)" + "".join(parts)).fullmatch(text.lower()) is not None


def _same_currency(left: Literal, right: Literal) -> None:
    """Rows of one list have one currency; what was converted has, too."""
    if isinstance(left, Money) and isinstance(right, Money) and left.currency != right.currency:
        raise NotEvaluableError(f"{left.currency} and {right.currency} in one list")


def _key(value: Literal) -> Decimal | date | timedelta:
    if isinstance(value, Money):
        return value.amount
    if isinstance(value, Percent):
        return value.share
    assert isinstance(value, Decimal | date | timedelta)  # noqa: S101 - the type check saw to it
    return value


def _compare(operator: str, left: Literal, right: Literal) -> bool:
    _same_currency(left, right)
    one, two = _key(left), _key(right)
    less, equal = one < two, one == two  # type: ignore[operator]  # same type on both sides
    return {"<": less, "<=": less or equal, ">": not less and not equal, ">=": not less}[operator]


def _arithmetic(operator: str, left: Literal, right: Literal) -> Literal:
    _same_currency(left, right)
    one, two = _key(left), _key(right)
    try:
        match operator:
            case "+":
                result = one + two  # type: ignore[operator]
            case "-":
                result = one - two  # type: ignore[operator]
            case "*":
                result = one * two  # type: ignore[operator]
            case _:
                result = one / two  # type: ignore[operator]
    except (DivisionByZero, InvalidOperation, OverflowError) as error:
        raise NotEvaluableError(f"{operator} has no result here") from error
    money = [value for value in (left, right) if isinstance(value, Money)]
    if money and not (operator == "/" and len(money) == 2):
        assert isinstance(result, Decimal)  # noqa: S101 - the type check saw to it
        return Money(amount=result, currency=money[0].currency)
    return result
