"""Facts in memory: for tests, for trying a pipeline where no service is, for plug-in authors."""

from collections.abc import Sequence
from dataclasses import dataclass, field

from veridox.core.facts.facts import EntityRecord
from veridox.core.matching import (
    EarlierDocument,
    OrderRecord,
    VendorRecord,
    number_bare,
    number_key,
    order_key,
)
from veridox.core.reading import Reading


@dataclass
class MemoryKnown:
    """Knows what it is given.

    Attributes:
        every_vendor, every_entity, every_order: the master data.
        before: earlier documents by vendor code.
        taken: pairs of vendor code and number that other documents have the right to post.
    """

    every_vendor: Sequence[VendorRecord] = ()
    every_entity: Sequence[EntityRecord] = ()
    every_order: Sequence[OrderRecord] = ()
    before: dict[str, Sequence[EarlierDocument]] = field(default_factory=dict)
    taken: set[tuple[str, str]] = field(default_factory=set)

    def vendor(self, code: str) -> VendorRecord | None:
        """See the port."""
        return next((each for each in self.every_vendor if each.code == code), None)

    def vendors_like(self, reading: Reading) -> Sequence[VendorRecord]:
        """See the port."""
        del reading
        return self.every_vendor

    def entities(self) -> Sequence[EntityRecord]:
        """See the port."""
        return sorted(self.every_entity, key=lambda each: each.code)

    def order(self, stated: str) -> OrderRecord | None:
        """See the port."""
        key = order_key(stated)
        return next((each for each in self.every_order if order_key(each.number) == key), None)

    def earlier(self, reading: Reading, vendor: VendorRecord) -> Sequence[EarlierDocument]:
        """See the port."""
        key = number_key(reading.text("number") or "")
        before = self.before.get(vendor.code, ())
        return [each for each in before if key and number_key(each.number) == key]

    def earlier_near(self, reading: Reading, vendor: VendorRecord) -> Sequence[EarlierDocument]:
        """See the port."""
        bare = number_bare(reading.text("number") or "")
        same = self.earlier(reading, vendor)
        before = self.before.get(vendor.code, ())
        return [e for e in before if bare and number_bare(e.number) == bare and e not in same]

    def number_taken(self, reading: Reading, vendor: VendorRecord) -> bool:
        """See the port."""
        return (vendor.code, number_key(reading.text("number") or "")) in self.taken
