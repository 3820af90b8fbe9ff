"""REST views of entities, vendors and orders."""

from collections.abc import Callable
from typing import Any

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import generics, parsers, views
from rest_framework.request import Request
from rest_framework.response import Response

from veridox.service.accounts.actors import Actor
from veridox.service.accounts.models import Scope
from veridox.service.api.masterdata_shapes import (
    EntitySerializer,
    ImportedSerializer,
    ImportSerializer,
    OrderSerializer,
    VendorSerializer,
)
from veridox.service.errors import BadInputError
from veridox.service.masterdata.actions import imports
from veridox.service.masterdata.models import Entity, Order, Vendor
from veridox.service.web.pages import KeysetPages
from veridox.service.web.parameters import yes_of

MAX_TABLE = 50 * 2**20
MOST_CHANGES = 1_000
"""Changes that an import is answered with; the trail keeps all that somebody should look at."""


SEARCH = OpenApiParameter("search", str, description="words of code, number or name")


@extend_schema(parameters=[SEARCH])
class VendorList(generics.ListAPIView):
    """Vendors by code."""

    serializer_class = VendorSerializer
    pagination_class = KeysetPages
    orderings = ("id", "code", "name")
    usual_ordering = "code"

    def get_queryset(self) -> Any:
        """Filtered by words."""
        words = self.request.query_params.get("search", "").strip()
        rows = Vendor.objects.all()
        return (
            rows.filter(name__icontains=words) | rows.filter(code__iexact=words) if words else rows
        )


class VendorDetail(generics.RetrieveAPIView):
    """One vendor."""

    serializer_class = VendorSerializer
    queryset = Vendor.objects.all()
    lookup_field = "code"


class EntityList(generics.ListAPIView):
    """Our own companies."""

    serializer_class = EntitySerializer
    pagination_class = KeysetPages
    orderings = ("id", "code")
    usual_ordering = "code"
    queryset = Entity.objects.all()


@extend_schema(
    parameters=[
        SEARCH,
        OpenApiParameter("vendor", str, description="vendor code"),
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
        """Filtered by words, vendor and state."""
        wanted = self.request.query_params
        words = wanted.get("search", "").strip()
        rows = Order.objects.select_related("entity", "vendor").prefetch_related("lines")
        if words:
            rows = rows.filter(number__icontains=words) | rows.filter(vendor__name__icontains=words)
        if wanted.get("vendor"):
            rows = rows.filter(vendor__code=wanted["vendor"])
        if wanted.get("closed"):
            rows = rows.filter(closed=yes_of("closed", wanted["closed"]))
        return rows


class OrderDetail(generics.RetrieveAPIView):
    """One order."""

    serializer_class = OrderSerializer
    queryset = Order.objects.select_related("entity", "vendor").prefetch_related("lines")
    lookup_field = "number"


class _Import(views.APIView):
    """A CSV table into the master data."""

    parser_classes = [parsers.MultiPartParser]
    writes = Scope.ADMIN
    importer: Callable[..., imports.Imported]

    @extend_schema(request=ImportSerializer, responses=ImportedSerializer)
    def post(self, request: Request) -> Response:
        """All rows or none; problems are said by row and column. A preview keeps nothing."""
        form = ImportSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        given = form.validated_data["file"]
        if given.size > MAX_TABLE:
            raise BadInputError(f"{given.size:,} bytes; {MAX_TABLE:,} are taken at most")
        preview = form.validated_data["preview"]
        done = type(self).importer(Actor.of(request.user), given.read(), preview=preview)
        data = {
            "imported": 0 if preview else done.rows,
            "rows": done.rows,
            "new": done.new,
            "changed": done.changed,
            "same": done.same,
            "changes": done.changes[:MOST_CHANGES],
            "preview": preview,
        }
        return Response(ImportedSerializer(data).data)


class EntityImport(_Import):
    """Entities from CSV."""

    importer = staticmethod(imports.import_entities)


class VendorImport(_Import):
    """Vendors from CSV."""

    importer = staticmethod(imports.import_vendors)


class OrderImport(_Import):
    """Orders from CSV."""

    importer = staticmethod(imports.import_orders)
