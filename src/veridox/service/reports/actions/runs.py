"""Ask for a run of a report, and store how it goes."""

from collections.abc import Iterable
from dataclasses import asdict
from datetime import timedelta
from itertools import islice
from typing import Any

from django.db import transaction
from django.utils import timezone

from veridox.service.accounts.actors import Actor
from veridox.service.errors import NotThereError
from veridox.service.intake.accounted import Row as Found
from veridox.service.reports.models import Row, Run, RunState
from veridox.service.work import defer

KEPT = timedelta(days=30)
"""For so long runs are kept."""
GROUP = 1_000


@transaction.atomic
def ask(actor: Actor, kind: str, wanted: dict[str, Any]) -> Run:
    """Queue a run; what it was asked for is checked by then."""
    run = Run.objects.create(kind=kind, wanted=wanted, asked_by=actor.name)
    defer("report", run_id=run.pk)
    return run


@transaction.atomic
def begin(run_id: int) -> Run | None:
    """Begin, or begin again after a worker died; None when it ended already."""
    run = Run.objects.select_for_update().filter(pk=run_id).first()
    if run is None or run.state in (RunState.DONE, RunState.FAILED):
        return None
    run.rows.all().delete()
    run.state, run.done, run.total = RunState.RUNNING, 0, 0
    run.save()
    return run


def note_progress(run_id: int, done: int, total: int) -> None:
    """How far it is."""
    Run.objects.filter(pk=run_id).update(done=done, total=total)


def store_rows(run: Run, rows: Iterable[Found]) -> None:
    """Rows as they come, group by group: a mailbox of 100,000 mails is never held in memory."""
    each = iter(rows)
    while group := list(islice(each, GROUP)):
        Row.objects.bulk_create(
            Row(run=run, at=row.received_at, stands=row.stands, data=_data(row)) for row in group
        )


def _data(row: Found) -> dict[str, Any]:
    return {**asdict(row), "received_at": row.received_at.isoformat()}


@transaction.atomic
def finish(run_id: int, result: dict[str, Any]) -> None:
    """It is done."""
    run = Run.objects.select_for_update().get(pk=run_id)
    run.state, run.result, run.ended_at = RunState.DONE, result, timezone.now()
    run.done = run.total = max(run.done, run.total)
    run.save()


@transaction.atomic
def fail_run(run_id: int, problem: str) -> None:
    """It cannot be finished; says why."""
    run = Run.objects.select_for_update().filter(pk=run_id).first()
    if run is not None and run.state != RunState.DONE:
        run.state, run.problem, run.ended_at = RunState.FAILED, problem, timezone.now()
        run.save()


def forget_old_runs() -> None:
    """Housekeeping."""
    Run.objects.filter(asked_at__lt=timezone.now() - KEPT).delete()


def run_of(run_id: int) -> Run:
    """A run. Raises NotThereError."""
    run = Run.objects.filter(pk=run_id).first()
    if run is None:
        raise NotThereError(f"there is no run {run_id} of a report")
    return run
