"""The part of a pipeline file that says under what lines are booked."""

from collections.abc import Mapping
from decimal import Decimal, InvalidOperation

import yaml

from veridox.core.coding import Dimension
from veridox.core.language import Expression, ExpressionError, Scope, compile_condition, parse
from veridox.core.language.lists import LISTS
from veridox.core.language.syntax import Type
from veridox.core.language.typing import type_of
from veridox.core.pipeline.definition import Coding, CodingRule, CodingShare, Said
from veridox.core.pipeline.file import nodes
from veridox.core.pipeline.file.nodes import Problems, Section
from veridox.core.pipeline.file.said import names_at


def coding_of(post: Section) -> Coding | None:
    """What lines are coded with; None where they are not."""
    part = post.section("coding")
    if part is None:
        return None
    need = frozenset(Dimension(each) for each in part.all_chosen("need"))
    return Coding(need=need, rules=tuple(_rule(each) for each in part.sections("rules")))


def _names(problems: Problems) -> Mapping[str, Type]:
    """What is known of a document at the gates, and the cells of the line."""
    cells = {f"line.{name}": kind for name, kind in LISTS["lines"].has.items()}
    return {**names_at(problems, Scope.CHECKED), **cells}


def _rule(part: Section) -> CodingRule:
    source, when = part.get("when", nodes.text), None
    if source is not None:
        try:
            when = compile_condition(source, names=_names(part.problems))
        except ExpressionError as error:
            part.problems.add(
                part.entries["when"], part.child("when"), str(error), error.hint, error.at
            )
    shares = tuple(_share(each) for each in part.sections("split"))
    codes = _codes(part)
    if not codes and not shares:
        part.problems.add(part.node, part.path, f"{part.path} says no code")
    _fits(part, shares)
    return CodingRule(when=when, source=source or "", codes=codes, shares=shares)


def _fits(part: Section, shares: tuple[CodingShare, ...]) -> None:
    """Whether percentages can be the whole of a line."""
    if not shares:
        return
    node, path = part.entries["split"], part.child("split")
    rest = sum(each.percent is None and each.amount is None for each in shares)
    percent = sum((each.percent or Decimal(0) for each in shares), Decimal(0))
    if rest > 1:
        part.problems.add(node, path, "only one share may be what is left")
    elif percent > 100 or (not rest and percent != 100 and not any(e.amount for e in shares)):
        message = f"the shares come to {percent.normalize():f} %"
        part.problems.add(node, path, message, "they come to 100 %, or one says neither")
    elif not rest and any(each.amount for each in shares):
        message = "amounts are the whole of one line, and not of another"
        part.problems.add(node, path, message, "leave out how much one of the shares is")


def _share(part: Section) -> CodingShare:
    if {"percent", "amount"} <= set(part.entries):
        part.problems.add(part.node, part.path, "a share is a percentage or an amount, not both")
    return CodingShare(
        percent=part.get("percent", _number), amount=part.get("amount", _number),
        codes=_codes(part),
    )  # fmt: skip


def _number(node: yaml.Node, path: str, problems: Problems) -> Decimal | None:
    value = nodes.text(node, path, problems)
    try:
        number = Decimal((value or "").removesuffix("%").strip())
    except InvalidOperation:
        number = Decimal(0)
    if not number.is_finite() or number <= 0:
        problems.add(node, path, f"{value!r} is no share of a line")
        return None
    return number


def _codes(part: Section) -> dict[Dimension, Said]:
    found: dict[Dimension, Said] = {}
    for dimension in Dimension:
        value = part.get(dimension.value, nodes.text)
        if value is None:
            continue
        said = _expression(part, dimension.value, value[1:]) if value[:1] == "=" else value
        if said is not None:
            found[dimension] = said
    return found


def _expression(part: Section, key: str, source: str) -> Expression | None:
    node, path = part.entries[key], part.child(key)
    try:
        found = parse(source)
        kind = type_of(found, _names(part.problems))
    except ExpressionError as error:
        part.problems.add(node, path, str(error), error.hint, error.at + 1)
        return None
    if kind is not Type.TEXT:
        part.problems.add(node, path, f"a code is a text, this is a {kind.value}")
    return found
