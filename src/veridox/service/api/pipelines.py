"""REST views of pipelines."""

from typing import Any

from django.db.models import QuerySet
from drf_spectacular.utils import extend_schema
from rest_framework import generics, serializers, views
from rest_framework.request import Request
from rest_framework.response import Response

from veridox.service.accounts.actors import Actor
from veridox.service.accounts.models import Scope
from veridox.service.pipelines.actions.publish import check_text, missing_around, publish
from veridox.service.pipelines.models import Pipeline, PipelineVersion
from veridox.service.pipelines.queries import newest
from veridox.service.web.pages import KeysetPages


class VersionSerializer(serializers.ModelSerializer):
    """A published version."""

    pipeline = serializers.CharField(source="pipeline.name")

    class Meta:
        model = PipelineVersion
        fields = ["pipeline", "number", "text", "sha256", "published_at", "published_by"]
        read_only_fields = fields


class PipelineSerializer(serializers.ModelSerializer):
    """A pipeline with its newest version."""

    version = serializers.SerializerMethodField()

    class Meta:
        model = Pipeline
        fields = ["name", "title", "paused", "version"]
        read_only_fields = fields

    def get_version(self, pipeline: Pipeline) -> int:
        """Number of the newest version."""
        return int(newest(pipeline.name).number)


class PipelineTextSerializer(serializers.Serializer):
    """A pipeline file."""

    text = serializers.CharField(max_length=200_000, trim_whitespace=False)


class CheckedSerializer(serializers.Serializer):
    """A file without problems; `absent` says what is not set up here yet."""

    pipeline = serializers.CharField()
    title = serializers.CharField()
    absent = serializers.ListField(child=serializers.CharField())


class PipelineList(generics.ListAPIView):
    """Pipelines; publishing by POST."""

    serializer_class = PipelineSerializer
    pagination_class = KeysetPages
    orderings = ("id", "name")
    usual_ordering = "name"
    queryset = Pipeline.objects.all()
    writes = Scope.ADMIN

    @extend_schema(request=PipelineTextSerializer, responses={201: VersionSerializer})
    def post(self, request: Request) -> Response:
        """Publish a file as the next version; the same text again changes nothing."""
        form = PipelineTextSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        version = publish(Actor.of(request.user), form.validated_data["text"])
        return Response(VersionSerializer(version).data, status=201)


class PipelineCheck(views.APIView):
    """A pipeline file checked without publishing it."""

    @extend_schema(request=PipelineTextSerializer, responses=CheckedSerializer)
    def post(self, request: Request) -> Response:
        """Problems come back with line and column (422)."""
        form = PipelineTextSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        definition = check_text(form.validated_data["text"])
        absent = missing_around(definition)
        data = {"pipeline": definition.name, "title": definition.title, "absent": absent}
        return Response(CheckedSerializer(data).data)


class PipelineDetail(views.APIView):
    """A pipeline's newest version."""

    @extend_schema(responses=VersionSerializer)
    def get(self, request: Request, name: str) -> Response:
        """With its text."""
        del request
        return Response(VersionSerializer(newest(name)).data)


class PipelineVersions(generics.ListAPIView):
    """All versions of a pipeline, newest first."""

    serializer_class = VersionSerializer
    pagination_class = KeysetPages
    orderings = ("id", "number")
    usual_ordering = "-number"

    def get_queryset(self) -> QuerySet[PipelineVersion] | Any:
        """Of one pipeline."""
        name = self.kwargs.get("name", "")
        return PipelineVersion.objects.select_related("pipeline").filter(pipeline__name=name)
