"""What is known before a document is read."""

from dataclasses import dataclass


@dataclass(frozen=True, kw_only=True, slots=True)
class KnownParty:
    """One of our own companies, which is the buyer and never the seller."""

    name: str
    tax_id: str = ""


@dataclass(frozen=True, kw_only=True, slots=True)
class Hints:
    """What the pipeline knows.

    Attributes:
        buyers: our entities.
    """

    buyers: tuple[KnownParty, ...] = ()
