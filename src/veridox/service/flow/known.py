"""Facts from the database: the port of core, for one document. Reads, and locks as it reads."""

from collections.abc import Collection, Mapping, Sequence
from datetime import date
from decimal import Decimal
from functools import cached_property
from typing import Any

from django.contrib.postgres.search import TrigramSimilarity
from django.db import connection, transaction
from django.db.models import Q, QuerySet

from veridox.core.coding import CodedBefore, LedgerCodes
from veridox.core.facts import (
    EntityRecord,
    ExchangeRate,
    Lookalike,
    MailFact,
    PrecedingBill,
)
from veridox.core.matching import (
    AgreedRate,
    EarlierDocument,
    OrderRecord,
    VendorRecord,
    account_key,
    name_key,
    number_bare,
    number_key,
    order_key,
    picture_distance,
    registration,
)
from veridox.core.money import Money
from veridox.core.pipeline import Definition
from veridox.core.reading import Kind, Reading
from veridox.service.documents.coding import coded_before
from veridox.service.documents.models import Document
from veridox.service.documents.orders import order_records
from veridox.service.documents.queries import NOT_COUNTED
from veridox.service.flow.lookups import (
    MOST_ALIKE,
    bills_to_compare,
    look_from,
    vendors_known_by,
)
from veridox.service.flow.preceding import preceding_bills
from veridox.service.ledgers.models import BillReservation
from veridox.service.masterdata.codes import ledger_codes
from veridox.service.masterdata.families import family_ids, family_of, of_one_company, spellings
from veridox.service.masterdata.models import (
    BookedBill,
    CardRate,
    Entity,
    MarkKind,
    Order,
    Vendor,
    VendorMark,
)
from veridox.service.masterdata.records import agreed_rate, entity_record, vendor_record
from veridox.service.masterdata.standing import exchange_rate, fresh_since

MOST_ORDERS = 40
"""Newest orders of a vendor among which the one that is meant is looked for."""
MOST_NUMBERS = 1_000
"""Orders of the numbers of one bill that are looked at, of all companies together."""
NEAR_DOMAIN = 0.45
"""Similarity of domains from which one may be taken for the other; core looks closely then."""


