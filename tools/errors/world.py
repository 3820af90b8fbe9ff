"""Who buys and who sells in the made-up year, and what is known of it at any moment."""

import random
from collections import defaultdict
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from decimal import Decimal

from stdnum import iban as iban_numbers
from stdnum.gb import vat as gb_vat

from veridox.core.checks.shares import shares
from veridox.core.facts import (
    ClosedPeriod,
    EntityRecord,
    ExchangeRate,
    Facts,
    Lookalike,
    MemoryKnown,
    PrecedingBill,
    orders_of,
)
from veridox.core.matching import (
    EarlierDocument,
    OrderRecord,
    Terms,
    VendorAccount,
    VendorRecord,
    name_key,
    number_bare,
    number_key,
    order_key,
    pair_with_orders,
    registration,
)
from veridox.core.money import Money
from veridox.core.reading import Kind, Reading
from veridox.core.tax import Treatment, holds

YEAR = 2026
TRUST = EntityRecord(
    code="aquarium-trust", name="Merrowmere Aquarium Trust", tax_id="GB740175356", country="GB",
    currency="GBP", names=("The Aquarium Trust",), recipients=("ap@merrowmere.example",),
    closed=(ClosedPeriod(first=date(2025, 1, 1), last=date(2025, 12, 31)),),
)  # fmt: skip
MEERHAUS = EntityRecord(
    code="meerhaus", name="Merrowmere Meerhaus GmbH", tax_id="DE862541651", country="DE",
    currency="EUR", recipients=("rechnung@merrowmere.example",),
)  # fmt: skip
FOUNDATION = EntityRecord(
    code="foundation", name="Merrowmere Coast Foundation", tax_id="GB411056167", country="GB",
    currency="GBP",
)  # fmt: skip
"""Ours, but of another pipeline."""

_FIRST = ("Brine", "Salt", "Kelp", "Tide", "Reef", "Shoal", "Gull", "Harbour", "Drift", "Coral",
          "Foam", "Pearl", "Wrack", "Cove", "Lagoon", "Sand", "Surf", "Delta", "Fjord", "Marl")  # fmt: skip
_SECOND = ("field", "glass", "works", "mark", "stone", "wick", "holm", "mere", "gate", "well")
_TRADE = ("Feeds", "Systems", "Pumps", "Supplies", "Technik", "Services", "Energy", "Cleaning",
          "Laboratories", "Cafe Goods")  # fmt: skip
_FORM = {"GB": "Ltd", "DE": "GmbH", "FR": "SARL", "NL": "B.V.", "IT": "S.r.l.", "CH": "AG",
         "JP": "K.K.", "US": "Inc", "NO": "AS"}  # fmt: skip
_RATES = {"GB": "20", "DE": "19", "FR": "20", "NL": "21", "IT": "22", "CH": "8.1", "JP": "10",
          "NO": "25"}  # fmt: skip
CURRENCY = {"GB": "GBP", "CH": "CHF", "JP": "JPY", "US": "USD", "NO": "NOK"}


@dataclass(frozen=True, kw_only=True)
class Seller:
    """A vendor as it is, with what its bills look like.

    Attributes:
        record: of the master data.
        entity: that it mostly sells to.
        rate: of tax on its bills, in percent; 0 for none.
        reason: printed where it charges none.
        monthly: it bills one sum each time.
        every: days between its bills, where it bills one sum each time.
        prefix: of its numbers.
    """

    record: VendorRecord
    entity: EntityRecord
    rate: Decimal
    reason: str = ""
    monthly: Decimal | None = None
    every: int = 0
    prefix: str = "RE-"


def tax_id(chance: random.Random, country: str) -> str:
    """A tax id whose check digits hold."""
    while True:
        digits = "".join(str(chance.randrange(10)) for _ in range(9))
        if country == "GB":
            found = f"GB{digits}"
            if gb_vat.is_valid(found):
                return found
        elif country == "DE":
            found = f"DE{digits}"
            if holds(found):
                return found
        else:
            return ""


def account(chance: random.Random) -> str:
    """A bank account whose checksum holds, at a bank that is none."""
    bare = "MRWK99" + "".join(str(chance.randrange(10)) for _ in range(12))
    return f"GB{iban_numbers.calc_check_digits(f'GB00{bare}')}{bare}"


_WITHOUT = {
    Treatment.REVERSE_CHARGE: "VAT reverse charge",
    Treatment.INTRA_COMMUNITY: "Exempt intra-community supply",
    Treatment.EXPORT: "Zero-rated export of goods",
    Treatment.SMALL_BUSINESS: "Kein Ausweis von Umsatzsteuer, § 19 UStG",
    Treatment.EXEMPT: "Exempt from VAT",
}


