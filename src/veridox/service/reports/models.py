"""Reports that take long: asked for, run by a worker, looked at page by page."""

from enum import StrEnum

from django.db import models

from veridox.service.choices import choices


class RunState(StrEnum):
    """Where a run stands."""

    QUEUED = "queued"  # a worker will begin
    RUNNING = "running"  # see `done` of `total`
    DONE = "done"  # see its result and rows
    FAILED = "failed"  # see its problem


class RunKind(StrEnum):
    """What a run computes."""

    ACCOUNTED = "accounted"  # all that came in, accounted for
    TRAIL = "trail"  # the whole trail verified


RUN_STATES, RUN_KINDS = choices(RunState), choices(RunKind)


class Run(models.Model):
    """One run of a report. Runs are kept for some weeks."""

    kind = models.CharField(max_length=20, choices=RUN_KINDS)
    wanted = models.JSONField(default=dict)
    state = models.CharField(max_length=20, choices=RUN_STATES, default=RunState.QUEUED)
    done = models.PositiveBigIntegerField(default=0)
    total = models.PositiveBigIntegerField(default=0)
    result = models.JSONField(default=dict)
    problem = models.TextField(blank=True)
    asked_by = models.CharField(max_length=200)
    asked_at = models.DateTimeField(auto_now_add=True)
    ended_at = models.DateTimeField(null=True)


class Row(models.Model):
    """One row of a run's result; `stands` and `at` are what lists filter and order by."""

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="rows")
    at = models.DateTimeField()
    stands = models.CharField(max_length=40)
    data = models.JSONField(default=dict)

    class Meta:
        indexes = [models.Index(fields=["run", "at", "id"]), models.Index(fields=["run", "stands"])]
