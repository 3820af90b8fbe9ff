"""Orders with what bills have taken of them."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, field
from decimal import Decimal

from django.db import connection

from veridox.core.matching import OrderLineRecord, OrderRecord
from veridox.core.money import Money
from veridox.core.reading import Kind
from veridox.service.documents.models import Document, State
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
    wrong after a correction, a credit or a reopening. Two queries, however many orders.
    """
    if not orders:
        return []
    taken, none = _taken(orders, without), Decimal(0)
    lines: dict[int, list[OrderLineRecord]] = defaultdict(list)
    for line in OrderLine.objects.filter(order__in=orders).order_by("order_id", "position"):
        quantity, amount = taken.lines.get((line.order_id, line.position), (none, none))
        lines[line.order_id].append(OrderLineRecord(
            position=line.position, item_code=line.item_code, description=line.description,
            quantity=line.quantity, unit=line.unit, unit_price=line.unit_price,
            invoiced=quantity, billed=amount,
        ))  # fmt: skip
    return [
        OrderRecord(
            number=order.number,
            vendor=order.vendor.code,
            net_total=Money(amount=order.net_total, currency=order.currency).rounded(),
            invoiced=Money(
                amount=taken.totals.get((order.pk, order.currency), none),
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


# What bills took, in one statement: it is asked for every bill that is checked. A line's position
# is null for what was billed of the order as a whole: net totals less charges. Credits take off.
_TAKEN = """select u.order_id, u.position, null as currency,
        sum(case when d.kind = %(credit)s then -u.quantity else u.quantity end) as quantity,
        sum(case when d.kind = %(credit)s then -u.amount else u.amount end) as amount
    from documents_orderuse u join documents_document d on d.id = u.document_id
    where u.order_id = any(%(orders)s) and d.state = any(%(billed)s) and d.id <> %(without)s
    group by u.order_id, u.position
    union all
    select d.order_id, null, d.currency, null,
        sum((d.net_total - coalesce(d.charges, 0))
            * case when d.kind = %(credit)s then -1 else 1 end)
    from documents_document d
    where d.order_id = any(%(orders)s) and d.state = any(%(billed)s) and d.id <> %(without)s
    group by d.order_id, d.currency"""


@dataclass(slots=True)
class _Sums:
    """By order and line: quantity and amount; by order and currency: net totals."""

    lines: dict[tuple[int, int], tuple[Decimal, Decimal]] = field(default_factory=dict)
    totals: dict[tuple[int, str], Decimal] = field(default_factory=dict)


def _taken(orders: Sequence[Order], without: Document | None) -> _Sums:
    sums, none = _Sums(), Decimal(0)
    with connection.cursor() as cursor:
        cursor.execute(_TAKEN, {
            "orders": [order.pk for order in orders], "billed": list(BILLED),
            "credit": Kind.CREDIT_NOTE.value, "without": without.pk if without else 0,
        })  # fmt: skip
        for order, position, currency, quantity, amount in cursor.fetchall():
            if position is None:
                sums.totals[(order, currency)] = amount or none
            else:
                sums.lines[(order, position)] = quantity or none, amount or none
    return sums
