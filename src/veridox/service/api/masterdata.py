"""REST views of master data: lists, imports, syncs, what waits for a second person."""

from typing import Any

from django.db.models import Q
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import generics, views
from rest_framework.request import Request
from rest_framework.response import Response

from veridox.service.accounts.actors import Actor
from veridox.service.accounts.models import Scope
from veridox.service.api.goods_shapes import (
    CardRateSerializer,
    CostCentreSerializer,
    GlAccountSerializer,
    GoodsReceiptSerializer,
    ItemSerializer,
    ProjectSerializer,
    TaxCodeSerializer,
)
from veridox.service.api.masterdata_shapes import (
    BookedBillDetailSerializer,
    BookedBillSerializer,
    DayRateSerializer,
    EntitySerializer,
    HeldChangeSerializer,
    OrderSerializer,
    OrderStorySerializer,
    ProposeSerializer,
    RecountedSerializer,
    RecountSerializer,
    VendorDetailSerializer,
    VendorSerializer,
    WorthSerializer,
)
from veridox.service.api.shown import IDEMPOTENCY, body_of
from veridox.service.documents.actions.recount import recount
from veridox.service.errors import BadInputError
from veridox.service.masterdata.actions import held as holding
from veridox.service.masterdata.columns import KINDS
from veridox.service.masterdata.models import (
    BookedBill,
    CardRate,
    CostCentre,
    DayRate,
    Entity,
    GlAccount,
    GoodsReceipt,
    Item,
    Order,
    Project,
    TaxCode,
    Vendor,
)
from veridox.service.masterdata.queries import booked_of, entity_of, order_of, rate_of, vendor_of
from veridox.service.web.idempotency import once
from veridox.service.web.pages import KeysetPages
from veridox.service.web.parameters import day_of, yes_of

MAX_TABLE = 100 * 2**20
SEARCH = OpenApiParameter("search", str, description="words of code, number or name")
LEDGER = OpenApiParameter("ledger", str, description="name of the ledger connection")
WHAT = OpenApiParameter("what", str, description=", ".join(KINDS))


@extend_schema(parameters=[SEARCH, LEDGER])
class VendorList(generics.ListAPIView):
    """Vendors by code."""

    serializer_class = VendorSerializer
    pagination_class = KeysetPages
    orderings = ("id", "code", "name")
    usual_ordering = "code"

    def get_queryset(self) -> Any:
        """Filtered by words and ledger."""
        words = self.request.query_params.get("search", "").strip()
        ledger = self.request.query_params.get("ledger")
        rows = Vendor.objects.all()
        if ledger is not None:
            rows = rows.filter(ledger=ledger)
        return rows.filter(Q(name__icontains=words) | Q(code__iexact=words)) if words else rows


class VendorDetail(views.APIView):
    """One vendor."""

    @extend_schema(parameters=[LEDGER], responses=VendorDetailSerializer)
    def get(self, request: Request, code: str) -> Response:
        """With its names, accounts, domains, and what waits for a second person."""
        vendor = vendor_of(code, request.query_params.get("ledger"))
        return Response(VendorDetailSerializer(vendor).data)


class VendorPropose(views.APIView):
    """A name, account or domain of a vendor that somebody saw on a bill."""

    @extend_schema(
        parameters=[LEDGER, IDEMPOTENCY],
        request=ProposeSerializer, responses={201: HeldChangeSerializer},
    )  # fmt: skip
    def post(self, request: Request, code: str) -> Response:
        """Propose it; it holds once a second person accepts it."""
        form = ProposeSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        vendor = vendor_of(code, request.query_params.get("ledger"))

        def act() -> Response:
            row = holding.propose(Actor.of(request.user), vendor, **form.validated_data)
            if row is None:
                raise BadInputError(f"{vendor.name} has {form.validated_data['value']!r} already")
            return Response(HeldChangeSerializer(row).data, status=201)

        return once(request, body_of(request), act)


class EntityList(generics.ListAPIView):
    """Our own companies."""

    serializer_class = EntitySerializer
    pagination_class = KeysetPages
    orderings = ("id", "code")
    usual_ordering = "code"
    queryset = Entity.objects.all()


class EntityDetail(views.APIView):
    """One of our companies."""

    @extend_schema(responses=EntitySerializer)
    def get(self, request: Request, code: str) -> Response:
        """With its other names, recipients and closed periods."""
        del request
        return Response(EntitySerializer(entity_of(code)).data)


