"""What checks look at: plain values, gathered by whoever calls them."""

from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal

from rapidfuzz import fuzz

from veridox.core.findings import Finding, Weight
from veridox.core.matching import (
    EarlierDocument,
    OrderRecord,
    VendorMatch,
    VendorRecord,
    name_key,
    same_tax_id,
    tax_key,
)
from veridox.core.reading import Kind, Reading

DEFAULT_NEED = ("number", "issue_date", "seller.name", "currency", "gross_total")
OLDEST_DAYS = 730
"""Days after which a bill's issue date is one of long ago, where the pipeline says nothing."""


@dataclass(frozen=True, kw_only=True, slots=True)
class OrderTolerance:
    """How far bills may exceed an order's net total; the narrower limit counts.

    Attributes:
        percent: of the order's net total.
        amount: in the order's currency, None for no limit of its own.
        charges: most of freight and other charges that the order does not name.
    """

    percent: Decimal = Decimal(0)
    amount: Decimal | None = None
    charges: Decimal = Decimal(0)


@dataclass(frozen=True, kw_only=True, slots=True)
class CheckSettings:
    """The pipeline's choices; defaults are the safe ones.

    Attributes:
        kinds: kinds of document that this pipeline posts.
        totals_within: minor units by which sums may be off.
        need: fields that must be stated.
        order_total: tolerance over the order's total.
        oldest_days: days between issue and arrival from which a bill is an old one.
        weights: other weights for codes, where the pipeline sets them.
    """

    kinds: frozenset[Kind] = frozenset({Kind.INVOICE, Kind.CREDIT_NOTE})
    totals_within: int = 0
    need: tuple[str, ...] = DEFAULT_NEED
    order_total: OrderTolerance = OrderTolerance()
    oldest_days: int = OLDEST_DAYS
    weights: dict[str, Weight] = field(default_factory=dict)


@dataclass(frozen=True, kw_only=True, slots=True)
class EntityRecord:
    """One of our own companies."""

    code: str
    name: str
    tax_id: str = ""


@dataclass(frozen=True, kw_only=True, slots=True)
class Facts:
    """Everything known when a document is checked.

    Attributes:
        reading: what was read.
        file_findings: of the reader, on the file and its pages.
        entity: ours that is billed, None when unclear.
        entity_contradiction: both sides, where what is said of the buyer does not go together.
        vendor: None when unknown or unclear.
        vendor_contradiction: the same of the seller.
        vendor_chosen: whether a person said which vendor it is.
        near_vendors: candidates with evidence, best first.
        order: the order named, None when none is named or known.
        earlier: documents with the same vendor, kind, number and year.
        earlier_near: those whose number differs in separators only.
        number_taken: whether another document has the right to post this number.
        arrived: the day (UTC) on which the document came in; None when not known.
        settings: the pipeline's choices.
    """

    reading: Reading
    file_findings: tuple[Finding, ...] = ()
    entity: EntityRecord | None = None
    entity_contradiction: str = ""
    vendor: VendorRecord | None = None
    vendor_contradiction: str = ""
    vendor_chosen: bool = False
    near_vendors: tuple[VendorMatch, ...] = ()
    order: OrderRecord | None = None
    earlier: tuple[EarlierDocument, ...] = ()
    earlier_near: tuple[EarlierDocument, ...] = ()
    number_taken: bool = False
    arrived: date | None = None
    settings: CheckSettings = CheckSettings()

    @property
    def seller_known(self) -> bool:
        """Whether who sells is beyond doubt: a person said which vendor it is, or the name and the
        tax id of the page are both one vendor's of the master data."""
        if self.vendor_chosen or self.vendor is None:
            return self.vendor_chosen
        name, tax_id = self.reading.text("seller.name"), self.reading.text("seller.tax_id")
        alike = name_key(name or "") == name_key(self.vendor.name)
        return bool(name) and alike and same_tax_id(tax_id or "", self.vendor.tax_id)


@dataclass(frozen=True, kw_only=True, slots=True)
class EntityChoice:
    """What the bill says of its buyer, weighed.

    Attributes:
        entity: ours that is billed, None when none fits or the bill contradicts itself.
        contradiction: both sides of what does not go together, as a sentence; else empty.
    """

    entity: EntityRecord | None = None
    contradiction: str = ""


def choose_entity(
    reading: Reading, entities: Iterable[EntityRecord], order: OrderRecord | None
) -> EntityChoice:
    """Our entity that is billed: by name and tax id together, else by order, else the only one.

    A tax id that stands as the seller's, too, says nothing of the buyer.
    """
    every = tuple(entities)
    stated, name = reading.text("buyer.tax_id") or "", reading.text("buyer.name") or ""
    if same_tax_id(stated, reading.text("seller.tax_id") or ""):
        stated = ""
    owner = next((each for each in every if same_tax_id(stated, each.tax_id)), None)
    named = _named(name, every)
    if named is None and name and owner is None:
        return EntityChoice()  # somebody is named, and it is none of us
    if name and owner is not None and named is not owner:
        whose = f"{named.name} ({named.code})" if named else "none of ours"
        said = (
            f"The buyer's name {name!r} is {whose}; the tax id {tax_key(stated)} is that of "
            f"{owner.name} ({owner.code})."
        )
        return EntityChoice(contradiction=said)
    if named is not None and owner is None and tax_key(stated) and tax_key(named.tax_id):
        said = (
            f"The buyer's name {name!r} is {named.name} ({named.code}), whose tax id is "
            f"{named.tax_id}; the bill states {tax_key(stated)} as the buyer's."
        )
        return EntityChoice(contradiction=said)
    if named or owner:
        return EntityChoice(entity=named or owner)
    if order is not None and order.entity:
        return EntityChoice(entity=next((e for e in every if e.code == order.entity), None))
    return EntityChoice(entity=every[0] if len(every) == 1 else None)


def _named(name: str, every: tuple[EntityRecord, ...]) -> EntityRecord | None:
    key = name_key(name)
    fitting = [each for each in every if key and fuzz.ratio(key, name_key(each.name)) >= 90]
    return fitting[0] if len(fitting) == 1 else None