def _usual(country: str, entity: EntityRecord, chance: random.Random) -> Treatment:
    if country == entity.country:
        few = [Treatment.EXEMPT, Treatment.SMALL_BUSINESS] if country == "DE" else []
        return chance.choice([Treatment.DOMESTIC] * 10 + few)
    if "GB" in (country, entity.country) or country in ("CH", "JP", "US", "NO"):
        return chance.choice([Treatment.EXPORT, Treatment.REVERSE_CHARGE])
    return chance.choice([Treatment.INTRA_COMMUNITY, Treatment.REVERSE_CHARGE])


def sellers(chance: random.Random, count: int = 90) -> list[Seller]:
    """Vendors of all sorts."""
    found: list[Seller] = []
    names: set[str] = set()
    while len(found) < count:
        country = chance.choice(
            ["GB"] * 6 + ["DE"] * 5 + ["FR", "NL", "IT", "CH", "JP", "US", "NO"]
        )
        base = f"{chance.choice(_FIRST)}{chance.choice(_SECOND)}"
        name = f"{base} {chance.choice(_TRADE)} {_FORM[country]}"
        if name_key(base) in names:
            continue
        names.add(name_key(base))
        entity = chance.choice([TRUST, MEERHAUS]) if country not in ("GB", "DE") else (
            TRUST if (country == "GB") == (chance.random() < 0.9) else MEERHAUS)  # fmt: skip
        usual = _usual(country, entity, chance)
        rate = Decimal(_RATES.get(country, "0")) if usual is Treatment.DOMESTIC else Decimal(0)
        domain = f"{base.lower()}.example"
        registered = "" if usual is Treatment.SMALL_BUSINESS else tax_id(chance, country)
        monthly = Decimal(chance.randrange(80, 900)) if chance.random() < 0.2 else None
        record = VendorRecord(
            code=f"V{1000 + len(found)}", name=name, country=country, tax_id=registered,
            needs_order=monthly is None and chance.random() < 0.6,
            accounts=(VendorAccount(number=account(chance)),), domains=(domain,),
            senders=(f"accounts@{domain}",), contact=f"accounts@{domain}", treatment=usual,
            rates=(rate,) if rate else (),
            terms=Terms(days=chance.choice([14, 30, 30, 30, 60])),
            names=(base,) if chance.random() < 0.2 else (),
            payees=("Ebbgeld Factoring AG",) if chance.random() < 0.05 else (),
        )  # fmt: skip
        found.append(Seller(
            record=record, entity=entity, rate=rate, reason=_WITHOUT.get(usual, ""),
            monthly=monthly, every=chance.choice([7, 30, 30, 30]) if monthly else 0, prefix=chance.choice(["RE-", "INV/", "", "A", f"{base[:2].upper()}-"]),
        ))  # fmt: skip
    return found


STRANGERS = ("Tidewrack Kiosk Supplies Ltd", "Nordpier Imbiss GmbH", "Beacon Print Ltd")


