"""Documents, versions of their readings, and what was said of them."""

from django.db import models
from django.db.models import F, Q

from veridox.core.pipeline.statements import Said
from veridox.core.pipeline.states import ENDED, WITH_PEOPLE, State
from veridox.service.accounts.models import Person
from veridox.service.choices import choices
from veridox.service.intake.models import File
from veridox.service.masterdata.models import Entity, Order, Vendor
from veridox.service.pipelines.models import PipelineVersion

__all__ = [
    "ENDED", "STATES", "WITH_PEOPLE", "Document", "OrderUse", "ReadingVersion", "State",
    "Statement",
]  # fmt: skip


STATES = choices(State)


class Document(models.Model):
    """One document. What lists and checks need of its reading stands in columns.

    `taken_by` works on it at the desk now; nobody else may change it meanwhile.
    `held_until` keeps it out of the desk's list to the end of the day before.
    `touched` says that a person had a hand in it; the untouched rate counts the others.
    `resubmission_of` is the returned document that this one replaces.
    `chosen` is what a person said the seller or the buyer is, with the values it was said of.
    `posting` is the posting that counts now: a new one is begun once the ledger cancelled it.
    `letter_out` says that a letter to the vendor is on its way: nobody changes it meanwhile.
    `evidence` is what spoke for and against each vendor and entity at the last check.
    `first_page` and `last_page` are its stretch of a file that holds several; null for all pages.
    """

    file = models.ForeignKey(File, on_delete=models.PROTECT, related_name="documents")
    position = models.PositiveIntegerField(default=1)
    first_page = models.PositiveIntegerField(null=True)
    last_page = models.PositiveIntegerField(null=True)
    pipeline_version = models.ForeignKey(PipelineVersion, on_delete=models.PROTECT)
    version = models.PositiveIntegerField(default=1)
    state = models.CharField(max_length=20, choices=STATES, db_index=True)
    queue = models.CharField(max_length=63, blank=True)
    reasons = models.JSONField(default=list)
    findings = models.JSONField(default=list)
    chosen = models.JSONField(default=dict)
    coding = models.JSONField(default=list, help_text="codes of its lines at its last check")
    by_hand = models.JSONField(default=dict, help_text="codes that people said, by line")
    letter_out = models.BooleanField(default=False)
    posting = models.ForeignKey(
        "ledgers.Posting", null=True, on_delete=models.PROTECT, related_name="+"
    )
    taken_by = models.ForeignKey(
        Person, null=True, on_delete=models.PROTECT, related_name="taken_documents"
    )
    taken_at = models.DateTimeField(null=True)
    held_until = models.DateField(null=True)
    hold_reason = models.TextField(blank=True)
    touched = models.BooleanField(default=False)
    resubmission_of = models.ForeignKey(
        "self", null=True, on_delete=models.PROTECT, related_name="resubmissions"
    )
    end_reason = models.TextField(blank=True)
    failed_at_state = models.CharField(max_length=20, blank=True)

    kind = models.CharField(max_length=30)
    number = models.CharField(max_length=200, blank=True)
    number_key = models.CharField(max_length=200, blank=True)
    number_bare = models.CharField(max_length=200, blank=True)
    issue_date = models.DateField(null=True)
    seller_name = models.CharField(max_length=300, blank=True)
    currency = models.CharField(max_length=3, blank=True)
    net_total = models.DecimalField(max_digits=18, decimal_places=4, null=True)
    charges = models.DecimalField(max_digits=18, decimal_places=4, null=True)
    gross_total = models.DecimalField(max_digits=18, decimal_places=4, null=True)
    delivery_note = models.CharField(max_length=200, blank=True)
    period = models.CharField(max_length=50, blank=True)
    preceding_key = models.CharField(max_length=200, blank=True)
    credits = models.CharField(
        max_length=200, blank=True, help_text="which bill a credit note takes back"
    )
    picture = models.BigIntegerField(null=True, help_text="of its first page, where it is a scan")
    evidence = models.JSONField(default=dict)
    entity = models.ForeignKey(Entity, null=True, on_delete=models.PROTECT)
    vendor = models.ForeignKey(Vendor, null=True, on_delete=models.PROTECT)
    order = models.ForeignKey(
        Order, null=True, on_delete=models.PROTECT, help_text="of several the one named first"
    )
    risk = models.DecimalField(max_digits=9, decimal_places=8, null=True)

    received_at = models.DateTimeField(auto_now_add=True)
    state_at = models.DateTimeField(auto_now_add=True)
    reminded_at = models.DateTimeField(null=True, help_text="when people were told it waits")
    ended_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["file", "position"], name="document_once_in_file")
        ]
        indexes = [
            models.Index(fields=["vendor", "number_key"]),
            models.Index(fields=["vendor", "number_bare"]),
            models.Index(fields=["vendor", "gross_total", "id"]),
            models.Index(fields=["credits"], condition=~Q(credits=""), name="document_credits"),
            models.Index(fields=["state", "queue", "id"]),
            models.Index(fields=["order", "state"]),
            models.Index(fields=["state", "ended_at"]),
            # One for each order of the lists: the key as the pages order it, then the id.
            models.Index(fields=["received_at", "id"]),
            models.Index(fields=["state_at", "id"]),
            models.Index(fields=["number", "id"]),
            models.Index(fields=["gross_total", "id"]),
            models.Index(fields=["issue_date", "id"]),
            *(
                models.Index(F(key).desc(nulls_last=True), F("id").desc(), name=f"{key}_last_down")
                for key in ("gross_total", "issue_date")
            ),
        ]

    @property
    def year(self) -> int:
        """Of issue; of receipt where no date of issue is stated."""
        return (self.issue_date or self.received_at.date()).year

    @property
    def order_numbers(self) -> list[str]:
        """Of all orders that it names and that are known, the one named first before the others."""
        return [share.order.number for share in self.order_shares.all()]

    def holds(self, page: int | None) -> bool:
        """Whether a page of the file is one of the document's; what has no page concerns all."""
        if page is None or self.first_page is None or self.last_page is None:
            return True
        return self.first_page <= page <= self.last_page


