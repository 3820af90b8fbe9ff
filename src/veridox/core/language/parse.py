"""Text to expression, by recursive descent."""

import re
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal

from veridox.core.language.names import HEADERS, header_name
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
from veridox.core.money import Money, is_currency

MAX_LENGTH = 2_000
MAX_DEPTH = 40


class ExpressionError(ValueError):
    """An expression that cannot be used.

    Attributes:
        at: offset of the first character concerned.
        hint: what may have been meant, empty when nothing comes near.
    """

    def __init__(self, message: str, at: int, hint: str = "") -> None:
        super().__init__(message)
        self.at = at
        self.hint = hint


@dataclass(frozen=True, slots=True)
class _Token:
    kind: str
    text: str
    at: int


_TOKEN = re.compile(
    r"""(?P<space>\s+)
      | (?P<date>\d{4}-\d{2}-\d{2})
      | (?P<number>\d+(?:\.\d+)?)
      | (?P<text>"[^"\n]*"|'[^'\n]*')
      | (?P<name>[A-Za-z_][A-Za-z0-9_]*(?:\.[A-Za-z_][A-Za-z0-9_]*)*)
      | (?P<sign>==|!=|<=|>=|[-<>+*/()\[\],%])""",
    re.VERBOSE,
)
_COMPARE = ("==", "!=", "<=", ">=", "<", ">")
_WORDS = ("and", "or", "not", "in", "is", "matches", "missing", "for", "if")
GATHERERS = ("any", "all", "sum", "count", "min", "max")
"""What goes through a list."""


def _tokens(source: str) -> Iterator[_Token]:
    position = 0
    while position < len(source):
        match = _TOKEN.match(source, position)
        if match is None:
            hint = "compare with ==" if source[position] == "=" else ""
            raise ExpressionError(f"unexpected {source[position]!r}", position, hint)
        kind = str(match.lastgroup)
        if kind != "space":
            text = match[0]
            word = kind == "name" and text in _WORDS
            yield _Token("word" if word else kind, text, position)
        position = match.end()
    yield _Token("end", "", len(source))


