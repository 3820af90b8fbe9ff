"""Facts from the database: the port of core, for one document. Reads, and locks as it reads."""

from collections.abc import Mapping, Sequence
from datetime import date
from decimal import Decimal
from typing import Any

from django.contrib.postgres.search import TrigramSimilarity
from django.db import connection, transaction
from django.db.models import Q, QuerySet

from veridox.core.facts import (
    EntityRecord,
    ExchangeRate,
    Lookalike,
    MailFact,
    PrecedingBill,
)
from veridox.core.matching import (
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
from veridox.service.documents.models import Document
from veridox.service.documents.orders import order_record, order_records
from veridox.service.documents.queries import NOT_COUNTED
from veridox.service.flow.preceding import preceding_bills
from veridox.service.ledgers.models import BillReservation
from veridox.service.masterdata.families import family_ids, family_of, of_one_company, spellings
from veridox.service.masterdata.models import (
    BookedBill,
    Entity,
    MarkKind,
    Order,
    Vendor,
    VendorMark,
)
from veridox.service.masterdata.records import entity_record, vendor_record
from veridox.service.masterdata.standing import exchange_rate, fresh_since

MOST_ORDERS = 40
"""Newest orders of a vendor among which the one that is meant is looked for."""
MOST_ALIKE = 60
"""Earlier bills of one total that are compared; older ones are regular, or long paid."""
_COMPARED = (
    "pk", "number", "issue_date", "received_at", "state", "posting__number", "kind", "gross_total",
    "currency", "order__number", "delivery_note", "period", "vendor__code", "entity__code",
    "picture",
)  # fmt: skip
NEAR_DOMAIN = 0.45
"""Similarity of domains from which one may be taken for the other; core looks closely then."""


NAME_FROM, LONG_NAME, LONG_NAME_FROM = 0.3, 12, 0.5
"""A letter more or less makes a short name rather another one. Long ones share words with
thousands of others, and looking at all of these takes its time."""
FIRST_WORD, WORD_FROM, FOUND = 4, 0.45, 0.5
"""So like it must be one of the words of a name that begins as the one looked for does. That is
found in a third of the time, since few names share their first word; where none of those is alike
as a whole, all words are gone by."""


def _look_from(similarity: float, word: float = WORD_FROM) -> None:
    """How alike a text must be, or one of its words, for an index to find it, in this
    transaction."""
    with connection.cursor() as cursor:
        cursor.execute(
            "select set_config('pg_trgm.similarity_threshold', %s, true),"
            " set_config('pg_trgm.word_similarity_threshold', %s, true)",
            [str(similarity), str(word)],
        )


def _most_alike(rows: QuerySet[Any], column: str, name: str, of: str) -> list[tuple[int, float]]:
    """The twenty whose column is most like a name, each with how much."""
    ranked = rows.annotate(alike=TrigramSimilarity(column, name)).order_by("-alike", "pk")
    return list(ranked.values_list(of, "alike")[:20])


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
        self.orders: dict[tuple[str, str], Order] = {}
        self._family: list[int] = []

    # -- who

    def _vendors(self) -> QuerySet[Vendor]:
        """Those of the pipeline's ledger, and those that nobody said the ledger of."""
        post = self._definition.post
        return Vendor.objects.filter(ledger__in=("", post.ledger if post else ""))

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
        ids = self._marked(reading, mail)
        tax_id = (reading.text("seller.tax_id") or "").replace(" ", "").upper()
        ids |= set(
            self._vendors().filter(tax_id__in=spellings(tax_id)).values_list("pk", flat=True)
        )
        name = name_key(reading.text("seller.name") or "")
        if name:
            ids |= self._called(name)
        rows = (
            self._vendors().filter(pk__in=ids).prefetch_related("marks").order_by("-ledger", "pk")
        )
        found: dict[str, VendorRecord] = {}
        for row in rows:
            if row.code not in found:
                found[row.code] = self._vendor(row)
        return list(found.values())

    def _marked(self, reading: Reading, mail: MailFact) -> set[int]:
        wanted = {
            MarkKind.ACCOUNT: account_key(reading.text("account") or ""),
            MarkKind.TAX_ID: registration(reading.text("seller.tax_id") or ""),
        }
        if mail.sender is not None:
            wanted[MarkKind.SENDER] = mail.sender.address.lower()
            wanted[MarkKind.DOMAIN] = mail.sender.domain
        either = Q(pk=None)
        for kind, key in wanted.items():
            if key:
                either |= Q(kind=kind, key=key)
        marks = VendorMark.objects.filter(either).values_list("vendor_id", flat=True)
        return set(marks[:100])

    def _called(self, name: str) -> set[int]:
        """Those that are called just so; where nobody is, those of similar names."""
        exactly = set(self._vendors().filter(name_key=name).values_list("pk", flat=True)[:20])
        exactly |= set(
            VendorMark.objects.filter(kind=MarkKind.NAME, key=name)
            .values_list("vendor_id", flat=True)[:20]
        )  # fmt: skip
        return exactly or self._called_like(name)

    # How alike is set for a transaction; outside of one it would be forgotten at once.
    @transaction.atomic(savepoint=False)
    def _called_like(self, name: str) -> set[int]:
        _look_from(LONG_NAME_FROM if len(name) >= LONG_NAME else NAME_FROM)
        vendors, first = self._vendors(), name.split(" ", 1)[0]
        others = VendorMark.objects.filter(kind=MarkKind.NAME)
        if len(first) >= FIRST_WORD:
            found = _most_alike(vendors.filter(name_key__trigram_word_similar=first), "name_key",
                                name, "pk")  # fmt: skip
            found += _most_alike(others.filter(key__trigram_word_similar=first), "key", name,
                                 "vendor_id")  # fmt: skip
            if max((alike for _, alike in found), default=0) >= FOUND:
                return {pk for pk, _ in found}
        found = _most_alike(vendors.filter(name_key__trigram_similar=name), "name_key", name, "pk")
        found += _most_alike(others.filter(key__trigram_similar=name), "key", name, "vendor_id")
        return {pk for pk, _ in found}

    def entities(self) -> Sequence[EntityRecord]:
        """See the port."""
        rows = Entity.objects.order_by("code")
        if self._definition.entities:
            rows = rows.filter(code__in=self._definition.entities)
        self.entity_rows = {row.code: row for row in rows}
        return [entity_record(row) for row in self.entity_rows.values()]

    def other_entities(self) -> Sequence[EntityRecord]:
        """See the port."""
        if not self._definition.entities:
            return ()
        rows = Entity.objects.exclude(code__in=self._definition.entities).order_by("code")
        return [entity_record(row) for row in rows]

    @transaction.atomic(savepoint=False)
    def domains_near(self, domain: str) -> Sequence[Lookalike]:
        """See the port."""
        _look_from(NEAR_DOMAIN)
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
        own = self._document
        number, total = reading.text("number") or "", reading.money("gross_total")
        counted = (
            Document.objects.filter(kind=reading.kind.value).exclude(pk=own.pk)
            .exclude(state__in=NOT_COUNTED)
        )  # fmt: skip
        ids: set[int] = set()
        # Asked apart, so that an index gives the newest of each: a vendor may have thousands of
        # bills of one total.
        for of_family in (
            counted.filter(pk__lt=own.pk, vendor_id__in=self._family).order_by("-pk"),
            counted.filter(
                pk__gt=own.pk, vendor_id__in=self._family, reservation__isnull=False
            ).order_by("pk"),
        ):  # fmt: skip
            if number:
                alike = Q(number_key=number_key(number)) | Q(number_bare=number_bare(number))
                # In no order: few have a number, and its own index is to find them.
                few = of_family.filter(alike).order_by()
                ids |= set(few.values_list("pk", flat=True)[:MOST_ALIKE])
            if total is not None:
                same = of_family.filter(gross_total=total.amount, currency=total.currency)
                ids |= set(same.values_list("pk", flat=True)[:MOST_ALIKE])
        same_file: set[int] = set()
        if own.file_id is not None:  # what is only tried has no file
            files = counted.filter(
                pk__lt=own.pk, file__sha256=own.file.sha256, position=own.position
            ).exclude(file=own.file)  # fmt: skip
            same_file = set(files.values_list("pk", flat=True)[:10])
        # Only the columns that are compared: findings and evidence of sixty bills are long.
        rows = Document.objects.filter(pk__in=ids | same_file).order_by("pk").values(*_COMPARED)
        return [self._earlier(row, same_file=row["pk"] in same_file) for row in rows]

    def _earlier(self, row: Mapping[str, Any], *, same_file: bool) -> EarlierDocument:
        issued = row["issue_date"] or row["received_at"].date()
        return EarlierDocument(
            reference=str(row["pk"]),
            number=row["number"],
            issued=issued,
            state=row["state"].replace("_", " "),
            posted_as=row["posting__number"] or "",
            kind=Kind(row["kind"]),
            year=issued.year,
            total=_money(row["gross_total"], row["currency"]),
            order=row["order__number"] or "",
            delivery_note=row["delivery_note"],
            period=row["period"],
            vendor=row["vendor__code"] or "",
            entity=row["entity__code"] or "",
            same_file=same_file,
            picture=picture_distance(self._document.picture, row["picture"]),
            came_later=row["pk"] > self._document.pk,
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

    def order(self, stated: str, vendor: VendorRecord | None) -> OrderRecord | None:
        """See the port. Two bills of one order that are checked at once would both find room."""
        rows = Order.objects.select_related("vendor", "entity").filter(key=order_key(stated))
        if self._locking:
            rows = rows.select_for_update(of=("self",))
        found = list(rows.order_by("pk")[:20])
        if not found:
            return None

        def fits(row: Order) -> tuple[bool, bool]:
            own = vendor is not None and row.vendor.code == vendor.code
            ours = row.entity.code in self._definition.entities or not self._definition.entities
            return own, ours

        row = max(found, key=fits)
        self.orders[(row.entity.code, row.number)] = row
        return order_record(row, self._document)

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

    def exchange(self, currency: str, into: str, day: date) -> ExchangeRate | None:
        """See the port."""
        return exchange_rate(currency, into, day)

    def accounts_kept(self) -> bool:
        """See the port."""
        return VendorMark.objects.filter(kind=MarkKind.ACCOUNT).exists()

    def fresh(self) -> Mapping[str, date]:
        """See the port."""
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
