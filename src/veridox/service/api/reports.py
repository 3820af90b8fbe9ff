"""REST views of numbers and of the search over all records: thin."""

from typing import Any
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from django.db.models import Q
from django.utils import timezone
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers, views
from rest_framework.request import Request
from rest_framework.response import Response

from veridox.service.api.connections import ConnectionSerializer
from veridox.service.api.desk_shapes import AmountWaitingSerializer, WaitingSerializer
from veridox.service.api.document_shapes import DocumentRowSerializer
from veridox.service.api.house import TroubleSerializer
from veridox.service.api.mail_shapes import AccountSerializer, MessageRowSerializer
from veridox.service.api.masterdata_shapes import OrderSerializer, VendorSerializer
from veridox.service.api.notices import NoticeSerializer
from veridox.service.documents.filters import filtered
from veridox.service.documents.queries import documents
from veridox.service.errors import BadInputError
from veridox.service.intake.models import Message
from veridox.service.masterdata.models import Order, Vendor
from veridox.service.reports.today import today
from veridox.service.web.parameters import day_of

EACH = 6
"""Most records of each kind that a search answers with."""


class StateCountSerializer(serializers.Serializer):
    """How many documents stand where."""

    state = serializers.CharField()
    count = serializers.IntegerField()


class CameInSerializer(serializers.Serializer):
    """What came in on the day, and where its documents stand now."""

    mails = serializers.IntegerField()
    files = serializers.IntegerField()
    uploads = serializers.IntegerField()
    files_aside = serializers.IntegerField()
    documents = serializers.IntegerField()
    states = StateCountSerializer(many=True)


class FailedSerializer(serializers.Serializer):
    """What stands still for a technical reason now."""

    documents = serializers.IntegerField()
    files = serializers.IntegerField()
    notices = serializers.IntegerField()


class PostedSerializer(serializers.Serializer):
    """What was posted; times in seconds from arrival to the ledger."""

    count = serializers.IntegerField()
    untouched = serializers.IntegerField()
    half_within = serializers.FloatField(allow_null=True)
    most_within = serializers.FloatField(allow_null=True, help_text="nine of ten")
    amounts = AmountWaitingSerializer(many=True)

    def get_fields(self) -> dict[str, Any]:
        """`from` is a word of Python's own."""
        return {**_bounds(), **super().get_fields()}


class TrendSerializer(serializers.Serializer):
    """A day."""

    day = serializers.DateField()
    came_in = serializers.IntegerField()
    posted = serializers.IntegerField()
    untouched = serializers.IntegerField()


class HeldSinceSerializer(serializers.Serializer):
    """Since when and why the installation is held."""

    since = serializers.DateTimeField(source="held_at")
    reason = serializers.CharField(source="held_reason")


class WaitingVersionSerializer(serializers.Serializer):
    """A version of a pipeline that loosens something."""

    pipeline = serializers.CharField(source="pipeline.name")
    number = serializers.IntegerField()
    published_by = serializers.CharField()
    published_at = serializers.DateTimeField()


class TodaySerializer(serializers.Serializer):
    """The numbers of a day."""

    day = serializers.DateField()
    zone = serializers.CharField()
    came_in = CameInSerializer()
    waiting = WaitingSerializer()
    failed = FailedSerializer()
    posted = PostedSerializer()
    posted_before = PostedSerializer(help_text="the day and the thirty days before it")
    trend = TrendSerializer(many=True)
    notices = NoticeSerializer(many=True, help_text="the newest that were refused")
    versions = WaitingVersionSerializer(
        many=True, help_text="of pipelines, that wait for a second person"
    )
    troubles = TroubleSerializer(many=True, help_text="directories and disks that do not work")
    held = HeldSinceSerializer(allow_null=True, help_text="restored elsewhere: nothing goes out")
    connections = ConnectionSerializer(many=True, help_text="those that do not work")
    not_accounted = AccountSerializer(many=True, help_text="mailboxes with mails that are missing")

    def get_fields(self) -> dict[str, Any]:
        """`from` is a word of Python's own."""
        return {**_bounds(), **super().get_fields()}


def _bounds() -> dict[str, Any]:
    return {"from": serializers.DateTimeField(), "to": serializers.DateTimeField()}


class TodayView(views.APIView):
    """What came in, where it stands, what waits."""

    @extend_schema(
        parameters=[
            OpenApiParameter("day", str, description="usually today (2026-03-31)"),
            OpenApiParameter(
                "zone", str, description="IANA name such as Europe/Berlin", default="UTC"
            ),
        ],
        responses=TodaySerializer,
    )
    def get(self, request: Request) -> Response:
        """For a calendar day in a time zone."""
        name = request.query_params.get("zone", "UTC")
        try:
            zone = ZoneInfo(name)
        except (ZoneInfoNotFoundError, ValueError) as error:
            raise BadInputError(f"zone is a name such as Europe/Berlin, not {name!r}") from error
        text = request.query_params.get("day")
        day = day_of("day", text) if text else timezone.localdate(timezone=zone)
        return Response(TodaySerializer(today(day, zone)).data)


class SearchSerializer(serializers.Serializer):
    """The best of each kind."""

    documents = DocumentRowSerializer(many=True)
    vendors = VendorSerializer(many=True)
    orders = OrderSerializer(many=True)
    mails = MessageRowSerializer(many=True)


class Search(views.APIView):
    """One question to all records."""

    @extend_schema(
        parameters=[
            OpenApiParameter("q", str, description="a number, a vendor, an amount, an order, words")
        ],
        responses=SearchSerializer,
    )
    def get(self, request: Request) -> Response:
        """Newest first, a few of each kind; the lists show all."""
        words = request.query_params.get("q", "").strip()
        if not words:
            raise BadInputError("q is what to look for")
        vendors = Vendor.objects.filter(Q(name__icontains=words) | Q(code__icontains=words))
        orders = Order.objects.select_related("entity", "vendor").prefetch_related("lines")
        mails = Message.objects.select_related("connection").filter(
            Q(subject__icontains=words)
            | Q(sender_address__icontains=words)
            | Q(sender_name__icontains=words)
        )
        found = {
            "documents": filtered(documents(), {"search": words}).order_by("-pk")[:EACH],
            "vendors": vendors.order_by("code")[:EACH],
            "orders": orders.filter(number__icontains=words).order_by("number")[:EACH],
            "mails": mails.order_by("-pk")[:EACH],
        }
        return Response(SearchSerializer(found).data)
