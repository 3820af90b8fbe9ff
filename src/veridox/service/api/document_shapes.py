"""Shapes of files, documents and their stories on the wire."""

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from veridox.core.coding import key_of
from veridox.core.reading.codec import in_order
from veridox.service.accounts.permissions import scopes_of
from veridox.service.api.coding_shapes import CodedLineSerializer
from veridox.service.api.masterdata_shapes import OrderDetailSerializer
from veridox.service.desk.queries import ACTS, by_two, hindrance, may
from veridox.service.documents.models import Document, ReadingVersion
from veridox.service.documents.queries import accepted
from veridox.service.intake.models import File
from veridox.service.web.versions import etag


class FindingSerializer(serializers.Serializer):
    """A finding, in the one shape of all findings."""

    code = serializers.CharField()
    weight = serializers.ChoiceField(choices=["block", "warn", "note"])
    fields = serializers.ListField(child=serializers.CharField())
    page = serializers.IntegerField(allow_null=True)
    box = serializers.ListField(child=serializers.FloatField(), allow_null=True)
    expected = serializers.CharField(allow_null=True)
    found = serializers.CharField(allow_null=True)
    difference = serializers.CharField(allow_null=True)
    message = serializers.CharField()
    hint = serializers.CharField(allow_null=True)


class ByTwoSerializer(serializers.Serializer):
    """A blocking finding that takes two people: one proves it, another one accepts it."""

    code = serializers.CharField()
    message = serializers.CharField()
    proven_by = serializers.CharField(allow_blank=True)
    how = serializers.CharField(allow_blank=True)


class AcceptedSerializer(serializers.Serializer):
    """A blocking finding that somebody accepted with a reason."""

    code = serializers.CharField()
    message = serializers.CharField()
    by = serializers.CharField()
    reason = serializers.CharField()
    reading_version = serializers.IntegerField(help_text="that it was accepted on")
    at = serializers.DateTimeField()


class PageShapeSerializer(serializers.Serializer):
    """A page's size in points."""

    number = serializers.IntegerField()
    width = serializers.FloatField()
    height = serializers.FloatField()


class MailOfDocumentSerializer(serializers.Serializer):
    """The mail that brought a document."""

    id = serializers.IntegerField()
    sender_name = serializers.CharField()
    sender_address = serializers.CharField()
    subject = serializers.CharField()
    received_at = serializers.DateTimeField()
    place = serializers.CharField()


class CandidateSerializer(serializers.Serializer):
    """Another value that was considered."""

    value = serializers.JSONField()
    confidence = serializers.FloatField()
    page = serializers.IntegerField(allow_null=True)
    box = serializers.ListField(child=serializers.FloatField(), allow_null=True)


class ReadFieldSerializer(CandidateSerializer):
    """A value with its evidence; money is an object of amount and currency, all else text."""

    text = serializers.CharField()
    origin = serializers.CharField()
    others = CandidateSerializer(many=True)


class ReadDocumentSerializer(serializers.Serializer):
    """The stretch of a file that a reading speaks of."""

    sha256 = serializers.CharField()
    name = serializers.CharField()
    path = serializers.CharField()
    media_type = serializers.CharField()
    pages = serializers.ListField(child=serializers.IntegerField())
    kind = serializers.CharField()
    language = serializers.CharField()
    confidence = serializers.FloatField()


class ExtraFieldSerializer(serializers.Serializer):
    """A field that the pipeline declares beside the catalogue's."""

    type = serializers.CharField()
    title = serializers.CharField()
    choices = serializers.ListField(child=serializers.CharField())
    unit = serializers.CharField()


class ReadingSerializer(serializers.Serializer):
    """What was read: fields by name, lines and tax lines as cells by name."""

    document = ReadDocumentSerializer()
    fields = serializers.DictField(child=ReadFieldSerializer())
    lines = serializers.ListField(child=serializers.DictField(child=ReadFieldSerializer()))
    tax_lines = serializers.ListField(child=serializers.DictField(child=ReadFieldSerializer()))
    findings = FindingSerializer(many=True)
    extra_fields = serializers.DictField(child=ExtraFieldSerializer(), required=False)


class PostingSerializer(serializers.Serializer):
    """What became of a document in the ledger."""

    id = serializers.UUIDField()
    state = serializers.CharField()
    number = serializers.CharField()
    link = serializers.CharField()
    attempts = serializers.IntegerField()
    problem = serializers.CharField()
    posted_at = serializers.DateTimeField(allow_null=True)


