"""Published pipelines as definitions."""

import logging
from functools import lru_cache

from veridox.core.pipeline import Collect, Definition, PipelineError, load
from veridox.service.errors import NotThereError
from veridox.service.pipelines.models import Pipeline, PipelineVersion

log = logging.getLogger(__name__)


@lru_cache(maxsize=256)
def _loaded(version_id: int) -> Definition:
    # Versions never change, so a definition can be kept by its version's id.
    return load(PipelineVersion.objects.get(pk=version_id).text)


def definition_of(version: PipelineVersion) -> Definition:
    """The definition of a published version."""
    return _loaded(version.pk)


def newest(name: str) -> PipelineVersion:
    """The newest version of a pipeline. Raises NotThereError."""
    version = (
        PipelineVersion.objects.select_related("pipeline")
        .filter(pipeline__name=name)
        .order_by("-number")
        .first()
    )
    if version is None:
        known = ", ".join(Pipeline.objects.values_list("name", flat=True)[:20]) or "none"
        raise NotThereError(f"there is no pipeline {name!r}; published are: {known}")
    return version


def _running() -> tuple[list[tuple[PipelineVersion, Definition]], dict[str, str]]:
    """Newest versions of pipelines that are not paused, and what is wrong with the others.

    A version that was published before a rule of the language became stricter may not pass
    any more: it collects nothing, and keeps no other pipeline from it.
    """
    good, wrong = [], {}
    for pipeline in Pipeline.objects.order_by("name"):
        version = newest(pipeline.name)
        try:
            definition = definition_of(version)
            if not pipeline.paused:
                good.append((version, definition))
        except PipelineError as error:
            log.warning("pipeline %s, version %s: %s", pipeline.name, version.number, error)
            wrong[pipeline.name] = (
                f"version {version.number} does not pass its check any more ({error}); it collects "
                "nothing until a corrected one is published"
            )
    return good, wrong


def not_running() -> dict[str, str]:
    """Pipelines whose newest version cannot run, with the reason."""
    return _running()[1]


def _collects() -> list[tuple[PipelineVersion, Collect]]:
    return [
        (version, collect)
        for version, definition in _running()[0]
        for collect in definition.collect
    ]


def sources() -> list[tuple[PipelineVersion, Collect]]:
    """Every mailbox folder that a running pipeline watches, by its newest version."""
    return [(version, collect) for version, collect in _collects() if collect.mailbox]


def directories() -> list[tuple[PipelineVersion, Collect]]:
    """Every directory that a running pipeline watches, by its newest version."""
    return [(version, collect) for version, collect in _collects() if collect.watch]


def watched_directory(name: str, watch: str) -> tuple[PipelineVersion, Collect] | None:
    """One watched directory of a pipeline, None when it is no longer watched."""
    for version, collect in directories():
        if (version.pipeline.name, collect.watch) == (name, watch):
            return version, collect
    return None


def collect_of(version: PipelineVersion, mailbox: str = "", folder: str = "") -> Collect:
    """The part of a version that collects from a place; its usual settings for handed-in files."""
    for collect in definition_of(version).collect:
        if mailbox and (collect.mailbox, collect.folder) == (mailbox, folder):
            return collect
    return next(iter(definition_of(version).collect), Collect())


def source(name: str, mailbox: str, folder: str) -> tuple[PipelineVersion, Collect] | None:
    """One watched folder of a pipeline, None when it is paused or no longer watches it."""
    for version, collect in sources():
        if (version.pipeline.name, collect.mailbox, collect.folder) == (name, mailbox, folder):
            return version, collect
    return None
