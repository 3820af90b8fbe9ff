"""Postings, and the reservation that guards against exact duplicates."""

import uuid
from enum import StrEnum

from django.db import models

from veridox.service.choices import choices
from veridox.service.connections.models import Connection
from veridox.service.documents.models import Document
from veridox.service.masterdata.models import Vendor


class PostingState(StrEnum):
    """Where a posting stands."""

    PREPARED = "prepared"  # to be sent
    SENDING = "sending"  # sent, no answer stored yet
    DRAFTED = "drafted"  # stands in the ledger as a draft
    POSTED = "posted"  # booked
    REFUSED = "refused"  # the ledger said no; nothing was booked
    UNSURE = "unsure"  # no answer: it may be booked or not
    CANCELLED = "cancelled"  # taken back in the ledger


class Posting(models.Model):
    """One posting with one id for its whole life, stored before anything is sent.

    The id is what the ledger gets as `Idempotency-Key` and external reference.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    document = models.OneToOneField(Document, on_delete=models.PROTECT, related_name="posting")
    ledger = models.ForeignKey(Connection, on_delete=models.PROTECT)
    state = models.CharField(max_length=20, choices=choices(PostingState))
    bill = models.JSONField()
    attempts = models.PositiveIntegerField(default=0)
    sent_at = models.DateTimeField(null=True)
    number = models.CharField(max_length=100, blank=True)
    link = models.CharField(max_length=500, blank=True)
    ledger_key = models.CharField(max_length=100, blank=True)
    attached_at = models.DateTimeField(null=True)
    problem = models.TextField(blank=True)
    prepared_at = models.DateTimeField(auto_now_add=True)
    posted_at = models.DateTimeField(null=True)


class BillReservation(models.Model):
    """The right to post a vendor's number of one kind and year; the database grants it once.

    Vendors that share a tax id are one family and share the right.
    """

    vendor = models.ForeignKey(Vendor, on_delete=models.PROTECT)
    family = models.CharField(max_length=60)
    kind = models.CharField(max_length=30)
    number_key = models.CharField(max_length=200)
    year = models.PositiveIntegerField()
    document = models.OneToOneField(Document, on_delete=models.PROTECT, related_name="reservation")

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["family", "kind", "number_key", "year"], name="bill_reserved_once"
            )
        ]
