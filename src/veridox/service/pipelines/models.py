"""A pipeline and the versions of its file."""

from enum import StrEnum

from django.db import models

from veridox.service.choices import choices


class Pipeline(models.Model):
    """A pipeline by name.

    What was paused because a newer release refuses its version (`pause_reason`) runs again once a
    corrected one is published; what a person paused, once a person lets it.
    """

    name = models.SlugField(max_length=63, unique=True)
    title = models.CharField(max_length=200, blank=True)
    paused = models.BooleanField(default=False)
    pause_reason = models.TextField(blank=True)
    removed_at = models.DateTimeField(null=True)


class VersionState(StrEnum):
    """Whether a version may run."""

    PUBLISHED = "published"  # it runs, or ran
    WAITING = "waiting"  # it loosens something: a second person looks at it
    REFUSED = "refused"  # that person said no, or another was published meanwhile


VERSION_STATES = choices(VersionState)


class PipelineVersion(models.Model):
    """A published text with all that it was joined with, kept for good: documents refer to the
    version that handled them.

    Attributes:
        parts: texts of its shared parts by name.
        values: of the environment, as they were, by name.
        commit: of the repository that its file came from.
        changes: differences by meaning to the version that ran before.
        as_version: number of the older version that it brings back.
    """

    pipeline = models.ForeignKey(Pipeline, on_delete=models.PROTECT, related_name="versions")
    number = models.PositiveIntegerField()
    text = models.TextField()
    parts = models.JSONField(default=dict)
    values = models.JSONField(default=dict)
    sha256 = models.CharField(max_length=64)
    commit = models.CharField(max_length=100, blank=True)
    changes = models.JSONField(default=list)
    as_version = models.PositiveIntegerField(null=True)
    state = models.CharField(max_length=20, choices=VERSION_STATES, default=VersionState.PUBLISHED)
    published_at = models.DateTimeField(auto_now_add=True)
    published_by = models.CharField(max_length=200)
    decided_by = models.CharField(max_length=200, blank=True)
    decided_at = models.DateTimeField(null=True)
    decided_reason = models.TextField(blank=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["pipeline", "number"], name="version_once")]


class RunHow(StrEnum):
    """How a run began."""

    CLOCK = "clock"  # by its schedule
    ASKED = "asked"  # somebody asked for it
    NEWS = "news"  # something came in where all is collected all the time


RUN_HOW = choices(RunHow)


class PipelineRun(models.Model):
    """One run of a pipeline: what came in while it was open, until all of that has settled.

    A run is open, then closed (nothing more joins it), then ended. One is open at a time.

    Attributes:
        parameters: texts by name, as they were said.
        pending: places that are still to be looked through: `[kind, place, folder]`.
        problems: why a place could not be looked through.
        counts: at its end.
    """

    pipeline = models.ForeignKey(Pipeline, on_delete=models.PROTECT, related_name="runs")
    version = models.ForeignKey(PipelineVersion, on_delete=models.PROTECT)
    parameters = models.JSONField(default=dict)
    how = models.CharField(max_length=10, choices=RUN_HOW)
    begun_by = models.CharField(max_length=200)
    begun_at = models.DateTimeField(auto_now_add=True)
    closed_at = models.DateTimeField(null=True)
    ended_at = models.DateTimeField(null=True)
    end_reason = models.TextField(blank=True)
    pending = models.JSONField(default=list)
    problems = models.JSONField(default=list)
    counts = models.JSONField(default=dict)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(
                fields=["pipeline"], condition=models.Q(closed_at=None), name="one_open_run"
            )
        ]
        indexes = [
            models.Index(fields=["ended_at"], name="run_under_way",
                         condition=models.Q(ended_at=None)),
        ]  # fmt: skip
