"""A notice on its way out."""

from enum import StrEnum

from django.db import models

from veridox.service.choices import choices
from veridox.service.documents.models import Document


class NoticeState(StrEnum):
    """Where a notice stands."""

    PREPARED = "prepared"  # to be sent
    SENT = "sent"  # taken by the mail server
    FAILED = "failed"  # given up


class Notice(models.Model):
    """One mail about one event, stored with the event and sent afterwards."""

    document = models.ForeignKey(Document, on_delete=models.PROTECT, related_name="notices")
    event = models.CharField(max_length=40)
    recipient = models.CharField(max_length=320)
    subject = models.CharField(max_length=500)
    text = models.TextField()
    message_id = models.CharField(max_length=200, unique=True)
    state = models.CharField(
        max_length=20, choices=choices(NoticeState), default=NoticeState.PREPARED
    )
    problem = models.TextField(blank=True)
    prepared_at = models.DateTimeField(auto_now_add=True)
    sent_at = models.DateTimeField(null=True)
