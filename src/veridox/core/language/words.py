"""Conditions in a clerk's words: `The total with tax (6,120.00 GBP) is more than 5,000.00 GBP.`"""

from collections.abc import Mapping
from datetime import date
from typing import Final

from veridox.core.checks import CODES
from veridox.core.language.explain import shown_value
from veridox.core.language.names import TABLE, Names
from veridox.core.language.printed import BINDS, COMPARISON, printed
from veridox.core.language.syntax import (
    Binary,
    Call,
    Constant,
    Expression,
    Gather,
    Many,
    Name,
    Unary,
)

_WORDS: Final = {
    "==": "is", "!=": "is not", ">": "is more than", ">=": "is at least", "<": "is less than",
    "<=": "is at most", "in": "is one of", "matches": "is like", "+": "plus", "-": "less",
    "*": "times", "/": "divided by", "and": "and", "or": "or",
}  # fmt: skip
_OF_DAYS: Final = {
    ">": "is after", ">=": "is not before", "<": "is before", "<=": "is not after",
}  # fmt: skip


def in_words(expression: Expression, names: Names, titles: Mapping[str, str] | None = None) -> str:
    """A condition as a sentence, with the values that it looked at.

    Args:
        expression: that passed its check.
        names: values by name.
        titles: of names that are not the language's: a pipeline's own fields.
    """
    text = _said(expression, names, titles or {}, 0)
    return f"{text[0].upper()}{text[1:]}."


def _said(expression: Expression, names: Names, titles: Mapping[str, str], around: int) -> str:
    match expression:
        case Constant():
            return _plain(expression.value)
        case Name():
            return _name(expression.name, names, titles)
        case Many():
            return ", ".join(_said(item, names, titles, 0) for item in expression.items)
        case Unary():
            return _unary(expression, names, titles)
        case Call() | Gather():
            return _found(expression) or printed(expression)
        case Binary():
            binds = BINDS.get(expression.operator, COMPARISON)
            left = _said(expression.left, names, titles, binds)
            right = _said(expression.right, names, titles, binds + 1)
            text = f"{left} {_operator(expression, names)} {right}"
            return f"({text})" if binds < around else text


def _plain(value: object) -> str:
    """Texts without their quotes."""
    if isinstance(value, str):
        return value
    return shown_value(value)  # type: ignore[arg-type]  # a literal


def _title(name: str, titles: Mapping[str, str]) -> str:
    if name in TABLE:
        return TABLE[name].title
    title = titles.get(name, name.replace("_", " "))
    return f"the {title[0].lower()}{title[1:]}"


def _name(name: str, names: Names, titles: Mapping[str, str]) -> str:
    title = _title(name, titles)
    if name not in names:
        return f"{title} (not stated)"
    value = names[name]
    return title if isinstance(value, bool) else f"{title} ({_plain(value)})"


def _unary(expression: Unary, names: Names, titles: Mapping[str, str]) -> str:
    inside = expression.operand
    if expression.operator in ("is missing", "is not missing"):
        what = _title(inside.name, titles) if isinstance(inside, Name) else printed(inside)
        return f"{what} is {'not ' if expression.operator == 'is missing' else ''}stated"
    text = _said(inside, names, titles, COMPARISON)
    return f"-{text}" if expression.operator == "-" else f"it is not so that {text}"


def _operator(expression: Binary, names: Names) -> str:
    sides = (expression.left, expression.right)
    values = [
        side.value if isinstance(side, Constant) else names.get(getattr(side, "name", ""))
        for side in sides
    ]
    if any(isinstance(value, date) for value in values) and expression.operator in _OF_DAYS:
        return _OF_DAYS[expression.operator]
    return _WORDS[expression.operator]


def _found(expression: Call | Gather) -> str:
    """`found("total.sum")` by what that code is called."""
    if not isinstance(expression, Call) or expression.function != "found":
        return ""
    code = expression.arguments[0]
    about = CODES.get(str(code.value)) if isinstance(code, Constant) else None
    return f"{about.title[0].lower()}{about.title[1:]}" if about else ""
