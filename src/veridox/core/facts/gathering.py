"""Gather the facts about a document by asking for them, whoever answers."""

from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Protocol

from rapidfuzz.distance import OSA

from veridox.core.coding.codes import LedgerCodes
from veridox.core.coding.history import CodedBefore
from veridox.core.facts.companies import EntityChoice, EntityRecord, choose_entity
from veridox.core.facts.facts import (
    CheckSettings,
    ExchangeRate,
    Facts,
    Lookalike,
    MailFact,
    PrecedingBill,
)
from veridox.core.findings import Finding
from veridox.core.matching import (
    DAYS_MANY,
    PUBLIC_DOMAINS,
    AgreedRate,
    EarlierDocument,
    Likeness,
    NamedOrders,
    OrderProposal,
    OrderRecord,
    VendorChoice,
    VendorRecord,
    candidates,
    choose_vendor,
    likeness,
    named_orders,
    order_key,
    order_numbers,
    pair_with_orders,
    propose_orders,
)
from veridox.core.reading import Kind, Reading

SAID_OF = {"vendor": ("seller.name", "seller.tax_id"), "entity": ("buyer.name", "buyer.tax_id")}
"""The values that a person's choice was made on; with others it does not hold."""
_MERGED_AT_MOST = 5
"""Vendors that were merged one into the other, until somebody puts an end to it."""


