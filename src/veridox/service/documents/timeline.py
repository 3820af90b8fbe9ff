"""What happened to an order, day by day. Reads."""

from collections.abc import Iterator
from decimal import Decimal
from typing import Any, Final

from django.db.models import Exists, OuterRef

from veridox.core.checks.order_lines import quantity_text
from veridox.core.locales.units import beside
from veridox.core.money import Money
from veridox.core.reading import Kind
from veridox.service.documents.models import OrderShare
from veridox.service.documents.queries import NOT_COUNTED
from veridox.service.masterdata.models import GoodsReceipt, Order

ORDERED, CAME, WENT, BILL, CREDIT = "ordered", "goods in", "goods back", "bill", "credit note"
EVENTS: Final = (ORDERED, CAME, WENT, BILL, CREDIT)
"""What may happen to an order."""
MOST: Final = 500
"""Receipts, and bills, that are shown at most."""


def timeline(order: Order) -> list[dict[str, Any]]:
    """Events of an order, the oldest first; what has no day comes first of all."""
    events = [*_raised(order), *_goods(order), *_bills(order)]
    return sorted(events, key=lambda each: (each["day"] is not None, each["day"]))


def _event(day: Any, what: str, number: str, text: str, **more: Any) -> dict[str, Any]:
    return {"day": day, "what": what, "number": number, "text": text,
            "document": None, "state": "", **more}  # fmt: skip


def _raised(order: Order) -> Iterator[dict[str, Any]]:
    amount = Money(amount=order.net_total, currency=order.currency).rounded()
    yield _event(order.ordered_on, ORDERED, order.number, f"over {amount} net")


def _goods(order: Order) -> Iterator[dict[str, Any]]:
    units = {line.position: line.unit for line in order.lines.all()}
    rows = GoodsReceipt.objects.filter(
        entity=order.entity, order_number=order.number, gone_at=None
    ).order_by("received_on", "pk")  # fmt: skip
    for row in rows[:MOST]:
        came = beside(quantity_text(abs(row.quantity)), row.unit or units.get(row.line, ""))
        text = f"{came} of line {row.line}"
        if row.note:
            text = f"{text}: {row.note}"
        yield _event(row.received_on, CAME if row.quantity > 0 else WENT, row.number, text)


def _bills(order: Order) -> Iterator[dict[str, Any]]:
    rows = OrderShare.objects.filter(order=order).exclude(document__state__in=NOT_COUNTED)
    several = Exists(OrderShare.objects.filter(document=OuterRef("document"), place__gt=0))
    shares = rows.select_related("document").annotate(several=several).order_by("document")
    for share in shares[:MOST]:
        row = share.document
        net = _money(row.net_total if row.net_total is not None else row.gross_total, row.currency)
        text = f"over {net} net" if net else "over an amount that is not read"
        own = _money(share.amount, share.currency)
        if share.several and own:
            text = f"{text}, {own} of it on this order"
        yield _event(
            row.received_at.date(), CREDIT if row.kind == Kind.CREDIT_NOTE.value else BILL,
            row.number, text, document=row.pk, state=row.state,
        )  # fmt: skip


def _money(amount: Decimal | None, currency: str) -> Money | None:
    known = amount is not None and currency
    return Money(amount=amount, currency=currency).rounded() if known else None  # type: ignore[arg-type]
