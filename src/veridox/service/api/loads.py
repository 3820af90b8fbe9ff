"""REST views of what brings master data in: imports, syncs, what waits for a second person."""

import json
from collections.abc import Callable
from typing import Any

from django.http import FileResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import generics, parsers, views
from rest_framework.request import Request
from rest_framework.response import Response

from veridox.service.accounts.actors import Actor
from veridox.service.accounts.models import Scope
from veridox.service.api.masterdata_shapes import (
    ColumnSerializer,
    DecideSerializer,
    HeldChangeSerializer,
    ImportedSerializer,
    ImportSerializer,
    LoadSerializer,
    MappingSerializer,
    StandingSerializer,
    SyncSerializer,
)
from veridox.service.api.shown import IDEMPOTENCY, body_of
from veridox.service.errors import BadInputError, NotThereError
from veridox.service.masterdata.actions import held as holding
from veridox.service.masterdata.actions.load import Loaded, columns_help, file_of
from veridox.service.masterdata.actions.mappings import forget_mapping, mapping_named, save_mapping
from veridox.service.masterdata.actions.sync import ask_for_sync
from veridox.service.masterdata.columns import KINDS
from veridox.service.masterdata.importing import import_table
from veridox.service.masterdata.models import (
    HeldChange,
    HeldState,
    Load,
    Mapping,
)
from veridox.service.masterdata.queries import load_of
from veridox.service.masterdata.standing import standing
from veridox.service.web.idempotency import once
from veridox.service.web.pages import KeysetPages

MAX_TABLE = 100 * 2**20
SEARCH = OpenApiParameter("search", str, description="words of code, number or name")
LEDGER = OpenApiParameter("ledger", str, description="name of the ledger connection")
WHAT = OpenApiParameter("what", str, description=", ".join(KINDS))


class Import(views.APIView):
    """A table into the master data."""

    parser_classes = [parsers.MultiPartParser]
    writes = Scope.ADMIN
    what = ""

    @extend_schema(request=ImportSerializer, responses=ImportedSerializer)
    def post(self, request: Request) -> Response:
        """All rows or none; problems are said by row and column. A preview keeps nothing."""
        form = ImportSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        given = form.validated_data
        file = given["file"]
        if file.size > MAX_TABLE:
            raise BadInputError(f"{file.size:,} bytes; {MAX_TABLE:,} are taken at most")
        columns, fixed = _mapping(self.what, given["mapping"])
        done = import_table(
            Actor.of(request.user), self.what, file.name or "table.csv", file.read(),
            preview=given["preview"], expects=given["expects"], ledger=given["ledger"],
            mapping=columns, fixed=fixed, sheet=given["sheet"],
        )  # fmt: skip
        return Response(ImportedSerializer(_imported(done, given["preview"])).data)


def _mapping(what: str, text: str) -> tuple[dict[str, str], dict[str, str]]:
    if not text.strip():
        return {}, {}
    if not text.lstrip().startswith("{"):
        saved = mapping_named(text.strip(), what)
        return saved.columns, saved.fixed
    try:
        data = json.loads(text)
    except ValueError as error:
        raise BadInputError(f"the mapping is no JSON: {error}") from error
    if not all(isinstance(each, str) for each in data.values()):
        raise BadInputError("a mapping holds for each heading the name of our column")
    return data, {}


def _imported(done: Loaded, preview: bool) -> dict[str, Any]:
    loading = done.loading
    records = loading.new + loading.changed + loading.same
    return {
        "imported": 0 if preview else records,
        "rows": records,
        "new": loading.new,
        "changed": loading.changed,
        "same": loading.same,
        "held": loading.held,
        "changes": loading.changes,
        "more_changes": loading.more_changes,
        "fates": loading.fates,
        "preview": preview,
        "sha256": done.load.sha256,
        "form": done.form,
        "aside": done.aside,
        "load": done.load.pk,
    }


class Sync(views.APIView):
    """Master data from a ledger."""

    writes = Scope.ADMIN
    what = ""

    @extend_schema(
        request=SyncSerializer, responses={202: LoadSerializer}, parameters=[IDEMPOTENCY]
    )
    def post(self, request: Request) -> Response:
        """Begin a sync; it goes on by itself, page by page."""
        form = SyncSerializer(data=request.data)
        form.is_valid(raise_exception=True)

        def act() -> Response:
            load = ask_for_sync(
                Actor.of(request.user), self.what, form.validated_data["ledger"],
                whole=form.validated_data["whole"],
            )  # fmt: skip
            return Response(LoadSerializer(load).data, status=202)

        return once(request, body_of(request), act)


class Standing(views.APIView):
    """How the master data stand."""

    @extend_schema(responses=StandingSerializer(many=True))
    def get(self, request: Request) -> Response:
        """How many of each kind, how fresh, and what waits for a second person."""
        del request
        return Response(StandingSerializer(standing(), many=True).data)


class Columns(views.APIView):
    """The columns of a kind of master data."""

    @extend_schema(parameters=[WHAT], responses=ColumnSerializer(many=True))
    def get(self, request: Request) -> Response:
        """What a table may have, and what it must have."""
        found = columns_help(request.query_params.get("what", "vendors"))
        return Response(ColumnSerializer(found, many=True).data)


