"""A pipeline and the versions of its file."""

from django.db import models


class Pipeline(models.Model):
    """A pipeline by name."""

    name = models.SlugField(max_length=63, unique=True)
    title = models.CharField(max_length=200, blank=True)
    paused = models.BooleanField(default=False)


class PipelineVersion(models.Model):
    """A published text, kept for good: documents refer to the version that handled them."""

    pipeline = models.ForeignKey(Pipeline, on_delete=models.PROTECT, related_name="versions")
    number = models.PositiveIntegerField()
    text = models.TextField()
    sha256 = models.CharField(max_length=64)
    published_at = models.DateTimeField(auto_now_add=True)
    published_by = models.CharField(max_length=200)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["pipeline", "number"], name="version_once")]
