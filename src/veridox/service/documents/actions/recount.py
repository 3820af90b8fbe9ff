"""Pair the bills of an order anew, and compare that with what is kept of each."""

from dataclasses import dataclass
from decimal import Decimal

from django.db import transaction
from django.db.models import Q

from veridox.core.checks.order_lines import taken
from veridox.core.facts import Facts
from veridox.core.matching import pair_with_orders
from veridox.service.accounts.actors import Actor
from veridox.service.documents.actions.uses import keep_uses
from veridox.service.documents.columns import current_reading
from veridox.service.documents.models import Document, OrderShare
from veridox.service.documents.orders import BILLED, order_records, orders_of_bill
from veridox.service.masterdata.models import Order
from veridox.service.masterdata.records import vendor_record
from veridox.service.trail.record import record

Uses = tuple[tuple[int, int, Decimal | None, Decimal], ...]
"""Line of the bill, line of the order, quantity in the order's unit, amount."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Recounted:
    """A bill of the order: what is kept of its lines, and what they take when paired anew."""

    document: int
    number: str
    kept: Uses
    counted: Uses

    @property
    def equal(self) -> bool:
        """Whether both are the same."""
        return self.kept == self.counted


@transaction.atomic
def recount(actor: Actor, order: Order, *, mend: bool = False) -> list[Recounted]:
    """Count anew what cleared and posted bills take of an order.

    Args:
        actor: who asks for it.
        order: that is locked meanwhile.
        mend: keep what was counted, where it differs: of bills from before lines were compared, or
            of an order whose lines changed since.
    """
    shares = OrderShare.objects.filter(order=order)
    # A bill of several orders is kept as a whole: all are locked, as whoever checks locks them.
    together = OrderShare.objects.filter(document__in=shares.values("document"))
    locked = Order.objects.select_for_update(of=("self",)).filter(
        Q(pk=order.pk) | Q(pk__in=together.values("order"))
    )  # fmt: skip
    list(locked.order_by("pk"))
    bills = Document.objects.filter(pk__in=shares.values("document"), state__in=BILLED)
    found = []
    for document in bills.select_related("vendor").order_by("pk"):
        orders = orders_of_bill(document)
        facts = _facts(document, orders)
        counted = tuple(
            (each.at, each.line.position, quantity, each.amount.amount)
            for each, quantity in taken(facts)
            if each.order.number == order.number
        )
        one = Recounted(document=document.pk, number=document.number, kept=_kept(document, order),
                        counted=counted)  # fmt: skip
        found.append(one)
        if mend and not one.equal:
            keep_uses(document, facts, {(each.entity.code, each.number): each for each in orders})
    if mend and any(not each.equal for each in found):
        differing = [each.document for each in found if not each.equal]
        details = {"order": order.number, "mended": differing}
        record(actor, "order.recounted", "order", order.number, details)
    return found


def _kept(document: Document, order: Order) -> Uses:
    rows = document.uses.filter(order=order).order_by("line")
    return tuple((row.line, row.position, row.quantity, row.amount) for row in rows)


def _facts(document: Document, orders: list[Order]) -> Facts:
    reading, ordered = current_reading(document), tuple(order_records(orders, document))
    return Facts(
        reading=reading, order=ordered[0], further_orders=ordered[1:],
        pairs=pair_with_orders(reading.lines, ordered),
        vendor=vendor_record(document.vendor) if document.vendor else None,
    )  # fmt: skip
