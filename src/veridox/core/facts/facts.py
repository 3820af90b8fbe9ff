"""What checks look at: plain values, gathered by whoever calls them."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal
from enum import StrEnum

from veridox.core.coding.codes import LedgerCodes
from veridox.core.coding.history import CodedBefore
from veridox.core.facts.companies import EntityMatch, EntityRecord
from veridox.core.findings import Finding, Weight
from veridox.core.matching import (
    AgreedRate,
    Likeness,
    OrderedLine,
    OrderProposal,
    OrderRecord,
    Raised,
    SenderFact,
    VendorMatch,
    VendorRecord,
    name_key,
    named_orders,
    order_key,
    order_numbers,
    owns,
)
from veridox.core.money import Money, total
from veridox.core.reading import Kind, Reading

DEFAULT_NEED = ("number", "issue_date", "seller.name", "currency", "gross_total")
OLDEST_DAYS = 730
"""Days after which a bill's issue date is one of long ago, where the pipeline says nothing."""
RECENT_DAYS = 30
"""Days for which a new bank account is one that came recently."""
DISCOUNT_DAYS = 7
"""Days before its end from which a discount is at risk."""
STALE_DAYS = 30
"""Days after which master data that nobody brought in anew are stale."""
PARTICULARS = ("none", "full", "simplified")
"""Whether the particulars that the law asks of a bill must be stated."""


class Match(StrEnum):
    """With what bills on orders are compared."""

    TWO_WAY = "two-way"  # the order
    THREE_WAY = "three-way"  # the order and its goods receipts
    AS_BOOKED = "as booked"  # goods receipts where there are any


@dataclass(frozen=True, kw_only=True, slots=True)
class OrderTolerance:
    """How far bills may exceed an order's net total; the narrower limit counts.

    Attributes:
        percent: of the order's net total.
        amount: in the order's currency, None for no limit of its own.
        charges: most of freight and other charges that the order does not name.
        price_percent, price_amount: by how much a unit price may be above the ordered one, of it
            and in the order's currency; None for no limit of its own.
        quantity_percent: by how much more than was ordered of a line may be billed.
    """

    percent: Decimal = Decimal(0)
    amount: Decimal | None = None
    charges: Decimal = Decimal(0)
    price_percent: Decimal = Decimal(0)
    price_amount: Decimal | None = None
    quantity_percent: Decimal = Decimal(0)


@dataclass(frozen=True, kw_only=True, slots=True)
class CardTolerance:
    """By how much a charge may be above the agreed one; the narrower limit counts.

    Attributes:
        percent: of the agreed amount.
        amount: in the card's currency, None for no limit of its own.
    """

    percent: Decimal = Decimal(0)
    amount: Decimal | None = None


@dataclass(frozen=True, kw_only=True, slots=True)
class CheckSettings:
    """The pipeline's choices; defaults are the safe ones.

    Attributes:
        kinds: kinds of document that this pipeline posts.
        totals_within: minor units by which sums may be off.
        line_within, tax_within: minor units by which a line's amount and a tax amount may be
            off at least.
        need: fields that must be stated.
        order_total: tolerance over the order's total.
        coded: whether lines are coded, so that codes and history must be known.
        card: tolerance over what rate cards say.
        match: with what bills on orders are compared, where the order does not say.
        oldest_days: days between issue and arrival from which a bill is an old one.
        recent_days: days for which a new bank account is one that came recently.
        discount_days: days before its end from which a discount is at risk.
        stale_days: days after which master data that nobody brought in anew are stale.
        particulars: `none`, `full` (EU VAT Directive art. 226) or `simplified` (art. 226b up
            to `simplified_up_to`, art. 226 above).
        simplified_up_to: most that a simplified bill may ask for, with tax, in its currency.
        weights: other weights for codes, where the pipeline sets them.
        currencies: that the pipeline's conditions speak of.
    """

    kinds: frozenset[Kind] = frozenset({Kind.INVOICE, Kind.CREDIT_NOTE})
    totals_within: int = 0
    line_within: int = 1
    tax_within: int = 1
    need: tuple[str, ...] = DEFAULT_NEED
    order_total: OrderTolerance = OrderTolerance()
    match: Match = Match.AS_BOOKED
    card: CardTolerance = CardTolerance()
    coded: bool = False
    oldest_days: int = OLDEST_DAYS
    recent_days: int = RECENT_DAYS
    discount_days: int = DISCOUNT_DAYS
    stale_days: int = STALE_DAYS
    particulars: str = "none"
    simplified_up_to: Decimal = Decimal(100)
    weights: dict[str, Weight] = field(default_factory=dict)
    currencies: tuple[str, ...] = ()


