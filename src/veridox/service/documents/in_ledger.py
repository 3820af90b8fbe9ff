"""What the ledger lists for a document: by its number, else by its order, of its vendor. Reads."""

from veridox.core.matching import (
    BesideLedger,
    LedgerRecord,
    beside_ledger,
    number_key,
    order_numbers,
)
from veridox.core.money import Money
from veridox.service.documents.columns import current_reading
from veridox.service.documents.models import Document
from veridox.service.documents.orders import orders_of_bill
from veridox.service.masterdata.families import family_ids
from veridox.service.masterdata.models import BookedBill
from veridox.service.masterdata.records import vendor_record

MOST = 20


def in_ledger(document: Document) -> list[BesideLedger]:
    """Records of the ledger's listing beside the bill; empty where its vendor is not known."""
    if document.vendor is None:
        return []
    reading = current_reading(document)
    rows = BookedBill.objects.filter(
        vendor_id__in=family_ids(vendor_record(document.vendor)), kind=document.kind, gone_at=None
    ).order_by("-pk")  # fmt: skip
    number = reading.text("number") or ""
    found, how = [], "number"
    if number:
        found = list(rows.filter(number_key=number_key(number))[:MOST])
    orders = [each.number for each in orders_of_bill(document)] or list(order_numbers(reading))
    if not found and orders:
        found, how = list(rows.filter(order_number__in=orders)[:MOST]), "order and vendor"
    posting = str(document.posting_id) if document.posting_id else ""
    return [beside_ledger(reading, _record(row, how, posting)) for row in found]


def _record(row: BookedBill, how: str, posting: str) -> LedgerRecord:
    def money(amount: object) -> Money:
        return Money(amount=amount, currency=row.currency).rounded()  # type: ignore[arg-type]

    return LedgerRecord(
        booked_as=row.booked_as, number=row.number, order=row.order_number, how=how,
        total=money(row.gross_total),
        open=money(row.open_amount) if row.open_amount is not None else None,
        own=bool(posting) and row.reference == posting,
    )  # fmt: skip
