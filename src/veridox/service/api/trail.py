"""REST views of the trail."""

import json
from collections.abc import Mapping
from typing import Any

from django.db.models import QuerySet
from django.http import HttpResponseBase
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import generics, serializers, views
from rest_framework.request import Request
from rest_framework.response import Response

from veridox.service.errors import NotThereError
from veridox.service.trail.heads import current_head
from veridox.service.trail.models import Entry
from veridox.service.web.pages import KeysetPages
from veridox.service.web.parameters import moment_of
from veridox.service.web.tables import AS_FILE, FORM, Column, table_response


class EntrySerializer(serializers.ModelSerializer):
    """An entry."""

    class Meta:
        model = Entry
        fields = ["number", "at", "actor", "act", "subject", "subject_id", "details", "seal"]
        read_only_fields = fields


class HeadSerializer(serializers.Serializer):
    """A head of the trail as it stood at some time."""

    number = serializers.IntegerField()
    seal = serializers.CharField(allow_blank=True)
    mark = serializers.CharField()
    at = serializers.CharField()


FILTERS = [
    OpenApiParameter("actor", str, description="person:NAME or system:PART"),
    OpenApiParameter("act", str),
    OpenApiParameter("subject", str, description="document, message, file, ..."),
    OpenApiParameter("subject_id", str),
    OpenApiParameter("from", OpenApiTypes.DATETIME, description="at or after (RFC 3339)"),
    OpenApiParameter("to", OpenApiTypes.DATETIME, description="before (RFC 3339)"),
]
COLUMNS = {
    "number": Column(title="Entry", value=lambda e: e.number),
    "at": Column(title="At", value=lambda e: e.at),
    "actor": Column(title="Who", value=lambda e: e.actor),
    "act": Column(title="Act", value=lambda e: e.act),
    "subject": Column(title="On", value=lambda e: e.subject),
    "subject_id": Column(title="Id", value=lambda e: e.subject_id),
    "details": Column(title="Details", value=lambda e: json.dumps(e.details, ensure_ascii=False)),
    "before": Column(title="Seal before", value=lambda e: e.before),
    "seal": Column(title="Seal", value=lambda e: e.seal),
}


def narrowed(wanted: Mapping[str, str]) -> QuerySet[Entry]:
    """Entries that meet all wishes. Raises BadInputError."""
    rows = Entry.objects.all()
    for name in ("actor", "act", "subject", "subject_id"):
        if wanted.get(name):
            rows = rows.filter(**{name: wanted[name]})
    for name, lookup in (("from", "at__gte"), ("to", "at__lt")):
        if wanted.get(name):
            rows = rows.filter(**{lookup: moment_of(name, wanted[name])})
    return rows


class ActsSerializer(serializers.Serializer):
    """What stands in the trail: acts and actors, for filters."""

    acts = serializers.ListField(child=serializers.CharField())
    actors = serializers.ListField(child=serializers.CharField())


class TrailNames(views.APIView):
    """Acts and actors that occur."""

    @extend_schema(responses=ActsSerializer)
    def get(self, request: Request) -> Response:
        """By name."""
        del request
        entries = Entry.objects.order_by()
        acts = sorted(entries.values_list("act", flat=True).distinct())
        actors = sorted(entries.values_list("actor", flat=True).distinct())
        return Response(ActsSerializer({"acts": acts, "actors": actors}).data)


@extend_schema(parameters=FILTERS)
class TrailExport(views.APIView):
    """The trail as a file."""

    @extend_schema(parameters=[FORM], responses=AS_FILE)
    def get(self, request: Request) -> HttpResponseBase:
        """What the filters leave, oldest first, with every seal."""
        wanted = request.query_params
        rows = narrowed(wanted).order_by("number")
        return table_response("trail", list(COLUMNS.values()), rows, wanted.get("as"))


@extend_schema(parameters=FILTERS)
class TrailList(generics.ListAPIView):
    """Entries, newest first."""

    serializer_class = EntrySerializer
    pagination_class = KeysetPages
    orderings = ("id", "number")
    usual_ordering = "-number"

    def get_queryset(self) -> Any:
        """Filtered."""
        return narrowed(self.request.query_params)


class TrailHead(views.APIView):
    """The newest entry's number and seal, to be kept elsewhere."""

    @extend_schema(responses=HeadSerializer)
    def get(self, request: Request) -> Response:
        """With a mark that only this installation can make."""
        del request
        head = current_head()
        if head is None:
            raise NotThereError("the head of the trail is missing; verify the trail")
        return Response(HeadSerializer(head).data)
