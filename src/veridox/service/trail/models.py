"""The chain of entries and its head."""

from django.db import models


class Head(models.Model):
    """The one row that everybody locks last: number and seal of the newest entry.

    `mark` is a keyed digest over both, so that a row put in by hand shows.
    """

    number = models.BigIntegerField(default=0)
    seal = models.CharField(max_length=64, default="")
    mark = models.CharField(max_length=64, default="")


class Entry(models.Model):
    """One act. Rows are only ever added; a database trigger refuses anything else.

    `text` is the details as they were sealed: JSONB writes numbers its own way. `form`
    says what is sealed: 1, of early entries, the details themselves; 2 the text.
    """

    number = models.BigIntegerField(unique=True)
    at = models.DateTimeField()
    actor = models.CharField(max_length=200)
    act = models.CharField(max_length=60, db_index=True)
    subject = models.CharField(max_length=40)
    subject_id = models.CharField(max_length=200)
    details = models.JSONField(default=dict)
    text = models.TextField(default="")
    form = models.PositiveSmallIntegerField(default=1)
    before = models.CharField(max_length=64)
    seal = models.CharField(max_length=64)

    class Meta:
        indexes = [models.Index(fields=["subject", "subject_id", "number"])]
