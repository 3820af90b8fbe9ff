"""Runs begin by the clock, close when nothing more joins them, and end when all has settled."""

import logging
from collections.abc import Callable
from dataclasses import replace
from datetime import datetime, timedelta
from functools import partial
from typing import Final

from django.db.models import Max
from django.utils import timezone

from veridox.core.pipeline import Definition, PipelineError
from veridox.core.pipeline.schedule import next_after
from veridox.service.documents.runs import settled
from veridox.service.errors import VeridoxError
from veridox.service.intake.models import File
from veridox.service.notices.actions.end_run import end_run
from veridox.service.pipelines.actions.runs import (
    CLOCK,
    begin_run,
    close_run,
    day_is_over,
    zone_of,
)
from veridox.service.pipelines.models import PipelineRun, PipelineVersion, RunHow
from veridox.service.pipelines.queries import definition_of, running

log = logging.getLogger(__name__)
QUIET: Final = timedelta(minutes=1)
"""How long nothing new comes before an inbox counts as empty."""
LOOKED_AT_MOST: Final = timedelta(hours=6)
"""After which a run is closed although a place was not looked through."""
SETTLES_WITHIN: Final = timedelta(hours=24)
"""After which a closed run ends although something of it is still on its way."""


def tend(now: datetime | None = None) -> None:
    """Begin what is due, close what is over, end what has settled. What fails is tried again."""
    moment = now or timezone.now()
    for version, definition in running():
        _try(partial(begin_if_due, version, definition, moment))
    for run in PipelineRun.objects.select_related("pipeline", "version").filter(ended_at=None):
        _try(partial(_tend, run, moment))


def _try(act: Callable[[], object]) -> None:
    try:
        act()
    except VeridoxError as error:
        log.warning("tending runs: %s", error)


def begin_if_due(version: PipelineVersion, definition: Definition, now: datetime) -> bool:
    """Begin a run whose moment has come; moments that were missed begin one run together."""
    schedule = definition.run.schedule
    if schedule is None:
        return False
    name = version.pipeline.name
    runs = PipelineRun.objects.filter(pipeline=version.pipeline, how=RunHow.CLOCK)
    last = runs.aggregate(last=Max("begun_at"))["last"] or version.published_at
    if schedule.at and not schedule.zone:
        schedule = replace(schedule, zone=str(zone_of(definition)))
    if next_after(schedule, last) > now:
        return False
    if (
        PipelineRun.objects.filter(pipeline=version.pipeline, closed_at=None)
        .exclude(pending=[])
        .exists()
    ):
        return False  # the one before is still looking through its places
    begin_run(CLOCK, name, how=RunHow.CLOCK)
    return True


def _tend(run: PipelineRun, now: datetime) -> None:
    if run.closed_at is None:
        reason = _over(run, now)
        if reason and close_run(run.pk, reason):
            run.closed_at = now
    if run.closed_at is not None and (settled(run) or now - run.closed_at > SETTLES_WITHIN):
        end_run(run.pk)


def _over(run: PipelineRun, now: datetime) -> str:
    """Why nothing more joins it; empty while it goes on."""
    if run.how != RunHow.NEWS:
        if not run.pending:
            return "everything was looked through"
        too_long = now - run.begun_at > LOOKED_AT_MOST
        return "not everything could be looked through" if too_long else ""
    try:
        definition = definition_of(run.version)
    except PipelineError:
        return "its version does not pass its check any more"
    if definition.run.schedule is not None or day_is_over(run, definition, now):
        return "the day was over"
    if definition.run.ends == "inbox empty":
        newest = File.objects.filter(run=run).aggregate(newest=Max("received_at"))["newest"]
        if settled(run) and now - (newest or run.begun_at) > QUIET:
            return "the inbox was empty"
    return ""
