"""A pipeline file's text as a definition, or every problem in it with line and column."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

import yaml

from veridox.core.language.verdict import currencies_in
from veridox.core.pipeline.definition import Definition, Post
from veridox.core.pipeline.file import nodes
from veridox.core.pipeline.file.check import check_of, rules_of
from veridox.core.pipeline.file.coding import coding_of
from veridox.core.pipeline.file.collect import collect_of
from veridox.core.pipeline.file.gates import desk_of, wait_of
from veridox.core.pipeline.file.nodes import Problem, Problems, Section
from veridox.core.pipeline.file.read import declared_of
from veridox.core.pipeline.file.run import run_of
from veridox.core.pipeline.file.shared import composed
from veridox.core.pipeline.file.tell import tell_of, through_of
from veridox.core.pipeline.states import STILL_WAITING


class PipelineError(ValueError):
    """A pipeline file with problems, sorted by place."""

    def __init__(self, problems: tuple[Problem, ...]) -> None:
        first = problems[0]
        more = f" (and {len(problems) - 1} more)" if len(problems) > 1 else ""
        super().__init__(f"{first.line}:{first.column}: {first.message}{more}")
        self.problems = problems


@dataclass(frozen=True, kw_only=True, slots=True)
class Examined:
    """What a check of a file gave.

    Attributes:
        definition: None when there are problems.
        problems: all that keep it from running, sorted by place.
        warnings: what is allowed, and hardly meant.
    """

    definition: Definition | None
    problems: tuple[Problem, ...]
    warnings: tuple[Problem, ...]


Parts = Mapping[str, str]
"""Texts of shared parts by name."""
Values = Mapping[str, str]
"""Values of the environment that files may use, by name."""


def examine(text: str, parts: Parts | None = None, values: Values | None = None) -> Examined:
    """Check a pipeline file; never raises for what stands in it.

    Args:
        text: of the file.
        parts: shared parts that it may name.
        values: of `=environment.NAME`.
    """
    problems = Problems()
    root = composed(text, parts or {}, values or {}, problems)
    top = nodes.section(root, "", problems, "") if root is not None else None
    definition = _definition(top) if top is not None else None
    return Examined(
        definition=None if problems.found else definition,
        problems=_sorted(problems.found),
        warnings=_sorted(problems.warned),
    )


def load(text: str, parts: Parts | None = None, values: Values | None = None) -> Definition:
    """The definition of a pipeline file; arguments as of `examine`.

    Raises:
        PipelineError: with all problems found, not only the first.
    """
    examined = examine(text, parts, values)
    if examined.definition is None:
        raise PipelineError(examined.problems)
    return examined.definition


def _sorted(problems: list[Problem]) -> tuple[Problem, ...]:
    unique = dict.fromkeys(problems)
    return tuple(sorted(unique, key=lambda each: (each.part, each.line, each.column)))


def _definition(top: Section) -> Definition:
    run = run_of(top)  # before texts and conditions that may name its parameters
    read = top.section("read")
    declared, told_by_mail = declared_of(read)  # before conditions that may name them
    settings = check_of(top, read)
    definition = Definition(
        name=top.get("pipeline", _name) or "",
        title=top.get("title", nodes.text) or "",
        entities=top.get("entities", nodes.some_texts) or (),
        run=run,
        collect=tuple(collect_of(each) for each in top.sections("collect")),
        others_aside=(read.chosen("other_kinds") if read else None) != "desk",
        declared=declared,
        told_by_mail=told_by_mail,
        check=settings,
        rules=rules_of(top),
        wait=wait_of(top),
        desk=desk_of(top),
        post=_post(top),
        through=through_of(top),
        tell=tuple(tell for each in top.sections("tell") if (tell := tell_of(each))),
    )
    spoken_of = tuple(sorted({
        currency for condition in definition.conditions for currency in currencies_in(condition)
    }))  # fmt: skip
    _told_of_waiting(top, definition)
    coded = definition.post is not None and definition.post.coding is not None
    _told_of_waiting(top, definition)
    coded = definition.post is not None and definition.post.coding is not None
    return replace(definition, check=replace(settings, currencies=spoken_of, coded=coded))


def _told_of_waiting(top: Section, definition: Definition) -> None:
    """Warn where people are to be told that something still waits, and nothing says when or who."""
    told = any(each.on == STILL_WAITING for each in definition.tell)
    if told and definition.wait.tell_after is None:
        message = f"nobody is told of {STILL_WAITING!r}: nothing says after how many days"
        top.problems.warn(top.entries["tell"], "tell", message, "write wait: {tell_after: 5 days}")
    if not told and definition.wait.tell_after is not None:
        message = "nobody is told after these days"
        hint = f"write an entry of tell with on: {STILL_WAITING}"
        top.problems.warn(top.entries["wait"], "wait.tell_after", message, hint)


RESERVED = ("check", "try", "schema", "language")
"""Words of the service's addresses: no pipeline is called so."""


def _name(node: yaml.Node, path: str, problems: Problems) -> str | None:
    name = nodes.slug(node, path, problems)
    if name in RESERVED:
        problems.add(node, path, f"{name!r} is a word of the service's addresses: take another")
        return None
    return name


def _post(top: Section) -> Post | None:
    part = top.section("post")
    if part is None:
        return None
    part.chosen("as")
    return Post(ledger=part.get("ledger", nodes.slug) or "", coding=coding_of(part))
