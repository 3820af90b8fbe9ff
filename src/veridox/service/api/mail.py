"""REST views of mails: thin."""

from typing import Any

from django.db.models import Q, QuerySet
from django.http import HttpResponse, HttpResponseBase
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import generics, parsers, views
from rest_framework.request import Request
from rest_framework.response import Response

from veridox.core.filetypes import MAILS
from veridox.core.readers.mail.decoding import bare_name
from veridox.core.readers.sniff import sniff
from veridox.service.accounts.actors import Actor
from veridox.service.api.document_shapes import UploadSerializer
from veridox.service.api.mail_shapes import (
    AccountSerializer,
    MailFileSerializer,
    MessageRowSerializer,
    MessageSerializer,
    PeekSerializer,
    WhySerializer,
)
from veridox.service.api.shown import IDEMPOTENCY
from veridox.service.errors import BadInputError, NotThereError
from veridox.service.intake.actions.receive import leave_out, take_in
from veridox.service.intake.actions.take_again import set_aside, take_again
from veridox.service.intake.collecting import MAX_MAIL
from veridox.service.intake.handing_in import prepare_mail, store_handed_in
from veridox.service.intake.models import Account, Message
from veridox.service.intake.outcomes import OUTCOMES, with_outcome
from veridox.service.intake.peeking import peek, source_of
from veridox.service.intake.table import MESSAGE_COLUMNS
from veridox.service.pipelines.queries import collect_of, newest
from veridox.service.storage import originals
from veridox.service.web.idempotency import once
from veridox.service.web.pages import KeysetPages
from veridox.service.web.parameters import moment_of
from veridox.service.web.tables import AS_FILE, COLUMNS, FORM, chosen, table_response

FILTERS = [
    OpenApiParameter("search", str, description="words of sender, subject, text or a file's name"),
    OpenApiParameter("sender", str, description="part of the sender's name or address"),
    OpenApiParameter("subject", str, description="words of the subject"),
    OpenApiParameter("outcome", str, enum=OUTCOMES, description="what became of it"),
    OpenApiParameter("place", str, description="arrived, done, people or failed"),
    OpenApiParameter("mailbox", str, description="name of the connection"),
    OpenApiParameter("received_from", str, description="received at or after (RFC 3339 or day)"),
    OpenApiParameter("received_to", str, description="received before"),
    OpenApiParameter("taken_from", str, description="taken in at or after"),
    OpenApiParameter("taken_to", str, description="taken in before"),
]
_MOMENTS = {
    "received_from": "received_at__gte",
    "received_to": "received_at__lt",
    "taken_from": "taken_at__gte",
    "taken_to": "taken_at__lt",
}


def messages() -> QuerySet[Message]:
    """All mails with what lists show of them."""
    return Message.objects.select_related("connection").prefetch_related("files__documents")


def filtered(rows: QuerySet[Message], wanted: Any) -> QuerySet[Message]:
    """Mails that meet the query parameters. Raises BadInputError."""
    for name, lookup in _MOMENTS.items():
        if text := wanted.get(name):
            rows = rows.filter(**{lookup: moment_of(name, text)})
    if place := wanted.get("place"):
        rows = rows.filter(place=place)
    if mailbox := wanted.get("mailbox"):
        rows = rows.filter(connection__name=mailbox)
    if outcome := wanted.get("outcome"):
        rows = with_outcome(rows, outcome)
    if words := wanted.get("sender", "").strip():
        rows = rows.filter(_sender(words))
    if words := wanted.get("subject", "").strip():
        rows = rows.filter(subject__icontains=words)
    if words := wanted.get("search", "").strip():
        rows = rows.filter(
            _sender(words)
            | Q(subject__icontains=words)
            | Q(text__icontains=words)
            | Q(pk__in=Message.objects.filter(files__name__icontains=words).values("pk"))
        )
    return rows


def _sender(words: str) -> Q:
    return (
        Q(sender_address__icontains=words)
        | Q(sender_name__icontains=words)
        | Q(forwarded__sender_address__icontains=words)
    )


@extend_schema(parameters=FILTERS)
class MessageList(generics.ListAPIView):
    """Mails that were taken in, newest first."""

    serializer_class = MessageRowSerializer
    pagination_class = KeysetPages
    orderings = ("id", "received_at")
    parser_classes = [parsers.MultiPartParser]

    def get_queryset(self) -> Any:
        """Filtered."""
        return filtered(messages(), self.request.query_params)

    @extend_schema(
        request=UploadSerializer, responses={201: MessageSerializer}, parameters=[IDEMPOTENCY]
    )
    def post(self, request: Request) -> Response:
        """Hand in one mail as a file (.eml or .msg), as if it had come to a mailbox."""
        form = UploadSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        given = form.validated_data["file"]
        version = newest(form.validated_data["pipeline"])
        if given.size > MAX_MAIL:
            raise BadInputError(f"{given.size:,} bytes; {MAX_MAIL:,} are taken at most")
        raw = given.read()
        if sniff(raw) not in MAILS:
            raise BadInputError(f"{given.name} is no mail; hand it in as a file instead")

        def act() -> Response:
            message = store_handed_in(Actor.of(request.user), version, collect, mail)
            return Response(_data(message.pk), status=201)

        collect = collect_of(version)
        mail = prepare_mail(raw, bare_name(given.name), collect)
        told = f"{version.pipeline.name}\0{mail.arrival.sha256}"
        return once(request, told.encode(), act)


