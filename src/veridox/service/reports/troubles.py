"""What does not work now and is no connection. Reads only."""

from veridox.service.connections.models import Trouble
from veridox.service.pipelines.queries import not_running


def troubles() -> list[dict[str, object]]:
    """What does not work and is no connection."""
    known = [
        {"part": row.part, "problem": row.problem, "since": row.since}
        for row in Trouble.objects.order_by("part")
    ]
    pipelines = [
        {"part": f"pipeline {name}", "problem": problem, "since": None}
        for name, problem in not_running().items()
    ]
    return [*known, *pipelines]
