"""Bills that a credit note may take back, here and in the ledger's books."""

from collections.abc import Iterable
from datetime import timedelta
from decimal import Decimal

from django.db.models import Sum

from veridox.core.facts import PrecedingBill
from veridox.core.matching import number_key
from veridox.core.money import Money
from veridox.core.pipeline import State
from veridox.core.reading import Kind, Reading
from veridox.service.documents.models import Document
from veridox.service.documents.orders import BILLED
from veridox.service.documents.queries import NOT_COUNTED
from veridox.service.masterdata.models import BookedBill

LOOKED_BACK = timedelta(days=400)
MOST = 20


def preceding_bills(
    reading: Reading, document: Document, family: Iterable[int]
) -> list[PrecedingBill]:
    """By the number that it names; without one, by order and total, then by total alone."""
    total, stated = reading.money("gross_total"), reading.text("preceding_number")
    if total is None:
        return []
    ids = list(family)
    bills = (
        Document.objects.filter(vendor_id__in=ids, kind=Kind.INVOICE.value, currency=total.currency)
        .exclude(state__in=NOT_COUNTED).exclude(pk=document.pk).select_related("posting")
    )  # fmt: skip
    booked = BookedBill.objects.filter(
        vendor_id__in=ids, kind=Kind.INVOICE.value, currency=total.currency, gone_at=None
    )
    if stated:
        key = number_key(stated)
        return [
            *(_here(row, document, "number") for row in _newest(bills.filter(number_key=key))),
            *(_in_books(row, document, "number") for row in booked.filter(
                number_key=key, reference="")[:MOST]),
        ]  # fmt: skip
    since = document.received_at - LOOKED_BACK
    bills, same = bills.filter(received_at__gte=since, pk__lt=document.pk), []
    order = reading.text("order_number")
    if order and document.order_id:
        same = [
            _here(row, document, "order and total")
            for row in _newest(bills.filter(order=document.order_id, gross_total__gte=total.amount))
        ]
    of_total = [
        _here(row, document, "total") for row in _newest(bills.filter(gross_total=total.amount))
    ]
    of_books = [
        _in_books(row, document, "total")
        for row in booked.filter(gross_total=total.amount, reference="").order_by("-pk")[:MOST]
    ]
    return [*same, *of_total, *of_books]


def _newest(rows: Iterable[Document]) -> list[Document]:
    """Those that stand in the ledger first, then the newest."""
    found = list(rows.order_by("-pk")[:MOST])  # type: ignore[attr-defined]
    return sorted(found, key=lambda row: row.state != State.POSTED)


def _credited(reference: str, without: Document, currency: str) -> Money:
    rows = Document.objects.filter(
        credits=reference, state__in=BILLED, kind=Kind.CREDIT_NOTE.value, currency=currency
    ).exclude(pk=without.pk)  # fmt: skip
    credited: Decimal | None = rows.aggregate(total=Sum("gross_total"))["total"]
    return Money(amount=credited or Decimal(0), currency=currency).rounded()


def _here(row: Document, document: Document, how: str) -> PrecedingBill:
    reference = f"document {row.pk}"
    return PrecedingBill(
        reference=reference,
        number=row.number,
        total=Money(amount=row.gross_total or Decimal(0), currency=row.currency).rounded(),
        credited=_credited(reference, document, row.currency),
        posted=row.state == State.POSTED,
        how=how,
    )


def _in_books(row: BookedBill, document: Document, how: str) -> PrecedingBill:
    reference = f"{row.booked_as} in the books"
    return PrecedingBill(
        reference=reference,
        number=row.number,
        total=Money(amount=row.gross_total, currency=row.currency).rounded(),
        credited=_credited(reference, document, row.currency),
        posted=True,
        how=how,
    )
