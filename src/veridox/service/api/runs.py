"""REST views of reports that take long: thin."""

from typing import Any

from django.http import HttpResponseBase
from drf_spectacular.utils import OpenApiParameter, extend_schema, extend_schema_field
from rest_framework import generics, serializers, views
from rest_framework.request import Request
from rest_framework.response import Response

from veridox.service.accounts.actors import Actor
from veridox.service.accounts.models import Scope
from veridox.service.api.shown import IDEMPOTENCY, body_of
from veridox.service.api.trail import HeadSerializer
from veridox.service.connections.actions.manage import connection_named
from veridox.service.connections.models import ConnectionKind
from veridox.service.errors import BadInputError, WrongStateError
from veridox.service.intake.accounted import STANDS
from veridox.service.reports.actions.runs import ask, run_of
from veridox.service.reports.models import RUN_KINDS, RUN_STATES, Row, Run, RunKind, RunState
from veridox.service.trail.heads import parse_head
from veridox.service.web.idempotency import once
from veridox.service.web.pages import KeysetPages
from veridox.service.web.tables import AS_FILE, COLUMNS, FORM, Column, chosen, table_response


class RunInputSerializer(serializers.Serializer):
    """Which report, of what.

    `accounted` takes a `mailbox` (without it everything that came in, drops and uploads
    too), `since` and `until`; `trail` takes a `head` that was exported before.
    """

    kind = serializers.ChoiceField(choices=RUN_KINDS)
    mailbox = serializers.CharField(required=False, allow_blank=True, max_length=63)
    since = serializers.DateField(required=False, allow_null=True)
    until = serializers.DateField(required=False, allow_null=True)
    head = HeadSerializer(required=False, allow_null=True)


class RefusedBeforeSerializer(serializers.Serializer):
    """Unwanted mails that lie there no longer."""

    mailbox = serializers.CharField()
    folder = serializers.CharField()
    condition = serializers.CharField()
    count = serializers.IntegerField()


class RunResultSerializer(serializers.Serializer):
    """What a run found; `good` says whether anybody has to look."""

    good = serializers.BooleanField()
    mailbox = serializers.CharField(required=False, allow_blank=True)
    since = serializers.DateField(required=False)
    until = serializers.DateField(required=False)
    counted_at = serializers.DateTimeField(required=False)
    totals = serializers.DictField(child=serializers.IntegerField(), required=False)
    refused_before = RefusedBeforeSerializer(many=True, required=False)
    entries = serializers.IntegerField(required=False)
    head = serializers.CharField(required=False, allow_blank=True)
    compared = serializers.ListField(child=serializers.IntegerField(), required=False)
    problems = serializers.ListField(child=serializers.CharField(), required=False)


class RunSerializer(serializers.ModelSerializer):
    """A run with how far it is; `result` is null until it is done."""

    kind = serializers.ChoiceField(choices=RUN_KINDS)
    state = serializers.ChoiceField(choices=RUN_STATES)
    wanted = serializers.DictField()
    result = serializers.SerializerMethodField()

    class Meta:
        model = Run
        fields = [
            "id", "kind", "wanted", "state", "done", "total", "result", "problem", "asked_by",
            "asked_at", "ended_at",
        ]  # fmt: skip
        read_only_fields = fields

    @extend_schema_field(RunResultSerializer(allow_null=True))
    def get_result(self, run: Run) -> Any:
        """Null until it is done."""
        if run.state != RunState.DONE:
            return None
        # The database keeps no order of names; people read them in this one.
        totals = run.result.get("totals") or {}
        order = {"totals": {name: totals.get(name, 0) for name in STANDS}} if totals else {}
        return {**run.result, **order}


class RunRowSerializer(serializers.Serializer):
    """One mail or file and how it stands."""

    id = serializers.IntegerField()
    source = serializers.CharField(source="data.source")
    folder = serializers.CharField(source="data.folder")
    sender = serializers.CharField(source="data.sender")
    subject = serializers.CharField(source="data.subject")
    received_at = serializers.DateTimeField(source="at")
    stands = serializers.CharField()
    outcome = serializers.CharField(source="data.outcome")
    why = serializers.CharField(source="data.why")
    message = serializers.IntegerField(source="data.message", allow_null=True)
    file = serializers.IntegerField(source="data.file", allow_null=True)


