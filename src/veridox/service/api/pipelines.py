"""REST views of pipelines: thin."""

import difflib
from datetime import datetime
from typing import Any

from django.db.models import QuerySet
from django.utils import timezone
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import generics, views
from rest_framework.request import Request
from rest_framework.response import Response

from veridox.core.pipeline import Definition, PipelineError
from veridox.core.pipeline.compare import Difference, differences
from veridox.service.accounts.actors import Actor
from veridox.service.accounts.models import Scope
from veridox.service.api.pipeline_shapes import (
    ChangeSerializer,
    CheckedSerializer,
    ComparedSerializer,
    NewNameSerializer,
    PipelineReasonSerializer,
    PipelineRunInputSerializer,
    PipelineRunSerializer,
    PipelineSerializer,
    PipelineTextSerializer,
    RefusalReasonSerializer,
    VersionRowSerializer,
    VersionSerializer,
)
from veridox.service.api.shown import IDEMPOTENCY, body_of
from veridox.service.errors import BadInputError, NotThereError, WrongStateError
from veridox.service.pipelines.actions.pause import pause, resume
from veridox.service.pipelines.actions.publish import (
    accept_version,
    bring_back,
    copy,
    publish,
    refuse_version,
    remove,
)
from veridox.service.pipelines.actions.runs import begin_run
from veridox.service.pipelines.checking import (
    check_text,
    missing_around,
    overlapping,
    problem_json,
)
from veridox.service.pipelines.models import Pipeline, PipelineRun, PipelineVersion, VersionState
from veridox.service.pipelines.queries import (
    definition_of,
    newest,
    pipeline_named,
    version_numbered,
)
from veridox.service.reports.pipelines import faring
from veridox.service.web.idempotency import once
from veridox.service.web.pages import KeysetPages


def _midnight() -> datetime:
    return timezone.localtime().replace(hour=0, minute=0, second=0, microsecond=0)


def _shown(name: str) -> Response:
    """A pipeline as the list shows it."""
    return Response(PipelineSerializer(faring(_midnight(), [pipeline_named(name)])[0]).data)


class PipelineList(generics.ListAPIView):
    """Pipelines with what each did today; publishing by POST."""

    serializer_class = PipelineSerializer
    pagination_class = KeysetPages
    orderings = ("id", "name")
    usual_ordering = "name"
    queryset = Pipeline.objects.filter(removed_at=None)
    writes = Scope.ADMIN

    def list(self, request: Request, *args: Any, **more: Any) -> Response:
        """A page of them."""
        del request, args, more
        page = self.paginate_queryset(self.filter_queryset(self.get_queryset()))
        rows = faring(_midnight(), page or [])
        return self.get_paginated_response(PipelineSerializer(rows, many=True).data)

    @extend_schema(request=PipelineTextSerializer, responses={201: VersionSerializer})
    def post(self, request: Request) -> Response:
        """Publish a file as the next version; the same text again changes nothing.

        One that loosens what the version before stopped waits for a second person.
        """
        form = PipelineTextSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        version = publish(Actor.of(request.user), form.file())
        return Response(VersionSerializer(version).data, status=201)


class PipelineCheck(views.APIView):
    """A pipeline file checked without publishing it."""

    writes = Scope.READ

    @extend_schema(request=PipelineTextSerializer, responses=CheckedSerializer)
    def post(self, request: Request) -> Response:
        """Problems come back with line and column (422)."""
        form = PipelineTextSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        checked = check_text(form.file())
        definition = checked.definition
        data = {
            "pipeline": definition.name,
            "title": definition.title,
            "absent": missing_around(definition),
            "warnings": [problem_json(each) for each in checked.warnings],
            "around": overlapping(definition),
            "changes": ChangeSerializer(_to_what_runs(definition), many=True).data,
        }
        return Response(CheckedSerializer(data).data)


def _to_what_runs(definition: Definition) -> tuple[Difference, ...]:
    try:
        return differences(definition_of(newest(definition.name)), definition)
    except (NotThereError, PipelineError):
        return ()