@extend_schema(
    parameters=[
        SEARCH,
        OpenApiParameter("vendor", str, description="vendor code"),
        OpenApiParameter("entity", str, description="entity code"),
        OpenApiParameter("closed", str, description="yes or no"),
    ]
)
class OrderList(generics.ListAPIView):
    """Orders by number."""

    serializer_class = OrderSerializer
    pagination_class = KeysetPages
    orderings = ("id", "number", "ordered_on")
    usual_ordering = "number"

    def get_queryset(self) -> Any:
        """Filtered by words, vendor, entity and state."""
        wanted = self.request.query_params
        words = wanted.get("search", "").strip()
        rows = Order.objects.select_related("entity", "vendor").prefetch_related("lines")
        if words:
            rows = rows.filter(number__icontains=words) | rows.filter(vendor__name__icontains=words)
        if wanted.get("vendor"):
            rows = rows.filter(vendor__code=wanted["vendor"])
        if wanted.get("entity"):
            rows = rows.filter(entity__code=wanted["entity"])
        if wanted.get("closed"):
            rows = rows.filter(closed=yes_of("closed", wanted["closed"]))
        return rows


class OrderDetail(views.APIView):
    """One order."""

    @extend_schema(
        parameters=[OpenApiParameter("entity", str, description="entity code")],
        responses=OrderStorySerializer,
    )
    def get(self, request: Request, number: str) -> Response:
        """With its lines, what is open of each, and what happened to it."""
        order = order_of(number, request.query_params.get("entity"))
        return Response(OrderStorySerializer(order).data)


@extend_schema(
    parameters=[
        SEARCH,
        LEDGER,
        OpenApiParameter("order", str, description="number of the order"),
        OpenApiParameter("entity", str, description="entity code"),
    ]
)
class ReceiptList(generics.ListAPIView):
    """Goods receipts and what went back, the newest first."""

    serializer_class = GoodsReceiptSerializer
    pagination_class = KeysetPages
    orderings = ("id", "number")
    usual_ordering = "-id"

    def get_queryset(self) -> Any:
        """Filtered by number, order, company and ledger."""
        wanted = self.request.query_params
        rows = GoodsReceipt.objects.select_related("entity")
        words = wanted.get("search", "").strip()
        if words:
            rows = rows.filter(Q(number__icontains=words) | Q(order_number__icontains=words))
        if wanted.get("order"):
            rows = rows.filter(order_number=wanted["order"])
        if wanted.get("entity"):
            rows = rows.filter(entity__code=wanted["entity"])
        if wanted.get("ledger") is not None:
            rows = rows.filter(ledger=wanted["ledger"])
        return rows


@extend_schema(
    parameters=[SEARCH, LEDGER, OpenApiParameter("vendor", str, description="vendor code")]
)
class ItemList(generics.ListAPIView):
    """Items with the codes and packs of their vendors."""

    serializer_class = ItemSerializer
    pagination_class = KeysetPages
    orderings = ("id", "code")
    usual_ordering = "code"

    def get_queryset(self) -> Any:
        """Filtered by words, vendor and ledger."""
        wanted = self.request.query_params
        rows = Item.objects.select_related("vendor")
        words = wanted.get("search", "").strip()
        if words:
            rows = rows.filter(
                Q(code__icontains=words) | Q(vendor_code__icontains=words)
                | Q(description__icontains=words)
            )  # fmt: skip
        if wanted.get("vendor"):
            rows = rows.filter(vendor__code=wanted["vendor"])
        if wanted.get("ledger") is not None:
            rows = rows.filter(ledger=wanted["ledger"])
        return rows


@extend_schema(
    parameters=[
        SEARCH,
        LEDGER,
        OpenApiParameter("vendor", str, description="vendor code"),
        OpenApiParameter("day", OpenApiTypes.DATE, description="only what is in force on it"),
    ]
)
class CardList(generics.ListAPIView):
    """Charges of rate cards, the newest first."""

    serializer_class = CardRateSerializer
    pagination_class = KeysetPages
    orderings = ("id", "card")
    usual_ordering = "-id"

    def get_queryset(self) -> Any:
        """Filtered by words, vendor, day and ledger."""
        wanted = self.request.query_params
        rows = CardRate.objects.select_related("vendor").filter(gone_at=None)
        words = wanted.get("search", "").strip()
        if words:
            rows = rows.filter(
                Q(card__icontains=words) | Q(code__icontains=words) | Q(wording__icontains=words)
            )
        if wanted.get("vendor"):
            rows = rows.filter(vendor__code=wanted["vendor"])
        if wanted.get("day"):
            day = day_of("day", wanted["day"])
            rows = rows.filter(Q(first=None) | Q(first__lte=day), Q(last=None) | Q(last__gte=day))
        if wanted.get("ledger") is not None:
            rows = rows.filter(ledger=wanted["ledger"])
        return rows


