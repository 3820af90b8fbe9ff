"""Postings, and the reservation that guards against exact duplicates."""

import uuid

from django.db import models

from veridox.core.posting import PostingState
from veridox.service.choices import choices
from veridox.service.connections.models import Connection
from veridox.service.documents.models import Document
from veridox.service.masterdata.models import Vendor


class Posting(models.Model):
    """One posting with one id for its whole life, stored before anything is sent.

    The id is what the ledger gets as `Idempotency-Key` and external reference. A document gets
    another posting only once this one was cancelled in the ledger. `differences` is what was
    found when it was read back; `completed_at` is when.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    document = models.ForeignKey(Document, on_delete=models.PROTECT, related_name="postings")
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
    completed_at = models.DateTimeField(null=True)
    differences = models.JSONField(default=list)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["document"],
                condition=~models.Q(state="cancelled"),
                name="one_open_posting",
            )
        ]


class BillReservation(models.Model):
    """The right to post a vendor's number of one kind and year; the database grants it once.

    Vendors that share a tax id are one family and share the right. `turn` is above 0 for the rare
    number that a vendor really used twice, once two people have said so.
    """

    vendor = models.ForeignKey(Vendor, on_delete=models.PROTECT)
    family = models.CharField(max_length=60)
    kind = models.CharField(max_length=30)
    number_key = models.CharField(max_length=200)
    year = models.PositiveIntegerField()
    turn = models.PositiveSmallIntegerField(default=0)
    document = models.OneToOneField(Document, on_delete=models.PROTECT, related_name="reservation")

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["family", "kind", "number_key", "year", "turn"], name="bill_reserved_once"
            )
        ]
