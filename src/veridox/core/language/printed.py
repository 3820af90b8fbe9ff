"""An expression as text again: what parses to the same expression."""

from datetime import date, timedelta
from decimal import Decimal
from typing import Final

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

BINDS: Final = {"or": 1, "and": 2, "+": 5, "-": 5, "*": 6, "/": 6}
"""How closely an operator holds its sides together; `not` and comparisons stand between."""
NOT, COMPARISON, SIGN = 3, 4, 7


def printed(expression: Expression) -> str:
    """The expression's text, with brackets only where they are needed."""
    return _text(expression, 0)


def literal(value: Literal) -> str:
    """A value as it is written in an expression."""
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, Percent):
        share = (value.share * 100).normalize()
        return f"{_number(share)} %"
    if isinstance(value, Money):
        return f"{_number(value.amount)} {value.currency}"
    if isinstance(value, timedelta):
        return f"{value.days} days"
    if isinstance(value, Decimal):
        return _number(value)
    if isinstance(value, date):
        return value.isoformat()
    mark = "'" if '"' in value else '"'
    return f"{mark}{value}{mark}"


def _number(number: Decimal) -> str:
    return format(number, "f")


def _text(expression: Expression, around: int) -> str:
    match expression:
        case Constant():
            return literal(expression.value)
        case Name():
            return expression.name
        case Many():
            return "[" + ", ".join(_text(item, 0) for item in expression.items) + "]"
        case Call():
            inside = ", ".join(_text(each, 0) for each in expression.arguments)
            return f"{expression.function}({inside})"
        case Gather():
            return _gather(expression)
        case Unary():
            return _unary(expression, around)
        case Binary():
            binds = BINDS.get(expression.operator, COMPARISON)
            # Comparisons stand between sums and are not chained; the others hold to the left.
            left = binds + 1 if binds == COMPARISON else binds
            text = (
                f"{_text(expression.left, left)} {expression.operator} "
                f"{_text(expression.right, binds + 1)}"
            )
            return f"({text})" if binds < around else text


def _unary(expression: Unary, around: int) -> str:
    if expression.operator == "not":
        text, binds = f"not {_text(expression.operand, NOT)}", NOT
    elif expression.operator == "-":
        text, binds = f"-{_text(expression.operand, SIGN)}", SIGN
    else:
        text, binds = (
            f"{_text(expression.operand, COMPARISON + 1)} {expression.operator}",
            COMPARISON,
        )
    return f"({text})" if binds < around else text


def _gather(gather: Gather) -> str:
    if not gather.name:
        return f"{gather.function}({gather.over})"
    body = gather.name if gather.body is None else _text(gather.body, 0)
    condition = f" if {_text(gather.condition, 0)}" if gather.condition is not None else ""
    return f"{gather.function}({body} for {gather.name} in {gather.over}{condition})"