def own_pages(document: Document) -> list[dict[str, Any]]:
    """The pages of the file that are the document's."""
    return [page for page in document.file.pages if document.holds(page["number"])]


class DocumentRowSerializer(serializers.ModelSerializer):
    """A document in a list."""

    etag = serializers.SerializerMethodField()
    vendor = serializers.CharField(source="vendor.code", allow_null=True, default=None)
    vendor_name = serializers.CharField(source="vendor.name", allow_null=True, default=None)
    order = serializers.CharField(source="order.number", allow_null=True, default=None)
    orders = serializers.ListField(child=serializers.CharField(), source="order_numbers")
    entity = serializers.CharField(source="entity.code", allow_null=True, default=None)
    pipeline = serializers.CharField(source="pipeline_version.pipeline.name")
    pipeline_version = serializers.IntegerField(source="pipeline_version.number")
    file = serializers.IntegerField(source="file_id")
    file_name = serializers.CharField(source="file.name")
    message = serializers.IntegerField(source="file.message_id", allow_null=True)
    posting = serializers.SerializerMethodField()
    reasons = serializers.ListField(child=serializers.CharField())
    page_count = serializers.SerializerMethodField()
    stretch = serializers.SerializerMethodField()
    taken_by = serializers.CharField(source="taken_by.username", allow_null=True, default=None)
    net_total = serializers.SerializerMethodField()
    gross_total = serializers.SerializerMethodField()

    class Meta:
        model = Document
        fields = [
            "id", "version", "etag", "state", "queue", "reasons", "kind", "number", "issue_date",
            "position", "seller_name", "vendor", "vendor_name", "order", "orders", "entity",
            "currency",
            "net_total",
            "gross_total", "risk", "pipeline", "pipeline_version", "file", "file_name",
            "page_count", "stretch", "message", "posting", "taken_by", "taken_at", "held_until",
            "hold_reason", "touched", "resubmission_of", "end_reason",
            "received_at", "state_at", "ended_at",
        ]  # fmt: skip
        read_only_fields = fields

    def get_etag(self, document: Document) -> str:
        """For `If-Match`."""
        return etag(document.version)

    def get_page_count(self, document: Document) -> int:
        """Pages that can be shown."""
        return len(own_pages(document))

    def get_stretch(self, document: Document) -> str:
        """Which pages of a file that holds several documents; empty when the file is its own."""
        first, last = document.first_page, document.last_page
        if first is None or last is None:
            return ""
        return f"page {first}" if first == last else f"pages {first} to {last}"

    @extend_schema_field(PostingSerializer(allow_null=True))
    def get_posting(self, document: Document) -> dict[str, Any] | None:
        """Number and link in the ledger, or how far it is."""
        posting = document.posting
        return dict(PostingSerializer(posting).data) if posting else None

    def _amount(self, document: Document, name: str) -> str | None:
        from veridox.core.money import Money

        amount = getattr(document, name)
        if amount is None or not document.currency:
            return None
        return Money(amount=amount, currency=document.currency).rounded().plain()

    def get_net_total(self, document: Document) -> str | None:
        """Without tax, in `currency`."""
        return self._amount(document, "net_total")

    def get_gross_total(self, document: Document) -> str | None:
        """With tax, in `currency`."""
        return self._amount(document, "gross_total")


class ChosenSerializer(serializers.Serializer):
    """Codes of who a person said the seller and the buyer are."""

    vendor = serializers.CharField(allow_null=True)
    entity = serializers.CharField(allow_null=True)


class EvidenceSerializer(serializers.Serializer):
    """One thing that speaks for a candidate, or against it."""

    what = serializers.CharField(help_text="tax id, account, sender, domain, name, address, ...")
    said = serializers.CharField(help_text="what the bill or its mail says")
    ours = serializers.CharField(allow_blank=True, help_text="what the master data have")
    strength = serializers.FloatField(help_text="0 for what is shown and proves nothing")
    against = serializers.BooleanField()
    note = serializers.CharField(allow_blank=True)


class VendorCandidateSerializer(serializers.Serializer):
    """A vendor that may be the seller, with what speaks for it."""

    code = serializers.CharField(source="vendor.code")
    name = serializers.CharField(source="vendor.name")
    tax_id = serializers.CharField(source="vendor.tax_id")
    blocked = serializers.BooleanField(source="vendor.blocked")
    score = serializers.FloatField(help_text="from 0 to 1, all evidence together")
    evidence = serializers.CharField(help_text="what speaks for it, in one line")
    reasons = EvidenceSerializer(many=True)