class Known(Protocol):
    """Who knows: the service's database, or a double in memory. It answers for one document."""

    def vendor(self, code: str) -> VendorRecord | None:
        """The vendor of a code."""
        ...

    def vendors_like(self, reading: Reading, mail: MailFact) -> Sequence[VendorRecord]:
        """Vendors that may be meant: those of its tax id, its account, its sender, those of
        similar names."""
        ...

    def entities(self) -> Sequence[EntityRecord]:
        """Our companies that the pipeline works for, by code."""
        ...

    def other_entities(self) -> Sequence[EntityRecord]:
        """Our companies that it does not work for."""
        ...

    def orders(
        self, stated: Collection[str], vendor: VendorRecord | None
    ) -> Mapping[str, OrderRecord]:
        """The orders of numbers as they are stated, by key (`order_key`), each with what other
        documents billed on it; of several in different companies that of this vendor."""
        ...

    def open_orders(self, vendor: VendorRecord) -> Sequence[OrderRecord]:
        """The newest orders of a vendor that are not closed, with what is open of their lines."""
        ...

    def earlier(self, reading: Reading, vendor: VendorRecord) -> Sequence[EarlierDocument]:
        """Bills of the vendor and its family that came first, here or in the ledger's books, and
        that have this number (however it is separated), this total, or this very file."""
        ...

    def number_taken(self, reading: Reading, vendor: VendorRecord) -> bool:
        """Whether another document has the right to post this number."""
        ...

    def first_bill(self, vendor: VendorRecord) -> bool | None:
        """Whether no bill of the vendor or its family came before; None when nobody knows."""
        ...

    def preceding(self, reading: Reading, vendor: VendorRecord) -> Sequence[PrecedingBill]:
        """Bills that a credit note may take back, likeliest first."""
        ...

    def agreed(self, vendor: VendorRecord) -> Sequence[AgreedRate] | None:
        """All charges of the vendor's rate cards, of whatever day; None where it has no card."""
        ...

    def ledger_codes(self, entity: str) -> LedgerCodes:
        """Accounts, cost centres and tax codes of one of our companies, empty for none named."""
        ...

    def coded_before(self, vendor: VendorRecord) -> Sequence[CodedBefore]:
        """Lines of the vendor that were posted with codes, the newest first."""
        ...

    def exchange(self, currency: str, into: str, day: date) -> ExchangeRate | None:
        """The rate of a day, or of the last one before it that has one."""
        ...

    def domains_near(self, domain: str) -> Sequence[Lookalike]:
        """Vendors' domains that resemble one and are not it."""
        ...

    def accounts_kept(self) -> bool:
        """Whether bank accounts of vendors are in the master data at all."""
        ...

    def fresh(self) -> Mapping[str, date]:
        """The day on which each kind of master data was last brought in."""
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
    mail: MailFact | None = None,
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
        mail: what the mail tells that brought it.

    It asks for the vendor first, then for earlier documents, then for the order: whoever
    answers may lock in this order.
    """
    mail = mail or MailFact()
    code = _holds(chosen, reading, "vendor")
    seller = _seller(known, reading, mail, code)
    vendor = _surviving(known, seller.vendor)
    issued = reading.day("issue_date") or arrived
    alike, same_total = _alike(known, reading, vendor, issued)
    taken = known.number_taken(reading, vendor) if vendor else False
    orders = orders_of(known, reading, vendor).known
    order = next(iter(orders), None)
    buyer = _buyer(known, reading, order, mail, _holds(chosen, reading, "entity"))
    credited = vendor is not None and reading.kind is Kind.CREDIT_NOTE
    books = buyer.entity.currency if buyer.entity else ""
    rates = tuple(_rates(known, reading, {books, *settings.currencies}, issued))
    return Facts(
        reading=reading,
        file_findings=file_findings,
        entity=buyer.entity,
        entity_contradiction=buyer.contradiction,
        other_entity=buyer.other,
        near_entities=buyer.near,
        vendor=vendor,
        vendor_chosen=bool(code),
        vendor_contradiction=seller.contradiction,
        near_vendors=seller.near,
        order=order,
        further_orders=orders[1:],
        near_orders=_near_orders(known, reading, vendor, orders, mail.text),
        pairs=pair_with_orders(reading.lines, orders) if orders else (),
        agreed=_agreed(known, vendor, issued),
        codes=known.ledger_codes(buyer.entity.code if buyer.entity else "")
        if settings.coded
        else None,
        coded_before=tuple(known.coded_before(vendor)) if settings.coded and vendor else (),
        alike=alike,
        same_total=same_total,
        number_taken=taken,
        first_bill=known.first_bill(vendor) if vendor else None,
        preceding=tuple(known.preceding(reading, vendor)) if vendor and credited else None,
        exchange=next((each for each in rates if each.into == books), None),
        rates=rates,
        mail=mail,
        lookalikes=_lookalikes(known, mail),
        arrived=arrived,
        fresh=known.fresh(),
        accounts_kept=known.accounts_kept(),
        settings=settings,
    )


def orders_of(known: Known, reading: Reading, vendor: VendorRecord | None) -> NamedOrders:
    """Which orders a bill names, asked for together: whoever answers may lock them in one order."""
    texts = order_numbers(reading)
    wanted = dict.fromkeys(each for text in texts for each in candidates(text))
    return named_orders(texts, known.orders(wanted.keys(), vendor) if wanted else {})


def _agreed(
    known: Known, vendor: VendorRecord | None, day: date | None
) -> tuple[AgreedRate, ...] | None:
    """What is in force on a day."""
    every = known.agreed(vendor) if vendor is not None and day is not None else None
    if every is None or day is None:
        return None
    return tuple(each for each in every if each.holds(day))


def _holds(chosen: Mapping[str, Chosen], reading: Reading, what: str) -> str:
    """The code that a person chose, as long as the bill says what it said then; else empty."""
    choice = chosen.get(what)
    return choice.code if choice and choice.said == said_of(reading, what) else ""


def _near_orders(
    known: Known, reading: Reading, vendor: VendorRecord | None, orders: Sequence[OrderRecord],
    text: str,
) -> tuple[OrderProposal, ...]:  # fmt: skip
    """Where an order that is named is none of this vendor's, those that may be meant."""
    if vendor is None:
        return ()
    stated = order_not_of(reading, orders, vendor)
    if not stated and (orders or not vendor.needs_order):
        return ()
    named = {(each.entity, each.number) for each in orders}
    others = [each for each in known.open_orders(vendor) if (each.entity, each.number) not in named]
    return propose_orders(reading, others, text, stated)


