"""The part of a pipeline file that says when it runs, and what is said then."""

import re
from datetime import timedelta
from typing import Final
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

import yaml

from veridox.core.language import EVERY
from veridox.core.pipeline.definition import RunSettings
from veridox.core.pipeline.file import nodes
from veridox.core.pipeline.file.nodes import Problems, Section
from veridox.core.pipeline.parameters import PREFIX, TYPES, Parameter, ParameterError
from veridox.core.pipeline.schedule import (
    Moment,
    Schedule,
    ScheduleError,
    interval_of,
    moment_of,
)

MOST_AT_ONCE: Final = 100


def run_of(top: Section) -> RunSettings:
    """When it runs; problems are noted, and names of parameters are declared."""
    part = top.section("run")
    if part is None:
        return RunSettings()
    parameters = _parameters(part)
    for each in parameters:
        part.problems.parameters[PREFIX + each.name] = TYPES[each.type]
    schedule = _schedule(part)
    ends = part.chosen("ends")
    if schedule is not None and ends is not None:
        message = "a run that begins by the clock ends when all was looked through"
        part.problems.add(part.entries["ends"], part.child("ends"), message)
    for each in parameters:
        if each.default is None and schedule is not None:
            node = part.entries["parameters"]
            part.problems.add(node, f"{part.path}.parameters.{each.name}",
                              f"{each.name} needs a default: the run begins by itself")  # fmt: skip
    return RunSettings(
        schedule=schedule,
        ends=ends or "day",
        zone=part.get("zone", _zone) or "",
        at_once=part.get("at_once", _at_once) or 0,
        parameters=parameters,
    )


def _schedule(part: Section) -> Schedule | None:
    every, at = part.get("every", _interval), part.get("at", _moments)
    zone = part.get("zone", _zone) or ""
    if "every" in part.entries and "at" in part.entries:
        part.problems.add(part.entries["at"], part.child("at"),
                          "a pipeline runs by interval or at moments, not both")  # fmt: skip
    if every is None and not at:
        return None
    return Schedule(every=every, at=at or (), zone=zone)


def _interval(node: yaml.Node, path: str, problems: Problems) -> timedelta | None:
    value = nodes.text(node, path, problems)
    try:
        return None if value is None else interval_of(value)
    except ScheduleError as error:
        problems.add(node, path, str(error))
        return None


def _moments(node: yaml.Node, path: str, problems: Problems) -> tuple[Moment, ...] | None:
    found = []
    items = node.value if isinstance(node, yaml.SequenceNode) else [node]
    for item in items:
        text = nodes.text(item, path, problems)
        try:
            found += [moment_of(text)] if text is not None else []
        except ScheduleError as error:
            problems.add(item, path, str(error))
    return tuple(found)


def _zone(node: yaml.Node, path: str, problems: Problems) -> str | None:
    value = nodes.text(node, path, problems)
    try:
        return None if value is None else str(ZoneInfo(value))
    except (ZoneInfoNotFoundError, ValueError):
        problems.add(node, path, f"{value!r} is no time zone", "as in Europe/London")
        return None


def _at_once(node: yaml.Node, path: str, problems: Problems) -> int | None:
    value = nodes.text(node, path, problems)
    if value is not None and not (value.isdigit() and 1 <= int(value) <= MOST_AT_ONCE):
        problems.add(node, path, f"{value!r} is not a number from 1 to {MOST_AT_ONCE}")
        return None
    return int(value) if value else None


def _parameters(part: Section) -> tuple[Parameter, ...]:
    node, path, problems = part.entries.get("parameters"), part.child("parameters"), part.problems
    if node is None:
        return ()
    if not isinstance(node, yaml.MappingNode):
        problems.add(node, path, f"{path} holds names and what they are")
        return ()
    found: dict[str, Parameter] = {}
    for key, value in node.value:
        name = str(getattr(key, "value", ""))
        if not re.fullmatch(r"[a-z][a-z0-9_]{0,62}", name):
            problems.add(key, path, f"{name!r}: small letters, digits and underscores, 63 at most")
        elif PREFIX + name in EVERY:
            problems.add(key, path, f"{PREFIX + name!r} is a name that every run has")
        elif name in found:
            problems.add(key, path, f"{name!r} stands here twice")
        elif (one := _one(name, value, f"{path}.{name}", problems)) is not None:
            found[name] = one
    return tuple(found.values())


def _one(name: str, node: yaml.Node, path: str, problems: Problems) -> Parameter | None:
    part = nodes.section(node, path, problems, "run.parameter")
    if part is None:
        return None
    kind, choices = part.chosen("type"), part.get("of", nodes.texts) or ()
    default, about = part.get("default", nodes.text), part.get("help", nodes.text) or ""
    if kind is None:
        return None
    if (kind == "choice") != bool(choices):
        problems.add(node, path, "'of' goes with the type choice, and a choice needs it")
        return None
    parameter = Parameter(name=name, type=kind, choices=choices, default=default, help=about)
    try:
        if default is not None:
            parameter.value(default)
    except ParameterError as error:
        problems.add(part.entries["default"], part.child("default"), str(error))
    return parameter
