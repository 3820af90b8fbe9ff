"""A pipeline file's text as a definition, or every problem in it with line and column."""

import re
from decimal import Decimal, InvalidOperation

import yaml

from veridox.core.checks import CODES
from veridox.core.facts import DEFAULT_NEED, OLDEST_DAYS, CheckSettings, OrderTolerance
from veridox.core.findings import Weight
from veridox.core.language import ExpressionError, compile_condition
from veridox.core.language.typing import nearest
from veridox.core.pipeline import nodes
from veridox.core.pipeline.definition import Definition, DeskRule, Post
from veridox.core.pipeline.load_collect import collect_of
from veridox.core.pipeline.load_read import declared_of
from veridox.core.pipeline.load_tell import tell_of, through_of
from veridox.core.pipeline.nodes import Problem, Problems, Section
from veridox.core.pipeline.risk_gate import with_risk_gate
from veridox.core.pipeline.stages.road import NOT_YET, ROAD
from veridox.core.reading import FIELDS, POSTED_KINDS, Kind

TOP = (
    "pipeline", "title", "entities", "collect", "read",
    *(place.name for place in ROAD if place.name != "end"), "tell", "through",
)  # fmt: skip
_SHORT_NEED = {"seller": "seller.name", "buyer": "buyer.name"}


class PipelineError(ValueError):
    """A pipeline file with problems, sorted by place."""

    def __init__(self, problems: tuple[Problem, ...]) -> None:
        first = problems[0]
        more = f" (and {len(problems) - 1} more)" if len(problems) > 1 else ""
        super().__init__(f"{first.line}:{first.column}: {first.message}{more}")
        self.problems = problems


def load(text: str) -> Definition:
    """Read and check a pipeline file.

    Raises:
        PipelineError: with all problems found, not only the first.
    """
    problems = Problems()
    root = nodes.compose(text, problems)
    top = nodes.section(root, "", problems, TOP) if root is not None else None
    definition = _definition(top) if top is not None else None
    if problems.found or definition is None:
        raise PipelineError(tuple(sorted(problems.found, key=lambda p: (p.line, p.column))))
    return definition


def _definition(top: Section) -> Definition:
    top.require("pipeline", "collect", "post")
    for key, _ in top.node.value:
        if key.value in NOT_YET:
            top.problems.add(key, key.value, f"{key.value} is not yet available")
    read = top.section("read", "kinds", "other_kinds", "need", "fields", "field_sets")
    declared = declared_of(read)  # before conditions that may name them
    aside = read.get("other_kinds", nodes.choice("aside", "desk")) if read else None
    desk = tuple(
        rule for node, path in top.items("desk") if (rule := _desk(node, path, top.problems))
    )
    return Definition(
        name=top.get("pipeline", nodes.slug) or "",
        title=top.get("title", nodes.text) or "",
        entities=top.get("entities", nodes.texts) or (),
        collect=tuple(collect_of(node, path, top.problems) for node, path in top.items("collect")),
        others_aside=aside != "desk",
        declared=declared,
        check=_check(top, read),
        desk=with_risk_gate(desk),
        post=_post(top),
        through=through_of(top),
        tell=tuple(
            tell for node, path in top.items("tell") if (tell := tell_of(node, path, top.problems))
        ),
    )


def _kinds(node: yaml.Node, path: str, problems: Problems) -> frozenset[Kind] | None:
    allowed = {kind.value: kind for kind in POSTED_KINDS}
    found = []
    for word in nodes.texts(node, path, problems) or ():
        if word in allowed:
            found.append(allowed[word])
        else:
            hint = nearest(word, list(allowed)) or "one of: " + ", ".join(sorted(allowed))
            problems.add(node, path, f"{word!r} is not a kind that is ever posted", hint)
    return frozenset(found)


def _need(node: yaml.Node, path: str, problems: Problems) -> tuple[str, ...] | None:
    found = []
    for word in nodes.texts(node, path, problems) or ():
        name = _SHORT_NEED.get(word, word)
        if name in FIELDS or name in problems.declared:
            found.append(name)
        else:
            hint = nearest(word, [*FIELDS, *problems.declared])
            problems.add(node, path, f"unknown field {word!r}", hint)
    return tuple(found)


def _counted(node: yaml.Node, path: str, problems: Problems, unit: str, what: str) -> int | None:
    """A whole number with or without its unit, as in `1 minor unit` or `730 days`."""
    value = nodes.text(node, path, problems)
    match = re.fullmatch(rf"(\d{{1,5}})(?: {unit}s?)?", value or "")
    if match is None:
        problems.add(node, path, f"{value!r} is not {what}", f"write it as: 1 {unit}")
        return None
    return int(match[1])


