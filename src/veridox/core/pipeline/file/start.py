"""A pipeline file to begin with."""

from importlib import resources


def starting_text(name: str) -> str:
    """A commented file for a pipeline of this name; it passes its check as it is."""
    text = resources.files("veridox.core.pipeline.file").joinpath("start.pipeline.yaml")
    return text.read_text("utf-8").replace("PIPELINE", name, 1)
