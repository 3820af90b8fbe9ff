"""The part of a pipeline file that says what is checked, and how much it weighs."""

import re
from decimal import Decimal, InvalidOperation
from typing import Any, Final

import yaml

from veridox.core.checks import CODES
from veridox.core.facts import DEFAULT_NEED, CardTolerance, CheckSettings, Match, OrderTolerance
from veridox.core.findings import Weight
from veridox.core.language import Scope
from veridox.core.language.typing import nearest
from veridox.core.pipeline.definition import CheckRule
from veridox.core.pipeline.file import nodes
from veridox.core.pipeline.file.nodes import Problems, Section
from veridox.core.pipeline.file.said import condition_of, text_of
from veridox.core.reading import FIELDS, Kind

ALWAYS = ("number", "seller.name", "currency", "gross_total")
"""Fields that every pipeline needs, whatever it says."""
_SHORT = {"seller": "seller.name", "buyer": "buyer.name"}


def check_of(top: Section, read: Section | None) -> CheckSettings:
    """Settings of the checks; problems are noted."""
    weights: dict[str, Weight] = {}
    tolerance, chosen = OrderTolerance(), dict[str, Any]()
    part = top.section("check")
    if part is not None:
        for name, key, attribute in _COUNTED:
            inner = part.section(name)
            read_as = _minor_units if name == "totals" else days
            value = inner.get(key, read_as) if inner else None
            if value is not None:
                chosen[attribute] = value
        for name, key, code in _WEIGHED:
            _weight(weights, code, part.section(name), key)
        order = part.section("order")
        tolerance, match = _tolerance(order), order.chosen("match") if order else None
        if match is not None:
            chosen["match"] = Match(match)
        chosen["card"] = _card(part.section("card"))
        chosen.update(_particulars(part))
        weights.update(_weights(part))
    kinds = frozenset(Kind(each) for each in read.all_chosen("kinds")) if read else frozenset()
    return CheckSettings(
        kinds=kinds or frozenset({Kind.INVOICE, Kind.CREDIT_NOTE}),
        need=_need(read),
        order_total=tolerance,
        weights=weights,
        **chosen,
    )


_COUNTED: Final = (
    ("totals", "within", "totals_within"), ("totals", "lines", "line_within"),
    ("totals", "tax", "tax_within"), ("dates", "oldest", "oldest_days"),
    ("bank", "recent", "recent_days"), ("terms", "discount", "discount_days"),
    ("masterdata", "stale", "stale_days"),
)  # fmt: skip
"""Part, key and setting of what is counted in minor units (`totals`) or days."""
_WEIGHED: Final = (
    ("order", "missing", "order.missing"), ("vendor", "unknown", "vendor.unknown"),
    ("tax", "unexpected", "tax.unexpected"), ("tax", "rate", "tax.rate"),
    ("tax", "reason", "tax.reason_missing"), ("duplicates", "many", "duplicate.many"),
    ("bank", "first_seen", "bank.first_seen"), ("terms", "shorter", "terms.shorter"),
)  # fmt: skip
"""Part, key and code of weights that have a key of their own."""


def _particulars(part: Section) -> dict[str, Any]:
    """Whether the law's particulars must be stated: a word, or a mapping with the limit."""
    if not isinstance(part.entries.get("particulars"), yaml.MappingNode):
        asked = part.chosen("particulars")
        return {"particulars": asked} if asked else {}
    inner = part.section("particulars")
    found: dict[str, Any] = {}
    if inner is not None:
        asked, most = inner.chosen("asked"), inner.get("up_to", _amount)
        found = {"particulars": asked} if asked else {}
        if most is not None:
            found["simplified_up_to"] = most
    return found


def rules_of(top: Section) -> tuple[CheckRule, ...]:
    """Checks of the developer's own."""
    part = top.section("check")
    found: list[CheckRule] = []
    for each in part.sections("rules") if part else ():
        rule = _rule(each)
        if rule is None:
            continue
        if rule.name in {other.name for other in found}:
            node = each.entries["name"]
            top.problems.add(node, each.child("name"), f"{rule.name!r} is another rule's name, too")
        found.append(rule)
    return tuple(found)


