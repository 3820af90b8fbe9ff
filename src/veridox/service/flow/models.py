"""What was looked at each time a document went on."""

from django.db import models

from veridox.service.documents.models import STATES, Document
from veridox.service.pipelines.models import PipelineVersion


class Walk(models.Model):
    """One walk of a document along the road; never changed.

    `trace` is compact: `[stage, what followed, sentence, ...]` for each stage.
    """

    document = models.ForeignKey(Document, on_delete=models.CASCADE, related_name="walks")
    pipeline_version = models.ForeignKey(PipelineVersion, on_delete=models.PROTECT)
    reading = models.PositiveIntegerField(help_text="number of the version that was looked at")
    by = models.CharField(max_length=200)
    before = models.CharField(max_length=20, choices=STATES)
    state = models.CharField(max_length=20, choices=STATES)
    trace = models.JSONField()
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]


class PluginAnswer(models.Model):
    """What plug-ins said of a version of a reading, before the transaction that walks with it.

    Attributes:
        asked: which plug-ins of which versions.
        answers: `findings` and what functions gave, by their arguments.
    """

    document = models.OneToOneField(
        Document, on_delete=models.CASCADE, related_name="plugin_answer"
    )
    reading = models.PositiveIntegerField()
    pipeline_version = models.ForeignKey(PipelineVersion, on_delete=models.PROTECT)
    asked = models.TextField()
    answers = models.JSONField()
    asked_at = models.DateTimeField(auto_now=True)