class Statement(models.Model):
    """What somebody said of a document: kept for good, with when it ceased to hold.

    `identity` says of exactly which finding (`core.pipeline.Identity`), `finding` has a finding
    that was told from outside, `looked` the conditions that stood when the desk was cleared.
    """

    document = models.ForeignKey(Document, on_delete=models.CASCADE, related_name="statements")
    what = models.CharField(max_length=20, choices=choices(Said))
    by = models.CharField(max_length=200)
    reading = models.PositiveIntegerField(help_text="number of the version it was said on")
    identity = models.JSONField(null=True)
    finding = models.JSONField(null=True)
    looked = models.JSONField(default=list)
    reason = models.TextField(blank=True)
    said_at = models.DateTimeField(auto_now_add=True)
    ended_at = models.DateTimeField(null=True)
    ended_by = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["id"]
        indexes = [models.Index(fields=["document", "ended_at"])]


class OrderShare(models.Model):
    """An order that a bill names, and how much of the bill falls on it, as of its last check.

    Of one order that is all: net, less charges and freight. `amount` is positive for a credit too,
    and null where no net total is known. The document's `order` is the one that is named first.
    """

    document = models.ForeignKey(Document, on_delete=models.CASCADE, related_name="order_shares")
    order = models.ForeignKey(Order, on_delete=models.PROTECT, related_name="shares")
    place = models.PositiveIntegerField(help_text="among those that it names, from 0")
    amount = models.DecimalField(max_digits=18, decimal_places=4, null=True)
    currency = models.CharField(max_length=3, blank=True)

    class Meta:
        ordering = ["document", "place"]
        constraints = [
            models.UniqueConstraint(fields=["document", "order"], name="order_share_once")
        ]
        indexes = [
            # Few bills name more than one; a list looks for these beside the first of all others.
            models.Index(fields=["order"], condition=Q(place__gt=0), name="order_share_further")
        ]


class OrderUse(models.Model):
    """What one line of a bill takes of a line of its order, as they were paired at its last check.

    It names the order's line by number: the line may be taken out of the order, and was billed all
    the same. `quantity` is in the unit of the order's line, null where it cannot be told in it.
    """

    document = models.ForeignKey(Document, on_delete=models.CASCADE, related_name="uses")
    line = models.PositiveIntegerField(help_text="of the bill, from 1")
    order = models.ForeignKey(Order, on_delete=models.PROTECT, related_name="uses")
    position = models.PositiveIntegerField(help_text="of the order's line")
    quantity = models.DecimalField(max_digits=18, decimal_places=6, null=True)
    amount = models.DecimalField(max_digits=18, decimal_places=4)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["document", "line"], name="order_use_once")]
        indexes = [models.Index(fields=["order", "position"])]


class CodedPart(models.Model):
    """Under what a part of a line is booked, as of the document's last check.

    Those of posted documents are the history that later lines of the vendor are coded from.
    """

    document = models.ForeignKey(Document, on_delete=models.CASCADE, related_name="coded_parts")
    vendor = models.ForeignKey(Vendor, on_delete=models.CASCADE)
    line = models.IntegerField(
        help_text="of the bill, from 1; 0 for its net total, below zero for what its foot states"
    )
    wording = models.CharField(max_length=500)
    gl_account = models.CharField(max_length=40, blank=True)
    cost_centre = models.CharField(max_length=40, blank=True)
    tax_code = models.CharField(max_length=40, blank=True)
    project = models.CharField(max_length=40, blank=True)

    class Meta:
        indexes = [models.Index(fields=["vendor", "-id"])]


class ReadingVersion(models.Model):
    """A version of what was read; the newest counts. Never changed."""

    document = models.ForeignKey(Document, on_delete=models.CASCADE, related_name="readings")
    number = models.PositiveIntegerField()
    reading = models.JSONField()
    made_by = models.CharField(max_length=200)
    note = models.TextField(blank=True)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["document", "number"], name="reading_version_once")
        ]
