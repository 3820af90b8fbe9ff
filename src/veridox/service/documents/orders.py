"""Orders with what bills have taken of them, and what of them came in."""

from collections import defaultdict
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field
from decimal import Decimal

from django.db import connection
from django.db.models import Q

from veridox.core.matching import ItemRecord, OrderLineRecord, OrderRecord, came_in
from veridox.core.money import Money
from veridox.core.reading import Kind
from veridox.service.documents.models import Document, State
from veridox.service.masterdata.models import Item, Order, OrderLine

BILLED = (State.CLEARED, State.POSTED)
"""States in which a bill counts against its order."""


def orders_of_bill(document: Document) -> list[Order]:
    """The orders that a bill names, as of its last check, in the order in which it names them."""
    rows = document.order_shares.select_related("order__vendor", "order__entity")
    return [row.order for row in rows.order_by("place")]


def order_record(order: Order, without: Document | None = None) -> OrderRecord:
    """An order with what bills besides one document have taken of it."""
    return order_records([order], without)[0]


def order_lines(order: Order, without: Document | None = None) -> tuple[OrderLineRecord, ...]:
    """The lines of an order with what bills (besides one document) have taken of each."""
    return order_record(order, without).lines


def order_records(orders: Sequence[Order], without: Document | None = None) -> list[OrderRecord]:
    """Orders with their lines, what bills besides one document have taken, what came in.

    Summed each time from what every bill takes (`OrderUse`): a sum that is not kept cannot be
    wrong after a correction, a credit or a reopening. Three queries, however many orders.
    """
    if not orders:
        return []
    sums = _sums(orders, without)
    lines: dict[int, list[OrderLineRecord]] = defaultdict(list)
    rows = list(OrderLine.objects.filter(order__in=orders).order_by("order_id", "position"))
    vendors = {order.pk: order.vendor_id for order in orders}
    items = items_of({vendor: {row.item_code for row in rows if vendors[row.order_id] == vendor}
                      for vendor in vendors.values()})  # fmt: skip
    for line in rows:
        lines[line.order_id].append(_line(line, sums, items.get((vendors[line.order_id],
                                                                 line.item_code))))  # fmt: skip
    return [
        OrderRecord(
            number=order.number,
            vendor=order.vendor.code,
            net_total=Money(amount=order.net_total, currency=order.currency).rounded(),
            invoiced=Money(
                amount=sums.totals.get((order.pk, order.currency), Decimal(0)),
                currency=order.currency,
            ).rounded(),
            closed=order.closed,
            approved=order.approved,
            gone=order.gone_at is not None,
            entity=order.entity.code,
            ordered_on=order.ordered_on,
            lines=tuple(lines[order.pk]),
        )
        for order in orders
    ]


def _line(line: OrderLine, sums: "_Sums", item: ItemRecord | None) -> OrderLineRecord:
    key = (line.order_id, line.position)
    quantity, amount = sums.lines.get(key, (Decimal(0), Decimal(0)))
    booked = sums.received.get(key, ())
    goods = came_in(item, line.unit, booked)
    return OrderLineRecord(
        position=line.position, item_code=line.item_code, description=line.description,
        quantity=line.quantity, unit=line.unit, unit_price=line.unit_price,
        invoiced=quantity, billed=amount, needs_receipt=line.needs_receipt,
        received=goods.received if booked else None, returned=goods.returned,
        unclear=goods.unclear,
        item=item, gl_account=line.gl_account, cost_centre=line.cost_centre, project=line.project,
    )  # fmt: skip


def items_of(codes: Mapping[int, Collection[str]]) -> dict[tuple[int, str], ItemRecord]:
    """What is known of items, by vendor and any of the codes that it goes by.

    Args:
        codes: ours or the vendor's, by the vendor's id.
    """
    wanted = Q(pk=None)
    for vendor, every in codes.items():
        named = [code for code in every if code]
        if named:
            wanted |= Q(Q(code__in=named) | Q(vendor_code__in=named), vendor_id=vendor)
    found: dict[tuple[int, str], ItemRecord] = {}
    if wanted == Q(pk=None):
        return found
    for row in Item.objects.filter(wanted, gone_at=None).order_by("pk"):
        item = ItemRecord(
            code=row.code, vendor_code=row.vendor_code, unit=row.unit,
            packs={name: Decimal(count) for name, count in row.packs.items()},
        )  # fmt: skip
        for code in item.codes:
            found.setdefault((row.vendor_id, code), item)
    return found


# What bills took and what came in, in one statement: it is asked for every bill that is checked.
# A line's position is null for what was billed of the order as a whole: goods, without charges.
# Credits take off.
_SUMS = """select u.order_id, u.position, null as unit,
        sum(case when d.kind = %(credit)s then -u.quantity else u.quantity end) as quantity,
        sum(case when d.kind = %(credit)s then -u.amount else u.amount end) as amount
    from documents_orderuse u join documents_document d on d.id = u.document_id
    where u.order_id = any(%(orders)s) and d.state = any(%(billed)s) and d.id <> %(without)s
    group by u.order_id, u.position
    union all
    select s.order_id, null, s.currency, null,
        sum(case when d.kind = %(credit)s then -s.amount else s.amount end)
    from documents_ordershare s join documents_document d on d.id = s.document_id
    where s.order_id = any(%(orders)s) and d.state = any(%(billed)s) and d.id <> %(without)s
    group by s.order_id, s.currency
    union all
    select o.id, r.line, r.unit, sum(greatest(r.quantity, 0)), sum(greatest(-r.quantity, 0))
    from masterdata_order o join masterdata_goodsreceipt r
        on r.entity_id = o.entity_id and r.order_number = o.number
    where o.id = any(%(orders)s) and r.gone_at is null
    group by o.id, r.line, r.unit"""


@dataclass(slots=True)
class _Sums:
    """By order and line: what was billed (quantity, amount), and what came in and went back
    (unit, and how much of it each); by order and currency: net totals."""

    lines: dict[tuple[int, int], tuple[Decimal, Decimal]] = field(default_factory=dict)
    received: dict[tuple[int, int], list[tuple[str, Decimal, Decimal]]] = field(
        default_factory=dict
    )
    totals: dict[tuple[int, str], Decimal] = field(default_factory=dict)


def _sums(orders: Sequence[Order], without: Document | None) -> _Sums:
    sums, none = _Sums(), Decimal(0)
    with connection.cursor() as cursor:
        cursor.execute(_SUMS, {
            "orders": [order.pk for order in orders], "billed": list(BILLED),
            "credit": Kind.CREDIT_NOTE.value, "without": without.pk if without else 0,
        })  # fmt: skip
        for order, position, unit, quantity, amount in cursor.fetchall():
            if position is None:
                sums.totals[(order, unit)] = amount or none
            elif unit is not None:
                sums.received.setdefault((order, position), []).append((unit, quantity, amount))
            else:
                sums.lines[(order, position)] = quantity or none, amount or none
    return sums
