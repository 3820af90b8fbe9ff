"""Gather the facts about a document by asking for them, whoever answers."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Protocol

from veridox.core.facts.facts import (
    CheckSettings,
    EntityChoice,
    EntityRecord,
    Facts,
    choose_entity,
)
from veridox.core.findings import Finding
from veridox.core.matching import (
    EarlierDocument,
    OrderRecord,
    VendorChoice,
    VendorRecord,
    choose_vendor,
)
from veridox.core.reading import Reading

SAID_OF = {"vendor": ("seller.name", "seller.tax_id"), "entity": ("buyer.name", "buyer.tax_id")}
"""The values that a person's choice was made on; with others it does not hold."""


class Known(Protocol):
    """Who knows: the service's database, or a double in memory. It answers for one document."""

    def vendor(self, code: str) -> VendorRecord | None:
        """The vendor of a code."""
        ...

    def vendors_like(self, reading: Reading) -> Sequence[VendorRecord]:
        """Vendors that may be meant by a reading: those of its tax id, those of similar names."""
        ...

    def entities(self) -> Sequence[EntityRecord]:
        """Our companies that the pipeline works for, by code."""
        ...

    def order(self, stated: str) -> OrderRecord | None:
        """The order of a number as it is stated, with what other documents billed on it."""
        ...

    def earlier(self, reading: Reading, vendor: VendorRecord) -> Sequence[EarlierDocument]:
        """Documents with the same vendor, kind, number and year that came first."""
        ...

    def earlier_near(self, reading: Reading, vendor: VendorRecord) -> Sequence[EarlierDocument]:
        """The same with a number that differs in its separators only."""
        ...

    def number_taken(self, reading: Reading, vendor: VendorRecord) -> bool:
        """Whether another document has the right to post this number."""
        ...


@dataclass(frozen=True, kw_only=True, slots=True)
class Chosen:
    """What a person said the seller (`vendor`) or the buyer (`entity`) is.

    Attributes:
        code: of the master data.
        said: what the reading said of it then (`said_of`).
    """

    code: str
    said: Mapping[str, str]


def said_of(reading: Reading, what: str) -> dict[str, str]:
    """What a reading says of the seller (`vendor`) or the buyer (`entity`), for a choice."""
    return {name: reading.text(name) or "" for name in SAID_OF[what]}


def gather(
    known: Known,
    reading: Reading,
    *,
    settings: CheckSettings,
    chosen: Mapping[str, Chosen],
    file_findings: tuple[Finding, ...] = (),
    arrived: date | None = None,
) -> Facts:
    """All facts about a document as they stand now.

    Args:
        known: who knows.
        reading: of the document.
        settings: of its pipeline's checks.
        chosen: by `vendor` and `entity`, what a person said they are; a choice holds as
            long as the reading says what it said then.
        file_findings: of the reader.
        arrived: the day (UTC) on which it came in.

    It asks for the vendor first, then for the order, then for earlier documents: whoever
    answers may lock in this order.
    """
    code = _holds(chosen, reading, "vendor")
    seller = _seller(known, reading, code)
    vendor = seller.vendor
    earlier = tuple(known.earlier(reading, vendor)) if vendor else ()
    near = tuple(known.earlier_near(reading, vendor)) if vendor else ()
    taken = known.number_taken(reading, vendor) if vendor else False
    stated = reading.text("order_number")
    order = known.order(stated) if stated else None
    buyer = _buyer(known, reading, order, _holds(chosen, reading, "entity"))
    return Facts(
        reading=reading,
        file_findings=file_findings,
        entity=buyer.entity,
        entity_contradiction=buyer.contradiction,
        vendor=vendor,
        vendor_chosen=bool(code),
        vendor_contradiction=seller.contradiction,
        near_vendors=seller.near,
        order=order,
        earlier=earlier,
        earlier_near=near,
        number_taken=taken,
        arrived=arrived,
        settings=settings,
    )


def _holds(chosen: Mapping[str, Chosen], reading: Reading, what: str) -> str:
    """The code that a person chose, as long as the bill says what it said then; else empty."""
    choice = chosen.get(what)
    return choice.code if choice and choice.said == said_of(reading, what) else ""


def _seller(known: Known, reading: Reading, code: str) -> VendorChoice:
    vendor = known.vendor(code) if code else None
    if vendor is not None:
        return VendorChoice(vendor=vendor)
    return choose_vendor(reading, known.vendors_like(reading))


def _buyer(known: Known, reading: Reading, order: OrderRecord | None, code: str) -> EntityChoice:
    ours = known.entities()
    for each in ours:
        if code and each.code == code:
            return EntityChoice(entity=each)
    return choose_entity(reading, ours, order)