def _minor_units(node: yaml.Node, path: str, problems: Problems) -> int | None:
    return _counted(node, path, problems, "minor unit", "a tolerance")


def _days(node: yaml.Node, path: str, problems: Problems) -> int | None:
    return _counted(node, path, problems, "day", "a number of days")


def _percent(node: yaml.Node, path: str, problems: Problems) -> Decimal | None:
    value = nodes.text(node, path, problems)
    if value is None:
        return None
    try:
        number = Decimal(value.rstrip("% "))
    except InvalidOperation:
        number = Decimal(-1)
    if not 0 <= number <= 100:
        problems.add(node, path, f"{value!r} is not a percentage from 0 to 100")
        return None
    return number


def _amount(node: yaml.Node, path: str, problems: Problems) -> Decimal | None:
    value = nodes.text(node, path, problems)
    if value is None:
        return None
    try:
        number = Decimal(value)
    except InvalidOperation:
        number = Decimal(-1)
    if number < 0:
        problems.add(
            node, path, f"{value!r} is not an amount", "a plain number in the order's currency"
        )
        return None
    return number


_WEIGHT = nodes.choice("block", "warn", "note")


def _check(top: Section, read: Section | None) -> CheckSettings:
    part = top.section("check", "totals", "vendor", "order", "dates", "weights")
    weights: dict[str, Weight] = {}
    within, tolerance, oldest = None, OrderTolerance(), None
    if part is not None:
        totals = part.section("totals", "within")
        within = totals.get("within", _minor_units) if totals else None
        vendor = part.section("vendor", "unknown")
        order = part.section("order", "missing", "total", "freight")
        _weight(weights, "order.missing", order, "missing")
        _weight(weights, "vendor.unknown", vendor, "unknown")
        limit = order.section("total", "percent", "amount") if order else None
        freight = order.section("freight", "amount") if order else None
        tolerance = OrderTolerance(
            percent=(limit.get("percent", _percent) if limit else None) or Decimal(0),
            amount=limit.get("amount", _amount) if limit else None,
            charges=(freight.get("amount", _amount) if freight else None) or Decimal(0),
        )
        dates = part.section("dates", "oldest")
        oldest = dates.get("oldest", _days) if dates else None
        weights.update(_weights(part))
    return CheckSettings(
        kinds=(read.get("kinds", _kinds) if read else None)
        or frozenset({Kind.INVOICE, Kind.CREDIT_NOTE}),
        need=(read.get("need", _need) if read else None) or DEFAULT_NEED,
        totals_within=within or 0,
        order_total=tolerance,
        oldest_days=OLDEST_DAYS if oldest is None else oldest,
        weights=weights,
    )


def _weight(weights: dict[str, Weight], code: str, part: Section | None, key: str) -> None:
    value = part.get(key, _WEIGHT) if part else None
    if part is None or value is None:
        return
    if value != "block" and not CODES[code].lowered:
        part.problems.add(
            part.entries[key], part.child(key), f"{code} is never lowered; it cannot be {value!r}"
        )
        return
    weights[code] = Weight(value)


def _weights(part: Section) -> dict[str, Weight]:
    inner = part.section("weights", *CODES)
    found: dict[str, Weight] = {}
    for code in inner.entries if inner else ():
        _weight(found, code, inner, code)
    return found


def _desk(node: yaml.Node, path: str, problems: Problems) -> DeskRule | None:
    part = nodes.section(node, path, problems, ("when", "queue", "because"))
    if part is None:
        return None
    part.require("when")
    source = part.get("when", nodes.text)
    queue = part.get("queue", nodes.slug) or "exceptions"
    because = part.get("because", nodes.text) or ""
    if source is None:
        return None
    try:
        return DeskRule(
            when=compile_condition(source, problems.declared),
            source=source,
            queue=queue,
            because=because,
        )
    except ExpressionError as error:
        where = part.entries["when"]
        problems.add(where, part.child("when"), str(error), error.hint, error.at)
        return None


def _post(top: Section) -> Post | None:
    part = top.section("post", "ledger", "as")
    if part is None:
        return None
    part.require("ledger")
    part.get("as", nodes.choice("bill"))
    return Post(ledger=part.get("ledger", nodes.slug) or "")
