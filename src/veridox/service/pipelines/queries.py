"""Published pipelines as definitions."""

import logging
from functools import lru_cache

from veridox.core.pipeline import Collect, Definition, PipelineError, load
from veridox.service.errors import NotThereError
from veridox.service.pipelines.models import Pipeline, PipelineVersion, VersionState

log = logging.getLogger(__name__)


@lru_cache(maxsize=256)
def _loaded(version_id: int) -> Definition:
    # Versions never change, so a definition can be kept by its version's id.
    version = PipelineVersion.objects.get(pk=version_id)
    return load(version.text, version.parts, version.values)


def definition_of(version: PipelineVersion) -> Definition:
    """The definition of a published version."""
    return _loaded(version.pk)


def newest(name: str) -> PipelineVersion:
    """The version of a pipeline that runs: the newest that waits for nobody.

    Raises:
        NotThereError: there is no such pipeline, or it has no version that runs.
    """
    version = (
        PipelineVersion.objects.select_related("pipeline")
        .filter(pipeline__name=name, pipeline__removed_at=None, state=VersionState.PUBLISHED)
        .order_by("-number")
        .first()
    )
    if version is None:
        raise NotThereError(f"there is no pipeline {name!r}; published are: {_known()}")
    return version


def _known() -> str:
    rows = Pipeline.objects.filter(removed_at=None).order_by("name")
    return ", ".join(rows.values_list("name", flat=True)[:20]) or "none"


def pipeline_named(name: str) -> Pipeline:
    """A pipeline that was not removed. Raises NotThereError."""
    pipeline = Pipeline.objects.filter(name=name, removed_at=None).first()
    if pipeline is None:
        raise NotThereError(f"there is no pipeline {name!r}; published are: {_known()}")
    return pipeline


def version_numbered(name: str, number: int) -> PipelineVersion:
    """One version of a pipeline. Raises NotThereError."""
    rows = PipelineVersion.objects.select_related("pipeline").filter(pipeline__name=name)
    version = rows.filter(number=number).first()
    if version is None:
        pipeline_named(name)
        raise NotThereError(f"pipeline {name} has no version {number}")
    return version


def running_versions() -> list[PipelineVersion]:
    """The version that runs of every pipeline, paused ones too, by name."""
    rows = (
        PipelineVersion.objects.select_related("pipeline")
        .filter(pipeline__removed_at=None, state=VersionState.PUBLISHED)
        .order_by("pipeline__name", "-number")
        .distinct("pipeline__name")
    )
    return list(rows)


def waiting_versions() -> list[PipelineVersion]:
    """Versions that wait for a second person, oldest first."""
    rows = PipelineVersion.objects.select_related("pipeline").filter(state=VersionState.WAITING)
    return list(rows.defer("text", "parts").order_by("pk"))


def _running() -> tuple[list[tuple[PipelineVersion, Definition]], dict[str, str]]:
    """Newest versions of pipelines that are not paused, and what is wrong with the others.

    A version that was published before a rule of the language became stricter may not pass
    any more: it collects nothing, and keeps no other pipeline from it.
    """
    good, wrong = [], {}
    for version in running_versions():
        pipeline = version.pipeline
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


def running() -> list[tuple[PipelineVersion, Definition]]:
    """Versions that run, of pipelines that are not paused."""
    return _running()[0]


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
