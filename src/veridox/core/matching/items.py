"""Items: one thing under several codes, and in packs."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from decimal import Decimal

from veridox.core.locales.units import times


@dataclass(frozen=True, kw_only=True, slots=True)
class ItemRecord:
    """A thing that is bought, as a vendor calls it and as we do.

    Attributes:
        code: ours, empty when there is none.
        vendor_code: the vendor's, empty when there is none.
        unit: that its packs are counted in.
        packs: how many of its unit are in one of each pack: `{"box": 12}`.
    """

    code: str = ""
    vendor_code: str = ""
    unit: str = ""
    packs: Mapping[str, Decimal] = field(default_factory=dict)

    @property
    def codes(self) -> tuple[str, ...]:
        """All codes that it goes by."""
        return tuple(code for code in (self.code, self.vendor_code) if code)


def packed(item: ItemRecord | None, one: str, other: str) -> Decimal | None:
    """How many of one unit another one is, of this item: 2 boxes of 12 are 24 pieces.

    Args:
        item: None where nothing is known of it; then only units of measure are compared.
        one, other: names of units; an empty one says nothing.

    Returns:
        None where nobody knows.
    """
    factor = times(one, other)
    if factor is not None or item is None:
        return factor
    first, second = _of_base(item, one), _of_base(item, other)
    return first / second if first and second else None


def _of_base(item: ItemRecord, unit: str) -> Decimal | None:
    """How many of an item's own unit one of a unit is."""
    for name, count in item.packs.items():
        known = times(unit, name) if name else None
        if known is not None:
            return known * count
    return times(unit, item.unit) if item.unit else None


@dataclass(frozen=True, kw_only=True, slots=True)
class CameIn:
    """What came in of a line of an order and what went back, in its unit; and what of that stands
    in a unit that nobody knows, each with it."""

    received: Decimal
    returned: Decimal
    unclear: tuple[tuple[Decimal, str], ...]


def came_in(
    item: ItemRecord | None, unit: str, booked: Iterable[tuple[str, Decimal, Decimal]]
) -> CameIn:
    """Goods receipts and returns of a line of an order, together.

    Args:
        item: that was ordered.
        unit: of the order's line.
        booked: by unit how much came and how much went back.
    """
    received, returned = Decimal(0), Decimal(0)
    unclear = []
    for one, came, went in booked:
        factor = packed(item, one, unit)
        if factor is None:
            unclear.append((came - went, one))
            continue
        received, returned = received + came * factor, returned + went * factor
    return CameIn(received=received, returned=returned, unclear=tuple(unclear))
