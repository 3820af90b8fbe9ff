"""Types of expressions: what cannot work is refused before anything runs."""

from collections.abc import Mapping
from typing import Final

from rapidfuzz import process

from veridox.core.checks import CODES
from veridox.core.findings.wording import counted
from veridox.core.language.functions import FUNCTIONS, compiled
from veridox.core.language.lists import EVERY, LISTS
from veridox.core.language.names import HEADERS, TABLE, NameRow
from veridox.core.language.parse import ExpressionError, parse
from veridox.core.language.syntax import (
    Binary,
    Call,
    Constant,
    Expression,
    Gather,
    Many,
    Name,
    Percent,
    Type,
    Unary,
)
from veridox.core.money import Money

_ORDERED: Final = {Type.NUMBER, Type.PERCENT, Type.MONEY, Type.DATE, Type.DURATION}
_SUMS: Final = {
    ("+", Type.NUMBER, Type.NUMBER): Type.NUMBER,
    ("-", Type.NUMBER, Type.NUMBER): Type.NUMBER,
    ("*", Type.NUMBER, Type.NUMBER): Type.NUMBER,
    ("/", Type.NUMBER, Type.NUMBER): Type.NUMBER,
    ("+", Type.MONEY, Type.MONEY): Type.MONEY,
    ("-", Type.MONEY, Type.MONEY): Type.MONEY,
    ("*", Type.MONEY, Type.NUMBER): Type.MONEY,
    ("*", Type.NUMBER, Type.MONEY): Type.MONEY,
    ("*", Type.MONEY, Type.PERCENT): Type.MONEY,
    ("*", Type.PERCENT, Type.MONEY): Type.MONEY,
    ("/", Type.MONEY, Type.NUMBER): Type.MONEY,
    ("/", Type.MONEY, Type.MONEY): Type.NUMBER,
    ("+", Type.DATE, Type.DURATION): Type.DATE,
    ("-", Type.DATE, Type.DURATION): Type.DATE,
    ("-", Type.DATE, Type.DATE): Type.DURATION,
}


def nearest(word: str, known: list[str]) -> str:
    """`did you mean ...?` for a word that is nearly one of the known, else empty."""
    best = process.extractOne(word, known, score_cutoff=70)
    return f"did you mean {best[0]}?" if best else ""


def compile_condition(
    source: str,
    declared: Mapping[str, Type] | None = None,
    names: Mapping[str, Type] = EVERY,
) -> Expression:
    """Parse a condition and check its types; it must yield a truth value.

    Args:
        source: the condition's text.
        declared: names with their types beside those of the language.
        names: those of the language that have a value where the condition is evaluated.

    Raises:
        ExpressionError: what is wrong and where.
    """
    expression = parse(source)
    result = type_of(expression, {**names, **(declared or {})})
    if result is not Type.TRUTH:
        raise ExpressionError(f"a condition is needed, this is a {result.value}", 0)
    if not _asks(expression):
        raise ExpressionError("this is the same for every document: it asks for nothing", 0)
    return expression


def _asks(expression: Expression) -> bool:
    """Whether anything of a document can change what comes out."""
    match expression:
        case Constant():
            return False
        case Name() | Gather():
            return True
        case Many():
            return any(map(_asks, expression.items))
        case Unary():
            return _asks(expression.operand)
        case Binary():
            return _asks(expression.left) or _asks(expression.right)
        case Call():
            return expression.function == "found" or any(map(_asks, expression.arguments))


Known = Mapping[str, Type]
"""Names that have a value where an expression is evaluated, with their types."""


def type_of(expression: Expression, known: Known = EVERY) -> Type:
    """The type an expression yields. Raises ExpressionError where types do not fit."""
    match expression:
        case Constant():
            return expression.type
        case Name():
            return _name(expression, known)
        case Many():
            return Type.LIST  # what its items are is asked where something is looked for in it
        case Unary():
            return _unary(expression, known)
        case Binary():
            return _binary(expression, known)
        case Call():
            return _call(expression, known)
        case Gather():
            return _gather(expression, known)


