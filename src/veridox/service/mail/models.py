"""A mail that was taken in."""

from enum import StrEnum

from django.db import models

from veridox.service.choices import choices
from veridox.service.connections.models import Connection
from veridox.service.pipelines.models import PipelineVersion


class Place(StrEnum):
    """Where the mail lies on the server."""

    ARRIVED = "arrived"  # where it arrived
    DONE = "done"  # all its files have ended
    PEOPLE = "people"  # a file waits for a person
    FAILED = "failed"  # a file failed


PLACES = choices(Place)


class Message(models.Model):
    """A mail. Its original is in the store under `sha256`.

    `arrived_*` is where it was found and never changes; `folder`, `uidvalidity`
    and `uid` are where it lies now, as far as the server told.
    """

    connection = models.ForeignKey(Connection, on_delete=models.PROTECT)
    pipeline_version = models.ForeignKey(PipelineVersion, on_delete=models.PROTECT)
    arrived_folder = models.CharField(max_length=255)
    arrived_uidvalidity = models.BigIntegerField()
    arrived_uid = models.BigIntegerField()
    folder = models.CharField(max_length=255)
    uidvalidity = models.BigIntegerField(null=True)
    uid = models.BigIntegerField(null=True)
    place = models.CharField(max_length=20, choices=PLACES, default=Place.ARRIVED)
    moving_to = models.CharField(max_length=20, choices=PLACES, blank=True)
    marked_at = models.DateTimeField(null=True, help_text="when the read mark was set")

    message_id = models.CharField(max_length=998, blank=True, db_index=True)
    fingerprint = models.CharField(max_length=64)
    repeat_of = models.ForeignKey("self", null=True, on_delete=models.PROTECT)
    sender_name = models.CharField(max_length=2000, blank=True)
    sender_address = models.CharField(max_length=320, blank=True)
    recipients = models.JSONField(default=list)
    subject = models.CharField(max_length=2000, blank=True)
    text = models.TextField(blank=True)
    headers = models.JSONField(default=dict)
    defects = models.JSONField(default=list)
    sent_at = models.DateTimeField(null=True)
    received_at = models.DateTimeField()
    taken_at = models.DateTimeField(auto_now_add=True)
    size = models.BigIntegerField()
    sha256 = models.CharField(max_length=64)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["connection", "arrived_folder", "arrived_uidvalidity", "arrived_uid"],
                name="mail_taken_once",
            )
        ]
