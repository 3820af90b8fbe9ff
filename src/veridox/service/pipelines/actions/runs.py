"""Runs of pipelines: begun by the clock, by somebody, or by what comes in; joined; closed."""

from collections.abc import Mapping
from datetime import datetime
from zoneinfo import ZoneInfo

from django.conf import settings
from django.db import connection, transaction
from django.utils import timezone

from veridox.core.pipeline import Definition, PipelineError
from veridox.core.pipeline.parameters import ParameterError, texts_of
from veridox.service.accounts.actors import Actor
from veridox.service.errors import BadInputError, WrongStateError
from veridox.service.pipelines.models import Pipeline, PipelineRun, PipelineVersion, RunHow
from veridox.service.pipelines.queries import definition_of, newest, pipeline_named
from veridox.service.trail.record import record
from veridox.service.work import defer_once

CLOCK = Actor.system("clock")


def zone_of(definition: Definition) -> ZoneInfo:
    """The time zone in which a pipeline's days are counted."""
    return ZoneInfo(definition.run.zone or settings.CONFIGURATION.zone)


def joined(version: PipelineVersion) -> PipelineRun | None:
    """The run that what comes in now belongs to; within the transaction that stores it.

    A pipeline that collects all the time begins one where none is open; one that runs by the
    clock has none between its runs. Until the transaction ends, nobody closes the run.
    """
    try:
        definition = definition_of(version)
    except PipelineError:
        return None
    open_now = PipelineRun.objects.filter(pipeline_id=version.pipeline_id, closed_at=None)
    run = open_now.first()
    if definition.run.schedule is not None:
        return _shared(run)
    now = timezone.now()
    if run is not None and not day_is_over(run, definition, now):
        run = _shared(run)
        if run is not None:
            return run
    # The pipeline before its run, as everybody who begins or closes one takes them.
    Pipeline.objects.select_for_update().get(pk=version.pipeline_id)
    for over in open_now.select_for_update():
        if not day_is_over(over, definition, now):
            return over
        _close(over, "the day was over")
    try:
        parameters = texts_of(definition.run.parameters, {})
    except ParameterError:
        parameters = {}  # one that must be said was not: nobody began this run
    return PipelineRun.objects.create(
        pipeline_id=version.pipeline_id, version=version, how=RunHow.NEWS,
        begun_by="system:collect", parameters=parameters,
    )  # fmt: skip


def _shared(run: PipelineRun | None) -> PipelineRun | None:
    """The run while it is open; whoever closes it waits for all that has joined it."""
    if run is None:
        return None
    with connection.cursor() as cursor:
        cursor.execute(
            "select 1 from pipelines_pipelinerun where id = %s and closed_at is null for key share",
            [run.pk],
        )
        return run if cursor.fetchone() else None


def day_is_over(run: PipelineRun, definition: Definition, now: datetime) -> bool:
    """Whether a run that ends with the day began on an earlier one."""
    if definition.run.ends != "day" or definition.run.schedule is not None:
        return False
    zone = zone_of(definition)
    return run.begun_at.astimezone(zone).date() < now.astimezone(zone).date()


def _close(run: PipelineRun, reason: str) -> None:
    PipelineRun.objects.filter(pk=run.pk, closed_at=None).update(
        closed_at=timezone.now(), end_reason=reason
    )


@transaction.atomic
def close_run(run_id: int, reason: str) -> bool:
    """Nothing more joins it; it ends once all of it has settled. Whether it was open."""
    run = PipelineRun.objects.select_for_update().filter(pk=run_id, closed_at=None).first()
    if run is not None:
        _close(run, reason)
    return run is not None


@transaction.atomic
def begin_run(
    actor: Actor, name: str, said: Mapping[str, str] | None = None, how: RunHow = RunHow.ASKED
) -> PipelineRun:
    """Look through all places now, with what is said for this run.

    Args:
        actor: who asked for it, or the clock.
        name: of the pipeline.
        said: parameters by name.
        how: it began.

    Raises:
        NotThereError: there is no such pipeline.
        WrongStateError: it is paused, or a run by the clock or by somebody is still open.
        BadInputError: a parameter that is none, or that must be said.
    """
    pipeline = Pipeline.objects.select_for_update().get(pk=pipeline_named(name).pk)
    if pipeline.paused:
        raise WrongStateError(f"pipeline {name} is paused; resume it first")
    version = newest(name)
    definition = definition_of(version)
    try:
        parameters = texts_of(definition.run.parameters, said or {})
    except ParameterError as error:
        raise BadInputError(f"{name}: {error}") from error
    before = PipelineRun.objects.select_for_update().filter(pipeline=pipeline, closed_at=None)
    for run in before:
        if run.how != RunHow.NEWS and run.pending:
            raise WrongStateError(f"run {run.pk} of {name} is under way since {run.begun_at:%H:%M}")
        _close(run, "another run began")
    places = [
        ["mailbox", each.mailbox, each.folder] if each.mailbox else ["watch", each.watch, ""]
        for each in definition.collect
    ]
    run = PipelineRun.objects.create(
        pipeline=pipeline, version=version, parameters=parameters, how=how,
        begun_by=actor.name, pending=places,
    )  # fmt: skip
    for place in places:
        _look_through(name, *place)
    details = {"pipeline": name, "version": version.number, "parameters": parameters}
    record(actor, "run.begun", "run", run.pk, details)
    return run


def _look_through(pipeline: str, kind: str, place: str, folder: str) -> None:
    """Have a place looked through; one that waits for its turn already will do."""
    if kind == "mailbox":
        lock = f"collect {pipeline}/{place}/{folder}"
        defer_once("collect", lock, pipeline=pipeline, mailbox=place, folder=folder)
    else:
        defer_once("gather", f"gather {pipeline} {place}", pipeline=pipeline, watch=place)


@transaction.atomic
def looked_through(pipeline: str, place: list[str], problem: str = "") -> None:
    """A place was looked through for the run that is open, or could not be."""
    # The run alone: its pipeline would be locked after it, and others take that one first.
    rows = PipelineRun.objects.select_for_update(of=("self",))
    for run in rows.filter(pipeline__name=pipeline, closed_at=None):
        if place not in run.pending:
            continue
        run.pending = [each for each in run.pending if each != place]
        if problem:
            run.problems = [*run.problems, f"{place[1]} {place[2]}: {problem}".strip()]
        run.save(update_fields=["pending", "problems"])