@dataclass
class World(MemoryKnown):
    """What is known at a moment of the year; grows with every bill that goes through.

    Attributes:
        chance: seeded.
        sellers: by code.
        twins: vendors that are another one's record once more, by its code.
        here: bills that came, by family.
        by_number, by_bare, by_total: the same, to be found quickly.
        placed: orders by number.
    """

    chance: random.Random = field(default_factory=random.Random)
    every_seller: dict[str, Seller] = field(default_factory=dict)
    here: dict[str, list[EarlierDocument]] = field(default_factory=lambda: defaultdict(list))
    index: dict[tuple[str, object], list[EarlierDocument]] = field(
        default_factory=lambda: defaultdict(list)
    )
    placed: dict[str, OrderRecord] = field(default_factory=dict)
    bills: dict[str, PrecedingBill] = field(default_factory=dict)
    by_name: dict[str, VendorRecord] = field(default_factory=dict)
    count: int = 0

    def family(self, vendor: VendorRecord) -> str:
        """What vendors that share a tax id have in common."""
        return registration(vendor.tax_id) or vendor.code

    def add_vendor(self, record: VendorRecord) -> None:
        """A vendor of the master data."""
        self.every_vendor = [*self.every_vendor, record]
        self.by_name[record.code] = record

    def vendor(self, code: str) -> VendorRecord | None:
        """See the port."""
        return self.by_name.get(code)

    def earlier(self, reading: Reading, vendor: VendorRecord) -> Sequence[EarlierDocument]:
        """See the port."""
        family = self.family(vendor)
        number, total = reading.text("number") or "", reading.money("gross_total")
        found: dict[str, EarlierDocument] = {}
        for key in (("number", number_key(number)), ("bare", number_bare(number)),
                    ("total", total)):  # fmt: skip
            for each in self.index[(family, key)]:
                found[each.reference] = each
        return list(found.values())

    def keep(self, reading: Reading, vendor: VendorRecord, *, in_books: bool = False) -> None:
        """A bill went through."""
        self.count += 1
        total, issued = reading.money("gross_total"), reading.day("issue_date")
        number = reading.text("number") or ""
        earlier = EarlierDocument(
            reference=str(self.count), number=number, issued=issued, state="posted",
            posted_as=f"BL-{self.count}", kind=reading.kind, year=issued.year if issued else None,
            total=total, order=reading.text("order_number") or "",
            delivery_note=reading.text("delivery_note") or "",
            period=reading.text("period") or "", vendor=vendor.code, in_books=in_books,
        )  # fmt: skip
        family = self.family(vendor)
        for key in (("number", number_key(number)), ("bare", number_bare(number)),
                    ("total", total)):  # fmt: skip
            self.index[(family, key)].append(earlier)
        if total is not None and reading.kind is Kind.INVOICE:
            self.bills[f"{family} {number_key(number)}"] = PrecedingBill(
                reference=f"document {self.count}", number=number, total=total,
                credited=Money(amount=Decimal(0), currency=total.currency), posted=True,
                how="number",
            )  # fmt: skip
        if reading.kind is Kind.CREDIT_NOTE and total is not None:
            key = f"{family} {number_key(reading.text('preceding_number') or '')}"
            before = self.bills.get(key)
            if before is not None:
                self.bills[key] = replace(before, credited=before.credited + total)
        self._use_orders(reading, vendor)

    def _use_orders(self, reading: Reading, vendor: VendorRecord) -> None:
        """What a bill takes of its orders is not there for the next one."""
        orders = orders_of(self, reading, vendor).known
        if not orders:
            return
        found = shares(Facts(
            reading=reading, order=orders[0], further_orders=orders[1:],
            pairs=pair_with_orders(reading.lines, orders),
        ))  # fmt: skip
        for order in orders:
            share = found.of[order.number] if found is not None else None
            if share is not None and share.currency == order.invoiced.currency:
                sign = -share if reading.kind is Kind.CREDIT_NOTE else share
                self.placed[order.number] = replace(order, invoiced=order.invoiced + sign)

    def preceding(self, reading: Reading, vendor: VendorRecord) -> Sequence[PrecedingBill]:
        """See the port."""
        family, stated = self.family(vendor), reading.text("preceding_number")
        if stated:
            found = self.bills.get(f"{family} {number_key(stated)}")
            return [found] if found else []
        total = reading.money("gross_total")
        return [bill for key, bill in self.bills.items()
                if key.startswith(f"{family} ") and bill.total == total]  # fmt: skip

    def orders(
        self, stated: Collection[str], vendor: VendorRecord | None
    ) -> Mapping[str, OrderRecord]:
        """See the port."""
        return {order_key(each): self.placed[each] for each in stated if each in self.placed}

    def exchange(self, currency: str, into: str, day: date) -> ExchangeRate | None:
        """See the port."""
        worth = {"GBP": "1.17", "CHF": "1.06", "JPY": "0.0061", "USD": "0.92", "NOK": "0.086",
                 "EUR": "1"}  # fmt: skip
        rate = Decimal(worth[currency]) / Decimal(worth[into])
        return ExchangeRate(currency=currency, into=into, rate=rate, day=day, source="day's table")

    def domains_near(self, domain: str) -> Sequence[Lookalike]:
        """See the port."""
        del domain
        return [
            Lookalike(domain=own, vendor=each.code, name=each.name)
            for each in self.every_vendor for own in each.domains
        ]  # fmt: skip

    def fresh(self) -> Mapping[str, date]:
        """See the port."""
        return {}


def world(seed: int) -> World:
    """Everything as it stands on the first day of the year."""
    chance = random.Random(seed)
    every = sellers(chance)
    found = World(
        chance=chance, every_entity=(TRUST, MEERHAUS), foreign_entities=(FOUNDATION,),
        every_seller={each.record.code: each for each in every},
    )  # fmt: skip
    for each in every:
        found.add_vendor(each.record)
    return found


def calendar(there: World, count: int) -> list[tuple[date, Seller]]:
    """Who bills on which day of the year, in its order: some on days of their own, one sum each
    time, the others whenever they delivered."""
    first, found = date(YEAR, 1, 1), []
    usual = [each for each in there.every_seller.values() if not each.every]
    for each in there.every_seller.values():
        day = there.chance.randrange(0, 28)
        while each.every and day < 360:
            found.append((first + timedelta(days=day), each))
            day += each.every
    for _ in range(count - len(found)):
        found.append(
            (first + timedelta(days=there.chance.randrange(360)), there.chance.choice(usual))
        )
    return sorted(found, key=lambda pair: pair[0])