class EntityCandidateSerializer(serializers.Serializer):
    """One of our companies that may be billed, with what speaks for it."""

    code = serializers.CharField(source="entity.code")
    name = serializers.CharField(source="entity.name")
    tax_id = serializers.CharField(source="entity.tax_id")
    score = serializers.FloatField()
    reasons = EvidenceSerializer(many=True)


class PartiesSerializer(serializers.Serializer):
    """Who the seller and the buyer may be; any other vendor can be chosen by its code, too."""

    vendors = VendorCandidateSerializer(many=True)
    entities = EntityCandidateSerializer(many=True)


class DocumentSerializer(DocumentRowSerializer):
    """A document with its reading and findings."""

    reading = serializers.SerializerMethodField()
    findings = FindingSerializer(many=True)
    accepted = serializers.SerializerMethodField()
    by_two = serializers.SerializerMethodField()
    evidence = serializers.JSONField(help_text="vendors, entities and bills alike, with reasons")
    pages = serializers.SerializerMethodField()
    mail = serializers.SerializerMethodField()
    resubmissions = serializers.PrimaryKeyRelatedField(many=True, read_only=True)
    reading_version = serializers.SerializerMethodField()
    may = serializers.SerializerMethodField()
    hindrance = serializers.SerializerMethodField()
    chosen = serializers.SerializerMethodField()
    coding = serializers.SerializerMethodField()

    class Meta(DocumentRowSerializer.Meta):
        fields = [
            *DocumentRowSerializer.Meta.fields, "findings", "accepted", "by_two",
            "evidence", "pages", "reading",
            "reading_version", "mail", "resubmissions", "may", "hindrance", "chosen", "letter_out",
            "coding",
        ]  # fmt: skip
        read_only_fields = fields

    @extend_schema_field(AcceptedSerializer(many=True))
    def get_accepted(self, document: Document) -> list[dict[str, Any]]:
        """Which of its blocking findings somebody accepted, and why."""
        return [dict(AcceptedSerializer(each).data) for each in accepted(document)]

    @extend_schema_field(ByTwoSerializer(many=True))
    def get_by_two(self, document: Document) -> list[dict[str, Any]]:
        """Findings that take two people, with who said how they were proven."""
        return [dict(ByTwoSerializer(each).data) for each in by_two(document)]

    @extend_schema_field(PageShapeSerializer(many=True))
    def get_pages(self, document: Document) -> list[dict[str, Any]]:
        """Its pages of the file."""
        return own_pages(document)

    @extend_schema_field(MailOfDocumentSerializer(allow_null=True))
    def get_mail(self, document: Document) -> dict[str, Any] | None:
        """The mail that brought it."""
        message = document.file.message
        return dict(MailOfDocumentSerializer(message).data) if message else None

    def get_reading_version(self, document: Document) -> int:
        """Number of the newest version of the reading."""
        newest = document.readings.order_by("-number").values_list("number", flat=True).first()
        return int(newest or 0)

    @extend_schema_field(serializers.ListField(child=serializers.ChoiceField(choices=ACTS)))
    def get_may(self, document: Document) -> list[str]:
        """What whoever asks may do with it now."""
        request = self.context.get("request")
        return may(document, request.user, scopes_of(request)) if request else []

    @extend_schema_field(ChosenSerializer())
    def get_chosen(self, document: Document) -> dict[str, str | None]:
        """Who a person said the seller and the buyer are; null where nobody did."""
        return {
            what: (document.chosen.get(what) or {}).get("code") for what in ("vendor", "entity")
        }

    @extend_schema_field(CodedLineSerializer(many=True))
    def get_coding(self, document: Document) -> list[dict[str, Any]]:
        """Under what each line is booked, as of its last check; empty where lines are not coded."""
        return [{**line, "key": key_of(line["line"])} for line in document.coding]

    def get_hindrance(self, document: Document) -> str:
        """What must be put right before it can be posted, empty when nothing must."""
        return hindrance(document)

    @extend_schema_field(ReadingSerializer)
    def get_reading(self, document: Document) -> dict[str, Any]:
        """The newest version, in the documented JSON shape (the database forgets the order)."""
        newest = document.readings.order_by("-number").first()
        reading: dict[str, Any] = in_order(newest.reading) if newest else {}
        reading["findings"] = document.findings
        return reading


