"""What does not work now and is no connection. Reads only."""

from veridox.service import wiring
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
    host = wiring.plugin_host()
    broken = [
        {"part": f"plug-in {each.name}", "problem": each.problem, "since": None}
        for each in (host.plugins if host else ())
        if each.problem
    ]
    return [*known, *pipelines, *broken]
