"""Check a pipeline file, and whether what it names is set up here. Reads only."""

import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from django.conf import settings

from veridox.core.findings.wording import counted
from veridox.core.pipeline import Collect, Definition, Problem, examine
from veridox.core.pipeline.file.shared import values_used
from veridox.service.connections.models import Connection, ConnectionKind
from veridox.service.errors import BadInputError
from veridox.service.masterdata.models import Entity
from veridox.service.pipelines.queries import running


class PipelineFileError(BadInputError):
    """The file has problems; each with line and column."""

    status = 422
    slug = "pipeline-file"


@dataclass(frozen=True, kw_only=True, slots=True)
class PipelineText:
    """A pipeline file with all that it is joined with.

    Attributes:
        text: of the file.
        parts: texts of shared parts by name.
        commit: of the repository that it comes from; empty for none.
    """

    text: str
    parts: Mapping[str, str] = field(default_factory=dict)
    commit: str = ""

    @property
    def values(self) -> dict[str, str]:
        """The values of the environment that it may use: those that it asks for and that are
        listed in the settings."""
        listed = settings.CONFIGURATION.values
        return {name: listed[name] for name in values_used(self.text, self.parts) if name in listed}


@dataclass(frozen=True, kw_only=True, slots=True)
class CheckedFile:
    """A file without problems: its definition, and what is hardly meant."""

    definition: Definition
    warnings: tuple[Problem, ...]


def problem_json(problem: Problem) -> dict[str, Any]:
    """As it is answered."""
    return {
        "line": problem.line,
        "column": problem.column,
        "path": problem.path,
        "message": problem.message,
        "hint": problem.hint,
        "part": problem.part,
    }


def check_text(file: PipelineText) -> CheckedFile:
    """Check a file alone. Raises PipelineFileError with all problems."""
    examined = examine(file.text, file.parts, file.values)
    if examined.definition is None:
        first, count = examined.problems[0], len(examined.problems)
        where = f"{first.part}:" if first.part else ""
        raise PipelineFileError(
            f"{counted(count, 'problem')} in the pipeline file; the first at "
            f"{where}{first.line}:{first.column}: {first.message}",
            errors=[problem_json(each) for each in examined.problems],
        )
    return CheckedFile(definition=examined.definition, warnings=examined.warnings)


def missing_around(definition: Definition) -> list[str]:
    """What the pipeline refers to and is not set up here, as sentences."""
    wanted = [
        (collect.mailbox, ConnectionKind.MAILBOX)
        for collect in definition.collect
        if collect.mailbox
    ]
    if definition.post:
        wanted.append((definition.post.ledger, ConnectionKind.LEDGER))
    said = [
        f"there is no {kind} connection {name!r}"
        for name, kind in wanted
        if not Connection.objects.filter(name=name, kind=kind).exists()
    ]
    through = definition.through
    mails = any(tell.is_mail for tell in definition.tell)
    chats = any(tell.channel for tell in definition.tell)
    said += _way_out("mail", through.outbox, ConnectionKind.OUTBOX, needed=mails)
    said += _way_out("chat", through.chat, ConnectionKind.CHAT, needed=chats)
    known = set(Entity.objects.values_list("code", flat=True))
    said += [f"there is no entity {code!r}" for code in definition.entities if code not in known]
    return said


def _way_out(key: str, named: str, kind: ConnectionKind, *, needed: bool) -> list[str]:
    """Whether it is clear which connection messages go through; letters may go at any time."""
    names = list(
        Connection.objects.filter(kind=kind).order_by("name").values_list("name", flat=True)
    )
    if named:
        there = ", ".join(names) or "none"
        known = named in names
        return [] if known else [f"there is no {kind} connection {named!r}; there are: {there}"]
    if not names:
        return [f"there is no {kind} connection to send with"] if needed else []
    if len(names) > 1:
        several = ", ".join(names)
        return [f"there are several {kind} connections ({several}): say which with through.{key}"]
    return []


def overlapping(definition: Definition) -> list[str]:
    """Other running pipelines that may take the same mails or files, as sentences."""
    said = []
    for version, other in running():
        if version.pipeline.name == definition.name:
            continue
        for mine in definition.collect:
            for theirs in other.collect:
                if _may_take_the_same(mine, theirs):
                    place = f"{mine.mailbox} {mine.folder}" if mine.mailbox else mine.watch
                    said.append(
                        f"{version.pipeline.name} looks into {place}, too: what passes both "
                        "filters is taken by whichever looks first"
                    )
    return list(dict.fromkeys(said))


def _may_take_the_same(one: Collect, other: Collect) -> bool:
    """Whether a mail can pass both filters; only what is certain is ruled out."""
    if (one.mailbox, one.watch) != (other.mailbox, other.watch):
        return False
    if one.mailbox and one.folder != other.folder:
        return False
    if one.files and other.files and not set(one.files) & set(other.files):
        return False
    addresses = [
        {each.lower() for each in collect.only.senders if re.fullmatch(r"[^*?]+@[^*?]+", each)}
        for collect in (one, other)
        if collect.only.senders
    ]
    if len(addresses) == 2 and all(
        len(found) == len(collect.only.senders)
        for found, collect in zip(addresses, (one, other), strict=True)
    ):
        return bool(addresses[0] & addresses[1])
    return True