class FileSerializer(serializers.ModelSerializer):
    """A file with the documents in it."""

    pipeline = serializers.CharField(source="pipeline_version.pipeline.name")
    pipeline_version = serializers.IntegerField(source="pipeline_version.number")
    documents = serializers.PrimaryKeyRelatedField(many=True, read_only=True)
    findings = FindingSerializer(many=True)
    pages = PageShapeSerializer(many=True)

    class Meta:
        model = File
        fields = [
            "id", "name", "media_type", "declared_type", "inline", "size", "sha256", "state",
            "reason", "known", "findings", "pages", "position", "message", "uploaded_by",
            "pipeline", "pipeline_version", "documents", "received_at",
        ]  # fmt: skip
        read_only_fields = fields


class UploadSerializer(serializers.Serializer):
    """A file handed in."""

    # An empty file is taken in too: its finding says so, and nothing is lost.
    file = serializers.FileField(allow_empty_file=True)
    pipeline = serializers.CharField()
    known = serializers.JSONField(
        required=False, help_text="values known beforehand, by field name, as a JSON object"
    )


class CorrectionSerializer(serializers.Serializer):
    """Values that a person puts right; null takes a field out.

    `vendor` and `entity` are codes of who a person says the seller and the buyer are,
    where the bill contradicts itself or several fit; null takes the choice back.
    """

    fields = serializers.DictField(child=serializers.JSONField(allow_null=True), required=False)
    kind = serializers.CharField(required=False)
    vendor = serializers.CharField(required=False, allow_null=True, max_length=40)
    entity = serializers.CharField(required=False, allow_null=True, max_length=63)
    lines = serializers.ListField(child=serializers.DictField(), required=False)
    tax_lines = serializers.ListField(child=serializers.DictField(), required=False)
    note = serializers.CharField(required=False, allow_blank=True, max_length=2000)


class RestoreSerializer(serializers.Serializer):
    """A version of the reading to go back to."""

    number = serializers.IntegerField(min_value=1)


class WordSerializer(serializers.Serializer):
    """A word with its box: left, top, right, bottom in points from the page's top left."""

    text = serializers.CharField()
    box = serializers.ListField(child=serializers.FloatField(), min_length=4, max_length=4)
    confidence = serializers.FloatField()


class PageWordsSerializer(PageShapeSerializer):
    """A page's words and plain text."""

    text = serializers.CharField()
    words = WordSerializer(many=True)


class PairSerializer(serializers.Serializer):
    """A line of an order."""

    order = serializers.CharField(help_text="its number")
    position = serializers.IntegerField()


class OrdersBesideSerializer(serializers.Serializer):
    """The orders that a document names; `pairs` has for each of its lines the order's line."""

    orders = OrderDetailSerializer(many=True)
    pairs = serializers.ListField(child=PairSerializer(allow_null=True))
    others = DocumentRowSerializer(many=True)


class EventSerializer(serializers.Serializer):
    """One entry of a document's story."""

    at = serializers.DateTimeField()
    actor = serializers.CharField()
    act = serializers.CharField()
    subject = serializers.CharField()
    subject_id = serializers.CharField()
    details = serializers.DictField()


class ReadingVersionSerializer(serializers.Serializer):
    """A version of a reading."""

    number = serializers.IntegerField()
    made_by = serializers.CharField()
    made_at = serializers.DateTimeField()
    note = serializers.CharField()
    reading = serializers.SerializerMethodField()

    @extend_schema_field(ReadingSerializer)
    def get_reading(self, version: ReadingVersion) -> dict[str, Any]:
        """In the documented JSON shape and order."""
        return dict(in_order(version.reading))


class StorySerializer(serializers.Serializer):
    """Everything that happened to a document."""

    events = EventSerializer(many=True)
    readings = ReadingVersionSerializer(many=True)


class WalkStepSerializer(serializers.Serializer):
    """One stage of a walk."""

    stage = serializers.CharField()
    looked = serializers.ListField(child=serializers.CharField())
    then = serializers.CharField()


class WalkSerializer(serializers.Serializer):
    """A walk of a document along the road: what was looked at, and what followed."""

    at = serializers.DateTimeField()
    by = serializers.CharField()
    before = serializers.CharField()
    state = serializers.CharField()
    reading_version = serializers.IntegerField()
    pipeline = serializers.CharField()
    pipeline_version = serializers.IntegerField()
    steps = WalkStepSerializer(many=True)
