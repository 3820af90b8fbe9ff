"""Conditions in words with their values: `gross_total 6,120.00 GBP > 5,000.00 GBP`."""

from collections.abc import Collection
from dataclasses import dataclass
from datetime import timedelta
from decimal import Decimal

from veridox.core.findings.wording import counted
from veridox.core.money import Money
from veridox.core.rules.evaluate import NotEvaluableError, evaluate
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

LONGEST = 80
"""Characters of a text that are shown."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Looked:
    """What became of a condition.

    Attributes:
        holds: None when it could not be evaluated.
        said: the condition with the values that it looked at, and what came out.
        why: why it could not be evaluated; else empty.
    """

    holds: bool | None
    said: str
    why: str = ""


def look(expression: Expression, names: Names, codes: Collection[str] = ()) -> Looked:
    """Evaluate a condition and say how: what cannot be evaluated is told, too; never raises."""
    if isinstance(expression, Name) and expression.name in names:
        shown = expression.name  # its value is what comes out
    else:
        shown = _shown(expression, names)
    try:
        holds = bool(evaluate(expression, names, codes))
    except NotEvaluableError as error:
        return Looked(holds=None, said=f"{shown}: cannot be evaluated ({error})", why=str(error))
    return Looked(holds=holds, said=f"{shown}: {'yes' if holds else 'no'}")


def shown_value(value: Literal) -> str:
    """A value as people write it."""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, Percent):
        share = (value.share * 100).quantize(Decimal("0.01"))
        text = f"{share.normalize():f}"
        return f"{text} %"
    if isinstance(value, Money):
        return str(value)
    if isinstance(value, timedelta):
        return counted(value.days, "day")
    if isinstance(value, Decimal):
        return f"{value:f}"
    if isinstance(value, str):
        short = value if len(value) <= LONGEST else value[: LONGEST - 1] + "…"
        return '"' + " ".join(short.split()) + '"'
    return str(value)


_BINDS = {"or": 1, "and": 2, "+": 4, "-": 4, "*": 5, "/": 5}
"""How closely an operator holds its sides together; comparisons stand between."""


def _shown(expression: Expression, names: Names, around: int = 0) -> str:
    match expression:
        case Constant():
            return shown_value(expression.value)
        case Name():
            if expression.name not in names:
                return f"{expression.name} (missing)"
            return f"{expression.name} {shown_value(names[expression.name])}"
        case Many():
            return "[" + ", ".join(_shown(item, names) for item in expression.items) + "]"
        case Unary():
            return _unary(expression, names)
        case Call():
            inside = ", ".join(_shown(each, names) for each in expression.arguments)
            return f"{expression.function}({inside})"
        case Binary():
            binds = _BINDS.get(expression.operator, 3)
            left = _shown(expression.left, names, binds)
            right = _shown(expression.right, names, binds + 1)
            text = f"{left} {expression.operator} {right}"
            return f"({text})" if binds < around else text


def _unary(expression: Unary, names: Names) -> str:
    operand = expression.operand
    if expression.operator in ("is missing", "is not missing"):
        there = isinstance(operand, Name) and operand.name in names
        shown = _shown(operand, names) if there else getattr(operand, "name", "")
        return f"{shown} {expression.operator}"
    space = "" if expression.operator == "-" else " "
    return f"{expression.operator}{space}{_shown(operand, names, around=6)}"