class OrderRecount(views.APIView):
    """Count anew what bills take of an order."""

    writes = Scope.WORK

    @extend_schema(
        request=RecountSerializer, responses=RecountedSerializer(many=True),
        parameters=[OpenApiParameter("entity", str, description="entity code"), IDEMPOTENCY],
    )  # fmt: skip
    def post(self, request: Request, number: str) -> Response:
        """Each bill with what is kept and what was counted; `mend` keeps the latter."""
        form = RecountSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        order = order_of(number, request.query_params.get("entity"))

        def act() -> Response:
            found = recount(Actor.of(request.user), order, mend=form.validated_data["mend"])
            return Response(RecountedSerializer(found, many=True).data)

        return once(request, body_of(request), act)


_OF_LEDGER = extend_schema(
    parameters=[SEARCH, LEDGER, OpenApiParameter("entity", str, description="entity code; those of "
                                                 "all companies are listed, too")]
)  # fmt: skip


class _CodeList(generics.ListAPIView):
    """Codes of the ledgers by code."""

    pagination_class = KeysetPages
    orderings = ("id", "code")
    usual_ordering = "code"
    model: Any = None

    def get_queryset(self) -> Any:
        """Filtered by words, company and ledger."""
        wanted = self.request.query_params
        rows = self.model.objects.filter(gone_at=None)
        words = wanted.get("search", "").strip()
        if words:
            rows = rows.filter(Q(code__istartswith=words) | Q(name__icontains=words))
        if wanted.get("entity"):
            rows = rows.filter(entity__in=("", wanted["entity"]))
        if wanted.get("ledger") is not None:
            rows = rows.filter(ledger=wanted["ledger"])
        return rows


@_OF_LEDGER
class GlAccountList(_CodeList):
    """Accounts of the general ledger by code."""

    serializer_class = GlAccountSerializer
    model = GlAccount


@_OF_LEDGER
class CostCentreList(_CodeList):
    """Cost centres by code."""

    serializer_class = CostCentreSerializer
    model = CostCentre


@_OF_LEDGER
class ProjectList(_CodeList):
    """Projects by code."""

    serializer_class = ProjectSerializer
    model = Project


@_OF_LEDGER
class TaxCodeList(_CodeList):
    """Tax codes by code."""

    serializer_class = TaxCodeSerializer
    model = TaxCode


@extend_schema(parameters=[OpenApiParameter("currency", str, description="ISO 4217")])
class RateList(generics.ListAPIView):
    """Rates of exchange, the newest first."""

    serializer_class = DayRateSerializer
    pagination_class = KeysetPages
    orderings = ("id", "day")
    usual_ordering = "-day"

    def get_queryset(self) -> Any:
        """Filtered by currency, on either side."""
        currency = self.request.query_params.get("currency", "").strip().upper()
        rows = DayRate.objects.all()
        return rows.filter(Q(currency=currency) | Q(into=currency)) if currency else rows


class RateDetail(views.APIView):
    """What one unit of a currency is worth."""

    @extend_schema(
        parameters=[OpenApiParameter("day", OpenApiTypes.DATE, description="today without it")],
        responses=WorthSerializer,
    )
    def get(self, request: Request, currency: str, into: str) -> Response:
        """On a day, by the newest rate that holds; turned round or by way of a third currency."""
        asked = request.query_params.get("day")
        day = day_of("day", asked) if asked else timezone.localdate()
        found = rate_of(currency.upper(), into.upper(), day)
        return Response(WorthSerializer(found).data)


@extend_schema(
    parameters=[SEARCH, LEDGER, OpenApiParameter("vendor", str, description="vendor code")]
)
class BookList(generics.ListAPIView):
    """What stands in the ledgers' books."""

    serializer_class = BookedBillSerializer
    pagination_class = KeysetPages
    orderings = ("id", "issue_date", "gross_total")
    usual_ordering = "-id"

    def get_queryset(self) -> Any:
        """Filtered by number, vendor and ledger."""
        wanted = self.request.query_params
        rows = BookedBill.objects.select_related("vendor")
        words = wanted.get("search", "").strip()
        if words:
            rows = rows.filter(Q(number__icontains=words) | Q(booked_as__iexact=words))
        if wanted.get("vendor"):
            rows = rows.filter(vendor__code=wanted["vendor"])
        if wanted.get("ledger") is not None:
            rows = rows.filter(ledger=wanted["ledger"])
        return rows


class BookDetail(views.APIView):
    """What stands in the books under one number."""

    @extend_schema(parameters=[LEDGER], responses=BookedBillDetailSerializer)
    def get(self, request: Request, booked_as: str) -> Response:
        """With the document that it was posted from, where it came from here."""
        row = booked_of(booked_as, request.query_params.get("ledger"))
        return Response(BookedBillDetailSerializer(row).data)
