"""Values of expressions. What cannot be evaluated says so; it never counts as false."""

import re
from collections.abc import Collection
from datetime import date, timedelta
from decimal import Decimal, DivisionByZero, InvalidOperation

from veridox.core.money import Money
from veridox.core.rules.functions import FUNCTIONS
from veridox.core.rules.names import Names
from veridox.core.rules.syntax import (
    Binary,
    Call,
    Constant,
    Expression,
    Literal,
    Many,
    Name,
    Percent,
    Unary,
)


class NotEvaluableError(Exception):
    """A value that the expression needs is missing, or currencies differ without a rate."""


def evaluate(expression: Expression, names: Names, codes: Collection[str] = ()) -> Literal:
    """The value of an expression that has passed the type check.

    Args:
        expression: from `compile_condition`.
        names: values by name; absent ones are missing.
        codes: codes of the document's findings, for `found(...)`.

    Raises:
        NotEvaluableError: the document stops at the gate that asked.
    """
    return _Evaluation(names, codes).value(expression)


class _Evaluation:
    def __init__(self, names: Names, codes: Collection[str]) -> None:
        self.names = names
        self.codes = codes

    def value(self, expression: Expression) -> Literal:
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
            case Many():
                raise NotEvaluableError("a list has no value of its own")

    def _unary(self, expression: Unary) -> Literal:
        if expression.operator in ("is missing", "is not missing"):
            assert isinstance(expression.operand, Name)  # noqa: S101 - the type check saw to it
            missing = expression.operand.name not in self.names
            return missing if expression.operator == "is missing" else not missing
        operand = self.value(expression.operand)
        if expression.operator == "not":
            return not operand
        if isinstance(operand, Percent):
            return Percent(-operand.share)
        return -operand  # type: ignore[operator, return-value]  # number or money by the type check

    def _binary(self, expression: Binary) -> Literal:
        operator = expression.operator
        if operator == "and":
            return bool(self.value(expression.left)) and bool(self.value(expression.right))
        if operator == "or":
            return bool(self.value(expression.left)) or bool(self.value(expression.right))
        left = self.value(expression.left)
        if operator == "in":
            assert isinstance(expression.right, Many)  # noqa: S101 - the type check saw to it
            return any(_equal(left, self.value(item)) for item in expression.right.items)
        right = self.value(expression.right)
        if operator == "matches":
            return _matches(str(left), str(right))
        if operator in ("==", "!="):
            return _equal(left, right) is (operator == "==")
        if operator in ("<", "<=", ">", ">="):
            return _compare(operator, left, right)
        return _arithmetic(operator, left, right)

    def _call(self, expression: Call) -> Literal:
        arguments = [self.value(argument) for argument in expression.arguments]
        return FUNCTIONS[expression.function].run(self.codes, arguments)


def _matches(text: str, pattern: str) -> bool:
    """Wildcards: * for anything, ? for one character; case does not matter."""
    parts = (re.escape(part).replace(r"\?", ".") for part in pattern.lower().split("*"))
    return re.fullmatch(".*".join(parts), text.lower(), re.DOTALL) is not None


def _same_currency(left: Literal, right: Literal) -> None:
    if isinstance(left, Money) and isinstance(right, Money) and left.currency != right.currency:
        raise NotEvaluableError(f"no rate from {left.currency} to {right.currency}")


def _equal(left: Literal, right: Literal) -> bool:
    _same_currency(left, right)
    return left == right


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
