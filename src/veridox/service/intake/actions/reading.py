"""Have files read: not more of a pipeline at once than it says."""

from collections import defaultdict
from collections.abc import Iterable

from veridox.core.pipeline import PipelineError
from veridox.service.intake.models import File
from veridox.service.pipelines.queries import definition_of
from veridox.service.work import defer_all


def defer_reading(files: Iterable[File]) -> None:
    """Queue their reading, in the transaction that stores them.

    Files of a pipeline that reads `n` at once are dealt to `n` locks; of one lock one is read.
    """
    by_lock: dict[str, list[dict[str, int]]] = defaultdict(list)
    for file in files:
        by_lock[_lock(file)].append({"file_id": file.pk})
    for lock, arguments in by_lock.items():
        defer_all("read", arguments, lock=lock)


def _lock(file: File) -> str:
    version = file.pipeline_version
    try:
        at_once = definition_of(version).run.at_once
    except PipelineError:
        at_once = 0
    return f"read {version.pipeline.name} {file.pk % at_once + 1}" if at_once else ""
