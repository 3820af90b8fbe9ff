"""End a run: count, and tell."""

from decimal import Decimal

from django.db import transaction
from django.utils import timezone

from veridox.core.language import Subject
from veridox.core.language.names import END_OF_RUN
from veridox.service.accounts.actors import Actor
from veridox.service.documents.runs import counts_of
from veridox.service.documents.subject import around_of_run
from veridox.service.notices.actions.queue import queue_for_run
from veridox.service.pipelines.models import PipelineRun
from veridox.service.trail.record import record

RUNS = Actor.system("runs")


@transaction.atomic
def end_run(run_id: int) -> None:
    """Count, tell whom the pipeline names, and note it; once."""
    run = (
        PipelineRun.objects.select_for_update(of=("self",))
        .select_related("pipeline", "version")
        .filter(pk=run_id, ended_at=None)
        .exclude(closed_at=None)
        .first()
    )
    if run is None:
        return
    run.counts, run.ended_at = counts_of(run), timezone.now()
    run.save(update_fields=["counts", "ended_at"])
    counts = {f"run.{name}": count for name, count in run.counts.items()}
    numbers = {name: Decimal(count) for name, count in counts.items()}
    around = {**around_of_run(run), **numbers}
    queue_for_run(run, END_OF_RUN, Subject(around=around))
    details = {"pipeline": run.pipeline.name, "reason": run.end_reason, "counts": run.counts}
    record(RUNS, "run.ended", "run", run.pk, details)
