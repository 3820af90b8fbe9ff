"""Items: one thing under several codes, and in packs."""

from collections.abc import Mapping
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
