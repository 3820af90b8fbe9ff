"""REST views of files and documents: thin."""

import json
from typing import Any

from django.http import HttpResponse, HttpResponseBase
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import generics, parsers, views
from rest_framework.request import Request
from rest_framework.response import Response

from veridox.core.filetypes import MAILS
from veridox.core.pipeline.edits import EditError, with_known
from veridox.core.readers.mail.decoding import bare_name
from veridox.core.readers.sniff import sniff
from veridox.core.reading import Reading, Source
from veridox.readerpool import ReaderStoppedError
from veridox.service.accounts.actors import Actor
from veridox.service.api.coding_shapes import InLedgerSerializer
from veridox.service.api.document_shapes import (
    CorrectionSerializer,
    DocumentRowSerializer,
    DocumentSerializer,
    FileSerializer,
    OrdersBesideSerializer,
    PageWordsSerializer,
    PartiesSerializer,
    RestoreSerializer,
    StorySerializer,
    UploadSerializer,
    WalkSerializer,
)
from veridox.service.api.shown import IDEMPOTENCY, IF_MATCH, body_of, document_of, shown
from veridox.service.desk.actions.correct import correct, restore
from veridox.service.documents.filters import filtered, parameters
from veridox.service.documents.in_ledger import in_ledger
from veridox.service.documents.models import Document
from veridox.service.documents.pages import picture_of, words_of
from veridox.service.documents.queries import documents, files, orders_beside, story
from veridox.service.documents.table import DOCUMENT_COLUMNS
from veridox.service.errors import BadInputError, NotThereError
from veridox.service.flow.parties import parties
from veridox.service.flow.walks import why
from veridox.service.intake.actions.receive import upload
from veridox.service.intake.models import File
from veridox.service.pipelines.queries import collect_of, newest
from veridox.service.storage import originals
from veridox.service.web.idempotency import once
from veridox.service.web.pages import KeysetPages
from veridox.service.web.tables import AS_FILE, COLUMNS, FORM, chosen, table_response
from veridox.service.web.versions import wanted_version

MAX_UPLOAD = 60 * 2**20


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
        known = form.validated_data.get("known") or {}
        if not isinstance(known, dict):
            raise BadInputError('known is an object, as in {"order_number": "PO-26-0117"}')
        # A value of the wrong form is refused now, not when the file is read.
        try:
            with_known(Reading(source=Source()), known)
        except EditError as error:
            raise BadInputError(str(error), errors=error.problems) from error
        content = given.read()
        name, media_type = bare_name(given.name), sniff(content)
        if media_type in MAILS:
            raise BadInputError("that is a mail: hand it in as one (POST /api/v1/messages)")
        sha256 = originals().put(content)

        def act() -> Response:
            file = upload(
                Actor.of(request.user),
                version,
                name=name,
                declared_type=given.content_type or "",
                media_type=media_type,
                sha256=sha256,
                size=len(content),
                known=known,
                types=collect_of(version).files,
            )
            location = {"Location": f"/api/v1/files/{file.pk}"}
            return Response(FileSerializer(file).data, status=201, headers=location)

        told = json.dumps([version.pipeline.name, given.name, sha256, known], sort_keys=True)
        return once(request, told.encode(), act)


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


@extend_schema(parameters=parameters())
class DocumentList(generics.ListAPIView):
    """Documents, newest first."""

    serializer_class = DocumentRowSerializer
    pagination_class = KeysetPages
    orderings = ("id", "received_at", "state_at", "issue_date", "gross_total", "number")

    def get_queryset(self) -> Any:
        """Filtered."""
        return filtered(documents(), self.request.query_params)


@extend_schema(parameters=parameters())
class DocumentExport(views.APIView):
    """The list as a file."""

    @extend_schema(parameters=[FORM, COLUMNS], responses=AS_FILE)
    def get(self, request: Request) -> HttpResponseBase:
        """What the filters leave, oldest first, as CSV or XLSX."""
        wanted = request.query_params
        columns = chosen(DOCUMENT_COLUMNS, wanted.get("columns"))
        rows = filtered(documents(), wanted).order_by("pk")
        return table_response("documents", columns, rows, wanted.get("as"))