class KnownHere:
    """What the service knows around one document.

    With `locking`, two documents that could both be right alone are looked at one after the
    other: bills of one vendor's family, then bills of one order. Whoever locks has the
    document's row already, and takes these always in this order.
    """

    def __init__(self, document: Document, definition: Definition, *, locking: bool) -> None:
        self._document = document
        self._definition = definition
        self._locking = locking
        self.vendors: dict[str, Vendor] = {}
        self.entity_rows: dict[str, Entity] = {}
        self.order_rows: dict[tuple[str, str], Order] = {}
        self._family: list[int] = []

    # -- who

    def _ledgers(self) -> tuple[str, str]:
        """The pipeline's ledger, and the none of those that nobody said the ledger of."""
        post = self._definition.post
        return "", post.ledger if post else ""

    def _vendors(self) -> QuerySet[Vendor]:
        return Vendor.objects.filter(ledger__in=self._ledgers())

    def _vendor(self, row: Vendor) -> VendorRecord:
        self.vendors[row.code] = row
        return vendor_record(row)

    def vendor(self, code: str) -> VendorRecord | None:
        """See the port. A vendor of the ledger comes before one that nobody said the ledger of."""
        rows = self._vendors().filter(code=code).order_by("-ledger")
        row = rows.prefetch_related("marks").first()
        return self._vendor(row) if row is not None else None

    def vendors_like(self, reading: Reading, mail: MailFact) -> Sequence[VendorRecord]:
        """By index: the tax id's, the account's, the sender's, and those with similar names."""
        tax_id = (reading.text("seller.tax_id") or "").replace(" ", "").upper()
        marks = {
            MarkKind.ACCOUNT: account_key(reading.text("account") or ""),
            MarkKind.TAX_ID: registration(tax_id),
        }
        if mail.sender is not None:
            marks[MarkKind.SENDER] = mail.sender.address.lower()
            marks[MarkKind.DOMAIN] = mail.sender.domain
        ids = vendors_known_by(
            ledgers=self._ledgers(), marks=marks, tax_ids=spellings(tax_id),
            name=name_key(reading.text("seller.name") or ""),
        )  # fmt: skip
        rows = (
            self._vendors().filter(pk__in=ids).prefetch_related("marks").order_by("-ledger", "pk")
        )
        found: dict[str, VendorRecord] = {}
        for row in rows:
            if row.code not in found:
                found[row.code] = self._vendor(row)
        return list(found.values())

    def entities(self) -> Sequence[EntityRecord]:
        """See the port."""
        ours = {code: row for code, row in self._companies.items() if self._ours(code)}
        self.entity_rows = ours
        return [entity_record(row) for row in ours.values()]

    def other_entities(self) -> Sequence[EntityRecord]:
        """See the port."""
        rows = self._companies.items()
        return [entity_record(row) for code, row in rows if not self._ours(code)]

    @cached_property
    def _companies(self) -> dict[str, Entity]:
        return {row.code: row for row in Entity.objects.order_by("code")}

    def _ours(self, code: str) -> bool:
        return not self._definition.entities or code in self._definition.entities

    @transaction.atomic(savepoint=False)
    def domains_near(self, domain: str) -> Sequence[Lookalike]:
        """See the port."""
        look_from(NEAR_DOMAIN)
        rows = (
            VendorMark.objects.filter(kind=MarkKind.DOMAIN, key__trigram_similar=domain)
            .annotate(similarity=TrigramSimilarity("key", domain))
            .filter(Q(similarity__gte=NEAR_DOMAIN) | Q(key=domain))
            .order_by("-similarity", "pk").select_related("vendor")[:20]
        )  # fmt: skip
        return [
            Lookalike(domain=row.key, vendor=row.vendor.code, name=row.vendor.name) for row in rows
        ]

    # -- what came before

    def earlier(self, reading: Reading, vendor: VendorRecord) -> Sequence[EarlierDocument]:
        """See the port. Also what came later but holds the right to the number."""
        self._one_of_the_family_at_a_time(vendor)
        self._family = family_ids(vendor)
        return [*self._here(reading), *self._in_books(reading)]

    def _here(self, reading: Reading) -> list[EarlierDocument]:
        total = reading.money("gross_total")
        rows = bills_to_compare(
            self._document, kind=reading.kind.value, family=self._family,
            number=reading.text("number") or "", total=total.amount if total else None,
            currency=total.currency if total else "",
        )  # fmt: skip
        return [self._earlier(row) for row in rows]

    def _earlier(self, row: Mapping[str, Any]) -> EarlierDocument:
        issued = row["issue_date"] or row["received_at"].date()
        return EarlierDocument(
            reference=str(row["id"]),
            number=row["number"],
            issued=issued,
            state=row["state"].replace("_", " "),
            posted_as=row["posted_as"] or "",
            kind=Kind(row["kind"]),
            year=issued.year,
            total=_money(row["gross_total"], row["currency"]),
            order=row["order_number"] or "",
            delivery_note=row["delivery_note"],
            period=row["period"],
            vendor=row["vendor"] or "",
            entity=row["entity"] or "",
            same_file=row["same_file"],
            picture=picture_distance(self._document.picture, row["picture"]),
            came_later=row["id"] > self._document.pk,
        )

    def _in_books(self, reading: Reading) -> list[EarlierDocument]:
        """What stands in the ledger and was not posted from here."""
        number, total = reading.text("number") or "", reading.money("gross_total")
        wanted = Q(pk=None)
        if number:
            wanted |= Q(number_key=number_key(number)) | Q(number_bare=number_bare(number))
        if total is not None:
            wanted |= Q(gross_total=total.amount, currency=total.currency)
        rows = BookedBill.objects.filter(
            wanted, vendor_id__in=self._family, kind=reading.kind.value, reference="", gone_at=None
        ).select_related("vendor").order_by("-issue_date", "pk")  # fmt: skip
        return [
            EarlierDocument(
                reference=row.booked_as,
                number=row.number,
                issued=row.issue_date,
                state="booked",
                posted_as=row.booked_as,
                kind=Kind(row.kind),
                year=row.issue_date.year if row.issue_date else None,
                total=_money(row.gross_total, row.currency),
                order=row.order_number,
                vendor=row.vendor.code,
                entity=row.entity,
                in_books=True,
            )
            for row in rows[:MOST_ALIKE]
        ]

    def number_taken(self, reading: Reading, vendor: VendorRecord) -> bool:
        """See the port. Without a date of issue the year of receipt counts."""
        # Master data may have changed since another took its right: its family then was another.
        same = of_one_company(vendor.code, vendor.tax_id)
        same |= Q(family=family_of(vendor.code, vendor.tax_id))
        wanted = {
            "kind": reading.kind.value,
            "number_key": self._document.number_key,
            "year": self._document.year,
        }
        others = BillReservation.objects.exclude(document=self._document)
        return others.filter(same, **wanted).exists()

    def first_bill(self, vendor: VendorRecord) -> bool | None:
        """See the port. Nobody knows as long as the ledger's books were never brought in."""
        del vendor
        if "books" not in self.fresh():
            return None
        here = Document.objects.filter(vendor_id__in=self._family, pk__lt=self._document.pk)
        if here.exclude(state__in=NOT_COUNTED).exists():
            return False
        return not BookedBill.objects.filter(vendor_id__in=self._family).exists()

    def preceding(self, reading: Reading, vendor: VendorRecord) -> Sequence[PrecedingBill]:
        """See the port."""
        del vendor
        return preceding_bills(reading, self._document, self._family)

    # -- what was ordered, and what it is worth

    def orders(
        self, stated: Collection[str], vendor: VendorRecord | None
    ) -> Mapping[str, OrderRecord]:
        """See the port. Two bills of one order that are checked at once would both find room; all
        are locked in one order, so that two bills of two orders never wait for each other."""
        keys = {order_key(each) for each in stated}
        rows = Order.objects.select_related("vendor", "entity").filter(key__in=keys)
        if self._locking:
            rows = rows.select_for_update(of=("self",))

        def fits(row: Order) -> tuple[bool, bool]:
            own = vendor is not None and row.vendor.code == vendor.code
            return own, self._ours(row.entity.code)

        found: dict[str, Order] = {}
        for row in rows.order_by("pk")[:MOST_NUMBERS]:
            if row.key not in found or fits(row) > fits(found[row.key]):
                found[row.key] = row
        self.order_rows = {(row.entity.code, row.number): row for row in found.values()}
        records = order_records(list(found.values()), self._document)
        return dict(zip(found, records, strict=True))

    def open_orders(self, vendor: VendorRecord) -> Sequence[OrderRecord]:
        """See the port."""
        row = self.vendors.get(vendor.code)
        if row is None:
            return []
        rows = Order.objects.select_related("vendor", "entity").filter(
            vendor=row, closed=False, gone_at=None
        )  # fmt: skip
        if self._definition.entities:
            rows = rows.filter(entity__code__in=self._definition.entities)
        newest = list(rows.order_by("-ordered_on", "-pk")[:MOST_ORDERS])
        return order_records(newest, self._document)

    def agreed(self, vendor: VendorRecord) -> Sequence[AgreedRate] | None:
        """See the port."""
        row = self.vendors.get(vendor.code)
        rows = CardRate.objects.filter(vendor=row, gone_at=None).order_by("pk") if row else ()
        return [agreed_rate(each) for each in rows] or None

    def ledger_codes(self, entity: str) -> LedgerCodes:
        """See the port."""
        return ledger_codes(self._ledgers(), entity)

    def coded_before(self, vendor: VendorRecord) -> Sequence[CodedBefore]:
        """See the port."""
        del vendor  # its family was found with the bills that came earlier
        return coded_before(self._family, self._document)

    def exchange(self, currency: str, into: str, day: date) -> ExchangeRate | None:
        """See the port."""
        return exchange_rate(currency, into, day)

    def accounts_kept(self) -> bool:
        """See the port."""
        return VendorMark.objects.filter(kind=MarkKind.ACCOUNT).exists()

    def fresh(self) -> Mapping[str, date]:
        """See the port."""
        return self._fresh

    @cached_property
    def _fresh(self) -> Mapping[str, date]:
        return fresh_since()

    def _one_of_the_family_at_a_time(self, vendor: VendorRecord) -> None:
        if not self._locking:
            return
        with connection.cursor() as cursor:
            key = f"bills of {family_of(vendor.code, vendor.tax_id)}"
            cursor.execute("select pg_advisory_xact_lock(hashtextextended(%s, 0))", [key])


def _money(amount: Decimal | None, currency: str) -> Money | None:
    """Of a column, which has more places than most currencies."""
    if amount is None or not currency:
        return None
    return Money(amount=amount, currency=currency).rounded()
