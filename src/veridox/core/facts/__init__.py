"""What checks know beside the reading, and the port by which it is gathered."""

from veridox.core.facts.facts import (
    DEFAULT_NEED,
    OLDEST_DAYS,
    CheckSettings,
    EntityChoice,
    EntityRecord,
    Facts,
    OrderTolerance,
    choose_entity,
)
from veridox.core.facts.gathering import Chosen, Known, gather, said_of
from veridox.core.facts.memory import MemoryKnown

__all__ = [
    "DEFAULT_NEED",
    "OLDEST_DAYS",
    "CheckSettings",
    "Chosen",
    "EntityChoice",
    "EntityRecord",
    "Facts",
    "Known",
    "MemoryKnown",
    "OrderTolerance",
    "choose_entity",
    "gather",
    "said_of",
]