def _name(name: Name, known: Known) -> Type:
    if known.get(name.name) is Type.LIST:
        raise ExpressionError(
            f"{name.name} is a list: go through it", name.at, f"as in {LISTS[name.name].example}"
        )
    if name.name in known:
        return known[name.name]
    if name.name.startswith(HEADERS + "["):
        return Type.TEXT
    if name.name == HEADERS:
        raise ExpressionError(f'say which header: {HEADERS}["x-topic"]', name.at)
    if name.name in EVERY:
        listed = ", ".join(sorted(known))
        raise ExpressionError(
            f"{name.name!r} has no value yet where this is asked", name.at, f"known are {listed}"
        )
    hint = nearest(name.name, list(known))
    raise ExpressionError(f"unknown name {name.name!r}", name.at, hint)


def _unary(expression: Unary, known: Known) -> Type:
    operand = type_of(expression.operand, known)
    if expression.operator == "not":
        _want(expression.operand, operand, Type.TRUTH, "not")
        return Type.TRUTH
    if expression.operator == "-":
        if operand not in (Type.NUMBER, Type.MONEY, Type.PERCENT):
            raise ExpressionError(f"- does not go with a {operand.value}", expression.at)
        return operand
    if not isinstance(expression.operand, Name | Call):
        raise ExpressionError(
            "only a name, or what a function gives, can be missing", expression.at
        )
    return Type.TRUTH


def _want(expression: Expression, found: Type, wanted: Type, operator: str) -> None:
    if found is not wanted:
        raise ExpressionError(
            f"{operator} wants a {wanted.value}, this is a {found.value}", expression.at
        )


def _binary(expression: Binary, known: Known) -> Type:
    left, right = type_of(expression.left, known), type_of(expression.right, known)
    operator = expression.operator
    _possible(expression)
    if operator in ("and", "or"):
        _want(expression.left, left, Type.TRUTH, operator)
        _want(expression.right, right, Type.TRUTH, operator)
        return Type.TRUTH
    if operator == "in":
        _want(expression.right, right, Type.LIST, operator)
        for item in expression.right.items if isinstance(expression.right, Many) else ():
            of_item = type_of(item, known)
            if of_item is not left:
                raise ExpressionError(
                    f"a {left.value} is never equal to a {of_item.value}", item.at
                )
        return Type.TRUTH
    if operator == "matches":
        _want(expression.left, left, Type.TEXT, operator)
        _want(expression.right, right, Type.TEXT, operator)
        return Type.TRUTH
    _same_currency(expression)
    if operator in ("==", "!="):
        if left is not right or left is Type.LIST:
            raise ExpressionError(
                f"a {left.value} is never equal to a {right.value}", expression.at
            )
        return Type.TRUTH
    if operator in ("<", "<=", ">", ">="):
        if left is not right or left not in _ORDERED:
            hint = _comparison_hint(left, right)
            raise ExpressionError(
                f"a {left.value} cannot be compared with a {right.value}", expression.at, hint
            )
        return Type.TRUTH
    result = _SUMS.get((operator, left, right))
    if result is None:
        raise ExpressionError(
            f"{left.value} {operator} {right.value} has no meaning", expression.at
        )
    return result


def _possible(expression: Binary) -> None:
    """A name is compared with what it can be. Raises ExpressionError for what never holds."""
    sides = ((expression.left, expression.right), (expression.right, expression.left))
    for name, other in sides:
        row = TABLE.get(name.name) if isinstance(name, Name) else None
        if row is None or expression.operator == "matches":
            continue
        for value in other.items if isinstance(other, Many) else (other,):
            if isinstance(value, Constant):
                _can_be(row, value)


