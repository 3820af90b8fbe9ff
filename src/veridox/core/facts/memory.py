"""Facts in memory: for tests, for trying a pipeline where no service is, for plug-in authors."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date

from veridox.core.coding.codes import LedgerCodes
from veridox.core.coding.history import CodedBefore
from veridox.core.facts.companies import EntityRecord
from veridox.core.facts.facts import ExchangeRate, Lookalike, MailFact, PrecedingBill
from veridox.core.matching import (
    AgreedRate,
    EarlierDocument,
    OrderRecord,
    VendorRecord,
    number_key,
    order_key,
)
from veridox.core.reading import Reading


@dataclass
class MemoryKnown:
    """Knows what it is given.

    Attributes:
        every_vendor, every_entity, every_order: the master data.
        foreign_entities: ours that the pipeline does not work for.
        before: earlier documents by vendor code.
        credited: bills that a credit note may take back, by vendor code.
        rates: of exchange.
        codes: of the ledger.
        coded: lines that were posted, by vendor code.
        cards: charges of rate cards by vendor code.
        taken: pairs of vendor code and number that other documents have the right to post.
        billing: codes of vendors that have billed before; None where nobody knows.
        brought_in: the day on which each kind of master data was last brought in.
    """

    every_vendor: Sequence[VendorRecord] = ()
    every_entity: Sequence[EntityRecord] = ()
    every_order: Sequence[OrderRecord] = ()
    foreign_entities: Sequence[EntityRecord] = ()
    before: dict[str, Sequence[EarlierDocument]] = field(default_factory=dict)
    credited: dict[str, Sequence[PrecedingBill]] = field(default_factory=dict)
    rates: Sequence[ExchangeRate] = ()
    cards: dict[str, Sequence[AgreedRate]] = field(default_factory=dict)
    codes: LedgerCodes = field(default_factory=LedgerCodes)
    coded: dict[str, Sequence[CodedBefore]] = field(default_factory=dict)
    taken: set[tuple[str, str]] = field(default_factory=set)
    billing: set[str] | None = None
    brought_in: Mapping[str, date] = field(default_factory=dict)

    def vendor(self, code: str) -> VendorRecord | None:
        """See the port."""
        return next((each for each in self.every_vendor if each.code == code), None)

    def vendors_like(self, reading: Reading, mail: MailFact) -> Sequence[VendorRecord]:
        """See the port."""
        del reading, mail
        return self.every_vendor

    def entities(self) -> Sequence[EntityRecord]:
        """See the port."""
        return sorted(self.every_entity, key=lambda each: each.code)

    def other_entities(self) -> Sequence[EntityRecord]:
        """See the port."""
        return self.foreign_entities

    def orders(
        self, stated: Collection[str], vendor: VendorRecord | None
    ) -> Mapping[str, OrderRecord]:
        """See the port."""
        wanted = {order_key(each) for each in stated}
        found: dict[str, OrderRecord] = {}
        for each in self.every_order:
            key = order_key(each.number)
            own = vendor is not None and each.vendor == vendor.code
            taken = found.get(key)
            if key in wanted and (taken is None or (own and taken.vendor != each.vendor)):
                found[key] = each
        return found

    def open_orders(self, vendor: VendorRecord) -> Sequence[OrderRecord]:
        """See the port."""
        return [each for each in self.every_order if each.vendor == vendor.code]

    def earlier(self, reading: Reading, vendor: VendorRecord) -> Sequence[EarlierDocument]:
        """See the port."""
        del reading
        return self.before.get(vendor.code, ())

    def number_taken(self, reading: Reading, vendor: VendorRecord) -> bool:
        """See the port."""
        return (vendor.code, number_key(reading.text("number") or "")) in self.taken

    def first_bill(self, vendor: VendorRecord) -> bool | None:
        """See the port."""
        return None if self.billing is None else vendor.code not in self.billing

    def preceding(self, reading: Reading, vendor: VendorRecord) -> Sequence[PrecedingBill]:
        """See the port."""
        every = self.credited.get(vendor.code, ())
        stated = reading.text("preceding_number")
        if stated:
            key = number_key(stated)
            return [each for each in every if number_key(each.number) == key]
        total = reading.money("gross_total")
        return [each for each in every if each.total == total]

    def agreed(self, vendor: VendorRecord) -> Sequence[AgreedRate] | None:
        """See the port."""
        return self.cards.get(vendor.code)

    def ledger_codes(self, entity: str) -> LedgerCodes:
        """See the port."""
        del entity
        return self.codes

    def coded_before(self, vendor: VendorRecord) -> Sequence[CodedBefore]:
        """See the port."""
        return self.coded.get(vendor.code, ())

    def exchange(self, currency: str, into: str, day: date) -> ExchangeRate | None:
        """See the port."""
        fitting = [
            each for each in self.rates
            if (each.currency, each.into) == (currency, into) and each.day <= day
        ]  # fmt: skip
        return max(fitting, key=lambda each: each.day, default=None)

    def domains_near(self, domain: str) -> Sequence[Lookalike]:
        """See the port."""
        del domain
        return [
            Lookalike(domain=own, vendor=each.code, name=each.name)
            for each in self.every_vendor
            for own in each.domains
        ]

    def accounts_kept(self) -> bool:
        """See the port."""
        return any(each.accounts for each in self.every_vendor)

    def fresh(self) -> Mapping[str, date]:
        """See the port."""
        return self.brought_in
