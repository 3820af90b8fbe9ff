"""Facts from the database: the port of core, for one document. Reads, and locks as it reads."""

from collections.abc import Sequence

from django.contrib.postgres.search import TrigramSimilarity
from django.db import connection
from django.db.models import Q

from veridox.core.facts import EntityRecord
from veridox.core.matching import (
    EarlierDocument,
    OrderRecord,
    VendorRecord,
    name_key,
    number_bare,
    number_key,
    order_key,
)
from veridox.core.pipeline import Definition
from veridox.core.reading import Reading
from veridox.service.documents.models import Document
from veridox.service.documents.queries import NOT_COUNTED
from veridox.service.documents.subject import order_record
from veridox.service.ledgers.models import BillReservation
from veridox.service.masterdata.families import family_of, of_one_company, spellings
from veridox.service.masterdata.models import Entity, Order, Vendor
from veridox.service.masterdata.records import entity_record, vendor_record


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
        self.orders: dict[str, Order] = {}
        self._alike: list[Document] = []

    def _vendor(self, row: Vendor) -> VendorRecord:
        self.vendors[row.code] = row
        return vendor_record(row)

    def vendor(self, code: str) -> VendorRecord | None:
        """See the port."""
        row = Vendor.objects.filter(code=code).first()
        return self._vendor(row) if row is not None else None

    def vendors_like(self, reading: Reading) -> Sequence[VendorRecord]:
        """By index: the tax id's, and those with similar names."""
        tax_id = (reading.text("seller.tax_id") or "").replace(" ", "").upper()
        by_id = Vendor.objects.filter(tax_id__in=spellings(tax_id))
        name = name_key(reading.text("seller.name") or "")
        by_name = (
            Vendor.objects.filter(name_key__trigram_similar=name)
            .annotate(similarity=TrigramSimilarity("name_key", name))
            .order_by("-similarity", "code")[:20]
            if name
            else ()
        )
        rows = {row.pk: row for row in (*by_id, *by_name)}
        return [self._vendor(row) for row in rows.values()]

    def entities(self) -> Sequence[EntityRecord]:
        """See the port."""
        rows = Entity.objects.order_by("code")
        if self._definition.entities:
            rows = rows.filter(code__in=self._definition.entities)
        self.entity_rows = {row.code: row for row in rows}
        return [entity_record(row) for row in rows]

    def order(self, stated: str) -> OrderRecord | None:
        """See the port. Two bills of one order that are checked at once would both find room."""
        rows = Order.objects.select_related("vendor", "entity")
        if self._locking:
            rows = rows.select_for_update(of=("self",))
        row = rows.filter(key=order_key(stated)).first()
        if row is None:
            return None
        self.orders[row.number] = row
        return order_record(row, self._document)

    def earlier(self, reading: Reading, vendor: VendorRecord) -> Sequence[EarlierDocument]:
        """See the port. Also what came later but holds the right to the number."""
        self._one_of_the_family_at_a_time(vendor)
        self._alike = self._before(reading, vendor)
        key = number_key(reading.text("number") or "")
        return [_earlier(row) for row in self._alike if row.number_key == key]

    def earlier_near(self, reading: Reading, vendor: VendorRecord) -> Sequence[EarlierDocument]:
        """See the port; asked after `earlier`, which has found both."""
        del vendor
        key = number_key(reading.text("number") or "")
        return [_earlier(row) for row in self._alike if row.number_key != key]

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

    def _one_of_the_family_at_a_time(self, vendor: VendorRecord) -> None:
        if not self._locking:
            return
        with connection.cursor() as cursor:
            key = f"bills of {family_of(vendor.code, vendor.tax_id)}"
            cursor.execute("select pg_advisory_xact_lock(hashtextextended(%s, 0))", [key])

    def _before(self, reading: Reading, vendor: VendorRecord) -> list[Document]:
        """Of the same number, however it is written, kind and year; vendors that share a tax id
        count as one."""
        number = reading.text("number")
        if not number:
            return []
        same = of_one_company(vendor.code, vendor.tax_id)
        alike = Q(number_key=number_key(number)) | Q(number_bare=number_bare(number))
        rows = (
            Document.objects.filter(same, alike, kind=reading.kind.value)
            .filter(Q(pk__lt=self._document.pk) | Q(reservation__isnull=False))
            .exclude(pk=self._document.pk)
            .exclude(state__in=NOT_COUNTED)
            .select_related("posting")
            .order_by("pk")
        )
        return [row for row in rows if row.year == self._document.year]


def _earlier(row: Document) -> EarlierDocument:
    return EarlierDocument(
        reference=str(row.pk),
        number=row.number,
        issued=row.issue_date,
        state=row.state.replace("_", " "),
        posted_as=row.posting.number if row.posting else "",
    )
