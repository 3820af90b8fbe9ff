"""Documents as rows of a table for spreadsheets."""

from typing import Any

from veridox.core.money import Money
from veridox.service.documents.models import Document
from veridox.service.web.tables import Column


def _amount(name: str) -> Any:
    def value(document: Document) -> Any:
        amount = getattr(document, name)
        if amount is None or not document.currency:
            return amount
        return Money(amount=amount, currency=document.currency).rounded().amount

    return value


def _posting(name: str) -> Any:
    return lambda document: getattr(document.posting, name, None)


def _mail(name: str) -> Any:
    return lambda document: getattr(document.file.message, name, None)


DOCUMENT_COLUMNS: dict[str, Column] = {
    "id": Column(title="Document", value=lambda d: d.pk),
    "state": Column(title="State", value=lambda d: d.state),
    "queue": Column(title="Queue", value=lambda d: d.queue),
    "kind": Column(title="Kind", value=lambda d: d.kind),
    "number": Column(title="Number", value=lambda d: d.number),
    "issue_date": Column(title="Issue date", value=lambda d: d.issue_date),
    "vendor": Column(title="Vendor", value=lambda d: d.vendor.code if d.vendor else None),
    "seller_name": Column(
        title="Vendor's name", value=lambda d: d.vendor.name if d.vendor else d.seller_name
    ),
    "order": Column(title="Order", value=lambda d: ", ".join(d.order_numbers)),
    "entity": Column(title="Entity", value=lambda d: d.entity.code if d.entity else None),
    "currency": Column(title="Currency", value=lambda d: d.currency),
    "net_total": Column(title="Net total", value=_amount("net_total")),
    "gross_total": Column(title="Total with tax", value=_amount("gross_total")),
    "reasons": Column(title="Why it stopped", value=lambda d: " ".join(d.reasons)),
    "taken_by": Column(
        title="Taken by", value=lambda d: d.taken_by.get_username() if d.taken_by else None
    ),
    "held_until": Column(title="On hold until", value=lambda d: d.held_until),
    "end_reason": Column(title="Ended because", value=lambda d: d.end_reason),
    "touched": Column(title="Touched by a person", value=lambda d: "yes" if d.touched else "no"),
    "posting_number": Column(title="Ledger number", value=_posting("number")),
    "posted_at": Column(title="Posted at", value=_posting("posted_at")),
    "sender": Column(title="Sender", value=_mail("sender_address")),
    "subject": Column(title="Subject", value=_mail("subject")),
    "file_name": Column(title="File", value=lambda d: d.file.name),
    "pipeline": Column(title="Pipeline", value=lambda d: d.pipeline_version.pipeline.name),
    "received_at": Column(title="Received", value=lambda d: d.received_at),
    "state_at": Column(title="In this state since", value=lambda d: d.state_at),
    "ended_at": Column(title="Ended", value=lambda d: d.ended_at),
}
"""Names as in the API; every column of the console's list is here."""