@dataclass(frozen=True, kw_only=True, slots=True)
class MailFact:
    """What the mail tells that brought a document, and what stands on its pages.

    Attributes:
        sender: None where it came without a mail.
        recipients: addresses that the mail went to.
        text: words of the pages, for comparing addresses.
    """

    sender: SenderFact | None = None
    recipients: tuple[str, ...] = ()
    text: str = ""


@dataclass(frozen=True, kw_only=True, slots=True)
class PrecedingBill:
    """A bill that a credit note may take back.

    Attributes:
        reference: `document 41`, or `BL-26-00007 in the books`.
        number: the vendor's.
        total: with tax.
        credited: by other credit notes, with tax.
        posted: whether it stands in the ledger.
        how: by what it was found: `number`, `order and total`, `total`.
    """

    reference: str
    number: str
    total: Money
    credited: Money
    posted: bool
    how: str

    @property
    def left(self) -> Money:
        """What may still be credited."""
        return self.total - self.credited


@dataclass(frozen=True, kw_only=True, slots=True)
class ExchangeRate:
    """How many units of the books' currency one unit of another is worth.

    Attributes:
        currency, into: ISO 4217 codes.
        rate: units of `into` for one of `currency`.
        day: of the rate.
        source: who published it.
    """

    currency: str
    into: str
    rate: Decimal
    day: date
    source: str


@dataclass(frozen=True, kw_only=True, slots=True)
class Lookalike:
    """A vendor's domain that is one edit from the sender's."""

    domain: str
    vendor: str
    name: str


