"""What was looked at when a document went on. Reads only."""

from typing import Any

from veridox.core.pipeline.stages.desk import ALREADY
from veridox.core.pipeline.trace import from_json, shown
from veridox.service.documents.models import Document
from veridox.service.flow.models import Walk


def conditions_seen(document: Document) -> list[str]:
    """What the desk's gate looked at when the document stopped there, as sentences."""
    last = document.walks.order_by("-pk").first()
    steps = from_json(last.trace) if last is not None else ()
    lines = (line for step in steps if step.stage == "desk" for line in step.looked)
    return [line.removesuffix(ALREADY) for line in lines]


def why(document: Document) -> list[dict[str, Any]]:
    """Every walk of a document, newest first, with its steps."""
    rows = document.walks.select_related("pipeline_version__pipeline").order_by("-pk")
    return [_shown(row) for row in rows]


def _shown(row: Walk) -> dict[str, Any]:
    version = row.pipeline_version
    return {
        "at": row.made_at,
        "by": row.by,
        "before": row.before,
        "state": row.state,
        "reading_version": row.reading,
        "pipeline": version.pipeline.name,
        "pipeline_version": version.number,
        "steps": shown(from_json(row.trace)),
    }
