"""What checks know beside the reading, and the port by which it is gathered."""

from veridox.core.facts.companies import (
    ClosedPeriod,
    EntityChoice,
    EntityMatch,
    EntityRecord,
    choose_entity,
)
from veridox.core.facts.facts import (
    DEFAULT_NEED,
    DISCOUNT_DAYS,
    OLDEST_DAYS,
    PARTICULARS,
    RECENT_DAYS,
    STALE_DAYS,
    CardTolerance,
    CheckSettings,
    ExchangeRate,
    Facts,
    Lookalike,
    MailFact,
    Match,
    OrderTolerance,
    PrecedingBill,
)
from veridox.core.facts.gathering import Chosen, Known, gather, looks_like, orders_of, said_of
from veridox.core.facts.memory import MemoryKnown

__all__ = [
    "DEFAULT_NEED",
    "DISCOUNT_DAYS",
    "OLDEST_DAYS",
    "PARTICULARS",
    "RECENT_DAYS",
    "STALE_DAYS",
    "CardTolerance",
    "CheckSettings",
    "Chosen",
    "ClosedPeriod",
    "EntityChoice",
    "EntityMatch",
    "EntityRecord",
    "ExchangeRate",
    "Facts",
    "Known",
    "Lookalike",
    "MailFact",
    "Match",
    "MemoryKnown",
    "OrderTolerance",
    "PrecedingBill",
    "choose_entity",
    "gather",
    "looks_like",
    "orders_of",
    "said_of",
]
