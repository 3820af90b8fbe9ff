"""Publish a pipeline file as the next version."""

import hashlib

from django.db import transaction

from veridox.core.findings.wording import counted
from veridox.core.pipeline import Definition, PipelineError, load
from veridox.service.accounts.actors import Actor
from veridox.service.connections.models import Connection, ConnectionKind
from veridox.service.errors import BadInputError
from veridox.service.masterdata.models import Entity
from veridox.service.pipelines.models import Pipeline, PipelineVersion
from veridox.service.trail.record import record


class PipelineFileError(BadInputError):
    """The file has problems; each with line and column."""

    status = 422
    slug = "pipeline-file"


def check_text(text: str) -> Definition:
    """Check a file's text alone. Raises PipelineFileError with all problems."""
    try:
        return load(text)
    except PipelineError as error:
        count = len(error.problems)
        raise PipelineFileError(
            f"{counted(count, 'problem')} in the pipeline file; the first at {error}",
            errors=[
                {
                    "line": problem.line,
                    "column": problem.column,
                    "path": problem.path,
                    "message": problem.message,
                    "hint": problem.hint,
                }
                for problem in error.problems
            ],
        ) from error


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


@transaction.atomic
def publish(actor: Actor, text: str) -> PipelineVersion:
    """Make a text the newest version; the same text again changes nothing."""
    definition = check_text(text)
    absent = missing_around(definition)
    if absent:
        raise BadInputError("This pipeline cannot run yet: " + "; ".join(absent) + ".")
    Pipeline.objects.get_or_create(name=definition.name)
    pipeline = Pipeline.objects.select_for_update().get(name=definition.name)
    sha256 = hashlib.sha256(text.encode()).hexdigest()
    newest = pipeline.versions.order_by("-number").first()
    if newest is not None and newest.sha256 == sha256:
        return newest
    pipeline.title, pipeline.paused = definition.title, False
    pipeline.save(update_fields=["title", "paused"])
    version = PipelineVersion.objects.create(
        pipeline=pipeline,
        number=newest.number + 1 if newest else 1,
        text=text,
        sha256=sha256,
        published_by=actor.name,
    )
    details = {"version": version.number, "sha256": sha256}
    record(actor, "pipeline.published", "pipeline", definition.name, details)
    return version
