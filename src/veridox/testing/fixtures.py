"""The fixtures."""

from collections.abc import Callable, Iterator, Sequence
from pathlib import Path

import pytest

from veridox.core.pipeline import load
from veridox.pluginhost import PluginHost
from veridox.readerpool import ReaderPool
from veridox.testing.kit import Kit


@pytest.fixture(scope="session")
def veridox_pool() -> Iterator[ReaderPool]:
    """Readers for the whole suite: processes that are kept warm."""
    with ReaderPool(size=1) as pool:
        yield pool


def _said(pipeline: str | Path) -> tuple[str, dict[str, str]]:
    """A pipeline's text, and the shared parts that lie beside its file."""
    if isinstance(pipeline, str):
        return pipeline, {}
    beside = pipeline.parent.glob("*.shared.yaml")
    parts = {each.name.removesuffix(".shared.yaml"): each.read_text("utf-8") for each in beside}
    return pipeline.read_text("utf-8"), parts


@pytest.fixture
def veridox_kit(veridox_pool: ReaderPool) -> Iterator[Callable[..., Kit]]:
    """Makes kits: `veridox_kit(text_or_path, plugins=["my-package"])`.

    A pipeline with problems raises PipelineError; a plug-in that cannot be loaded, ValueError.
    """
    hosts: list[PluginHost] = []

    def make(pipeline: str | Path, *, plugins: Sequence[str] = (), **more: object) -> Kit:
        host = None
        if plugins:
            host = PluginHost(plugins, size=1)
            hosts.append(host)
            wrong = [f"{each.name}: {each.problem}" for each in host.plugins if each.problem]
            if wrong:
                raise ValueError("; ".join(wrong))
            host.add_functions()
        definition = load(*_said(pipeline))
        return Kit(definition=definition, pool=veridox_pool, host=host, **more)  # type: ignore[arg-type]

    yield make
    for host in hosts:
        host.close()
