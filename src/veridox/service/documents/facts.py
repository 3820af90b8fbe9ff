"""Gather what the checks look at. Reads only."""

from collections.abc import Iterable
from decimal import Decimal

from django.contrib.postgres.search import TrigramSimilarity
from django.db.models import Case, F, Q, Sum, When

from veridox.core.checks import EntityRecord, Facts, choose_entity
from veridox.core.findings import Finding
from veridox.core.matching import (
    EarlierDocument,
    OrderRecord,
    VendorRecord,
    choose_vendor,
    name_key,
    number_key,
    order_key,
)
from veridox.core.money import Money
from veridox.core.pipeline import Definition
from veridox.core.reading import Kind, Reading
from veridox.service.documents.models import Document, State
from veridox.service.masterdata.models import Entity, Order, Vendor

NOT_COUNTED = (State.DISCARDED, State.RETURNED, State.ASIDE)
BILLED = (State.CLEARED, State.POSTED)


def facts_of(document: Document, definition: Definition, reading: Reading) -> Facts:
    """All facts about a document as it stands now."""
    vendor, near = choose_vendor(reading, (_vendor(row) for row in vendor_candidates(reading)))
    order = order_named(document, reading)
    entities = Entity.objects.order_by("code")
    if definition.entities:
        entities = entities.filter(code__in=definition.entities)
    entity = choose_entity(
        reading,
        (EntityRecord(code=e.code, name=e.name, tax_id=e.tax_id) for e in entities),
        order,
    )
    return Facts(
        reading=reading,
        file_findings=tuple(
            Finding.from_json(each)
            for each in document.file.findings
            if document.holds(each.get("page"))
        ),
        entity=entity,
        vendor=vendor,
        near_vendors=near,
        order=order,
        earlier=tuple(earlier(document, reading, vendor)) if vendor else (),
        settings=definition.check,
    )


def _vendor(row: Vendor) -> VendorRecord:
    return VendorRecord(
        code=row.code,
        name=row.name,
        tax_id=row.tax_id,
        needs_order=row.needs_order,
        blocked=row.blocked,
    )


def vendor_candidates(reading: Reading) -> list[Vendor]:
    """Vendors that may be meant, by index: the tax id's, and those with similar names."""
    tax_id = (reading.text("seller.tax_id") or "").replace(" ", "").upper()
    bare = tax_id.removeprefix("GB")
    by_id = Vendor.objects.filter(tax_id__in=[tax_id, bare, "GB" + bare]) if tax_id else ()
    name = name_key(reading.text("seller.name") or "")
    by_name = (
        Vendor.objects.filter(name_key__trigram_similar=name)
        .annotate(similarity=TrigramSimilarity("name_key", name))
        .order_by("-similarity", "code")[:20]
        if name
        else ()
    )
    return list({row.pk: row for row in (*by_id, *by_name)}.values())


def order_named(document: Document, reading: Reading) -> OrderRecord | None:
    """The order that the document names, with what was billed on it by others."""
    stated = reading.text("order_number")
    row = (
        Order.objects.select_related("vendor", "entity").filter(key=order_key(stated)).first()
        if stated
        else None
    )
    if row is None:
        return None
    sign = Case(When(kind=Kind.CREDIT_NOTE.value, then=-F("net_total")), default=F("net_total"))
    billed = (
        Document.objects.filter(order=row, state__in=BILLED, currency=row.currency)
        .exclude(pk=document.pk)
        .aggregate(net=Sum(sign))["net"]
    )
    return OrderRecord(
        number=row.number,
        vendor=row.vendor.code,
        net_total=Money(amount=row.net_total, currency=row.currency).rounded(),
        invoiced=Money(amount=billed or Decimal(0), currency=row.currency).rounded(),
        closed=row.closed,
        entity=row.entity.code,
    )


def earlier(
    document: Document, reading: Reading, vendor: VendorRecord
) -> Iterable[EarlierDocument]:
    """Documents with the same vendor, kind, number and year that came first or hold the right.

    Vendors that share a tax id count as one.
    """
    number, issued = reading.text("number"), reading.day("issue_date")
    if not number:
        return
    same = Q(vendor__code=vendor.code)
    if vendor.tax_id:
        same |= Q(vendor__tax_id=vendor.tax_id)
    rows = (
        Document.objects.filter(same, number_key=number_key(number), kind=reading.kind.value)
        .filter(Q(pk__lt=document.pk) | Q(reservation__isnull=False))
        .exclude(pk=document.pk)
        .exclude(state__in=NOT_COUNTED)
        .select_related("posting")
        .order_by("pk")
    )
    for row in rows:
        if issued and row.issue_date and issued.year != row.issue_date.year:
            continue
        posting = getattr(row, "posting", None)
        yield EarlierDocument(
            reference=str(row.pk),
            number=row.number,
            issued=row.issue_date,
            state=row.state.replace("_", " "),
            posted_as=posting.number if posting else "",
        )