def _rule(part: Section) -> CheckRule | None:
    name = part.get("name", nodes.text)
    when = condition_of(part, "when", Scope.CHECKED)
    say = text_of(part, "say", Scope.CHECKED)
    weight, hint = part.chosen("weight"), part.get("hint", nodes.text)
    if name is None or when is None or say is None:
        return None
    if len(name) > 100:
        part.problems.add(part.entries["name"], part.child("name"), "at most 100 characters")
    source = part.get("when", nodes.text) or ""
    return CheckRule(
        name=name, when=when, source=source, say=say, hint=hint or "",
        weight=Weight(weight) if weight else Weight.WARN,
    )  # fmt: skip


def _need(read: Section | None) -> tuple[str, ...]:
    """Fields that must be stated: the usual ones and those named, or only those that are named
    and those that every pipeline needs."""
    node = read.entries.get("need") if read else None
    if read is None or node is None:
        return DEFAULT_NEED
    if isinstance(node, yaml.MappingNode):
        inner = read.section("need")
        only = inner.get("only", _fields) if inner else None
        return tuple(dict.fromkeys((*ALWAYS, *(only or ()))))
    return tuple(dict.fromkeys((*DEFAULT_NEED, *(read.get("need", _fields) or ()))))


def _fields(node: yaml.Node, path: str, problems: Problems) -> tuple[str, ...] | None:
    found = []
    for word in nodes.texts(node, path, problems) or ():
        name = _SHORT.get(word, word)
        if name in FIELDS or name in problems.declared:
            found.append(name)
        else:
            hint = nearest(word, [*FIELDS, *problems.declared])
            problems.add(node, path, f"unknown field {word!r}", hint)
    return tuple(found)


def _card(part: Section | None) -> CardTolerance:
    if part is None:
        return CardTolerance()
    return CardTolerance(
        percent=part.get("percent", _percent) or Decimal(0), amount=part.get("amount", _amount)
    )


def _tolerance(order: Section | None) -> OrderTolerance:
    limit = order.section("total") if order else None
    freight = order.section("freight") if order else None
    price = order.section("price") if order else None
    quantity = order.section("quantity") if order else None
    return OrderTolerance(
        percent=(limit.get("percent", _percent) if limit else None) or Decimal(0),
        amount=limit.get("amount", _amount) if limit else None,
        charges=(freight.get("amount", _amount) if freight else None) or Decimal(0),
        price_percent=(price.get("percent", _percent) if price else None) or Decimal(0),
        price_amount=price.get("amount", _amount) if price else None,
        quantity_percent=(quantity.get("percent", _percent) if quantity else None) or Decimal(0),
    )


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


def days(node: yaml.Node, path: str, problems: Problems) -> int | None:
    """A number of days, with or without the word."""
    return _counted(node, path, problems, "day", "a number of days")


def _number(text: str) -> Decimal:
    try:
        found = Decimal(text)
    except InvalidOperation:
        return Decimal(-1)
    return found if found.is_finite() else Decimal(-1)


def _percent(node: yaml.Node, path: str, problems: Problems) -> Decimal | None:
    value = nodes.text(node, path, problems)
    if value is None:
        return None
    number = _number(value.rstrip("% "))
    if not 0 <= number <= 100:
        problems.add(node, path, f"{value!r} is not a percentage from 0 to 100")
        return None
    return number


def _amount(node: yaml.Node, path: str, problems: Problems) -> Decimal | None:
    value = nodes.text(node, path, problems)
    if value is None:
        return None
    number = _number(value)
    if number < 0:
        hint = "a plain number in the order's currency"
        problems.add(node, path, f"{value!r} is not an amount", hint)
        return None
    return number


def _weight(weights: dict[str, Weight], code: str, part: Section | None, key: str) -> None:
    value = part.chosen(key) if part else None
    if part is None or value is None:
        return
    if value != "block" and not CODES[code].lowered:
        message = f"{code} is never lowered; it cannot be {value!r}"
        part.problems.add(part.entries[key], part.child(key), message)
        return
    weights[code] = Weight(value)


def _weights(part: Section) -> dict[str, Weight]:
    inner = part.section("weights")
    found: dict[str, Weight] = {}
    for code in inner.entries if inner else ():
        _weight(found, code, inner, code)
    return found
