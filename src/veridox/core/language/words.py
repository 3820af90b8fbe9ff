"""Conditions in a clerk's words: `The total with tax (6,120.00 GBP) is more than 5,000.00 GBP.`"""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date
from typing import Final

from veridox.core.checks import CODES
from veridox.core.language.explain import shown_value
from veridox.core.language.functions import FUNCTIONS
from veridox.core.language.names import TABLE, Names
from veridox.core.language.printed import BINDS, COMPARISON
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


_GATHERED: Final = {
    "any": "for one of the {rows}{among}, {body}", "all": "for each of the {rows}{among}, {body}",
    "sum": "the sum over the {rows}{among} of {body}", "count": "the number of {rows}{among}",
    "min": "the least over the {rows}{among} of {body}",
    "max": "the greatest over the {rows}{among} of {body}",
}  # fmt: skip


def in_words(expression: Expression, names: Names, titles: Mapping[str, str] | None = None) -> str:
    """A condition as a sentence, with the values that it looked at.

    Args:
        expression: that passed its check.
        names: values by name.
        titles: of names that are not the language's: a pipeline's own fields.
    """
    text = _Words(names, titles or {}).said(expression, 0)
    return f"{text[0].upper()}{text[1:]}."


@dataclass(frozen=True)
class _Words:
    """What is known where something is said; `row` is the name of a list's row within it."""

    names: Names
    titles: Mapping[str, str]
    row: str = ""

    def said(self, expression: Expression, around: int) -> str:
        match expression:
            case Constant():
                return _plain(expression.value)
            case Name():
                return self.name(expression.name)
            case Many():
                return ", ".join(self.said(item, 0) for item in expression.items)
            case Unary():
                return self.unary(expression)
            case Call():
                return _found(expression) or self.call(expression)
            case Gather():
                return self.gathered(expression)
            case Binary():
                binds = BINDS.get(expression.operator, COMPARISON)
                left = self.said(expression.left, binds)
                right = self.said(expression.right, binds + 1)
                text = f"{left} {_operator(expression, self.names)} {right}"
                return f"({text})" if binds < around else text

    def title(self, name: str) -> str:
        if self.row and name.startswith(f"{self.row}."):
            return f"its {name.removeprefix(f'{self.row}.').replace('_', ' ')}"
        if name in TABLE:
            return TABLE[name].title
        title = self.titles.get(name, name.removeprefix("run.").replace("_", " "))
        return f"the {title[0].lower()}{title[1:]}"

    def name(self, name: str) -> str:
        title = self.title(name)
        if self.row and name.startswith(f"{self.row}."):
            return title
        if name not in self.names:
            return f"{title} (not stated)"
        value = self.names[name]
        return title if isinstance(value, bool) else f"{title} ({_plain(value)})"

    def unary(self, expression: Unary) -> str:
        inside = expression.operand
        if expression.operator in ("is missing", "is not missing"):
            what = self.title(inside.name) if isinstance(inside, Name) else self.said(inside, 0)
            there = "is not stated" if expression.operator == "is missing" else "is stated"
            return f"{what} {there}"
        text = self.said(inside, COMPARISON)
        return f"-{text}" if expression.operator == "-" else f"it is not so that {text}"

    def call(self, expression: Call) -> str:
        """By what the row of the function says; one of a plug-in by its name."""
        function = FUNCTIONS.get(expression.function)
        given = [self.said(each, COMPARISON) for each in expression.arguments]
        if function is None or not function.words:
            name = expression.function.replace("_", " ")
            return f"the {name} of {' and '.join(given)}" if given else f"the {name}"
        return function.words.format(*given)

    def gathered(self, expression: Gather) -> str:
        inner = replace(self, row=expression.name)
        among = ""
        if expression.condition is not None:
            among = f" where {inner.said(expression.condition, COMPARISON)}"
        body = inner.said(expression.body, 0) if expression.body is not None else ""
        rows = expression.over.replace("_", " ")
        return _GATHERED[expression.function].format(rows=rows, among=among, body=body)


def _plain(value: object) -> str:
    """Texts without their quotes."""
    if isinstance(value, str):
        return " ".join(value.split())
    return shown_value(value)  # type: ignore[arg-type]  # a literal


def _operator(expression: Binary, names: Names) -> str:
    sides = (expression.left, expression.right)
    values = [
        side.value if isinstance(side, Constant) else names.get(getattr(side, "name", ""))
        for side in sides
    ]
    if any(isinstance(value, date) for value in values) and expression.operator in _OF_DAYS:
        return _OF_DAYS[expression.operator]
    return _WORDS[expression.operator]


def _found(expression: Call) -> str:
    """`found("total.sum")` by what that code is called."""
    if expression.function != "found":
        return ""
    code = expression.arguments[0]
    about = CODES.get(str(code.value)) if isinstance(code, Constant) else None
    return f"{about.title[0].lower()}{about.title[1:]}" if about else ""
