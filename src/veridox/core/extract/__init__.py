"""Pages to readings. First version: labels, places and arithmetic, English and German."""

from veridox.core.extract.assemble import extract
from veridox.core.extract.hints import Hints, KnownParty

__all__ = ["Hints", "KnownParty", "extract"]