@extend_schema(parameters=[WHAT])
class LoadList(generics.ListAPIView):
    """Imports and syncs, the newest first."""

    serializer_class = LoadSerializer
    pagination_class = KeysetPages
    orderings = ("id",)

    def get_queryset(self) -> Any:
        """Filtered by kind."""
        what = self.request.query_params.get("what")
        rows = Load.objects.all()
        return rows.filter(what=what) if what else rows


class LoadDetail(views.APIView):
    """One import or sync."""

    @extend_schema(responses=LoadSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """How far it is, and what came of it."""
        del request
        return Response(LoadSerializer(load_of(pk)).data)


class LoadRows(views.APIView):
    """The fate of each row of an import."""

    @extend_schema(responses={(200, "text/csv"): OpenApiTypes.BINARY})
    def get(self, request: Request, pk: int) -> FileResponse:
        """As CSV: row, record, fate, why. Those that are wrong say what is wrong."""
        del request
        path = file_of(load_of(pk))
        if not path.exists():
            raise NotThereError(f"load {pk} has no rows of a file")
        name = f"load-{pk}-rows.csv"
        return FileResponse(
            path.open("rb"), as_attachment=True, filename=name, content_type="text/csv"
        )


# -- what waits for a second person


@extend_schema(
    parameters=[
        OpenApiParameter("state", str, description="waits, accepted, refused, replaced"),
        OpenApiParameter("vendor", str, description="vendor code"),
        OpenApiParameter("load", int, description="number of a load"),
    ]
)
class HeldList(generics.ListAPIView):
    """Changes that wait for a second person, oldest first; others by their state."""

    serializer_class = HeldChangeSerializer
    pagination_class = KeysetPages
    orderings = ("id",)
    usual_ordering = "id"

    def get_queryset(self) -> Any:
        """Filtered by state, vendor and load."""
        wanted = self.request.query_params
        rows = HeldChange.objects.select_related("vendor")
        rows = rows.filter(state=wanted.get("state", HeldState.WAITS))
        if wanted.get("vendor"):
            rows = rows.filter(vendor__code=wanted["vendor"])
        if wanted.get("load", "").isdigit():
            rows = rows.filter(load=int(wanted["load"]))
        return rows


class _Decide(views.APIView):
    """A second person decides."""

    writes = Scope.ACCEPT
    decided: Callable[[Actor, list[int], str], list[HeldChange]]
    """The action."""

    def _ids(self, data: dict[str, Any]) -> list[int]:
        if data["ids"]:
            return list(data["ids"])
        rows = HeldChange.objects.filter(state=HeldState.WAITS)
        if "load" in data:
            rows = rows.filter(load=data["load"])
        elif "vendor" in data:
            rows = rows.filter(vendor__code=data["vendor"])
        else:
            raise BadInputError("name the changes: ids, a load or a vendor")
        return list(rows.order_by("pk").values_list("pk", flat=True))

    @extend_schema(
        request=DecideSerializer, responses=HeldChangeSerializer(many=True),
        parameters=[IDEMPOTENCY],
    )  # fmt: skip
    def post(self, request: Request) -> Response:
        """Of changes by their ids, or all that wait of a load or a vendor."""
        form = DecideSerializer(data=request.data)
        form.is_valid(raise_exception=True)

        def act() -> Response:
            data = form.validated_data
            rows = type(self).decided(Actor.of(request.user), self._ids(data), data["reason"])
            return Response(HeldChangeSerializer(rows, many=True).data)

        return once(request, body_of(request), act)


class HeldAccept(_Decide):
    """Let changes hold that somebody else brought in."""

    decided = staticmethod(holding.accept_held)


class HeldRefuse(_Decide):
    """Have changes never hold, with why."""

    decided = staticmethod(holding.refuse_held)


class MappingList(generics.ListAPIView):
    """Saved mappings."""

    serializer_class = MappingSerializer
    pagination_class = KeysetPages
    orderings = ("id", "name")
    usual_ordering = "name"
    queryset = Mapping.objects.all()


class MappingDetail(views.APIView):
    """One saved mapping."""

    writes = Scope.ADMIN

    @extend_schema(responses=MappingSerializer)
    def get(self, request: Request, name: str) -> Response:
        """Which heading is which of our columns."""
        del request
        return Response(MappingSerializer(mapping_named(name)).data)

    @extend_schema(request=MappingSerializer, responses=MappingSerializer)
    def put(self, request: Request, name: str) -> Response:
        """Save it under its name; one that is there is replaced."""
        existing = Mapping.objects.filter(name=name).first()
        form = MappingSerializer(existing, data={**request.data, "name": name})
        form.is_valid(raise_exception=True)
        data = form.validated_data
        row = save_mapping(
            Actor.of(request.user), name, data["what"], data["columns"], data["fixed"]
        )
        return Response(MappingSerializer(row).data)

    @extend_schema(responses={204: None})
    def delete(self, request: Request, name: str) -> Response:
        """Forget it."""
        forget_mapping(Actor.of(request.user), name)
        return Response(status=204)
