"""What is known before a document is read."""

from dataclasses import dataclass

from veridox.core.reading import ExtraField


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
        extra: fields that its developer declared.
    """

    buyers: tuple[KnownParty, ...] = ()
    extra: tuple[ExtraField, ...] = ()
