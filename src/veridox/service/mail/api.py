"""REST views of mails."""

from typing import Any

from django.db.models import Q
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import generics, serializers

from veridox.service.documents.serializers import FileSerializer
from veridox.service.mail.models import Message
from veridox.service.web.pages import KeysetPages


class MessageRowSerializer(serializers.ModelSerializer):
    """A mail in a list."""

    mailbox = serializers.CharField(source="connection.name")
    files = serializers.IntegerField(source="files.count", read_only=True)

    class Meta:
        model = Message
        fields = [
            "id", "mailbox", "folder", "place", "sender_name", "sender_address", "subject",
            "received_at", "taken_at", "files", "repeat_of", "size",
        ]  # fmt: skip


class MessageSerializer(MessageRowSerializer):
    """A mail with its text and files."""

    files = FileSerializer(many=True)
    pipeline = serializers.CharField(source="pipeline_version.pipeline.name")

    class Meta(MessageRowSerializer.Meta):
        fields = [
            *MessageRowSerializer.Meta.fields, "message_id", "recipients", "text", "headers",
            "defects", "sent_at", "marked_at", "sha256", "pipeline",
        ]  # fmt: skip


@extend_schema(
    parameters=[
        OpenApiParameter("search", str, description="words of sender, subject or text"),
        OpenApiParameter("place", str, description="arrived, done, people or failed"),
    ]
)
class MessageList(generics.ListAPIView):
    """Mails that were taken in, newest first."""

    serializer_class = MessageRowSerializer
    pagination_class = KeysetPages
    orderings = ("id", "received_at")

    def get_queryset(self) -> Any:
        """Filtered."""
        rows = Message.objects.select_related("connection")
        place = self.request.query_params.get("place")
        words = self.request.query_params.get("search", "").strip()
        if place:
            rows = rows.filter(place=place)
        if words:
            rows = rows.filter(
                Q(sender_address__icontains=words)
                | Q(sender_name__icontains=words)
                | Q(subject__icontains=words)
                | Q(text__icontains=words)
            )
        return rows


class MessageDetail(generics.RetrieveAPIView):
    """One mail."""

    serializer_class = MessageSerializer

    def get_queryset(self) -> Any:
        """All mails."""
        return Message.objects.select_related("connection").prefetch_related("files__documents")
