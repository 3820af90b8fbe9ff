"""Shapes of mails on the wire."""

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from veridox.service.api.document_shapes import FileSerializer
from veridox.service.intake.models import File, Message
from veridox.service.intake.outcomes import outcome_of, outcome_of_file


class FileOutcomeSerializer(serializers.Serializer):
    """A file of a mail and where it stands."""

    id = serializers.IntegerField()
    name = serializers.CharField()
    outcome = serializers.CharField()


class InnerLetterSerializer(serializers.Serializer):
    """A mail within a mail."""

    message_id = serializers.CharField()
    sender_name = serializers.CharField()
    sender_address = serializers.CharField()
    recipients = serializers.ListField(child=serializers.CharField())
    subject = serializers.CharField()
    sent = serializers.DateTimeField(allow_null=True)
    text = serializers.CharField()


class MessageRowSerializer(serializers.ModelSerializer):
    """A mail in a list."""

    mailbox = serializers.CharField(source="connection.name", allow_null=True, default=None)
    files = serializers.SerializerMethodField()
    outcome = serializers.SerializerMethodField()
    file_outcomes = serializers.SerializerMethodField()
    forwarded_from = serializers.SerializerMethodField()

    class Meta:
        model = Message
        fields = [
            "id", "mailbox", "folder", "place", "kind", "outcome", "sender_name",
            "sender_address", "forwarded_from", "subject", "received_at", "taken_at", "files",
            "file_outcomes", "repeat_of", "size",
        ]  # fmt: skip
        read_only_fields = fields

    def get_files(self, message: Message) -> int:
        """How many."""
        return len(message.files.all())

    def get_outcome(self, message: Message) -> str:
        """See `OUTCOMES`."""
        return outcome_of(message)

    def get_forwarded_from(self, message: Message) -> str:
        """Who wrote the mail that was forwarded; empty when none was."""
        return str((message.forwarded or {}).get("sender_address") or "")

    @extend_schema_field(FileOutcomeSerializer(many=True))
    def get_file_outcomes(self, message: Message) -> Any:
        """Each file and where it stands."""
        return [
            {"id": file.pk, "name": file.name, "outcome": outcome_of_file(file)}
            for file in message.files.all()
        ]


class PartSerializer(serializers.Serializer):
    """A part of a mail's structure and what became of it."""

    path = serializers.CharField()
    media_type = serializers.CharField()
    size = serializers.IntegerField()
    became = serializers.CharField()
    file = serializers.IntegerField(help_text="position of the file that it became, or 0")


class MailFileSerializer(FileSerializer):
    """A file of a mail with what is known of it from there."""

    outcome = serializers.SerializerMethodField()
    letter = InnerLetterSerializer(allow_null=True)
    within = serializers.ListField(child=serializers.CharField())

    class Meta(FileSerializer.Meta):
        fields = [
            *FileSerializer.Meta.fields, "outcome", "left_out", "within", "letter", "goes_with",
            "is_body", "shown",
        ]  # fmt: skip
        read_only_fields = fields

    def get_outcome(self, file: File) -> str:
        """Where it stands."""
        return outcome_of_file(file)


class MessageSerializer(MessageRowSerializer):
    """A mail with its text and files; `html` is safe to show in a frame without scripts."""

    files = MailFileSerializer(many=True)
    pipeline = serializers.CharField(source="pipeline_version.pipeline.name")
    forwarded = InnerLetterSerializer(allow_null=True)
    defects = serializers.ListField(child=serializers.CharField())
    links = serializers.ListField(child=serializers.CharField())
    parts = PartSerializer(many=True)

    class Meta(MessageRowSerializer.Meta):
        fields = [
            *MessageRowSerializer.Meta.fields, "message_id", "recipients", "text", "html",
            "headers", "defects", "sent_at", "marked_at", "sha256", "pipeline", "kind_reason",
            "aside_reason", "taken_anyway", "handed_in_by", "forwarded", "links", "parts",
        ]  # fmt: skip
        read_only_fields = fields


class ConditionSerializer(serializers.Serializer):
    """A condition of the pipeline and how a mail meets it."""

    name = serializers.CharField()
    met = serializers.BooleanField()
    said = serializers.CharField()


class LookSerializer(serializers.Serializer):
    """What would become of one mail on the server."""

    uid = serializers.IntegerField()
    sender = serializers.CharField()
    subject = serializers.CharField()
    received_at = serializers.DateTimeField()
    size = serializers.IntegerField()
    files = serializers.ListField(child=serializers.CharField())
    stands = serializers.CharField(help_text="would be taken, taken in, or left")
    decides = serializers.CharField(help_text="the condition that decides, or empty")
    said = serializers.CharField()
    conditions = ConditionSerializer(many=True)
    message = serializers.IntegerField(allow_null=True)


class PeekSerializer(serializers.Serializer):
    """The newest mails of a folder."""

    mailbox = serializers.CharField()
    folder = serializers.CharField()
    pipeline = serializers.CharField()
    mails = LookSerializer(many=True)


class WhySerializer(serializers.Serializer):
    """Why; the trail keeps it."""

    reason = serializers.CharField(max_length=500)


class AccountSerializer(serializers.Serializer):
    """The newest hourly count of a mailbox."""

    mailbox = serializers.CharField(source="connection.name")
    counted_at = serializers.DateTimeField()
    listed = serializers.IntegerField()
    taken = serializers.IntegerField()
    unexplained: Any = serializers.ListField(child=serializers.DictField())
    lost: Any = serializers.ListField(child=serializers.DictField())