class DocumentDetail(views.APIView):
    """One document."""

    @extend_schema(responses=DocumentSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """With its reading, findings and ETag."""
        return shown(request, pk)


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
            return shown(request, pk)

        return once(request, body_of(request), act)


class DocumentParties(views.APIView):
    """Who the seller and the buyer of a document may be."""

    @extend_schema(responses=PartiesSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """For a person to choose from, where the bill contradicts itself or several fit."""
        del request
        return Response(PartiesSerializer(parties(document_of(pk))).data)


class DocumentRestore(views.APIView):
    """Corrections undone."""

    @extend_schema(
        request=RestoreSerializer, responses=DocumentSerializer, parameters=[IF_MATCH, IDEMPOTENCY]
    )
    def post(self, request: Request, pk: int) -> Response:
        """Go back to an earlier version of the reading: it becomes the newest one."""
        form = RestoreSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        version = wanted_version(request)

        def act() -> Response:
            restore(Actor.of(request.user), pk, version, form.validated_data["number"])
            return shown(request, pk)

        return once(request, body_of(request), act)


class DocumentOrders(views.APIView):
    """The orders beside a document."""

    @extend_schema(responses=OrdersBesideSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """With the pairing of lines, and what else was billed on them."""
        del request
        document = document_of(pk)
        found = orders_beside(document)
        if not found["orders"]:
            raise NotThereError(f"document {pk} is matched to no order")
        return Response(OrdersBesideSerializer(found, context={"without": document}).data)


class DocumentInLedger(views.APIView):
    """What the ledger lists for a document."""

    @extend_schema(responses=InLedgerSerializer(many=True))
    def get(self, request: Request, pk: int) -> Response:
        """By its number, else by its order, of its vendor; what is open beside what it asks for."""
        del request
        return Response(InLedgerSerializer(in_ledger(document_of(pk)), many=True).data)


class DocumentWhy(views.APIView):
    """Why a document stands where it stands."""

    @extend_schema(responses=WalkSerializer(many=True))
    def get(self, request: Request, pk: int) -> Response:
        """Each walk along the road, newest first: what each stage looked at, and what followed."""
        del request
        return Response(WalkSerializer(why(document_of(pk)), many=True).data)


class DocumentHistory(views.APIView):
    """What happened to a document."""

    @extend_schema(responses=StorySerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Entries of the trail and versions of the reading, oldest first."""
        del request
        document = document_of(pk)
        data = {"events": story(document), "readings": document.readings.order_by("number")}
        return Response(StorySerializer(data).data)


def _sha256(pk: int) -> str:
    """Of a document's file. Raises NotThereError."""
    found = Document.objects.filter(pk=pk).values_list("file__sha256", flat=True).first()
    if found is None:
        raise NotThereError(f"there is no document {pk}")
    return found


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
        try:
            picture = picture_of(_sha256(pk), page, int(text))
        except (LookupError, ReaderStoppedError) as error:
            raise NotThereError(f"page {page} of document {pk} cannot be drawn: {error}") from error
        response = HttpResponse(picture, content_type="image/png")
        # The original under this id never changes.
        response["Cache-Control"] = "private, max-age=86400, immutable"
        return response


class DocumentWords(views.APIView):
    """A page's words."""

    @extend_schema(responses=PageWordsSerializer)
    def get(self, request: Request, pk: int, page: int) -> Response:
        """Words with their boxes, and the plain text in reading order."""
        del request
        try:
            found = words_of(_sha256(pk), page)
        except (LookupError, ReaderStoppedError) as error:
            raise NotThereError(f"page {page} of document {pk} cannot be read: {error}") from error
        return Response(
            PageWordsSerializer(found).data,
            headers={"Cache-Control": "private, max-age=86400, immutable"},
        )
