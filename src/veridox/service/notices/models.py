"""A notice on its way out."""

from enum import StrEnum

from django.db import models

from veridox.service.choices import choices
from veridox.service.connections.models import Connection
from veridox.service.documents.models import Document
from veridox.service.intake.models import Message
from veridox.service.pipelines.models import PipelineRun


class NoticeState(StrEnum):
    """Where a notice stands."""

    PREPARED = "prepared"  # to be sent
    SENT = "sent"  # taken by the mail server
    FAILED = "failed"  # given up


LETTER = "returned"
"""Event of the letter with which a document goes back to its vendor."""

NOTICE_STATES = choices(NoticeState)


class Notice(models.Model):
    """One mail or chat message about one event, stored with it and sent afterwards.

    It speaks of a document, of a mail, or of a run. With a `channel` it goes to the chat,
    else to the `recipient`.
    """

    document = models.ForeignKey(
        Document, null=True, on_delete=models.PROTECT, related_name="notices"
    )
    mail = models.ForeignKey(Message, null=True, on_delete=models.PROTECT, related_name="notices")
    run = models.ForeignKey(
        PipelineRun, null=True, on_delete=models.PROTECT, related_name="notices"
    )
    event = models.CharField(max_length=40)
    recipient = models.CharField(max_length=320, blank=True)
    channel = models.CharField(max_length=63, blank=True)
    connection = models.ForeignKey(
        Connection, null=True, on_delete=models.SET_NULL, help_text="that it goes through"
    )
    subject = models.CharField(max_length=500)
    text = models.TextField()
    message_id = models.CharField(max_length=200, unique=True)
    state = models.CharField(max_length=20, choices=NOTICE_STATES, default=NoticeState.PREPARED)
    problem = models.TextField(blank=True)
    prepared_at = models.DateTimeField(auto_now_add=True)
    sent_at = models.DateTimeField(null=True)
