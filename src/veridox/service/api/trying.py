"""REST views that try pipelines, and what editors ask: thin."""

from typing import Any

from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import parsers, serializers, views
from rest_framework.request import Request
from rest_framework.response import Response

from veridox.core.language import FUNCTIONS, LISTS
from veridox.core.language.names import TABLE
from veridox.core.language.texts import FILTERS
from veridox.core.pipeline.file.schema import schema
from veridox.core.pipeline.trying import UNTIL
from veridox.service.accounts.models import Scope
from veridox.service.api.pipeline_shapes import LONGEST
from veridox.service.api.shown import document_of
from veridox.service.errors import BadInputError
from veridox.service.flow.trying import Wish, try_bytes, try_document, try_from_mailbox
from veridox.service.pipelines.checking import PipelineText, check_text
from veridox.service.pipelines.queries import definition_of, newest


class TryInputSerializer(serializers.Serializer):
    """A pipeline (its name, or a text that was never published) and what to try it on.

    One of `file` (a mail or a file), `document`, or `mailbox` with `folder` and `uid`.
    """

    pipeline = serializers.CharField(required=False, allow_blank=True, max_length=63)
    text = serializers.CharField(
        required=False, allow_blank=True, max_length=LONGEST, trim_whitespace=False
    )
    parts = serializers.JSONField(required=False)
    file = serializers.FileField(required=False, allow_empty_file=True)
    document = serializers.IntegerField(required=False)
    mailbox = serializers.CharField(required=False, max_length=63)
    folder = serializers.CharField(required=False, max_length=200)
    uid = serializers.IntegerField(required=False, min_value=1)
    until = serializers.ChoiceField(
        choices=UNTIL, required=False, allow_blank=True,
        error_messages={"invalid_choice": f"{{input!r}} is none; use {', '.join(UNTIL)}"},
    )  # fmt: skip
    rehearse = serializers.BooleanField(required=False)
    known = serializers.JSONField(required=False)
    parameters = serializers.JSONField(required=False)
    pictures = serializers.IntegerField(required=False, min_value=0, max_value=5)


class TriedFileSerializer(serializers.Serializer):
    """A file of the mail, and why it is not read."""

    name = serializers.CharField()
    read = serializers.BooleanField()
    reason = serializers.CharField()


class TriedConditionSerializer(serializers.Serializer):
    """A condition of `only`."""

    name = serializers.CharField()
    met = serializers.BooleanField()
    said = serializers.CharField()


class TriedSourceSerializer(serializers.Serializer):
    """Whether a source would take the mail."""

    source = serializers.CharField()
    taken = serializers.BooleanField()
    conditions = TriedConditionSerializer(many=True)


class TriedMailSerializer(serializers.Serializer):
    """Who speaks in the mail."""

    kind = serializers.CharField()
    sender = serializers.CharField()
    sender_name = serializers.CharField()
    recipients = serializers.ListField(child=serializers.CharField())
    subject = serializers.CharField()


class TriedStepSerializer(serializers.Serializer):
    """A stage: what it looked at, what followed."""

    stage = serializers.CharField()
    looked = serializers.ListField(child=serializers.CharField())
    then = serializers.CharField()


class TriedSentSerializer(serializers.Serializer):
    """What would be told whom at an event."""

    event = serializers.CharField()
    when = serializers.CharField(help_text="its condition with its values")
    goes = serializers.BooleanField()
    problem = serializers.CharField()
    to = serializers.CharField()
    channel = serializers.CharField()
    subject = serializers.CharField()
    text = serializers.CharField()


class TriedPageSerializer(serializers.Serializer):
    """A page as a picture."""

    number = serializers.IntegerField()
    width = serializers.FloatField(help_text="in points")
    height = serializers.FloatField(help_text="in points")
    picture = serializers.CharField(help_text="PNG, in base64")


class TriedDocumentSerializer(serializers.Serializer):
    """A document, and what the pipeline would do with it."""

    file = serializers.CharField()
    pages = TriedPageSerializer(many=True, help_text="as many as were asked for")
    reading = serializers.JSONField(help_text="as in `GET /documents/{id}/reading`")
    steps = TriedStepSerializer(many=True)
    state = serializers.CharField(help_text="where it would stand; empty when it ended before")
    queue = serializers.CharField()
    reasons = serializers.ListField(child=serializers.CharField())
    bill = serializers.JSONField(allow_null=True)
    sent = TriedSentSerializer(many=True)
    rehearsal = serializers.CharField(allow_null=True, help_text="what the ledger says to the bill")