class _Parser:
    def __init__(self, source: str) -> None:
        self.tokens = list(_tokens(source))
        self.index = 0
        self.depth = 0

    @property
    def next(self) -> _Token:
        return self.tokens[self.index]

    def take(self) -> _Token:
        token = self.tokens[self.index]
        self.index += 1
        return token

    def accept(self, *texts: str) -> _Token | None:
        if self.next.kind in ("sign", "word") and self.next.text in texts:
            return self.take()
        return None

    def expect(self, text: str) -> _Token:
        found = self.accept(text)
        if found is None:
            raise ExpressionError(f"expected {text!r}, found {self._shown()}", self.next.at)
        return found

    def _shown(self) -> str:
        return repr(self.next.text) if self.next.kind != "end" else "the end"

    def any_of(self) -> Expression:
        self.depth += 1
        if self.depth > MAX_DEPTH:
            raise ExpressionError("nested too deeply", self.next.at)
        left = self.all_of()
        while operator := self.accept("or"):
            left = Binary(operator="or", left=left, right=self.all_of(), at=operator.at)
        self.depth -= 1
        return left

    def all_of(self) -> Expression:
        left = self.negation()
        while operator := self.accept("and"):
            left = Binary(operator="and", left=left, right=self.negation(), at=operator.at)
        return left

    def negation(self) -> Expression:
        negations = []
        while operator := self.accept("not"):
            negations.append(operator)
        result = self.comparison()
        for operator in reversed(negations):
            result = Unary(operator="not", operand=result, at=operator.at)
        return result

    def comparison(self) -> Expression:
        left = self.sum()
        if operator := self.accept("is"):
            name = "is not missing" if self.accept("not") else "is missing"
            self.expect("missing")
            return Unary(operator=name, operand=left, at=operator.at)
        if operator := self.accept("not"):
            self.expect("in")
            inside = Binary(operator="in", left=left, right=self.sum(), at=operator.at)
            return Unary(operator="not", operand=inside, at=operator.at)
        if operator := self.accept(*_COMPARE, "in", "matches"):
            return Binary(operator=operator.text, left=left, right=self.sum(), at=operator.at)
        return left

    def sum(self) -> Expression:
        left = self.product()
        while operator := self.accept("+", "-"):
            left = Binary(operator=operator.text, left=left, right=self.product(), at=operator.at)
        return left

    def product(self) -> Expression:
        left = self.atom()
        while operator := self.accept("*", "/"):
            left = Binary(operator=operator.text, left=left, right=self.atom(), at=operator.at)
        return left

    def atom(self) -> Expression:
        if operator := self.accept("-"):
            return Unary(operator="-", operand=self.atom(), at=operator.at)
        if self.accept("("):
            inner = self.any_of()
            self.expect(")")
            return inner
        if opening := self.accept("["):
            return Many(items=self._items("]"), at=opening.at)
        token = self.take()
        if token.kind == "number":
            return self._number(token)
        if token.kind == "date":
            return self._date(token)
        if token.kind == "text":
            return Constant(value=token.text[1:-1], type=Type.TEXT, at=token.at)
        if token.kind == "name":
            return self._named(token)
        shown = repr(token.text) if token.kind != "end" else "the end"
        raise ExpressionError(f"expected a value, found {shown}", token.at)

    def _items(self, closing: str) -> tuple[Expression, ...]:
        items: list[Expression] = []
        while not self.accept(closing):
            items.append(self.any_of())
            if self.accept(","):
                continue
            self.expect(closing)
            break
        return tuple(items)

    def _named(self, token: _Token) -> Expression:
        if token.text in ("true", "false"):
            return Constant(value=token.text == "true", type=Type.TRUTH, at=token.at)
        if token.text in GATHERERS and self.next.text == "(":
            return self._gather(token)
        if self.accept("("):
            return Call(function=token.text, arguments=self._items(")"), at=token.at)
        if token.text == HEADERS and self.accept("["):
            key = self.take()
            if key.kind != "text":
                raise ExpressionError(f'name the header in quotes: {HEADERS}["x-topic"]', key.at)
            self.expect("]")
            return Name(name=header_name(key.text[1:-1]), at=token.at)
        return Name(name=token.text, at=token.at)

    def _gather(self, token: _Token) -> Gather:
        """`any(body for name in list if condition)`, or `count(list)`."""
        self.expect("(")
        first = self.any_of()
        if token.text == "count" and isinstance(first, Name) and self.accept(")"):
            return Gather(
                function="count", over=first.name, name="", body=None, condition=None, at=token.at
            )
        self.expect("for")
        name = self.take()
        if name.kind != "name" or "." in name.text:
            raise ExpressionError(
                "expected a name for each row, as in `for line in lines`", name.at
            )
        self.expect("in")
        over = self.take()
        if over.kind != "name":
            raise ExpressionError("expected the name of a list", over.at)
        condition = self.any_of() if self.accept("if") else None
        self.expect(")")
        body: Expression | None = first
        if token.text == "count":
            if not isinstance(first, Name) or first.name != name.text:
                raise ExpressionError(
                    f"count takes the rows themselves: count({name.text} for ...)", first.at
                )
            body = None
        return Gather(
            function=token.text, over=over.text, name=name.text, body=body, condition=condition,
            at=token.at,
        )  # fmt: skip

    def _date(self, token: _Token) -> Constant:
        try:
            return Constant(value=date.fromisoformat(token.text), type=Type.DATE, at=token.at)
        except ValueError:
            raise ExpressionError(f"{token.text} is no day of the calendar", token.at) from None

    def _number(self, token: _Token) -> Constant:
        number = Decimal(token.text)
        if self.accept("%"):
            return Constant(value=Percent(number / 100), type=Type.PERCENT, at=token.at)
        unit = self.next
        if unit.kind == "name" and is_currency(unit.text):
            self.take()
            money = Money(amount=number, currency=unit.text)
            return Constant(value=money, type=Type.MONEY, at=token.at)
        if unit.kind == "name" and unit.text in ("day", "days"):
            self.take()
            if number != int(number):
                raise ExpressionError("days are whole numbers", token.at)
            return Constant(value=timedelta(days=int(number)), type=Type.DURATION, at=token.at)
        return Constant(value=number, type=Type.NUMBER, at=token.at)


def parse(source: str) -> Expression:
    """The expression that a text holds.

    Raises:
        ExpressionError: with the place of the first thing that is wrong.
    """
    if len(source) > MAX_LENGTH:
        raise ExpressionError(f"longer than {MAX_LENGTH} characters", MAX_LENGTH)
    parser = _Parser(source)
    expression = parser.any_of()
    if parser.next.kind != "end":
        raise ExpressionError(f"unexpected {parser.next.text!r}", parser.next.at)
    return expression
