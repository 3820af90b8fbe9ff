"""Shapes of files, documents and their stories on the wire."""

from typing import Any

from rest_framework import serializers

from veridox.core.reading.codec import in_order
from veridox.service.documents.models import Document, File
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


class PostingSerializer(serializers.Serializer):
    """What became of a document in the ledger."""

    id = serializers.UUIDField()
    state = serializers.CharField()
    number = serializers.CharField()
    link = serializers.CharField()
    attempts = serializers.IntegerField()
    problem = serializers.CharField()
    posted_at = serializers.DateTimeField(allow_null=True)


class DocumentRowSerializer(serializers.ModelSerializer):
    """A document in a list."""

    etag = serializers.SerializerMethodField()
    vendor = serializers.CharField(source="vendor.code", allow_null=True, default=None)
    vendor_name = serializers.CharField(source="vendor.name", allow_null=True, default=None)
    order = serializers.CharField(source="order.number", allow_null=True, default=None)
    entity = serializers.CharField(source="entity.code", allow_null=True, default=None)
    pipeline = serializers.CharField(source="pipeline_version.pipeline.name")
    pipeline_version = serializers.IntegerField(source="pipeline_version.number")
    file = serializers.IntegerField(source="file_id")
    file_name = serializers.CharField(source="file.name")
    message = serializers.IntegerField(source="file.message_id", allow_null=True)
    posting = serializers.SerializerMethodField()
    net_total = serializers.SerializerMethodField()
    gross_total = serializers.SerializerMethodField()

    class Meta:
        model = Document
        fields = [
            "id", "version", "etag", "state", "queue", "reasons", "kind", "number", "issue_date",
            "seller_name", "vendor", "vendor_name", "order", "entity", "currency", "net_total",
            "gross_total", "risk", "pipeline", "pipeline_version", "file", "file_name", "message",
            "posting", "end_reason", "received_at", "state_at", "ended_at",
        ]  # fmt: skip

    def get_etag(self, document: Document) -> str:
        """For `If-Match`."""
        return etag(document.version)

    def get_posting(self, document: Document) -> dict[str, Any] | None:
        """Number and link in the ledger, or how far it is."""
        posting = getattr(document, "posting", None)
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


class DocumentSerializer(DocumentRowSerializer):
    """A document with its reading and findings."""

    reading = serializers.SerializerMethodField()
    findings = FindingSerializer(many=True)
    accepted = serializers.JSONField()
    pages = serializers.JSONField(source="file.pages")

    class Meta(DocumentRowSerializer.Meta):
        fields = [*DocumentRowSerializer.Meta.fields, "findings", "accepted", "pages", "reading"]

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

    class Meta:
        model = File
        fields = [
            "id", "name", "media_type", "declared_type", "inline", "size", "sha256", "state",
            "reason", "findings", "pages", "position", "message", "uploaded_by", "pipeline",
            "pipeline_version", "documents", "received_at",
        ]  # fmt: skip


class UploadSerializer(serializers.Serializer):
    """A file handed in."""

    # An empty file is taken in too: its finding says so, and nothing is lost.
    file = serializers.FileField(allow_empty_file=True)
    pipeline = serializers.CharField()


class CorrectionSerializer(serializers.Serializer):
    """Values that a person puts right; null takes a field out."""

    fields = serializers.DictField(child=serializers.JSONField(), required=False)
    kind = serializers.CharField(required=False)
    lines = serializers.ListField(child=serializers.DictField(), required=False)
    note = serializers.CharField(required=False, allow_blank=True, max_length=2000)


class ReasonSerializer(serializers.Serializer):
    """Why somebody acts."""

    reason = serializers.CharField(required=False, allow_blank=True, max_length=2000, default="")


class EventSerializer(serializers.Serializer):
    """One entry of a document's story."""

    at = serializers.DateTimeField()
    actor = serializers.CharField()
    act = serializers.CharField()
    subject = serializers.CharField()
    subject_id = serializers.CharField()
    details = serializers.JSONField()


class ReadingVersionSerializer(serializers.Serializer):
    """A version of a reading."""

    number = serializers.IntegerField()
    made_by = serializers.CharField()
    made_at = serializers.DateTimeField()
    note = serializers.CharField()
    reading = serializers.JSONField()


class StorySerializer(serializers.Serializer):
    """Everything that happened to a document."""

    events = EventSerializer(many=True)
    readings = ReadingVersionSerializer(many=True)
