"""Two versions of a pipeline compared by what they mean: not by their lines.

Comments, order of keys and ways to write the same do not count. A difference says whether it
loosens: whether something that stopped a document before may go on now, or goes elsewhere.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import timedelta
from decimal import Decimal
from typing import Final

from veridox.core.findings import Weight
from veridox.core.findings.wording import counted
from veridox.core.language import printed
from veridox.core.language.verdict import implies
from veridox.core.pipeline.definition import (
    CheckRule,
    Collect,
    Declared,
    Definition,
    DeskRule,
    RunSettings,
    Tell,
)
from veridox.core.pipeline.parameters import Parameter
from veridox.core.pipeline.schedule import Moment
from veridox.core.pipeline.wanted import Wanted

NONE: Final = "nothing"
_RANK: Final = {Weight.NOTE: 0, Weight.WARN: 1, Weight.BLOCK: 2}


@dataclass(frozen=True, kw_only=True, slots=True)
class Difference:
    """One thing that is not the same.

    Attributes:
        place: where in a pipeline file it is said, as in `check.totals.within`.
        before, after: what it said and says; `nothing` where it says nothing.
        loosens: why it lets through, or sends elsewhere, what was stopped; empty when it does not.
    """

    place: str
    before: str
    after: str
    loosens: str = ""

    def __str__(self) -> str:
        return f"{self.place}: {self.before} -> {self.after}"


def differences(before: Definition, after: Definition) -> tuple[Difference, ...]:
    """What is not the same, in the order of a pipeline file."""
    return tuple(
        each
        for part in (_top, _run, _collect, _fields, _checks, _rules, _desk, _post, _tell)
        for each in part(before, after)
    )


def loosened(found: tuple[Difference, ...]) -> tuple[Difference, ...]:
    """Those that need a second person."""
    return tuple(each for each in found if each.loosens)


def _changed(place: str, before: object, after: object, loosens: str = "") -> Iterator[Difference]:
    if before != after:
        yield Difference(place=place, before=_said(before), after=_said(after), loosens=loosens)


def _said(value: object) -> str:
    if value is None or value == "" or value == ():
        return NONE
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, tuple | frozenset | set):
        items = value if isinstance(value, tuple) else sorted(value)
        return ", ".join(_said(each) for each in items)
    if isinstance(value, timedelta):
        return counted(value.days, "day")
    if isinstance(value, Decimal):
        return f"{value.normalize():f}"
    return str(value)


def _top(before: Definition, after: Definition) -> Iterator[Difference]:
    yield from _changed("title", before.title, after.title)
    more = not after.entities or set(after.entities) - set(before.entities)
    widened = "bills of more companies are posted" if before.entities and more else ""
    yield from _changed("entities", before.entities, after.entities, widened)
    yield from _changed("through.mail", before.through.outbox, after.through.outbox)
    yield from _changed("through.chat", before.through.chat, after.through.chat)


def _run(before: Definition, after: Definition) -> Iterator[Difference]:
    yield from _changed("run", _when(before.run), _when(after.run))
    yield from _changed("run.at_once", before.run.at_once or None, after.run.at_once or None)
    old = {each.name: each for each in before.run.parameters}
    new = {each.name: each for each in after.run.parameters}
    for name in dict.fromkeys((*old, *new)):
        yield from _changed(
            f"run.parameters.{name}", _parameter(old.get(name)), _parameter(new.get(name))
        )


def _when(run: RunSettings) -> str:
    schedule, zone = run.schedule, f" {run.zone}" if run.zone else ""
    if schedule is None:
        return f"all the time, a run ends with {run.ends}{zone}"
    if schedule.every is not None:
        return f"every {schedule.every}"
    return ", ".join(_moment(each) for each in schedule.at) + zone


def _moment(moment: Moment) -> str:
    days = f"day {moment.day}" if moment.day else _said(tuple(sorted(moment.weekdays)))
    return f"{days} {moment.time:%H:%M}"


def _parameter(parameter: Parameter | None) -> str:
    if parameter is None:
        return NONE
    default = "must be said" if parameter.default is None else f"default {parameter.default}"
    choices = f" of {_said(parameter.choices)}" if parameter.choices else ""
    return f"{parameter.type}{choices}, {default}; {parameter.help}".rstrip("; ")


def _source(collect: Collect) -> str:
    return f"{collect.mailbox} {collect.folder}" if collect.mailbox else f"watch {collect.watch}"


def _collect(before: Definition, after: Definition) -> Iterator[Difference]:
    old = {_source(each): each for each in before.collect}
    new = {_source(each): each for each in after.collect}
    for name in dict.fromkeys((*old, *new)):
        place = f"collect {name}"
        one, other = old.get(name), new.get(name)
        if one is None or other is None:
            yield from _changed(place, "collected" if one else NONE, "collected" if other else NONE)
            continue
        yield from _changed(f"{place}.files", one.files, other.files)
        yield from _changed(f"{place}.body", one.body, other.body)
        for key in Wanted.__dataclass_fields__:
            yield from _changed(
                f"{place}.only.{key}", getattr(one.only, key), getattr(other.only, key)
            )
        for key in type(one.afterwards).__dataclass_fields__:
            yield from _changed(
                f"{place}.afterwards.{key}",
                getattr(one.afterwards, key), getattr(other.afterwards, key),
            )  # fmt: skip


def _fields(before: Definition, after: Definition) -> Iterator[Difference]:
    more = after.check.kinds - before.check.kinds
    yield from _changed(
        "read.kinds", before.check.kinds, after.check.kinds,
        "more kinds of document are posted" if more else "",
    )  # fmt: skip
    aside = "what is not posted is no longer looked at by a person" if after.others_aside else ""
    yield from _changed("read.other_kinds", _aside(before), _aside(after), aside)
    fewer = set(before.check.need) - set(after.check.need)
    yield from _changed(
        "read.need", before.check.need, after.check.need,
        f"{', '.join(sorted(fewer))} may be missing" if fewer else "",
    )  # fmt: skip
    old = {each.field.name: each for each in before.completing}
    new = {each.field.name: each for each in after.completing}
    for name in dict.fromkeys((*old, *new)):
        yield from _changed(f"read.fields.{name}", _field(old.get(name)), _field(new.get(name)))


def _aside(definition: Definition) -> str:
    return "aside" if definition.others_aside else "desk"


def _field(declared: Declared | None) -> str:
    if declared is None:
        return NONE
    field, source, spec = declared.field, declared.source, declared.field.spec
    default, fixed = declared.default, declared.fixed
    parts = [
        spec.type.value, spec.title, f"of {_said(spec.choices)}" if spec.choices else "",
        f"labels {_said(field.labels)}" if field.labels else "",
        f"like {field.example}" if field.example else "", spec.unit,
        f"from {printed(source)}" if source else "",
        f"default {printed(default)}" if default else "",
        f"default {fixed}" if fixed is not None else "",
        f"of {_said(frozenset(kind.value for kind in field.kinds))}" if field.kinds else "",
    ]  # fmt: skip
    return "; ".join(part for part in parts if part)


def _checks(before: Definition, after: Definition) -> Iterator[Difference]:
    old, new = before.check, after.check
    further = "sums may be off by more" if new.totals_within > old.totals_within else ""
    yield from _changed(
        "check.totals.within", counted(old.totals_within, "minor unit"),
        counted(new.totals_within, "minor unit"), further,
    )  # fmt: skip
    one, other = old.order_total, new.order_total
    above = "bills may exceed their order by more"
    yield from _changed(
        "check.order.total.percent", f"{_said(one.percent)} %", f"{_said(other.percent)} %",
        above if other.percent > one.percent else "",
    )  # fmt: skip
    wider = one.amount is not None and (other.amount is None or other.amount > one.amount)
    yield from _changed(
        "check.order.total.amount", one.amount, other.amount, above if wider else ""
    )
    yield from _changed(
        "check.order.freight.amount", one.charges, other.charges,
        "more freight is accepted" if other.charges > one.charges else "",
    )  # fmt: skip
    yield from _changed(
        "check.dates.oldest", counted(old.oldest_days, "day"), counted(new.oldest_days, "day"),
        "older bills are no longer told of" if new.oldest_days > old.oldest_days else "",
    )  # fmt: skip
    for code in sorted({*old.weights, *new.weights}):
        was, now = old.weights.get(code), new.weights.get(code)
        yield from _changed(
            f"check.weights.{code}", was.value if was else "its usual weight",
            now.value if now else "its usual weight", _lighter(was, now),
        )  # fmt: skip


def _lighter(was: Weight | None, now: Weight | None) -> str:
    """Codes that have a usual weight of their own block, or are set by this file alone."""
    before = _RANK[was] if was is not None else _RANK[Weight.BLOCK]
    after = _RANK[now] if now is not None else (0 if was is Weight.BLOCK else _RANK[Weight.BLOCK])
    return "what is found weighs less" if after < before else ""


def _rules(before: Definition, after: Definition) -> Iterator[Difference]:
    old = {each.name: each for each in before.rules}
    new = {each.name: each for each in after.rules}
    for name in dict.fromkeys((*old, *new)):
        one, other = old.get(name), new.get(name)
        loosens = "a rule that stopped or warned is gone" if one and not other else ""
        if one and other:
            weighs_less = _RANK[other.weight] < _RANK[one.weight]
            if weighs_less or not implies(one.when, other.when):
                loosens = "the rule weighs less, or no longer holds for all that it held for"
        yield from _changed(f"check.rules {name}", _rule(one), _rule(other), loosens)


def _rule(rule: CheckRule | None) -> str:
    if rule is None:
        return NONE
    hint = f" ({rule.hint})" if rule.hint else ""
    said = " ".join(rule.say.source.split())
    return f"{rule.weight.value} when {printed(rule.when)}: {said}{hint}"


def _desk(before: Definition, after: Definition) -> Iterator[Difference]:
    yield from _listed(
        "desk", before.desk, after.desk, _desk_rule,
        lambda rule: "" if any(implies(rule.when, each.when) for each in after.desk)
        else f"what meets {printed(rule.when)} is no longer looked at by a person for it",
    )  # fmt: skip


def _desk_rule(rule: DeskRule) -> str:
    because = f' because "{rule.because}"' if rule.because else ""
    return f"{printed(rule.when)}, queue {rule.queue}{because}"


def _listed(
    place: str, old: tuple[DeskRule, ...], new: tuple[DeskRule, ...],
    said: Callable[[DeskRule], str], loosens: Callable[[DeskRule], str],
) -> Iterator[Difference]:  # fmt: skip
    """Entries of a list by their conditions; those whose condition stayed are compared."""
    one, other = {printed(e.when): e for e in old}, {printed(e.when): e for e in new}
    for key in dict.fromkeys((*one, *other)):
        was, now = one.get(key), other.get(key)
        if was is not None and now is not None:
            yield from _changed(f"{place} {key}", said(was), said(now))
        elif was is not None:
            yield Difference(place=place, before=said(was), after=NONE, loosens=loosens(was))
        elif now is not None:
            yield Difference(place=place, before=NONE, after=said(now))


def _post(before: Definition, after: Definition) -> Iterator[Difference]:
    old = before.post.ledger if before.post else NONE
    new = after.post.ledger if after.post else NONE
    yield from _changed("post.ledger", old, new, "bills are posted elsewhere")


def _tell(before: Definition, after: Definition) -> Iterator[Difference]:
    old, new = [_told(each) for each in before.tell], [_told(each) for each in after.tell]
    for said in dict.fromkeys((*old, *new)):
        if (said in old) != (said in new):
            gone = said in old
            yield Difference(
                place="tell", before=said if gone else NONE, after=NONE if gone else said
            )


def _told(tell: Tell) -> str:
    when = f" when {printed(tell.when)}" if tell.when else ""
    to = f"={printed(tell.to_from)}" if tell.to_from else tell.to
    text = " ".join(tell.text.source.split()) if tell.text else tell.template
    if tell.channel:
        return f"{tell.on}{when}: #{tell.channel}: {text}"
    return f"{tell.on}{when}: mail to {to}: {tell.subject.source if tell.subject else ''}{text}"
