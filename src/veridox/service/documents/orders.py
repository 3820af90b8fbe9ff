"""Orders with what bills have taken of them."""

from decimal import Decimal

from django.db.models import Case, F, Q, Sum, When
from django.db.models.functions import Coalesce

from veridox.core.matching import OrderLineRecord, OrderRecord
from veridox.core.money import Money
from veridox.core.reading import Kind
from veridox.service.documents.models import Document, OrderUse, State
from veridox.service.masterdata.models import Order

BILLED = (State.CLEARED, State.POSTED)
"""States in which a bill counts against its order."""


def order_record(order: Order, without: Document) -> OrderRecord:
    """An order with what bills besides one document have taken of it."""
    goods = F("net_total") - Coalesce(F("charges"), Decimal(0))
    sign = Case(When(kind=Kind.CREDIT_NOTE.value, then=-goods), default=goods)
    rows = Document.objects.filter(order=order, state__in=BILLED, currency=order.currency)
    others = rows.exclude(pk=without.pk)
    billed: Decimal | None = others.aggregate(net=Sum(sign))["net"]
    return OrderRecord(
        number=order.number,
        vendor=order.vendor.code,
        net_total=Money(amount=order.net_total, currency=order.currency).rounded(),
        invoiced=Money(amount=billed or Decimal(0), currency=order.currency).rounded(),
        closed=order.closed,
        gone=order.gone_at is not None,
        entity=order.entity.code,
        ordered_on=order.ordered_on,
        lines=order_lines(order, without),
    )


def order_lines(order: Order, without: Document | None = None) -> tuple[OrderLineRecord, ...]:
    """The lines of an order with what bills (besides one document) have taken of each.

    Summed each time from what every bill takes (`OrderUse`): a sum that is not kept cannot be
    wrong after a correction, a credit or a reopening.
    """
    back = Q(document__kind=Kind.CREDIT_NOTE.value)
    uses = OrderUse.objects.filter(order=order, document__state__in=BILLED)
    if without is not None:
        uses = uses.exclude(document=without)
    taken = {
        each["position"]: each
        for each in uses.values("position").annotate(
            quantity=Sum(Case(When(back, then=-F("quantity")), default=F("quantity"))),
            amount=Sum(Case(When(back, then=-F("amount")), default=F("amount"))),
        )
    }
    nothing: dict[str, Decimal | None] = {"quantity": None, "amount": None}
    return tuple(
        OrderLineRecord(
            position=line.position, item_code=line.item_code, description=line.description,
            quantity=line.quantity, unit=line.unit, unit_price=line.unit_price,
            invoiced=taken.get(line.position, nothing)["quantity"] or Decimal(0),
            billed=taken.get(line.position, nothing)["amount"] or Decimal(0),
        )
        for line in order.lines.all()
    )  # fmt: skip
