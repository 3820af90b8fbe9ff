"""Orders with what bills have taken of them."""

from collections import defaultdict
from collections.abc import Sequence
from decimal import Decimal

from django.db.models import Case, F, Q, Sum, When
from django.db.models.functions import Coalesce

from veridox.core.matching import OrderLineRecord, OrderRecord
from veridox.core.money import Money
from veridox.core.reading import Kind
from veridox.service.documents.models import Document, OrderUse, State
from veridox.service.masterdata.models import Order, OrderLine

BILLED = (State.CLEARED, State.POSTED)
"""States in which a bill counts against its order."""


def order_record(order: Order, without: Document | None = None) -> OrderRecord:
    """An order with what bills besides one document have taken of it."""
    return order_records([order], without)[0]


def order_lines(order: Order, without: Document | None = None) -> tuple[OrderLineRecord, ...]:
    """The lines of an order with what bills (besides one document) have taken of each."""
    return order_record(order, without).lines


def order_records(orders: Sequence[Order], without: Document | None = None) -> list[OrderRecord]:
    """Orders with their lines, and what bills besides one document have taken of both.

    Summed each time from what every bill takes (`OrderUse`): a sum that is not kept cannot be
    wrong after a correction, a credit or a reopening. Three queries, however many orders.
    """
    taken, billed = _taken(orders, without), _billed(orders, without)
    lines: dict[int, list[OrderLineRecord]] = defaultdict(list)
    for line in OrderLine.objects.filter(order__in=orders).order_by("order_id", "position"):
        quantity, amount = taken.get((line.order_id, line.position), (None, None))
        lines[line.order_id].append(OrderLineRecord(
            position=line.position, item_code=line.item_code, description=line.description,
            quantity=line.quantity, unit=line.unit, unit_price=line.unit_price,
            invoiced=quantity or Decimal(0), billed=amount or Decimal(0),
        ))  # fmt: skip
    return [
        OrderRecord(
            number=order.number,
            vendor=order.vendor.code,
            net_total=Money(amount=order.net_total, currency=order.currency).rounded(),
            invoiced=Money(
                amount=billed.get((order.pk, order.currency)) or Decimal(0),
                currency=order.currency,
            ).rounded(),
            closed=order.closed,
            gone=order.gone_at is not None,
            entity=order.entity.code,
            ordered_on=order.ordered_on,
            lines=tuple(lines[order.pk]),
        )
        for order in orders
    ]


def _billed(
    orders: Sequence[Order], without: Document | None
) -> dict[tuple[int, str], Decimal | None]:
    """Net totals of bills less their charges, by order and currency; credits take off."""
    goods = F("net_total") - Coalesce(F("charges"), Decimal(0))
    sign = Case(When(kind=Kind.CREDIT_NOTE.value, then=-goods), default=goods)
    rows = Document.objects.filter(order__in=orders, state__in=BILLED)
    if without is not None:
        rows = rows.exclude(pk=without.pk)
    summed = rows.order_by().values("order_id", "currency").annotate(net=Sum(sign))
    return {(each["order_id"], each["currency"]): each["net"] for each in summed}


def _taken(
    orders: Sequence[Order], without: Document | None
) -> dict[tuple[int, int], tuple[Decimal | None, Decimal | None]]:
    """Quantity and amount by order and line."""
    back = Q(document__kind=Kind.CREDIT_NOTE.value)
    uses = OrderUse.objects.filter(order__in=orders, document__state__in=BILLED)
    if without is not None:
        uses = uses.exclude(document=without)
    summed = uses.values("order_id", "position").annotate(
        taken=Sum(Case(When(back, then=-F("quantity")), default=F("quantity"))),
        asked=Sum(Case(When(back, then=-F("amount")), default=F("amount"))),
    )
    return {(e["order_id"], e["position"]): (e["taken"], e["asked"]) for e in summed}