def order_not_of(reading: Reading, orders: Sequence[OrderRecord], vendor: VendorRecord) -> str:
    """The first number that is named as an order and is none of a vendor's; empty for none."""
    own = {order_key(each.number): each for each in orders if each.vendor == vendor.code}
    return next(iter(named_orders(order_numbers(reading, surely=True), own).unknown), "")


def _seller(known: Known, reading: Reading, mail: MailFact, code: str) -> VendorChoice:
    vendors = known.vendors_like(reading, mail)
    found = choose_vendor(reading, vendors, mail.sender, mail.text)
    vendor = known.vendor(code) if code else None
    if vendor is not None:
        return VendorChoice(vendor=vendor, near=found.near)
    return found


def _surviving(known: Known, vendor: VendorRecord | None) -> VendorRecord | None:
    """The vendor that one was merged into, as often as it was."""
    for _ in range(_MERGED_AT_MOST):
        if vendor is None or not vendor.merged_into:
            break
        vendor = known.vendor(vendor.merged_into) or vendor
    return vendor


def _buyer(
    known: Known, reading: Reading, order: OrderRecord | None, mail: MailFact, code: str
) -> EntityChoice:
    ours = known.entities()
    found = choose_entity(
        reading, ours, order, others=known.other_entities(), recipients=mail.recipients
    )
    for each in ours:
        if code and each.code == code:
            return EntityChoice(entity=each, near=found.near)
    return found


def _alike(
    known: Known, reading: Reading, vendor: VendorRecord | None, issued: date | None
) -> tuple[tuple[Likeness, ...], int]:
    """Bills that may be this one, and how many of its total came within ten days."""
    if vendor is None:
        return (), 1
    earlier = known.earlier(reading, vendor)
    total = reading.money("gross_total")
    same = [each for each in earlier if total is not None and each.total == total
            and each.kind in (None, reading.kind)]  # fmt: skip
    year = timedelta(days=400)
    before = sum(1 for e in same if issued and e.issued and issued - year <= e.issued)
    found = [
        like for each in earlier
        if (like := likeness(reading, issued, each, before)) is not None
    ]  # fmt: skip
    many = timedelta(days=DAYS_MANY)
    close = sum(1 for e in same if issued and e.issued and abs(issued - e.issued) <= many)
    ranked = sorted(found, key=lambda like: (not like.exact, like.earlier.in_books))
    return tuple(ranked), close + 1


def _rates(
    known: Known, reading: Reading, into: set[str], issued: date | None
) -> Iterator[ExchangeRate]:
    """From the bill's currency into others, on its issue date."""
    currency = reading.currency
    if not currency or issued is None:
        return
    for each in sorted(into - {"", currency}):
        found = known.exchange(currency, each, issued)
        if found is not None:
            yield found


def _lookalikes(known: Known, mail: MailFact) -> tuple[Lookalike, ...]:
    """Vendors whose domain the sender's is one edit from, or holds with other signs between."""
    domain = mail.sender.domain if mail.sender else ""
    if not domain or domain in PUBLIC_DOMAINS:
        return ()
    near = known.domains_near(domain)
    if any(each.domain == domain for each in near):
        return ()
    return tuple(each for each in near if looks_like(domain, each.domain))


_TAKEN_FOR = str.maketrans({"0": "o", "1": "l", "i": "l", "5": "s", "3": "e", "-": None})
_PAIRS_TAKEN_FOR = (("rn", "m"), ("vv", "w"), ("cl", "d"))


def _seen(domain: str) -> str:
    """A domain as one sees it who does not look closely."""
    plain = domain
    for pair, sign in _PAIRS_TAKEN_FOR:
        plain = plain.replace(pair, sign)
    return plain.translate(_TAKEN_FOR)


def looks_like(domain: str, other: str) -> bool:
    """Whether a domain may be taken for another one: one sign changed, lost, added or exchanged
    with its neighbour, signs that look alike, another ending of the same name."""
    if domain == other:
        return False
    if _seen(domain) == _seen(other) or OSA.distance(domain, other, score_cutoff=1) <= 1:
        return True
    (name, _, _), (their, _, _) = domain.partition("."), other.partition(".")
    return len(their) >= 6 and name != their and their in name.split("-")
