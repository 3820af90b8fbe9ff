"""Files that a plug-in reads."""

from collections.abc import Mapping
from typing import Any

from veridox.core.findings import Finding, Weight
from veridox.core.pipeline.edits import EditError, made_of
from veridox.core.reading import Reading, Source
from veridox.pluginhost.host import PluginHost, PluginStoppedError
from veridox.readerpool import ReadAnswer


def reader_of(host: PluginHost, name: str) -> str:
    """The reader for a file of this name; empty when there is none."""
    for each in host.of("reader"):
        if name.lower().endswith(tuple(each.declared["suffixes"])):
            return each.name
    return ""


def read_by_plugin(
    host: PluginHost, reader: str, content: bytes, *, name: str, sha256: str, media_type: str
) -> ReadAnswer:
    """What a plug-in reads from a file; one that fails gives a finding, as any reader does."""
    source = Source(sha256=sha256, name=name, media_type=media_type)
    try:
        readings = tuple(_reading(each, source) for each in host.read(reader, name, content))
    except (PluginStoppedError, EditError) as error:
        problems = "; ".join(
            f"{each['path']} {each['message']}" for each in getattr(error, "problems", ())
        )
        finding = Finding(
            code="plugin.failed", weight=Weight.BLOCK, about=f"plug-in {reader}",
            message=f"The plug-in {reader} could not read {name}: {problems or error}.",
            hint="Tell its developer; enter the values by hand.",
        )  # fmt: skip
        empty = Reading(source=source, kind_confidence=0.0)
        return ReadAnswer(media_type=media_type, readings=(empty,), findings=(finding,))
    return ReadAnswer(media_type=media_type, readings=readings)


def _reading(row: Mapping[str, Any], source: Source) -> Reading:
    return made_of(source, str(row["kind"]), row["fields"], row["lines"])
