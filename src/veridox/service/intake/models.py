"""A mail that was taken in, one that was not, and whether all are accounted for."""

from enum import StrEnum

from django.contrib.postgres.indexes import GinIndex
from django.contrib.postgres.search import SearchVector, SearchVectorField
from django.db import models

from veridox.core.readers.mail.content import MailKind
from veridox.service.choices import choices
from veridox.service.connections.models import Connection
from veridox.service.pipelines.models import PipelineRun, PipelineVersion


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
    and `uid` are where it lies now, as far as the server told. A mail that was
    handed in as a file has no connection and lies nowhere.

    `kind` is anything but `letter` for what machines send about mails and
    meetings; such mails are listed and their files set aside, unless somebody
    took them in all the same (`taken_anyway`). `aside_reason` is why a person
    set the mail aside. `forwarded` is the inner letter that speaks for it.
    """

    connection = models.ForeignKey(Connection, null=True, on_delete=models.PROTECT)
    handed_in_by = models.CharField(max_length=200, blank=True)
    pipeline_version = models.ForeignKey(PipelineVersion, on_delete=models.PROTECT)
    run = models.ForeignKey(PipelineRun, null=True, on_delete=models.PROTECT)
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
    html = models.TextField(blank=True, help_text="sanitised, without anything fetched from afar")
    kind = models.CharField(max_length=20, default=MailKind.LETTER, db_index=True)
    kind_reason = models.CharField(max_length=300, blank=True)
    taken_anyway = models.BooleanField(default=False)
    aside_reason = models.TextField(blank=True)
    forwarded = models.JSONField(null=True)
    links = models.JSONField(default=list)
    parts = models.JSONField(default=list)
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
        indexes = [
            models.Index(fields=["connection", "folder", "uidvalidity", "uid"]),
            models.Index(fields=["received_at"]),
            models.Index(fields=["sender_address"]),
        ]

    @property
    def is_aside(self) -> bool:
        """Whether it is kept and not processed."""
        return bool(self.aside_reason) or (self.kind != MailKind.LETTER and not self.taken_anyway)


class Refusal(models.Model):
    """A mail that does not meet conditions and never will: looked at once.

    `wanted` is a digest of the conditions, so that a new version of a pipeline with the
    same conditions, and another pipeline with them, need not look again.
    """

    connection = models.ForeignKey(Connection, on_delete=models.CASCADE)
    folder = models.CharField(max_length=255)
    uidvalidity = models.BigIntegerField()
    uid = models.BigIntegerField()
    wanted = models.CharField(max_length=32)
    condition = models.CharField(max_length=40)
    noted_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["connection", "folder", "uidvalidity", "wanted", "uid"],
                name="mail_refused_once",
            )
        ]


class RefusedBefore(models.Model):
    """How many refusals were deleted since, by condition: the report still counts them."""

    connection = models.ForeignKey(Connection, on_delete=models.CASCADE)
    folder = models.CharField(max_length=255)
    condition = models.CharField(max_length=40)
    count = models.PositiveBigIntegerField(default=0)
    first_at = models.DateTimeField()
    last_at = models.DateTimeField()

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["connection", "folder", "condition"], name="refused_before_once"
            )
        ]


class Account(models.Model):
    """The newest comparison of what a mailbox lists with what is stored.

    `unexplained` are mails that the server lists, that the pipeline wants, and
    that are neither stored nor on their way; `lost` are stored ones whose
    original is missing from the store.
    """

    connection = models.OneToOneField(Connection, on_delete=models.CASCADE)
    counted_at = models.DateTimeField()
    listed = models.PositiveIntegerField()
    taken = models.PositiveIntegerField()
    unexplained = models.JSONField(default=list)
    lost = models.JSONField(default=list)


class FileState(StrEnum):
    """Where a file stands."""

    RECEIVED = "received"  # stored, to be read
    READ = "read"  # read; see its documents
    ASIDE = "aside"  # kept and not read, with the reason
    FAILED = "failed"  # could not be read for a technical reason


FILE_STATES = choices(FileState)


class File(models.Model):
    """One file of a mail, an upload or a drop. Its bytes are in the store under `sha256`.

    `goes_with` is the bill of the same mail that this file supports, or of which
    it is the structured form; it is attached to that bill when it is posted.
    """

    message = models.ForeignKey(Message, null=True, on_delete=models.PROTECT, related_name="files")
    uploaded_by = models.CharField(max_length=200, blank=True)
    pipeline_version = models.ForeignKey(PipelineVersion, on_delete=models.PROTECT)
    run = models.ForeignKey(PipelineRun, null=True, on_delete=models.PROTECT)
    position = models.PositiveIntegerField(default=1)
    name = models.CharField(max_length=255)
    declared_type = models.CharField(max_length=255, blank=True)
    media_type = models.CharField(max_length=255)
    inline = models.BooleanField(default=False)
    shown = models.BooleanField(default=False, help_text="the mail's text shows it")
    content_id = models.CharField(max_length=255, blank=True)
    left_out = models.CharField(max_length=20, blank=True, help_text="why it is not read")
    within = models.JSONField(default=list, help_text="archives and mails that it lay in")
    letter = models.JSONField(null=True, help_text="the inner mail that it came in")
    goes_with = models.ForeignKey(
        "self", null=True, on_delete=models.PROTECT, related_name="supporting"
    )
    known = models.JSONField(default=dict, help_text="values given beforehand, by field")
    is_body = models.BooleanField(default=False, help_text="the mail's own text")
    dropped_as = models.CharField(
        max_length=400, null=True, unique=True, help_text="which file of a directory it was"
    )
    size = models.BigIntegerField()
    sha256 = models.CharField(max_length=64, db_index=True)
    state = models.CharField(max_length=20, choices=FILE_STATES)
    reason = models.TextField(blank=True)
    findings = models.JSONField(default=list)
    pages = models.JSONField(default=list)
    text = models.TextField(blank=True, help_text="what stands on the pages, for searching")
    words = models.GeneratedField(  # "simple": invoices come in many languages, with many names
        expression=SearchVector("text", config="simple"),
        output_field=SearchVectorField(),
        db_persist=True,
    )
    received_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        app_label = "documents"  # where its table has always been
        ordering = ["id"]  # files of a mail in the mail's own order
        indexes = [GinIndex(fields=["words"], name="file_words")]
