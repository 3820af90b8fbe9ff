"""Gather what the checks look at. Reads only."""

from collections.abc import Iterable
from decimal import Decimal
from typing import Any

from django.contrib.postgres.search import TrigramSimilarity
from django.db.models import Case, F, Q, QuerySet, Sum, When
from django.db.models.functions import Coalesce

from veridox.core.checks import EntityChoice, EntityRecord, Facts, choose_entity
from veridox.core.findings import Finding
from veridox.core.matching import (
    EarlierDocument,
    OrderRecord,
    VendorChoice,
    VendorRecord,
    choose_vendor,
    name_key,
    number_bare,
    number_key,
    order_key,
)
from veridox.core.money import Money
from veridox.core.pipeline import Definition
from veridox.core.reading import Kind, Reading
from veridox.service.documents.columns import current_reading
from veridox.service.documents.models import Document, State
from veridox.service.masterdata.families import of_one_company, spellings
from veridox.service.masterdata.models import Entity, Order, Vendor
from veridox.service.pipelines.queries import definition_of

NOT_COUNTED = (State.DISCARDED, State.RETURNED, State.ASIDE)
BILLED = (State.CLEARED, State.POSTED)


SAID_OF = {"vendor": ("seller.name", "seller.tax_id"), "entity": ("buyer.name", "buyer.tax_id")}
"""The values that a person's choice was made on; with others it does not hold."""


def facts_of(document: Document, definition: Definition, reading: Reading) -> Facts:
    """All facts about a document as it stands now.

    The order that it names is locked until the transaction ends: two bills of one order
    that are checked at once would else both find room on it.
    """
    seller = _seller(document, reading)
    order = order_named(document, reading)
    buyer = _buyer(document, definition, reading, order)
    return Facts(
        reading=reading,
        file_findings=tuple(
            Finding.from_json(each)
            for each in document.file.findings
            if document.holds(each.get("page"))
        ),
        entity=buyer.entity,
        entity_contradiction=buyer.contradiction,
        vendor=seller.vendor,
        vendor_chosen=bool(chosen(document, reading, "vendor")),
        vendor_contradiction=seller.contradiction,
        near_vendors=seller.near,
        order=order,
        earlier=tuple(earlier(document, reading, seller.vendor)) if seller.vendor else (),
        earlier_near=tuple(earlier_near(document, reading, seller.vendor)) if seller.vendor else (),
        arrived=document.received_at.date(),
        settings=definition.check,
    )


def said_of(reading: Reading, what: str) -> dict[str, str]:
    """What the reading says of the seller (`vendor`) or buyer (`entity`), for a choice."""
    return {name: reading.text(name) or "" for name in SAID_OF[what]}


def chosen(document: Document, reading: Reading, what: str) -> str:
    """The code that a person chose, as long as the bill says what it said then; else empty."""
    choice = document.chosen.get(what)
    if not choice or choice["said"] != said_of(reading, what):
        return ""
    return str(choice["code"])


def parties(document: Document) -> dict[str, Any]:
    """Vendors and entities that a person may mean, best first."""
    reading = current_reading(document)
    records = [_vendor(each) for each in vendor_candidates(reading)]
    definition = definition_of(document.pipeline_version)
    return {
        "vendors": choose_vendor(reading, records).near,
        "entities": _ours(definition),
    }


def _seller(document: Document, reading: Reading) -> VendorChoice:
    code = chosen(document, reading, "vendor")
    row = Vendor.objects.filter(code=code).first() if code else None
    if row is not None:
        return VendorChoice(vendor=_vendor(row))
    return choose_vendor(reading, (_vendor(each) for each in vendor_candidates(reading)))


def _buyer(
    document: Document, definition: Definition, reading: Reading, order: OrderRecord | None
) -> EntityChoice:
    ours = _ours(definition)
    code = chosen(document, reading, "entity")
    for each in ours:
        if code and each.code == code:
            return EntityChoice(entity=each)
    return choose_entity(reading, ours, order)


def _ours(definition: Definition) -> list[EntityRecord]:
    rows = Entity.objects.order_by("code")
    if definition.entities:
        rows = rows.filter(code__in=definition.entities)
    return [EntityRecord(code=e.code, name=e.name, tax_id=e.tax_id) for e in rows]


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
    by_id = Vendor.objects.filter(tax_id__in=spellings(tax_id))
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
    rows = Order.objects.select_related("vendor", "entity").select_for_update(of=("self",))
    row = rows.filter(key=order_key(stated)).first() if stated else None
    if row is None:
        return None
    goods = F("net_total") - Coalesce(F("charges"), Decimal(0))
    sign = Case(When(kind=Kind.CREDIT_NOTE.value, then=-goods), default=goods)
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
    """Documents with the same vendor, kind, number and year that came first or hold the right."""
    number = reading.text("number")
    if number:
        rows = _before(document, reading, vendor).filter(number_key=number_key(number))
        yield from _of_the_year(document, rows)


def earlier_near(
    document: Document, reading: Reading, vendor: VendorRecord
) -> Iterable[EarlierDocument]:
    """The same with a number that differs in its separators only."""
    number = reading.text("number")
    if number:
        rows = _before(document, reading, vendor).filter(number_bare=number_bare(number))
        yield from _of_the_year(document, rows.exclude(number_key=number_key(number)))


def _before(
    document: Document, reading: Reading, vendor: VendorRecord
) -> QuerySet[Document, Document]:
    """Vendors that share a tax id count as one."""
    same = of_one_company(vendor.code, vendor.tax_id)
    return (
        Document.objects.filter(same, kind=reading.kind.value)
        .filter(Q(pk__lt=document.pk) | Q(reservation__isnull=False))
        .exclude(pk=document.pk)
        .exclude(state__in=NOT_COUNTED)
        .select_related("posting")
        .order_by("pk")
    )


def _of_the_year(
    document: Document, rows: QuerySet[Document, Document]
) -> Iterable[EarlierDocument]:
    for row in rows:
        if row.year != document.year:
            continue
        posting = getattr(row, "posting", None)
        yield EarlierDocument(
            reference=str(row.pk),
            number=row.number,
            issued=row.issue_date,
            state=row.state.replace("_", " "),
            posted_as=posting.number if posting else "",
        )
