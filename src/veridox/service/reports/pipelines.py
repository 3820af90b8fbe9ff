"""How each pipeline fares: what it did today, what stopped it last. Reads only."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from django.db.models import Count, Max

from veridox.service.documents.models import Document, State
from veridox.service.pipelines.models import Pipeline, PipelineVersion, VersionState
from veridox.service.pipelines.queries import not_running


@dataclass(frozen=True, kw_only=True, slots=True)
class Faring:
    """One pipeline.

    Attributes:
        pipeline: with its state.
        version: that runs; None where none was let run yet.
        waiting: the version that waits for a second person.
        states: documents that came in since a moment, by where they stand now.
        last_error: of its version, or of the document that failed last.
    """

    pipeline: Pipeline
    version: PipelineVersion | None
    waiting: PipelineVersion | None
    states: dict[str, int]
    last_error: str


def faring(since: datetime, pipelines: Sequence[Pipeline]) -> list[Faring]:
    """How some pipelines fare; documents are counted from a moment on."""
    newest = {
        (row["pipeline"], row["state"]): row["newest"]
        for row in PipelineVersion.objects.filter(pipeline__in=pipelines)
        .values("pipeline", "state").annotate(newest=Max("pk"))
    }  # fmt: skip
    versions = PipelineVersion.objects.in_bulk(newest.values())
    states = _states(since)
    refused, failed = not_running(), _last_failed()
    return [
        Faring(
            pipeline=each,
            version=versions.get(newest.get((each.pk, VersionState.PUBLISHED))),
            waiting=versions.get(newest.get((each.pk, VersionState.WAITING))),
            states=states.get(each.pk, {}),
            last_error=refused.get(each.name, "") or failed.get(each.pk, ""),
        )
        for each in pipelines
    ]


def _states(since: datetime) -> dict[int, dict[str, int]]:
    rows = (
        Document.objects.filter(received_at__gte=since)
        .values("pipeline_version__pipeline", "state")
        .annotate(count=Count("pk"))
        .order_by("state")
    )
    found: dict[int, dict[str, int]] = {}
    for row in rows:
        found.setdefault(row["pipeline_version__pipeline"], {})[row["state"]] = row["count"]
    return found


def _last_failed() -> dict[int, str]:
    """Of each pipeline, why the document stopped that failed last and still does."""
    rows = (
        Document.objects.filter(state=State.FAILED)
        .order_by("pipeline_version__pipeline", "-pk")
        .distinct("pipeline_version__pipeline")
        .values_list("pipeline_version__pipeline", "pk", "reasons")
    )
    return {
        pipeline: f"document {pk}: {' '.join(str(each) for each in reasons)}"
        for pipeline, pk, reasons in rows
    }
