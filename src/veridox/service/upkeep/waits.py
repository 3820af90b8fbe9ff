"""Documents that have waited long: whoever is to be told is told, then they go to the desk."""

from datetime import timedelta

from django.db.models import F, Q, QuerySet
from django.utils import timezone

from veridox.core.pipeline import PipelineError
from veridox.service.documents.models import Document, State
from veridox.service.flow.actions.waiting import end_waiting, remind
from veridox.service.pipelines.models import PipelineVersion
from veridox.service.pipelines.queries import definition_of

AT_ONCE = 500
"""Documents of one pipeline version that are looked at in one round."""


def tend_waits() -> None:
    """Once a round for every pipeline version that something waits under."""
    waiting = Document.objects.filter(state=State.WAITING)
    versions = waiting.order_by().values("pipeline_version").distinct()
    for version in PipelineVersion.objects.filter(pk__in=versions).order_by("pk"):
        try:
            wait = definition_of(version).wait
        except PipelineError:
            continue  # a version that does not pass its check any more says nothing
        own = waiting.filter(pipeline_version=version).order_by("state_at")
        if wait.at_most is not None:
            for pk in _since(own, wait.at_most):
                end_waiting(pk, wait.at_most)
        if wait.tell_after is not None:
            untold = own.filter(Q(reminded_at=None) | Q(reminded_at__lt=F("state_at")))
            for pk in _since(untold, wait.tell_after):
                remind(pk, wait.tell_after)


def _since(rows: QuerySet[Document], days: int) -> list[int]:
    before = timezone.now() - timedelta(days=days)
    return list(rows.filter(state_at__lte=before).values_list("pk", flat=True)[:AT_ONCE])
