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
        text = pipeline.read_text("utf-8") if isinstance(pipeline, Path) else pipeline
        return Kit(definition=load(text), pool=veridox_pool, host=host, **more)  # type: ignore[arg-type]

    yield make
    for host in hosts:
        host.close()
