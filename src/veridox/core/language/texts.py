"""Texts with names filled in: a small part of Jinja2, with the names and types of the language.

A text is checked before it is ever used, at the event where it is. It fills in names and filters
them, chooses (`if`) and goes through one list (`for`); it does not compute, call, or reach into
objects: what it does is bounded by its own length and the rows of one list. It is compiled from
a tree in which each dotted name became a plain variable, so nothing is ever looked up on a value.
"""

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from functools import lru_cache
from typing import Final

from jinja2 import Template, TemplateSyntaxError, nodes
from jinja2.sandbox import ImmutableSandboxedEnvironment

from veridox.core.language.explain import shown_value
from veridox.core.language.lists import LISTS, Lists
from veridox.core.language.names import TABLE, Names
from veridox.core.language.parse import ExpressionError
from veridox.core.language.syntax import Literal, Type
from veridox.core.language.typing import Known, nearest
from veridox.core.money import Money

LONGEST_SOURCE: Final = 20_000
"""Characters of a text before its names are filled in."""
LONGEST: Final = 20_000
"""Characters of a text that was filled in; what is more is cut off, with a sign."""
NOT_STATED: Final = "(not stated)"
"""Stands where a name has no value."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Filter:
    """One filter: types it takes, what it does, its help."""

    takes: tuple[Type, ...]
    run: Callable[[Literal], str]
    help: str
    example: str


def _in_words(day: Literal) -> str:
    # A month's name leaves nothing to guess between countries.
    return f"{day.day} {day:%B %Y}" if isinstance(day, date) else str(day)


def _plain_amount(value: Literal) -> str:
    return f"{value.rounded().amount:,}" if isinstance(value, Money) else str(value)


def _capital(value: Literal) -> str:
    text = str(value)
    return text[:1].upper() + text[1:]


FILTERS: Final[dict[str, Filter]] = {
    "in_words": Filter(
        takes=(Type.DATE,), run=_in_words, help="a day with its month's name",
        example="{{ issue_date | in_words }}",
    ),
    "amount": Filter(
        takes=(Type.MONEY,), run=_plain_amount, help="an amount without its currency",
        example="{{ gross_total | amount }}",
    ),
    "upper": Filter(
        takes=(Type.TEXT,), run=lambda v: str(v).upper(), help="in capitals",
        example="{{ number | upper }}",
    ),
    "lower": Filter(
        takes=(Type.TEXT,), run=lambda v: str(v).lower(), help="in small letters",
        example="{{ kind | lower }}",
    ),
    "capital": Filter(
        takes=(Type.TEXT,), run=_capital, help="with a capital to begin with",
        example="{{ kind | capital }}",
    ),
    "short": Filter(
        takes=(Type.TEXT,), run=lambda v: _cut(" ".join(str(v).split()), 100),
        help="its first 100 characters, on one line", example="{{ subject | short }}",
    ),
    "beginning": Filter(
        takes=(Type.TEXT,), run=lambda v: _cut(str(v).strip(), 400),
        help="its first 400 characters", example="{{ text | beginning }}",
    ),
}  # fmt: skip
"""Every filter that texts may use."""


def _cut(text: str, longest: int) -> str:
    return text if len(text) <= longest else text[:longest] + "…"


class TextError(ExpressionError):
    """What is wrong in a text: the message, what may have been meant, and where."""


@dataclass(frozen=True, slots=True)
class Text:
    """A text that passed its check. `fill` gives it with names filled in.

    Attributes:
        source: as it was written.
        names: names and lists that it asks for.
    """

    source: str
    names: frozenset[str] = frozenset()

    def fill(self, names: Names, lists: Lists) -> str:
        """With values; a name without one reads `(not stated)`. Never raises for a value.

        Args:
            names: values by name.
            lists: rows by the list's name.
        """
        return _filled(self.source, names, lists)


def compile_text(source: str, known: Known) -> Text:
    """Check a text.

    Args:
        source: of the text.
        known: names that have a value where it is used, with their types (`known_at`).

    Raises:
        TextError: what is wrong, where.
    """
    if len(source) > LONGEST_SOURCE:
        raise TextError(f"a text of more than {LONGEST_SOURCE:,} characters", 0)
    check = _Check(source, known)
    check.whole(_parsed(source))
    return Text(source, frozenset(check.asked))


def one_line(text: str) -> str:
    """A subject: without line breaks, which would begin another header of a mail."""
    return " ".join(text.split())[:500]


_ENVIRONMENT: Final = ImmutableSandboxedEnvironment(
    autoescape=False,  # plain text: nothing to escape
    trim_blocks=True,
    lstrip_blocks=True,
    keep_trailing_newline=True,
    finalize=lambda value: NOT_STATED if value is None else _shown(value),
)
_ENVIRONMENT.globals.clear()
_ENVIRONMENT.filters = {
    name: (lambda value, run=each.run: None if value is None else run(value))
    for name, each in FILTERS.items()
}
_ENVIRONMENT.tests = {"missing": lambda value: value is None or value == ""}


def _shown(value: object) -> str:
    if isinstance(value, str):
        return value
    if isinstance(value, Money):
        return str(value.rounded())
    return shown_value(value)  # type: ignore[arg-type]  # a literal of the language


def _parsed(source: str) -> nodes.Template:
    try:
        return _ENVIRONMENT.parse(source)
    except TemplateSyntaxError as error:
        at = _line_begin(source, error.lineno)
        raise TextError(f"the text cannot be filled in: {error.message}", at) from error
    except RecursionError as error:
        raise TextError("the text is nested too deep", 0) from error


def _line_begin(source: str, line: int) -> int:
    return sum(len(each) + 1 for each in source.split("\n")[: line - 1])


def _dotted(node: nodes.Node) -> str:
    """`a.b` of a chain of attributes; empty for anything else."""
    if isinstance(node, nodes.Name):
        return str(node.name)
    if isinstance(node, nodes.Getattr) and (before := _dotted(node.node)):
        return f"{before}.{node.attr}"
    return ""


_CHOOSING: Final = (nodes.And, nodes.Or, nodes.Not)
_SIGNS: Final[dict[type[nodes.Node], str]] = {
    nodes.Mul: "*", nodes.Add: "+", nodes.Sub: "-", nodes.Div: "/", nodes.Pow: "**",
    nodes.Mod: "%", nodes.Concat: "~", nodes.FloorDiv: "//", nodes.Call: "a call",
    nodes.Getitem: "[...]", nodes.List: "a list", nodes.Dict: "a mapping", nodes.Slice: "[...]",
    nodes.Tuple: "a list", nodes.Neg: "-", nodes.Pos: "+",
}  # fmt: skip


class _Check:
    """Walks a text's tree; raises at the first that is not allowed."""

    def __init__(self, source: str, known: Known) -> None:
        self.source = source
        self.known = known
        self.rows: dict[str, str] = {}  # names of rows, with their lists
        self.asked: set[str] = set()

    def wrong(self, node: nodes.Node, message: str, hint: str = "", word: str = "") -> TextError:
        begin = _line_begin(self.source, node.lineno)
        found = (
            re.search(rf"(?<![\w.]){re.escape(word)}(?!\w)", self.source[begin:]) if word else None
        )
        return TextError(message, begin + (found.start() if found else 0), hint)

    def whole(self, node: nodes.Template) -> None:
        for each in node.body:
            self.part(each)

    def part(self, node: nodes.Node) -> None:
        match node:
            case nodes.Output():
                for each in node.nodes:
                    if not isinstance(each, nodes.TemplateData):
                        self.value(each)
            case nodes.If():
                self.value(node.test)
                for below in (*node.body, *node.elif_, *node.else_):
                    self.part(below)
            case nodes.For():
                self.loop(node)
            case _:
                what = type(node).__name__.lower()
                raise self.wrong(node, f"a text fills in names, chooses and goes through a list; "
                                       f"{what} is not possible")  # fmt: skip

    def loop(self, node: nodes.For) -> None:
        if self.rows or node.recursive:
            raise self.wrong(node, "one list within another is not possible in a text")
        name, row = _dotted(node.iter), getattr(node.target, "name", "")
        if self.known.get(name) is not Type.LIST:
            lists = [each for each, type_ in self.known.items() if type_ is Type.LIST]
            hint = nearest(name, lists) or "lists here: " + (", ".join(sorted(lists)) or "none")
            raise self.wrong(node, f"{name or 'this'} is no list to go through", hint, name)
        if not row or row in TABLE or row in LISTS:
            raise self.wrong(node, "give each row a name of its own", "as in for line in lines")
        self.rows[row] = name
        self.asked.add(name)
        if node.test is not None:
            self.value(node.test)
        for each in node.body:
            self.part(each)
        del self.rows[row]
        for each in node.else_:
            self.part(each)

    def value(self, node: nodes.Node) -> Type | None:
        """The type of what is filled in or asked; None for a text of the source."""
        match node:
            case nodes.Name() | nodes.Getattr():
                return self.name(node)
            case nodes.Const():
                if not isinstance(node.value, str):
                    raise self.wrong(node, "a text has names and texts, no figures of its own")
                return Type.TEXT
            case nodes.Filter():
                return self.filtered(node)
            case nodes.CondExpr():
                self.value(node.test)
                self.value(node.expr1)
                return self.value(node.expr2) if node.expr2 is not None else None
            case nodes.Test():
                if node.name != "missing":
                    raise self.wrong(node, f"'is {node.name}' is not known", "as in x is missing")
                self.value(node.node)
                return Type.TRUTH
            case nodes.Compare():
                return self.compared(node)
        if isinstance(node, _CHOOSING):
            for each in node.iter_child_nodes():
                self.value(each)
            return Type.TRUTH
        sign = _SIGNS.get(type(node), type(node).__name__.lower())
        raise self.wrong(node, f"a text only fills in names: {sign} is not possible in it",
                         "compute it in a condition, or name a filter")  # fmt: skip

    def name(self, node: nodes.Node) -> Type:
        name = _dotted(node)
        if not name:
            raise self.wrong(node, "only names can be filled in")
        row, _, cell = name.partition(".")
        if row in self.rows:
            has = LISTS[self.rows[row]].has
            if cell in has:
                return has[cell]
            hint = nearest(cell, list(has)) or "known are " + ", ".join(has)
            raise self.wrong(node, f"a row of {self.rows[row]} has no {cell!r}", hint, name)
        kind = self.known.get(name)
        if kind is Type.LIST:
            raise self.wrong(node, f"{name} is a list: go through it",
                             f"as in {{% for row in {name} %}}", name)  # fmt: skip
        if kind is not None:
            self.asked.add(name)
            return kind
        if name in TABLE:
            listed = ", ".join(sorted(each for each, t in self.known.items() if t is not Type.LIST))
            raise self.wrong(node, f"{name!r} has no value yet where this is used",
                             f"known are {listed}", name)  # fmt: skip
        raise self.wrong(node, f"unknown name {name!r}", nearest(name, list(self.known)), name)

    def filtered(self, node: nodes.Filter) -> Type:
        if node.node is None or node.args or node.kwargs:
            raise self.wrong(node, f"the filter {node.name} takes nothing beside its value")
        if node.name not in FILTERS:
            hint = nearest(node.name, list(FILTERS)) or "filters are: " + ", ".join(FILTERS)
            raise self.wrong(node, f"unknown filter {node.name!r}", hint, node.name)
        takes, kind = FILTERS[node.name].takes, self.value(node.node)
        if kind not in takes:
            wanted = " or ".join(each.value for each in takes)
            given = kind.value if kind else "nothing"
            raise self.wrong(node, f"the filter {node.name} takes a {wanted}, this is a {given}",
                             word=node.name)  # fmt: skip
        return Type.TEXT

    def compared(self, node: nodes.Compare) -> Type:
        sides: tuple[nodes.Node, ...] = (node.expr, *(each.expr for each in node.ops))
        if any(each.op not in ("eq", "ne") for each in node.ops) or len(sides) > 2:
            raise self.wrong(node, "a text only asks whether texts are equal",
                             "write a condition under 'when'")  # fmt: skip
        kinds = [self.value(each) for each in sides]
        if kinds != [Type.TEXT, Type.TEXT]:
            raise self.wrong(node, "a text only asks whether texts are equal",
                             "write a condition under 'when'")  # fmt: skip
        for one, other in (sides, sides[::-1]):
            may = TABLE[_dotted(one)].values if _dotted(one) in TABLE else ()
            if may and isinstance(other, nodes.Const) and other.value not in may:
                hint = nearest(str(other.value), list(may)) or "it may be " + ", ".join(may)
                raise self.wrong(node, f"{_dotted(one)} is never {other.value!r}", hint)
        return Type.TRUTH


