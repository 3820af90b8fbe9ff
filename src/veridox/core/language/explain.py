"""Conditions in words with their values: `gross_total 6,120.00 GBP > 5,000.00 GBP`."""

from collections.abc import Collection
from dataclasses import dataclass
from datetime import timedelta
from decimal import Decimal

from veridox.core.findings.wording import counted
from veridox.core.language.evaluate import evaluate
from veridox.core.language.functions import (
    Around,
    Calls,
    NotEvaluableError,
    Rates,
    in_currency,
)
from veridox.core.language.lists import Lists
from veridox.core.language.names import Names
from veridox.core.language.printed import BINDS, COMPARISON, SIGN, printed
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


def look(
    expression: Expression,
    names: Names,
    codes: Collection[str] = (),
    lists: Lists | None = None,
    rates: Rates | None = None,
    calls: Calls | None = None,
) -> Looked:
    """Evaluate a condition and say how: what cannot be evaluated is told, too; never raises.

    Args as of `evaluate`.
    """
    known = _Known(names, codes, lists, rates, calls)
    if isinstance(expression, Name) and expression.name in names:
        shown = expression.name  # its value is what comes out
    else:
        shown = _shown(expression, known)
    try:
        holds = bool(known.value(expression))
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


@dataclass(frozen=True, slots=True)
class _Known:
    """What the condition is evaluated with."""

    names: Names
    codes: Collection[str]
    lists: Lists | None
    rates: Rates | None
    calls: Calls | None

    def value(self, expression: Expression) -> Literal:
        return evaluate(expression, self.names, self.codes, self.lists, self.rates, self.calls)


def _shown(expression: Expression, known: _Known, around: int = 0) -> str:
    match expression:
        case Constant():
            return shown_value(expression.value)
        case Name():
            if expression.name not in known.names:
                return f"{expression.name} (missing)"
            return f"{expression.name} {shown_value(known.names[expression.name])}"
        case Many():
            return "[" + ", ".join(_shown(item, known) for item in expression.items) + "]"
        case Unary():
            return _unary(expression, known)
        case Call():
            return _call(expression, known)
        case Gather():
            return printed(expression) + _came_out(expression, known)
        case Binary():
            binds = BINDS.get(expression.operator, COMPARISON)
            left = _shown(expression.left, known, binds) + _converted(expression, known, left=True)
            right = _shown(expression.right, known, binds + 1)
            right += _converted(expression, known, left=False)
            text = f"{left} {expression.operator} {right}"
            return f"({text})" if binds < around else text


def _converted(expression: Binary, known: _Known, *, left: bool) -> str:
    """What an amount comes to in the currency that it is compared in, where that is another."""
    own, other = (expression.left, expression.right)[:: 1 if left else -1]
    if isinstance(own, Constant) or not isinstance(other, Constant):
        return ""
    if not isinstance(other.value, Money):
        return ""
    currency = other.value.currency
    try:
        value = known.value(own)
        if not isinstance(value, Money) or value.currency == currency:
            return ""
        return f" ({in_currency(Around(rates=known.rates), value, currency)})"
    except NotEvaluableError:
        return ""


def _call(expression: Call, known: _Known) -> str:
    """With what it gives, where that is no yes or no."""
    inside = ", ".join(_shown(each, known) for each in expression.arguments)
    return f"{expression.function}({inside})" + _came_out(expression, known)


def _came_out(expression: Expression, known: _Known) -> str:
    try:
        value = known.value(expression)
    except NotEvaluableError:
        return " (missing)"
    return "" if isinstance(value, bool) else f" {shown_value(value)}"


def _unary(expression: Unary, known: _Known) -> str:
    operand = expression.operand
    if expression.operator in ("is missing", "is not missing"):
        there = not (isinstance(operand, Name) and operand.name not in known.names)
        shown = _shown(operand, known) if there else getattr(operand, "name", "")
        return f"{shown} {expression.operator}"
    space = "" if expression.operator == "-" else " "
    return f"{expression.operator}{space}{_shown(operand, known, around=SIGN)}"
