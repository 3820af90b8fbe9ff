"""REST views of the trail."""

from typing import Any

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import generics, serializers, views
from rest_framework.request import Request
from rest_framework.response import Response

from veridox.service.trail.models import Entry
from veridox.service.trail.record import verify
from veridox.service.web.pages import KeysetPages


class EntrySerializer(serializers.ModelSerializer):
    """An entry."""

    class Meta:
        model = Entry
        fields = ["number", "at", "actor", "act", "subject", "subject_id", "details", "seal"]


class VerificationSerializer(serializers.Serializer):
    """What a check of the whole chain found."""

    entries = serializers.IntegerField()
    head = serializers.CharField()
    good = serializers.BooleanField()
    problems = serializers.ListField(child=serializers.CharField())


@extend_schema(
    parameters=[
        OpenApiParameter("actor", str),
        OpenApiParameter("act", str),
        OpenApiParameter("subject", str, description="document, message, file, ..."),
        OpenApiParameter("subject_id", str),
    ]
)
class TrailList(generics.ListAPIView):
    """Entries, newest first."""

    serializer_class = EntrySerializer
    pagination_class = KeysetPages
    orderings = ("id", "number")
    usual_ordering = "-number"

    def get_queryset(self) -> Any:
        """Filtered."""
        rows = Entry.objects.all()
        for name in ("actor", "act", "subject", "subject_id"):
            value = self.request.query_params.get(name)
            if value:
                rows = rows.filter(**{name: value})
        return rows


class TrailVerify(views.APIView):
    """The whole chain checked."""

    @extend_schema(request=None, responses=VerificationSerializer)
    def get(self, request: Request) -> Response:
        """Recomputes every seal."""
        del request
        found = verify()
        data = {
            "entries": found.entries,
            "head": found.head,
            "good": not found.problems,
            "problems": found.problems,
        }
        return Response(VerificationSerializer(data).data)
