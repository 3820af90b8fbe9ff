"""REST views of files and documents: thin."""

from typing import Any

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import generics, parsers, views
from rest_framework.request import Request
from rest_framework.response import Response

from veridox.core.readers import sniff
from veridox.readerpool import ReaderStoppedError
from veridox.service import wiring
from veridox.service.accounts.actors import Actor
from veridox.service.desk.actions.discard import discard
from veridox.service.desk.actions.post import post
from veridox.service.documents.actions.correct import correct
from veridox.service.documents.actions.fail import resume
from veridox.service.documents.actions.receive import upload
from veridox.service.documents.models import Document, File, State
from veridox.service.documents.queries import documents, files, filtered, story
from veridox.service.documents.serializers import (
    CorrectionSerializer,
    DocumentRowSerializer,
    DocumentSerializer,
    FileSerializer,
    ReasonSerializer,
    StorySerializer,
    UploadSerializer,
)
from veridox.service.errors import BadInputError, NotThereError
from veridox.service.pipelines.queries import newest
from veridox.service.storage import originals
from veridox.service.web.idempotency import once
from veridox.service.web.pages import KeysetPages
from veridox.service.web.versions import etag, wanted_version

MAX_UPLOAD = 60 * 2**20
IF_MATCH = OpenApiParameter(
    "If-Match", str, OpenApiParameter.HEADER, required=True, description="ETag of the version seen"
)
IDEMPOTENCY = OpenApiParameter(
    "Idempotency-Key", str, OpenApiParameter.HEADER, description="the same write is done once"
)


def query(name: str, text: str, kind: Any = str) -> OpenApiParameter:
    """A query parameter of a list."""
    return OpenApiParameter(name, kind, OpenApiParameter.QUERY, description=text)


class FileList(generics.ListAPIView):
    """Files, newest first; a new one by POST."""

    serializer_class = FileSerializer
    pagination_class = KeysetPages
    parser_classes = [parsers.MultiPartParser]

    def get_queryset(self) -> Any:
        """Filtered by state or message."""
        wanted = self.request.query_params
        rows = files()
        for name in ("state", "message"):
            if wanted.get(name):
                rows = rows.filter(**{name: wanted[name]})
        return rows

    @extend_schema(
        request=UploadSerializer, responses={201: FileSerializer}, parameters=[IDEMPOTENCY]
    )
    def post(self, request: Request) -> Response:
        """Hand in a file for a pipeline."""
        form = UploadSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        given = form.validated_data["file"]
        if given.size > MAX_UPLOAD:
            raise BadInputError(f"{given.size:,} bytes; {MAX_UPLOAD:,} are taken at most")
        version = newest(form.validated_data["pipeline"])
        content = given.read()
        sha256 = originals().put(content)

        def act() -> Response:
            file = upload(
                Actor.of(request.user),
                version,
                name=given.name.replace("\\", "/").rsplit("/", 1)[-1][:255],
                declared_type=given.content_type or "",
                media_type=sniff(content),
                sha256=sha256,
                size=len(content),
            )
            location = {"Location": f"/api/v1/files/{file.pk}"}
            return Response(FileSerializer(file).data, status=201, headers=location)

        return once(request, f"{version.pipeline.name}\0{given.name}\0{sha256}".encode(), act)


class FileDetail(generics.RetrieveAPIView):
    """One file."""

    serializer_class = FileSerializer

    def get_queryset(self) -> Any:
        """All files."""
        return files()


class FileContent(views.APIView):
    """A file's original bytes."""

    @extend_schema(responses={(200, "application/octet-stream"): OpenApiTypes.BINARY})
    def get(self, request: Request, pk: int) -> HttpResponse:
        """Always as a download: foreign content is never shown under our own address."""
        del request
        file = File.objects.filter(pk=pk).first()
        if file is None:
            raise NotThereError(f"there is no file {pk}")
        response = HttpResponse(
            originals().get(file.sha256), content_type="application/octet-stream"
        )
        name = "".join(char if char.isalnum() or char in "._- " else "_" for char in file.name)
        response["Content-Disposition"] = f'attachment; filename="{name}"'
        response["X-Content-Type-Options"] = "nosniff"
        return response


@extend_schema(
    parameters=[
        query("state", "one of the states"),
        query("queue", "queue at the desk"),
        query("kind", "kind of document"),
        query("vendor", "vendor code"),
        query("order", "order number"),
        query("finding", "code of a finding"),
        query("message", "id of its mail", int),
        query("file", "id of its file", int),
        query("search", "number, vendor, order, file name or ledger number"),
    ]
)
class DocumentList(generics.ListAPIView):
    """Documents, newest first."""

    serializer_class = DocumentRowSerializer
    pagination_class = KeysetPages
    orderings = ("id", "received_at", "state_at", "issue_date", "gross_total", "number")

    def get_queryset(self) -> Any:
        """Filtered."""
        return filtered(documents(), self.request.query_params)