def _plain_variables(node: nodes.Node, row: str = "") -> None:
    """Each dotted name becomes one variable, so that nothing is looked up on a value."""
    if isinstance(node, nodes.For):
        row = str(getattr(node.target, "name", ""))
    for field in node.fields:
        value = getattr(node, field)
        if isinstance(value, nodes.Getattr):
            setattr(node, field, _variable(value, row))
        elif isinstance(value, list):
            setattr(node, field, [
                _variable(each, row) if isinstance(each, nodes.Getattr) else each for each in value
            ])  # fmt: skip
    for child in node.iter_child_nodes():
        _plain_variables(child, row)


def _variable(node: nodes.Getattr, row: str) -> nodes.Node:
    name = _dotted(node)
    first, _, cell = name.partition(".")
    if first == row and cell:
        # Rows are plain dictionaries; the check has seen that the cell is one of theirs.
        return nodes.Getitem(nodes.Name(first, "load"), nodes.Const(cell), "load")
    return nodes.Name(_flat(name), "load", lineno=node.lineno)


def _flat(name: str) -> str:
    return name.replace(".", "·")  # a sign that no name has, and that may stand in a variable


class _Filled(dict[str, object]):
    """Values by variable; what is not there is None, not an error."""

    def __missing__(self, key: str) -> None:
        return None


@lru_cache(maxsize=512)
def _compiled(source: str) -> tuple[Template, tuple[str, ...]]:
    """A text that passed its check, compiled once, with the variables that it asks for."""
    tree = _parsed(source)
    _plain_variables(tree)
    wanted = tuple({str(each.name) for each in tree.find_all(nodes.Name)})
    return _ENVIRONMENT.from_string(tree), wanted


def _filled(source: str, names: Names, lists: Lists) -> str:
    template, wanted = _compiled(source)
    rows: dict[str, Sequence[Mapping[str, object]]] = {
        name: [_Filled(row) for row in found] for name, found in lists.items() if name in wanted
    }
    values = {_flat(name): value for name, value in names.items()}
    context = {**dict.fromkeys(wanted), **values, **rows}
    text, length = [], 0
    for piece in template.generate(context):
        text.append(piece)
        length += len(piece)
        if length > LONGEST:
            return "".join(text)[:LONGEST] + "…"
    return "".join(text)