class TriedSerializer(serializers.Serializer):
    """Stage by stage what would happen; nothing was sent, moved or posted."""

    pipeline = serializers.CharField()
    mail = TriedMailSerializer(allow_null=True)
    collect = TriedSourceSerializer(many=True)
    files = TriedFileSerializer(many=True)
    documents = TriedDocumentSerializer(many=True)


class PipelineTry(views.APIView):
    """A pipeline tried."""

    writes = Scope.WORK
    parser_classes = [parsers.MultiPartParser, parsers.JSONParser]

    @extend_schema(request=TryInputSerializer, responses=TriedSerializer)
    def post(self, request: Request) -> Response:
        """Nothing is stored, sent, moved or posted; a mail on a server is only looked at."""
        form = TryInputSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        data = form.validated_data
        wish = _wish(data)
        found = _tried(wish, data)
        return Response(TriedSerializer({"pipeline": wish.definition.name, **found}).data)


def _wish(data: dict[str, Any]) -> Wish:
    if data.get("text"):
        parts = _object(data.get("parts"), "parts")
        definition = check_text(PipelineText(text=data["text"], parts=parts)).definition
    elif data.get("pipeline"):
        definition = definition_of(newest(data["pipeline"]))
    else:
        raise BadInputError("say which pipeline: its name, or its text")
    return Wish(
        definition=definition,
        pictures=data.get("pictures", 0),
        until=data.get("until") or "",
        rehearse=data.get("rehearse", False),
        values=_object(data.get("known"), "known"),
        parameters={k: str(v) for k, v in _object(data.get("parameters"), "parameters").items()},
    )


def _object(value: Any, name: str) -> dict[str, Any]:
    """What a form gave for an object."""
    if value is None:
        return {}
    if not isinstance(value, dict):
        raise BadInputError(f"{name} is an object")
    return value


def _tried(wish: Wish, data: dict[str, Any]) -> dict[str, Any]:
    given = [key for key in ("file", "document", "mailbox") if data.get(key) is not None]
    if len(given) != 1:
        raise BadInputError("try it on one of: file, document, mailbox (with folder and uid)")
    if "file" in given:
        file = data["file"]
        return try_bytes(wish, str(file.name), file.read())
    if "document" in given:
        return try_document(wish, document_of(data["document"]))
    if data.get("uid") is None:
        raise BadInputError("uid says which mail: `GET /mail/peek` lists them")
    return try_from_mailbox(wish, data["mailbox"], data.get("folder") or "INBOX", data["uid"])


class PipelineSchema(views.APIView):
    """JSON Schema of the pipeline file."""

    @extend_schema(responses=OpenApiTypes.OBJECT)
    def get(self, request: Request) -> Response:
        """For editors; what is not yet available is not in it."""
        del request
        return Response(schema())


class PipelineLanguage(views.APIView):
    """Names, lists, functions and filters of the language."""

    @extend_schema(responses=OpenApiTypes.OBJECT)
    def get(self, request: Request) -> Response:
        """For completion; from the tables that everything else is made of."""
        del request
        return Response({
            "names": [
                {"name": name, "type": row.type.value, "scope": row.scope.name.lower(),
                 "ours": row.control.name == "OURS", "help": row.help, "values": list(row.values)}
                for name, row in TABLE.items()
            ],
            "lists": [
                {"name": name, "scope": row.scope.name.lower(), "help": row.help,
                 "has": {cell: kind.value for cell, kind in row.has.items()},
                 "example": row.example}
                for name, row in LISTS.items()
            ],
            "functions": [
                {"name": name, "takes": [kind.value for kind in each.takes],
                 "gives": each.gives.value, "help": each.help, "example": each.example}
                for name, each in FUNCTIONS.items()
            ],
            "filters": [
                {"name": name, "help": each.help, "example": each.example}
                for name, each in FILTERS.items()
            ],
        })  # fmt: skip