@dataclass(frozen=True, kw_only=True, slots=True)
class Facts:
    """Everything known when a document is checked.

    Attributes:
        reading: what was read.
        file_findings: of the reader, on the file and its pages.
        entity: ours that is billed, None when unclear.
        entity_contradiction: both sides, where what is said of the buyer does not go together.
        other_entity: ours that is billed, where this pipeline does not work for it.
        near_entities: ours with evidence, best first.
        vendor: None when unknown or unclear.
        vendor_contradiction: the same of the seller.
        vendor_chosen: whether a person said which vendor it is.
        near_vendors: candidates with evidence, best first.
        order: the first that it names and we know; None when none is named or known.
        further_orders: the others that it names.
        near_orders: of this vendor that may be meant, where the one named is none of them.
        agreed: charges of the vendor's rate cards that are in force on the day of the bill; None
            where it has no card at all.
        codes: of the ledger; None where lines are not coded.
        coded_before: lines of the vendor that were posted, with their codes.
        pairs: for each line its line on one of the orders, None where none fits.
        alike: bills that came before and may be this one, those with the same number first.
        same_total: bills of this total within ten days, this one among them.
        number_taken: whether another document has the right to post this number.
        first_bill: whether no bill of the vendor came before; None when not known.
        preceding: bills that a credit note may take back, likeliest first; None when nobody
            looked.
        exchange: rate into the books' currency, None where it is the same or none is known.
        rates: of the issue date from the bill's currency into those that the pipeline speaks of.
        mail: what the mail tells.
        lookalikes: vendors' domains that the sender's is taken for.
        arrived: the day (UTC) on which the document came in; None when not known.
        fresh: the day on which each kind of master data was last brought in.
        accounts_kept: whether the master data have bank accounts of vendors at all.
        settings: the pipeline's choices.
    """

    reading: Reading
    file_findings: tuple[Finding, ...] = ()
    entity: EntityRecord | None = None
    entity_contradiction: str = ""
    other_entity: EntityRecord | None = None
    near_entities: tuple[EntityMatch, ...] = ()
    vendor: VendorRecord | None = None
    vendor_contradiction: str = ""
    vendor_chosen: bool = False
    near_vendors: tuple[VendorMatch, ...] = ()
    order: OrderRecord | None = None
    further_orders: tuple[OrderRecord, ...] = ()
    near_orders: tuple[OrderProposal, ...] = ()
    codes: LedgerCodes | None = None
    coded_before: tuple[CodedBefore, ...] = ()
    pairs: tuple[OrderedLine | None, ...] = ()
    agreed: tuple[AgreedRate, ...] | None = None
    alike: tuple[Likeness, ...] = ()
    same_total: int = 1
    number_taken: bool = False
    first_bill: bool | None = None
    preceding: tuple[PrecedingBill, ...] | None = None
    exchange: ExchangeRate | None = None
    rates: tuple[ExchangeRate, ...] = ()
    mail: MailFact = MailFact()
    lookalikes: tuple[Lookalike, ...] = ()
    arrived: date | None = None
    fresh: Mapping[str, date] = field(default_factory=dict)
    accounts_kept: bool = False
    settings: CheckSettings = CheckSettings()

    @property
    def seller_known(self) -> bool:
        """Whether who sells is beyond doubt: a person said which vendor it is, or the name and the
        tax id of the page are both one vendor's of the master data."""
        if self.vendor_chosen or self.vendor is None:
            return self.vendor_chosen
        name, tax_id = self.reading.text("seller.name"), self.reading.text("seller.tax_id")
        alike = name_key(name or "") in {name_key(each) for each in self.vendor.called}
        return bool(name) and alike and owns(self.vendor, tax_id or "")

    @property
    def issued(self) -> date | None:
        """The issue date; the day it came in where none is stated."""
        return self.reading.day("issue_date") or self.arrived

    def rate(self, source: str, target: str, day: date | None = None) -> Decimal | None:
        """Units of one currency for one of another on the day of issue (`language.Rates`); None
        for another day, or where nobody knows."""
        if day is not None and day != self.issued:
            return None
        worth = {each.into: each.rate for each in self.rates}
        own = self.reading.currency or ""
        worth[own] = Decimal(1)
        if source not in worth or target not in worth:
            return None
        return worth[target] / worth[source]

    @property
    def orders(self) -> tuple[OrderRecord, ...]:
        """All orders that it names and we know."""
        return (self.order, *self.further_orders) if self.order is not None else ()

    @property
    def ordered(self) -> Money | None:
        """What was ordered in all, without tax; None of none, and of several currencies."""
        totals = [order.net_total for order in self.orders]
        if len({each.currency for each in totals}) != 1:
            return None
        return total(totals, totals[0].currency)

    @property
    def unknown_orders(self) -> tuple[str, ...]:
        """Numbers that it surely names as orders and that are none, as they are stated."""
        known = {order_key(order.number): order for order in self.orders}
        return named_orders(order_numbers(self.reading, surely=True), known).unknown

    @property
    def raised(self) -> Raised | None:
        """When the order was raised, seen from the issue date: of several the one that was raised
        last. None where a day is not known, or an order that is named is not."""
        if not self.orders and not order_numbers(self.reading, surely=True):
            return Raised.NONE
        if self.unknown_orders:
            return None
        days = [self.raised_on(order) for order in self.orders]
        known = [each for each in days if each is not None]
        return max(known, key=list(Raised).index) if len(known) == len(days) else None

    def raised_on(self, order: OrderRecord) -> Raised | None:
        """The same of one of its orders."""
        if order.ordered_on is None or self.issued is None:
            return None
        if order.ordered_on == self.issued:
            return Raised.SAME_DAY
        return Raised.AFTERWARDS if order.ordered_on > self.issued else Raised.BEFORE

    @property
    def taxed_on(self) -> date | None:
        """The day whose tax rates hold: the tax point, else delivery, else issue, else arrival."""
        reading = self.reading
        return reading.day("tax_point") or reading.day("delivery_date") or self.issued

    @property
    def posting_day(self) -> date | None:
        """The first day from the issue date on that is open in the entity's books."""
        issued = self.issued
        if issued is None or self.entity is None:
            return issued
        return self.entity.first_open(issued)