class PipelineDetail(views.APIView):
    """The version of a pipeline that runs."""

    @extend_schema(responses=VersionSerializer)
    def get(self, request: Request, name: str) -> Response:
        """With its text."""
        del request
        return Response(VersionSerializer(newest(name)).data)


def _known(name: str) -> str:
    """The name of a pipeline that is or was there. Raises NotThereError."""
    if name and not Pipeline.objects.filter(name=name).exists():
        pipeline_named(name)  # says so, with those there are
    return name


class PipelineVersions(generics.ListAPIView):
    """All versions of a pipeline, newest first."""

    serializer_class = VersionRowSerializer
    pagination_class = KeysetPages
    orderings = ("id", "number")
    usual_ordering = "-number"

    def get_queryset(self) -> QuerySet[PipelineVersion] | Any:
        """Of one pipeline, also of one that was removed."""
        name = _known(self.kwargs.get("name", ""))
        rows = PipelineVersion.objects.select_related("pipeline").filter(pipeline__name=name)
        return rows.defer("text", "parts")


class PipelineVersionDetail(views.APIView):
    """One version of a pipeline."""

    @extend_schema(responses=VersionSerializer)
    def get(self, request: Request, name: str, number: int) -> Response:
        """With its text."""
        del request
        return Response(VersionSerializer(version_numbered(name, number)).data)


class PipelineCompare(views.APIView):
    """Two versions of a pipeline compared."""

    @extend_schema(
        responses=ComparedSerializer,
        parameters=[
            OpenApiParameter(
                "before", int, description="the one before that which runs by default"
            ),
            OpenApiParameter("after", int, description="the one that waits or runs by default"),
        ],
    )
    def get(self, request: Request, name: str) -> Response:
        """By meaning, and line by line."""
        after = self._version(request, name, "after") or self._last(name)
        before = self._version(request, name, "before")
        if before is None:
            rows = PipelineVersion.objects.filter(
                pipeline=after.pipeline, number__lt=after.number, state=VersionState.PUBLISHED
            )
            before = rows.order_by("-number").first()
        if before is None:
            raise WrongStateError(f"version {after.number} of {name} is the first one")
        data = {
            "pipeline": name,
            "before": before.number,
            "after": after.number,
            "changes": _between(before, after),
            "lines": list(difflib.unified_diff(
                before.text.splitlines(), after.text.splitlines(), f"version {before.number}",
                f"version {after.number}", lineterm="",
            )),
        }  # fmt: skip
        return Response(ComparedSerializer(data).data)

    @staticmethod
    def _last(name: str) -> PipelineVersion:
        """The one that waits for a second person, else the one that runs."""
        waiting = PipelineVersion.objects.select_related("pipeline").filter(
            pipeline__name=name, state=VersionState.WAITING
        )
        return waiting.order_by("-number").first() or newest(name)

    @staticmethod
    def _version(request: Request, name: str, key: str) -> PipelineVersion | None:
        text = request.query_params.get(key)
        if not text:
            pipeline_named(name)
            return None
        if not text.isdigit():
            raise BadInputError(f"{key} is the number of a version, not {text!r}")
        return version_numbered(name, int(text))


def _between(before: PipelineVersion, after: PipelineVersion) -> tuple[Difference, ...]:
    try:
        return differences(definition_of(before), definition_of(after))
    except PipelineError as error:
        raise WrongStateError(
            f"a version does not pass its check any more and cannot be compared by meaning: {error}"
        ) from error


class _Act(views.APIView):
    """An act on a pipeline or one of its versions."""

    writes = Scope.ADMIN


class PipelinePause(_Act):
    """Collect nothing until it is resumed."""

    @extend_schema(request=PipelineReasonSerializer, responses=PipelineSerializer)
    def post(self, request: Request, name: str) -> Response:
        """What came in already goes on."""
        form = PipelineReasonSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        pause(Actor.of(request.user), name, form.validated_data.get("reason", ""))
        return _shown(name)


