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