ROW_COLUMNS: dict[str, Column] = {
    "received_at": Column(title="Received", value=lambda r: r.at),
    "source": Column(title="Came by", value=lambda r: r.data["source"]),
    "folder": Column(title="Folder", value=lambda r: r.data["folder"]),
    "sender": Column(title="Sender", value=lambda r: r.data["sender"]),
    "subject": Column(title="Subject", value=lambda r: r.data["subject"]),
    "stands": Column(title="Stands", value=lambda r: r.stands),
    "outcome": Column(title="Outcome", value=lambda r: r.data["outcome"]),
    "why": Column(title="What became of it", value=lambda r: r.data["why"]),
    "message": Column(title="Mail", value=lambda r: r.data["message"]),
    "file": Column(title="File", value=lambda r: r.data["file"]),
    "message_id": Column(title="Message-ID", value=lambda r: r.data["message_id"]),
}


class RunList(generics.ListAPIView):
    """Runs of reports, newest first; a new one by POST."""

    serializer_class = RunSerializer
    pagination_class = KeysetPages
    writes = Scope.READ

    def get_queryset(self) -> Any:
        """Of one kind, if asked."""
        rows = Run.objects.all()
        kind = self.request.query_params.get("kind")
        if kind and kind not in list(RunKind):
            raise BadInputError(f"kind is one of {', '.join(RunKind)}, not {kind!r}")
        return rows.filter(kind=kind) if kind else rows

    @extend_schema(
        request=RunInputSerializer, responses={202: RunSerializer}, parameters=[IDEMPOTENCY]
    )
    def post(self, request: Request) -> Response:
        """Ask for a run; look at it until its state is done or failed."""
        form = RunInputSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        kind, wanted = _wanted(form.validated_data)

        def act() -> Response:
            run = ask(Actor.of(request.user), kind, wanted)
            location = {"Location": f"/api/v1/reports/runs/{run.pk}"}
            return Response(RunSerializer(run).data, status=202, headers=location)

        return once(request, body_of(request), act)


def _wanted(given: dict[str, Any]) -> tuple[str, dict[str, Any]]:
    """What was asked for, checked before it is queued. Raises BadInputError, NotThereError."""
    kind = given["kind"]
    fits = {RunKind.ACCOUNTED: ("mailbox", "since", "until"), RunKind.TRAIL: ("head",)}[kind]
    beside = sorted(name for name in given if name not in ("kind", *fits) and given[name])
    if beside:
        raise BadInputError(f"{', '.join(beside)}: not for {kind}; it takes {', '.join(fits)}")
    if kind == RunKind.TRAIL:
        head = given.get("head")
        if head:
            parse_head(head)
        return kind, {"head": dict(head)} if head else {}
    if given.get("mailbox"):
        connection_named(given["mailbox"], ConnectionKind.MAILBOX)
    since, until = given.get("since"), given.get("until")
    if since and until and since > until:
        raise BadInputError(f"since {since} is after until {until}")
    days = {"since": since, "until": until}
    return kind, {
        **({"mailbox": given["mailbox"]} if given.get("mailbox") else {}),
        **{name: day.isoformat() for name, day in days.items() if day},
    }


class RunDetail(views.APIView):
    """One run."""

    @extend_schema(responses=RunSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """How far it is, and what it found."""
        del request
        return Response(RunSerializer(run_of(pk)).data)


STANDS_FILTER = OpenApiParameter("stands", str, description="how the mail or file stands")


@extend_schema(parameters=[STANDS_FILTER])
class RunRows(generics.ListAPIView):
    """Rows of a run, newest first."""

    serializer_class = RunRowSerializer
    pagination_class = KeysetPages
    orderings = ("id", "at")
    usual_ordering = "-at"

    def get_queryset(self) -> Any:
        """Filtered by how they stand; several with commas."""
        if getattr(self, "swagger_fake_view", False):
            return Row.objects.none()
        return _rows(run_of(self.kwargs["pk"]), self.request.query_params.get("stands"))


def _rows(run: Run, stands: str | None) -> Any:
    rows = run.rows.all()
    return rows.filter(stands__in=stands.split(",")) if stands else rows


@extend_schema(parameters=[STANDS_FILTER])
class RunExport(views.APIView):
    """Rows of a run as a file."""

    @extend_schema(parameters=[FORM, COLUMNS], responses=AS_FILE)
    def get(self, request: Request, pk: int) -> HttpResponseBase:
        """Oldest first, as CSV or XLSX."""
        wanted, run = request.query_params, run_of(pk)
        if run.state != RunState.DONE:
            raise WrongStateError(f"run {pk} is {run.state}; it can be exported when it is done")
        columns = chosen(ROW_COLUMNS, wanted.get("columns"))
        rows = _rows(run, wanted.get("stands")).order_by("at", "pk")
        return table_response(f"{run.kind}-{run.pk}", columns, rows, wanted.get("as"))
