"""Publish a pipeline file as the next version; bring an older one back; copy; remove."""

import hashlib
import json
import re
from typing import Any

from django.conf import settings
from django.db import transaction
from django.utils import timezone

from veridox.core.pipeline import Definition, PipelineError
from veridox.core.pipeline.compare import Difference, differences
from veridox.service.accounts.actors import Actor
from veridox.service.errors import BadInputError, NotAllowedError, WrongStateError
from veridox.service.pipelines.checking import PipelineText, check_text, missing_around
from veridox.service.pipelines.models import Pipeline, PipelineVersion, VersionState
from veridox.service.pipelines.queries import (
    definition_of,
    newest,
    pipeline_named,
    version_numbered,
)
from veridox.service.trail.record import record


@transaction.atomic
def publish(actor: Actor, file: PipelineText | str) -> PipelineVersion:
    """Make a text the newest version; the same text again changes nothing.

    A version that loosens something waits for a second person, where the settings say so.

    Args:
        actor: who publishes it.
        file: its text, with what it is joined with where there is anything.

    Raises:
        PipelineFileError: the file has problems.
        BadInputError: it names what is not set up here.
    """
    file = PipelineText(text=file) if isinstance(file, str) else file
    definition = _good(file)
    Pipeline.objects.get_or_create(name=definition.name)
    pipeline = Pipeline.objects.select_for_update().get(name=definition.name)
    last = _last(pipeline)
    if last is not None and last.sha256 == _digest(file) and pipeline.removed_at is None:
        return last
    return _store(actor, pipeline, file, definition)


def _good(file: PipelineText) -> Definition:
    definition = check_text(file).definition
    absent = missing_around(definition)
    if absent:
        raise BadInputError("This pipeline cannot run yet: " + "; ".join(absent) + ".")
    return definition


def _last(pipeline: Pipeline) -> PipelineVersion | None:
    """The newest that was not refused."""
    rows = pipeline.versions.exclude(state=VersionState.REFUSED)
    last: PipelineVersion | None = rows.order_by("-number").first()
    return last


def _digest(file: PipelineText) -> str:
    if not file.parts and not file.values:
        return hashlib.sha256(file.text.encode()).hexdigest()
    whole = json.dumps([file.text, dict(file.parts), file.values], sort_keys=True)
    return hashlib.sha256(whole.encode()).hexdigest()


def _store(
    actor: Actor,
    pipeline: Pipeline,
    file: PipelineText,
    definition: Definition,
    as_version: int | None = None,
) -> PipelineVersion:
    changes = _changes(pipeline, definition)
    loosens = [str(each) for each in changes if each.loosens]
    waits = bool(loosens) and actor.person is not None and settings.CONFIGURATION.second_person
    highest = pipeline.versions.order_by("-number").values_list("number", flat=True).first()
    version = PipelineVersion.objects.create(
        pipeline=pipeline,
        number=(highest or 0) + 1,
        text=file.text,
        parts=dict(file.parts),
        values=file.values,
        sha256=_digest(file),
        commit=file.commit[:100],
        changes=[_json(each) for each in changes],
        as_version=as_version,
        state=VersionState.WAITING if waits else VersionState.PUBLISHED,
        published_by=actor.name,
    )
    details: dict[str, Any] = {
        "version": version.number,
        "sha256": version.sha256,
        "changes": [str(each) for each in changes],
    }
    details |= {"commit": version.commit} if version.commit else {}
    details |= {"as_version": as_version} if as_version else {}
    if waits:
        record(
            actor, "pipeline.proposed", "pipeline", pipeline.name, details | {"loosens": loosens}
        )
    else:
        _runs(actor, version, definition)
        record(actor, "pipeline.published", "pipeline", pipeline.name, details)
    return version


def _json(change: Difference) -> dict[str, str]:
    return {
        "place": change.place, "before": change.before, "after": change.after,
        "loosens": change.loosens,
    }  # fmt: skip


def _changes(pipeline: Pipeline, definition: Definition) -> tuple[Difference, ...]:
    rows = pipeline.versions.filter(state=VersionState.PUBLISHED)
    before = rows.order_by("-number").first()
    if before is None or pipeline.removed_at is not None:
        return ()
    try:
        return differences(definition_of(before), definition)
    except PipelineError:
        return ()  # a version that does not pass its check any more cannot be compared with


def _runs(actor: Actor, version: PipelineVersion, definition: Definition) -> None:
    """From now on it handles what comes in; what is under way ends under its own version."""
    pipeline = version.pipeline
    pipeline.title = definition.title
    if pipeline.pause_reason or pipeline.removed_at is not None:
        pipeline.paused = False
    pipeline.pause_reason, pipeline.removed_at = "", None
    pipeline.save()
    for other in pipeline.versions.filter(state=VersionState.WAITING).exclude(pk=version.pk):
        _decide(other, actor, VersionState.REFUSED, f"version {version.number} was published")