class DeskList(DocumentList):
    """Documents that wait at the desk, oldest first."""

    usual_ordering = "id"

    def get_queryset(self) -> Any:
        """Only those at the desk."""
        return super().get_queryset().filter(state=State.AT_DESK)


def _document(pk: int) -> Document:
    document = documents().filter(pk=pk).first()
    if document is None:
        raise NotThereError(f"there is no document {pk}")
    return document


def _shown(pk: int, status: int = 200) -> Response:
    document = _document(pk)
    headers = {"ETag": etag(document.version)}
    return Response(DocumentSerializer(document).data, status=status, headers=headers)


class DocumentDetail(views.APIView):
    """One document."""

    @extend_schema(responses=DocumentSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """With its reading, findings and ETag."""
        del request
        return _shown(pk)


class DocumentFields(views.APIView):
    """Values of a document."""

    @extend_schema(
        request=CorrectionSerializer,
        responses=DocumentSerializer,
        parameters=[IF_MATCH, IDEMPOTENCY],
    )
    def patch(self, request: Request, pk: int) -> Response:
        """Correct values of a document at the desk; a new version, checked at once."""
        form = CorrectionSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        version = wanted_version(request)
        changes = {key: value for key, value in form.validated_data.items() if key != "note"}
        note = form.validated_data.get("note", "")

        def act() -> Response:
            correct(Actor.of(request.user), pk, version, changes, note)
            return _shown(pk)

        return once(request, _plain(request), act)


def _plain(request: Request) -> bytes:
    import json

    header = request.headers.get("If-Match", "")
    return (header + json.dumps(request.data, sort_keys=True)).encode()


class _ReasonedAct(views.APIView):
    """An act on the version seen, with a reason."""

    def act(self, actor: Actor, pk: int, version: int, reason: str) -> Document:
        raise NotImplementedError

    @extend_schema(
        request=ReasonSerializer, responses=DocumentSerializer, parameters=[IF_MATCH, IDEMPOTENCY]
    )
    def post(self, request: Request, pk: int) -> Response:
        """Act, and answer with the document as it stands then."""
        form = ReasonSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        version = wanted_version(request)

        def act() -> Response:
            self.act(Actor.of(request.user), pk, version, form.validated_data["reason"])
            return _shown(pk)

        return once(request, _plain(request), act)


class DocumentPost(_ReasonedAct):
    """Let a document through although something was found."""

    def act(self, actor: Actor, pk: int, version: int, reason: str) -> Document:
        """See the action."""
        return post(actor, pk, version, reason)


class DocumentDiscard(_ReasonedAct):
    """End a document without posting."""

    def act(self, actor: Actor, pk: int, version: int, reason: str) -> Document:
        """See the action."""
        return discard(actor, pk, version, reason)


class DocumentAgain(_ReasonedAct):
    """Go on with a document that failed."""

    def act(self, actor: Actor, pk: int, version: int, reason: str) -> Document:
        """See the action."""
        del reason
        return resume(actor, pk, version)


class DocumentHistory(views.APIView):
    """What happened to a document."""

    @extend_schema(responses=StorySerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Entries of the trail and versions of the reading, oldest first."""
        del request
        document = _document(pk)
        data = {"events": story(document), "readings": document.readings.order_by("number")}
        return Response(StorySerializer(data).data)


class DocumentPage(views.APIView):
    """A page's picture."""

    @extend_schema(
        parameters=[query("dpi", "from 36 to 300, usually 110", int)],
        responses={(200, "image/png"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, pk: int, page: int) -> HttpResponse:
        """Drawn by a reader process."""
        text = request.query_params.get("dpi", "110")
        if not text.isdigit() or not 36 <= int(text) <= 300:
            raise BadInputError(f"dpi is from 36 to 300, not {text!r}")
        document = _document(pk)
        content = originals().get(document.file.sha256)
        try:
            picture = wiring.reader_pool().picture(content, page, int(text))
        except (LookupError, ReaderStoppedError) as error:
            raise NotThereError(f"page {page} of document {pk} cannot be drawn: {error}") from error
        response = HttpResponse(picture, content_type="image/png")
        # The original under this id never changes.
        response["Cache-Control"] = "private, max-age=86400, immutable"
        return response