class PipelineResume(_Act):
    """Collect again."""

    @extend_schema(request=None, responses=PipelineSerializer)
    def post(self, request: Request, name: str) -> Response:
        """Of a pipeline that was paused."""
        resume(Actor.of(request.user), name)
        return _shown(name)


class PipelineCopy(_Act):
    """The same under another name."""

    @extend_schema(request=NewNameSerializer, responses={201: VersionSerializer})
    def post(self, request: Request, name: str) -> Response:
        """It begins paused: both would collect the same."""
        form = NewNameSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        version = copy(Actor.of(request.user), name, form.validated_data["name"])
        return Response(VersionSerializer(version).data, status=201)


class PipelineRemove(_Act):
    """Take a pipeline out of use."""

    @extend_schema(request=PipelineReasonSerializer, responses={204: None})
    def post(self, request: Request, name: str) -> Response:
        """Its versions stay with their documents."""
        form = PipelineReasonSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        remove(Actor.of(request.user), name, form.validated_data.get("reason", ""))
        return Response(status=204)


class VersionAccept(_Act):
    """Let a version run that waits for a second person."""

    @extend_schema(request=PipelineReasonSerializer, responses=VersionSerializer)
    def post(self, request: Request, name: str, number: int) -> Response:
        """By somebody else than who published it."""
        form = PipelineReasonSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        reason = form.validated_data.get("reason", "")
        version = accept_version(Actor.of(request.user), name, number, reason)
        return Response(VersionSerializer(version).data)


class VersionRefuse(_Act):
    """Say no to a version that waits for a second person."""

    @extend_schema(request=RefusalReasonSerializer, responses=VersionSerializer)
    def post(self, request: Request, name: str, number: int) -> Response:
        """It never runs; its text stays."""
        form = RefusalReasonSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        reason = form.validated_data["reason"]
        version = refuse_version(Actor.of(request.user), name, number, reason)
        return Response(VersionSerializer(version).data)


class VersionBringBack(_Act):
    """Publish an older version again."""

    @extend_schema(request=None, responses={201: VersionSerializer})
    def post(self, request: Request, name: str, number: int) -> Response:
        """As the newest; one that loosens waits for a second person."""
        version = bring_back(Actor.of(request.user), name, number)
        return Response(VersionSerializer(version).data, status=201)


class PipelineRuns(generics.ListAPIView):
    """Runs of a pipeline, newest first; one more by POST."""

    serializer_class = PipelineRunSerializer
    pagination_class = KeysetPages
    orderings = ("id",)
    usual_ordering = "-id"
    writes = Scope.WORK

    def get_queryset(self) -> QuerySet[PipelineRun] | Any:
        """Of one pipeline, also of one that was removed."""
        name = _known(self.kwargs.get("name", ""))
        return PipelineRun.objects.select_related("pipeline", "version").filter(pipeline__name=name)

    @extend_schema(
        request=PipelineRunInputSerializer, responses={201: PipelineRunSerializer},
        parameters=[IDEMPOTENCY],
    )  # fmt: skip
    def post(self, request: Request, name: str) -> Response:
        """Look through all its places now, with what is said for this run."""
        form = PipelineRunInputSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        said = form.validated_data.get("parameters") or {}

        def act() -> Response:
            run = begin_run(Actor.of(request.user), name, said)
            return Response(PipelineRunSerializer(run).data, status=201)

        return once(request, body_of(request), act)


class PipelineRunDetail(views.APIView):
    """One run of a pipeline."""

    @extend_schema(responses=PipelineRunSerializer)
    def get(self, request: Request, name: str, pk: int) -> Response:
        """With its counts as they are now, until it has ended."""
        del request
        rows = PipelineRun.objects.select_related("pipeline", "version")
        run = rows.filter(pipeline__name=name, pk=pk).first()
        if run is None:
            raise NotThereError(f"pipeline {name} has no run {pk}")
        return Response(PipelineRunSerializer(run).data)
