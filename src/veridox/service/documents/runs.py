"""What came in during a run, and where it stands. Reads only."""

from typing import Final

from django.db.models import Count, Q

from veridox.core.pipeline import ENDED, WITH_PEOPLE, State
from veridox.service.documents.models import Document
from veridox.service.intake.models import File, FileState, Message
from veridox.service.pipelines.models import PipelineRun

ON_ITS_WAY: Final = (State.RECEIVED, State.READ, State.CHECKED, State.CLEARED)


def settled(run: PipelineRun) -> bool:
    """Whether everything of a run waits for people or has ended."""
    if File.objects.filter(run=run, state=FileState.RECEIVED).exists():
        return False
    return not Document.objects.filter(file__run=run, state__in=ON_ITS_WAY).exists()


def counts_of(run: PipelineRun) -> dict[str, int]:
    """What came in during a run, and where it stands."""
    states = dict(
        Document.objects.filter(file__run=run).values_list("state").annotate(count=Count("pk"))
    )
    files = File.objects.filter(run=run).aggregate(
        all=Count("pk"), failed=Count("pk", filter=Q(state=FileState.FAILED)),
        under_way=Count("pk", filter=Q(state=FileState.RECEIVED)),
    )  # fmt: skip

    def of(*wanted: State) -> int:
        return sum(states.get(state, 0) for state in wanted)

    return {
        "mails": Message.objects.filter(run=run).count(),
        "files": files["all"],
        "documents": sum(states.values()),
        "posted": of(State.POSTED),
        "with_people": of(*WITH_PEOPLE),
        "failed": of(State.FAILED) + files["failed"],
        "ended": of(*(state for state in ENDED if state is not State.POSTED)),
        "under_way": of(*ON_ITS_WAY) + files["under_way"],
    }
