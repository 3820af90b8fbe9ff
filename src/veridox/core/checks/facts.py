"""What checks look at: plain values, gathered by whoever calls them."""

from collections.abc import Iterable
from dataclasses import dataclass, field
from decimal import Decimal

from rapidfuzz import fuzz

from veridox.core.findings import Finding, Weight
from veridox.core.matching import EarlierDocument, OrderRecord, VendorMatch, VendorRecord, name_key
from veridox.core.reading import Kind, Reading

DEFAULT_NEED = ("number", "issue_date", "seller.name", "currency", "gross_total")


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
        weights: other weights for codes, where the pipeline sets them.
    """

    kinds: frozenset[Kind] = frozenset({Kind.INVOICE, Kind.CREDIT_NOTE})
    totals_within: int = 0
    need: tuple[str, ...] = DEFAULT_NEED
    order_total: OrderTolerance = OrderTolerance()
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
        vendor: None when unknown or unclear.
        near_vendors: candidates with evidence, best first.
        order: the order named, None when none is named or known.
        earlier: documents with the same vendor, kind, number and year.
        settings: the pipeline's choices.
    """

    reading: Reading
    file_findings: tuple[Finding, ...] = ()
    entity: EntityRecord | None = None
    vendor: VendorRecord | None = None
    near_vendors: tuple[VendorMatch, ...] = ()
    order: OrderRecord | None = None
    earlier: tuple[EarlierDocument, ...] = ()
    settings: CheckSettings = CheckSettings()


def choose_entity(
    reading: Reading, entities: Iterable[EntityRecord], order: OrderRecord | None
) -> EntityRecord | None:
    """Our entity that is billed: by tax id, buyer's name or order; else the only one."""
    every = tuple(entities)
    tax_id = reading.text("buyer.tax_id")
    for entity in every:
        if tax_id and entity.tax_id == tax_id:
            return entity
    name = name_key(reading.text("buyer.name") or "")
    fitting = [e for e in every if name and fuzz.ratio(name, name_key(e.name)) >= 90]
    if len(fitting) == 1:
        return fitting[0]
    if name:
        return None  # somebody is named, and it is none of us
    if order is not None and order.entity:
        return next((entity for entity in every if entity.code == order.entity), None)
    return every[0] if len(every) == 1 else None
