"""Prepare a posting: reserve the number, build the bill, store both before anything is sent."""

from typing import Any

from django.db import IntegrityError, transaction

from veridox.core.matching import registration
from veridox.core.money import Money
from veridox.core.pipeline import Definition
from veridox.core.reading import Kind, Reading, Row
from veridox.core.reading.reading import cell_money, cell_number, cell_text
from veridox.service.connections.actions.manage import connection_named
from veridox.service.connections.models import ConnectionKind
from veridox.service.documents.models import Document
from veridox.service.ledgers.models import BillReservation, Posting, PostingState
from veridox.service.masterdata.families import of_one_company
from veridox.service.masterdata.models import Vendor
from veridox.service.work import defer


def reserve(document: Document) -> bool:
    """Take the right to this vendor's number; False when another document has it.

    Without a date of issue the year of receipt counts. Nothing is posted without a vendor.
    """
    vendor = document.vendor
    if vendor is None:
        raise ValueError("a document without a vendor is never cleared")
    BillReservation.objects.filter(document=document).delete()
    wanted = {
        "kind": document.kind,
        "number_key": document.number_key,
        "year": document.year,
    }
    # Master data may have changed since another took its right: its family then was another.
    same = of_one_company(vendor.code, vendor.tax_id)
    if BillReservation.objects.filter(same, **wanted).exists():
        return False
    try:
        with transaction.atomic():
            BillReservation.objects.create(
                document=document, vendor=vendor, family=family_of(vendor), **wanted
            )
    except IntegrityError:
        return False
    return True


def family_of(vendor: Vendor) -> str:
    """What vendors that are one company have in common."""
    key = registration(vendor.tax_id)
    return f"tax {key}" if key else f"code {vendor.code}"


def prepare(document: Document, definition: Definition, reading: Reading) -> Posting:
    """Store the posting and queue it. A posting refused before keeps its id."""
    assert definition.post is not None  # noqa: S101 - the caller looked
    ledger = connection_named(definition.post.ledger, ConnectionKind.LEDGER)
    posting = Posting.objects.select_for_update().filter(document=document).first()
    posting = posting or Posting(document=document)
    posting.ledger = ledger
    posting.bill = bill_of(document, reading)
    if posting.state != PostingState.UNSURE:
        # An unsure posting may be booked already: it is looked up first, always.
        posting.state = PostingState.PREPARED
    posting.problem = ""
    posting.save()
    defer("post", posting_id=str(posting.pk))
    return posting


def _text(value: Money | None) -> str | None:
    return value.plain() if value is not None else None


def bill_of(document: Document, reading: Reading) -> dict[str, Any]:
    """The bill in our own shape: EN 16931 names, amounts as text with a decimal point."""
    due, issued = reading.day("due_date"), reading.day("issue_date")
    return {
        "entity": document.entity.code if document.entity else None,
        "vendor": document.vendor.code if document.vendor else None,
        "kind": "credit" if reading.kind is Kind.CREDIT_NOTE else "bill",
        "number": reading.text("number"),
        "issue_date": issued.isoformat() if issued else None,
        "due_date": due.isoformat() if due else None,
        "order_number": document.order.number if document.order else None,
        "currency": reading.currency,
        "net_total": _text(reading.money("net_total")),
        "tax_total": _text(reading.money("tax_total")),
        "gross_total": _text(reading.money("gross_total")),
        "charges": _text(reading.money("charges")),
        "allowances": _text(reading.money("allowances")),
        "lines": _lines(reading),
    }


def _lines(reading: Reading) -> list[dict[str, Any]]:
    lines = [line for row in reading.lines if (line := _line(row)) is not None]
    if lines:
        return lines
    # No table was found: the bill has one line with the net total.
    net = reading.money("net_total")
    text = f"As per {reading.kind.value} {reading.text('number') or ''}".strip()
    return [{"description": text, "amount": _text(net)}] if net else []


def _line(row: Row) -> dict[str, Any] | None:
    amount = cell_money(row, "amount")
    if amount is None:
        return None
    line: dict[str, Any] = {
        "description": cell_text(row, "description") or cell_text(row, "item_code") or "",
        "amount": amount.plain(),
    }
    for name in ("item_code", "unit"):
        if (text := cell_text(row, name)) is not None:
            line[name] = text
    for name in ("quantity", "unit_price", "tax_rate"):
        if (number := cell_number(row, name)) is not None:
            line[name] = format(number, "f")
    return line