def _decide(version: PipelineVersion, actor: Actor, state: VersionState, reason: str) -> None:
    version.state, version.decided_by = state, actor.name
    version.decided_at, version.decided_reason = timezone.now(), reason
    version.save()


def _waiting(name: str, number: int) -> PipelineVersion:
    pipeline = pipeline_named(name)
    Pipeline.objects.select_for_update().get(pk=pipeline.pk)
    version = version_numbered(name, number)
    if version.state != VersionState.WAITING:
        raise WrongStateError(f"version {number} of {name} is {version.state}; it waits for nobody")
    return version


@transaction.atomic
def accept_version(actor: Actor, name: str, number: int, reason: str = "") -> PipelineVersion:
    """A second person lets a version run that loosens something.

    Raises:
        NotThereError, WrongStateError: there is none, or it does not wait.
        NotAllowedError: whoever published it does not accept it.
    """
    version = _waiting(name, number)
    if actor.person is None or actor.name == version.published_by:
        raise NotAllowedError(
            f"version {number} of {name} loosens what {version.published_by.partition(':')[2]} "
            "published; somebody else looks at it"
        )
    definition = _good(PipelineText(text=version.text, parts=version.parts))
    _decide(version, actor, VersionState.PUBLISHED, reason)
    _runs(actor, version, definition)
    details = {"version": number, "published_by": version.published_by, "reason": reason,
               "loosens": [_line(each) for each in version.changes if each["loosens"]]}  # fmt: skip
    record(actor, "pipeline.accepted", "pipeline", name, details)
    return version


def _line(change: dict[str, str]) -> str:
    return f"{change['place']}: {change['before']} -> {change['after']}"


@transaction.atomic
def refuse_version(actor: Actor, name: str, number: int, reason: str) -> PipelineVersion:
    """A version that waits does not run. Raises as `accept_version`; anybody may refuse."""
    version = _waiting(name, number)
    _decide(version, actor, VersionState.REFUSED, reason)
    record(actor, "pipeline.refused", "pipeline", name, {"version": number, "reason": reason})
    return version


@transaction.atomic
def bring_back(actor: Actor, name: str, number: int) -> PipelineVersion:
    """Publish an older version again, as the newest.

    Raises:
        NotThereError: there is no such version.
        WrongStateError: it is the one that runs.
        PipelineFileError, BadInputError: it does not pass its check any more.
    """
    pipeline = Pipeline.objects.select_for_update().get(pk=pipeline_named(name).pk)
    old = version_numbered(name, number)
    if newest(name).pk == old.pk:
        raise WrongStateError(f"version {number} of {name} is the one that runs")
    file = PipelineText(text=old.text, parts=old.parts, commit=old.commit)
    return _store(actor, pipeline, file, _good(file), as_version=number)


@transaction.atomic
def copy(actor: Actor, name: str, new: str) -> PipelineVersion:
    """Publish the version that runs under another name, paused: both would collect the same.

    Raises:
        NotThereError: there is no such pipeline.
        BadInputError, WrongStateError: the new name is none, or is taken.
    """
    old = newest(name)
    if not re.fullmatch(r"[a-z0-9][a-z0-9-]{0,62}", new):
        raise BadInputError(f"{new!r}: small letters, digits and dashes, 63 at most")
    if Pipeline.objects.filter(name=new, removed_at=None).exists():
        raise WrongStateError(f"there is a pipeline {new!r} already")
    text = re.sub(r"(?m)^(pipeline:\s*)\S.*$", rf"\g<1>{new}", old.text, count=1)
    version = publish(actor, PipelineText(text=text, parts=old.parts))
    if version.pipeline.name != new:
        raise BadInputError(f"the name of {name} stands in its file in a way that is not found")
    version.pipeline.paused = True
    version.pipeline.save(update_fields=["paused"])
    return version


@transaction.atomic
def remove(actor: Actor, name: str, reason: str = "") -> Pipeline:
    """It collects nothing any more and is not listed; its versions stay with their documents."""
    pipeline = Pipeline.objects.select_for_update().get(pk=pipeline_named(name).pk)
    for version in pipeline.versions.filter(state=VersionState.WAITING):
        _decide(version, actor, VersionState.REFUSED, "its pipeline was removed")
    pipeline.removed_at, pipeline.paused, pipeline.pause_reason = timezone.now(), True, ""
    pipeline.save()
    record(actor, "pipeline.removed", "pipeline", name, {"reason": reason} if reason else {})
    return pipeline