def _can_be(row: NameRow, value: Constant) -> None:
    if row.values and value.type is Type.TEXT and value.value not in row.values:
        choices = list(row.values)
        hint = nearest(str(value.value), choices) or "it is one of: " + ", ".join(choices)
        what = row.title.removeprefix("the ")
        raise ExpressionError(f"{value.value!r} is no {what}", value.at, hint)
    if isinstance(value.value, Percent) and not 0 <= value.value.share <= 1:
        raise ExpressionError("a share is from 0 % to 100 %", value.at)


def _comparison_hint(left: Type, right: Type) -> str:
    if {left, right} == {Type.MONEY, Type.NUMBER}:
        return "write the amount with its currency, as in 5000 GBP"
    if {left, right} == {Type.PERCENT, Type.NUMBER}:
        return "write a percentage with its sign, as in 0.1 %"
    return ""


def _same_currency(expression: Binary) -> None:
    left, right = expression.left, expression.right
    if isinstance(left, Constant) and isinstance(right, Constant):
        one, two = left.value, right.value
        if isinstance(one, Money) and isinstance(two, Money) and one.currency != two.currency:
            raise ExpressionError(
                f"{one.currency} and {two.currency} cannot be compared", expression.at
            )


def _call(expression: Call, known: Known) -> Type:
    function = FUNCTIONS.get(expression.function)
    if function is None:
        hint = nearest(expression.function, list(FUNCTIONS))
        raise ExpressionError(f"unknown function {expression.function!r}", expression.at, hint)
    wanted, result = function.takes, function.gives
    if len(expression.arguments) != len(wanted):
        raise ExpressionError(
            f"{expression.function} takes {counted(len(wanted), 'value')}, "
            f"not {len(expression.arguments)}",
            expression.at,
        )
    for argument, kind in zip(expression.arguments, wanted, strict=True):
        _want(argument, type_of(argument, known), kind, expression.function)
    if expression.function == "found":
        _known_code(expression.arguments[0])
    if function.pattern is not None:
        _good_pattern(expression.arguments[function.pattern])
    return result


def _good_pattern(argument: Expression) -> None:
    if not isinstance(argument, Constant):
        raise ExpressionError("the pattern stands in quotes", argument.at)
    try:
        compiled(str(argument.value))
    except ValueError as error:
        raise ExpressionError(f"this is no pattern: {error}", argument.at) from None


_ADDED: Final = (Type.NUMBER, Type.MONEY)


def _gather(gather: Gather, known: Known) -> Type:
    """What goes through a list; its rows' values are known inside alone."""
    if known.get(gather.over) is not Type.LIST:
        lists = [name for name, kind in known.items() if kind is Type.LIST]
        hint = nearest(gather.over, lists) or f"lists are {', '.join(lists) or 'none here'}"
        raise ExpressionError(f"{gather.over!r} is no list that is there", gather.at, hint)
    if gather.name and (gather.name in known or gather.name in EVERY):
        raise ExpressionError(f"{gather.name!r} has a meaning already", gather.at, "take another")
    has = LISTS[gather.over].has
    inside = {**known, **{f"{gather.name}.{cell}": kind for cell, kind in has.items()}}
    if gather.condition is not None:
        _want(gather.condition, type_of(gather.condition, inside), Type.TRUTH, "if")
    if gather.body is None:
        return Type.NUMBER
    body = type_of(gather.body, inside)
    if gather.function in ("any", "all"):
        _want(gather.body, body, Type.TRUTH, gather.function)
    elif gather.function == "sum" and body not in _ADDED:
        raise ExpressionError(f"a {body.value} cannot be added up", gather.body.at)
    elif body not in _ORDERED and gather.function in ("min", "max"):
        raise ExpressionError(f"of a {body.value} none is the least", gather.body.at)
    return body


def _known_code(argument: Expression) -> None:
    if isinstance(argument, Constant) and argument.value not in CODES:
        hint = nearest(str(argument.value), list(CODES))
        raise ExpressionError(f"no finding has the code {argument.value!r}", argument.at, hint)