class MessageExport(views.APIView):
    """The message log as a file."""

    @extend_schema(parameters=[*FILTERS, FORM, COLUMNS], responses=AS_FILE)
    def get(self, request: Request) -> HttpResponseBase:
        """What the filters leave, oldest first, as CSV or XLSX."""
        wanted = request.query_params
        columns = chosen(MESSAGE_COLUMNS, wanted.get("columns"))
        rows = filtered(messages(), wanted).order_by("pk")
        return table_response("mails", columns, rows, wanted.get("as"))


class MessageDetail(generics.RetrieveAPIView):
    """One mail."""

    serializer_class = MessageSerializer

    def get_queryset(self) -> Any:
        """All mails."""
        return messages().select_related("pipeline_version__pipeline")


def _data(pk: int) -> Any:
    message = messages().select_related("pipeline_version__pipeline").get(pk=pk)
    return MessageSerializer(message).data


def _shown(pk: int) -> Response:
    return Response(_data(pk))


class MessageOriginal(views.APIView):
    """A mail as it came."""

    @extend_schema(responses={(200, "message/rfc822"): OpenApiTypes.BINARY})
    def get(self, request: Request, pk: int) -> HttpResponse:
        """Its bytes, always as a download."""
        del request
        message = Message.objects.filter(pk=pk).first()
        if message is None or not message.sha256:
            raise NotThereError(f"there is no mail {pk}, or its original was not fetched")
        content = originals().get(message.sha256)
        response = HttpResponse(content, content_type="application/octet-stream")
        response["Content-Disposition"] = f'attachment; filename="mail-{pk}.eml"'
        response["X-Content-Type-Options"] = "nosniff"
        return response


# Nothing runs, nothing is fetched, nothing leads out of it, whatever the mail says.
HTML_POLICY = "sandbox; default-src 'none'; style-src 'unsafe-inline'; frame-ancestors 'self'"
HTML_STYLE = (
    "<style>body{font:15px/1.5 sans-serif;margin:12px 16px;color:#1d2430;background:#fff}"
    "table{border-collapse:collapse}td,th{padding:2px 6px;vertical-align:top}"
    "pre{white-space:pre-wrap}</style>"
)


class MessageHtml(views.APIView):
    """A mail's HTML, to be shown in a frame."""

    @extend_schema(responses={(200, "text/html"): OpenApiTypes.STR})
    def get(self, request: Request, pk: int) -> HttpResponse:
        """Sanitised when it was taken in; shown without scripts and without the network."""
        del request
        message = Message.objects.filter(pk=pk).only("html").first()
        if message is None or not message.html:
            raise NotThereError(f"mail {pk} has no HTML")
        page = f"<!doctype html><meta charset=utf-8>{HTML_STYLE}{message.html}"
        response = HttpResponse(page, content_type="text/html; charset=utf-8")
        response["Content-Security-Policy"] = HTML_POLICY
        response["X-Frame-Options"] = "SAMEORIGIN"
        response["X-Content-Type-Options"] = "nosniff"
        return response


class MessageAgain(views.APIView):
    """A mail taken in again."""

    @extend_schema(request=WhySerializer, responses=MessageSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """Process what was set aside or failed; documents that exist are left as they are."""
        form = WhySerializer(data=request.data)
        form.is_valid(raise_exception=True)
        take_again(Actor.of(request.user), pk, form.validated_data["reason"])
        return _shown(pk)


class MessageAside(views.APIView):
    """A mail set aside."""

    @extend_schema(request=WhySerializer, responses=MessageSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """Nothing in it is to be processed, and why."""
        form = WhySerializer(data=request.data)
        form.is_valid(raise_exception=True)
        set_aside(Actor.of(request.user), pk, form.validated_data["reason"])
        return _shown(pk)


class FileTakeIn(views.APIView):
    """A file that was left out."""

    @extend_schema(request=None, responses=MailFileSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """Read it after all."""
        return Response(MailFileSerializer(take_in(Actor.of(request.user), pk)).data)


class FileLeaveOut(views.APIView):
    """A file that could not be opened."""

    @extend_schema(request=WhySerializer, responses=MailFileSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """It need not be looked at any more, and why."""
        form = WhySerializer(data=request.data)
        form.is_valid(raise_exception=True)
        file = leave_out(Actor.of(request.user), pk, form.validated_data["reason"])
        return Response(MailFileSerializer(file).data)


class Peek(views.APIView):
    """A look into a folder on the server."""

    @extend_schema(
        parameters=[
            OpenApiParameter("folder", str, description="usually the first that is watched"),
            OpenApiParameter("pipeline", str, description="whose conditions, where several watch"),
            OpenApiParameter("limit", int, description="newest mails looked at, 50 by default"),
        ],
        responses=PeekSerializer,
    )
    def get(self, request: Request, name: str) -> Response:
        """Which mails would be taken and which condition decides; nothing is changed there."""
        wanted = request.query_params
        limit = wanted.get("limit", "50")
        if not limit.isdigit() or not 1 <= int(limit) <= 500:
            raise BadInputError(f"limit is a whole number from 1 to 500, not {limit!r}")
        folder, pipeline = wanted.get("folder", ""), wanted.get("pipeline", "")
        version, collect = source_of(name, folder, pipeline)
        data = {
            "mailbox": name,
            "folder": collect.folder,
            "pipeline": version.pipeline.name,
            "mails": peek(name, collect.folder, version.pipeline.name, int(limit)),
        }
        return Response(PeekSerializer(data).data)


class AccountList(generics.ListAPIView):
    """The newest hourly counts."""

    serializer_class = AccountSerializer
    pagination_class = KeysetPages
    queryset = Account.objects.select_related("connection")
