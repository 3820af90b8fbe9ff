"""Does the order exist, is it this vendor's, and is there enough left on it?"""

from collections.abc import Iterator
from decimal import Decimal

from veridox.core.checks.evidence import Details, at_field
from veridox.core.checks.order_lines import is_freight, lines_fit, not_ordered
from veridox.core.checks.table import check
from veridox.core.facts import Facts, OrderTolerance
from veridox.core.findings import ENTITIES, ORDERS, VENDORS, Code, Finding, Weight
from veridox.core.findings.wording import counted
from veridox.core.matching import OrderRecord, Raised
from veridox.core.money import Money, round_half_up, total
from veridox.core.reading import Kind


@check(
    place=180,
    needs=(
        "vendor",
        "entity",
        "order",
        "near_orders",
    ),
    codes={
        "order.missing": Code(
            title="No order number is stated",
            why="Vendors that deliver on orders must name one.",
            do="Enter the order number.",
            lowered=True,
            helped_by=VENDORS,
        ),
        "order.unknown": Code(
            title="The order number is not known",
            why="Nobody here ordered under this number, or the order list is out of date.",
            do="Correct the number, or import the order if it is new.",
            lowered=True,
            helped_by=ORDERS,
        ),
        "order.closed": Code(
            title="The order is closed",
            why="Everything ordered was already invoiced or the order was cancelled.",
            do="Ask the buyer whether the order is to be opened again.",
            lowered=True,
            helped_by=ORDERS,
        ),
        "order.not_approved": Code(
            title="The order is not approved yet",
            why="Nobody who answers for the money has agreed to it.",
            do="Wait for the approval; ask whoever ordered if it takes long.",
            lowered=True,
            waits=True,
            helped_by=ORDERS,
        ),
        "order.vendor": Code(
            title="The order belongs to another vendor",
            why="A mistyped number, or somebody bills on another's order.",
            do="Ask the vendor for the right order number.",
            helped_by=ORDERS | VENDORS,
        ),
        "order.entity": Code(
            title="The order belongs to another of our companies",
            why="One of ours ordered and another is billed: the bill would stand in the wrong "
            "books.",
            do="Find out who ordered; have the bill made out to that company.",
            helped_by=ORDERS | ENTITIES,
        ),
        "order.currency": Code(
            title="Order and invoice are in different currencies",
            why="Amounts cannot be compared without an agreed rate.",
            do="Ask the buyer which currency was agreed.",
            helped_by=ORDERS,
        ),
    },
)
def order_fits(facts: Facts) -> Iterator[Finding]:
    """`order.missing`, `.unknown`, `.vendor`, `.entity`, `.closed`,
    `.not_approved`, `.currency`."""
    reading = facts.reading
    stated = reading.text("order_number")
    if stated is None:
        if facts.vendor is not None and facts.vendor.needs_order:
            yield Finding(
                code="order.missing",
                weight=Weight.BLOCK,
                message=f"{facts.vendor.name} delivers on orders, but no order number is stated.",
                fields=("order_number",),
                hint=_meant(facts),
                letter="It names no order number of ours.",
            )
        return
    order = facts.order
    if order is None:
        yield at_field(
            reading,
            "order_number",
            code="order.unknown",
            message=f"Order {stated} is not known.",
            found=stated,
            hint=_meant(facts),
            letter=f"It names order {stated}, which we do not have.",
        )
        return
    if facts.vendor is not None and order.vendor != facts.vendor.code:
        yield at_field(
            reading,
            "order_number",
            code="order.vendor",
            message=f"Order {order.number} was placed with {order.vendor}, "
            f"not with {facts.vendor.name} ({facts.vendor.code}).",
            expected=order.vendor,
            found=facts.vendor.code,
            hint=_meant(facts),
            letter=f"It names order {order.number}, which we did not place with you.",
        )
    if facts.entity is not None and order.entity and order.entity != facts.entity.code:
        yield at_field(
            reading,
            "order_number",
            code="order.entity",
            message=f"Order {order.number} was placed by {order.entity}; "
            f"{facts.entity.name} ({facts.entity.code}) is billed.",
            also=("buyer.name", "buyer.tax_id"),
            expected=order.entity,
            found=facts.entity.code,
            letter=f"It is made out to {facts.entity.name}, but order {order.number} was placed "
            "by another of our companies.",
        )
    if order.gone:
        yield at_field(
            reading,
            "order_number",
            code="order.closed",
            message=f"Order {order.number} is not in the finance system any more.",
            found=order.number,
            hint="Ask whoever ordered; it may have been replaced by another one.",
            letter=f"Order {order.number}, which it names, was cancelled.",
        )
    elif order.closed:
        yield at_field(
            reading,
            "order_number",
            code="order.closed",
            message=f"Order {order.number} is closed.",
            found=order.number,
            letter=f"Order {order.number}, which it names, was completed before.",
        )
    elif not order.approved:
        yield at_field(
            reading,
            "order_number",
            code="order.not_approved",
            message=f"Order {order.number} is not approved yet.",
            found=order.number,
        )
    if reading.currency and reading.currency != order.net_total.currency:
        yield at_field(
            reading,
            "currency",
            code="order.currency",
            message=f"The order is in {order.net_total.currency}, "
            f"the invoice in {reading.currency}.",
            letter=f"Order {order.number} is in {order.net_total.currency}, "
            f"the invoice in {reading.currency}.",
            expected=order.net_total.currency,
            found=reading.currency,
        )


def _meant(facts: Facts) -> str | None:
    """What may be meant, for whoever looks at it; None for what the code says."""
    if not facts.near_orders:
        return None
    best = facts.near_orders[0]
    why = "; ".join(str(each) for each in best.reasons)
    return f"{best.order.number} may be meant ({best.score:.0%}): {why}."


@check(
    place=185,
    needs=("order",),
    codes={
        "order.raised_afterwards": Code(
            title="The order was raised after the bill",
            why="An order that follows its bill decides nothing any more; somebody bought first "
            "and asked later.",
            do="Ask whoever ordered why; nothing is to be done for this bill.",
            lowered=True,
        ),
        "order.same_day": Code(
            title="Order and bill are of the same day",
            why="Some orders are raised only once the bill is there.",
            do="Nothing, unless it happens often.",
            lowered=True,
        ),
    },
)
def order_came_first(facts: Facts) -> Iterator[Finding]:
    """`order.raised_afterwards`, `order.same_day`: the order's day against the issue date."""
    order, issued = facts.order, facts.issued
    if order is None or order.ordered_on is None or issued is None:
        return
    if facts.reading.kind is Kind.CREDIT_NOTE or facts.raised not in (
        Raised.AFTERWARDS, Raised.SAME_DAY,
    ):  # fmt: skip
        return
    days = (order.ordered_on - issued).days
    details: Details = {
        "also": ("order_number",),
        "expected": issued.isoformat(),
        "found": order.ordered_on.isoformat(),
        "about": f"order {order.number}",
    }
    reading, said = facts.reading, f"Order {order.number} is of {order.ordered_on}"
    if days:
        details |= {"weight": Weight.WARN, "difference": f"+{days}"}
        after = f"{said}, {counted(days, 'day')} after the bill of {issued}."
        yield at_field(
            reading, "issue_date", code="order.raised_afterwards", message=after, **details
        )
    else:
        details |= {"weight": Weight.NOTE}
        same = f"{said}, as the bill is."
        yield at_field(reading, "issue_date", code="order.same_day", message=same, **details)


@check(
    place=190,
    needs=("vendor", "order", "pairs"),
    codes={
        "order.total": Code(
            title="More is invoiced than was ordered",
            why="All bills on this order together exceed its net total beyond the tolerance.",
            do="Have the order raised, or return the invoice.",
            lowered=True,
            helped_by=ORDERS,
        ),
    },
)
def order_total(facts: Facts) -> Iterator[Finding]:
    """`order.total`: the goods of all bills on the order stay within its net total.

    Freight and other charges are no part of the order, neither of this bill nor of
    earlier ones; they have a limit of their own (`order.charges`).
    """
    order, net = facts.order, facts.reading.money("net_total")
    if order is None or net is None or facts.reading.kind is Kind.CREDIT_NOTE:
        return
    if net.currency != order.net_total.currency:
        return
    charges = _beside(facts)
    if charges is not None and charges.currency == net.currency:
        net = net - charges
    limit = order_limit(order, facts.settings.order_total)
    together = order.invoiced + net
    if together <= limit:
        return
    over = together - order.net_total
    before = f" with {order.invoiced} billed before" if order.invoiced.amount else ""
    yield at_field(
        facts.reading,
        "net_total",
        code="order.total",
        message=f"Order {order.number} is for {order.net_total} net; this invoice bills {net}"
        f"{before}, which makes {together}, {over} too much (limit {limit}).",
        also=("order_number",),
        expected=limit.plain(),
        found=together.plain(),
        difference=f"{over.amount:+f}",
        letter=f"Order {order.number} is for {order.net_total} net; this invoice bills {net}"
        f"{before}, which makes {together}, {over} more than was ordered.",
    )


@check(
    place=200,
    needs=("vendor", "order", "pairs"),
    codes={
        "order.charges": Code(
            title="Freight and other charges exceed their limit",
            why="The order does not name them; a small amount is usual, a large one is not.",
            do="Post with a reason if the freight was agreed.",
            lowered=True,
            helped_by=ORDERS,
        ),
    },
)
def order_charges(facts: Facts) -> Iterator[Finding]:
    """`order.charges`: freight and the like stay within their own limit."""
    order, charges = facts.order, _beside(facts)
    if order is None or charges is None or charges.currency != order.net_total.currency:
        return
    limit = Money(amount=facts.settings.order_total.charges, currency=charges.currency)
    if charges <= limit:
        return
    yield at_field(
        facts.reading,
        "charges",
        code="order.charges",
        message=f"Charges of {charges} are billed on top of order {order.number}; "
        f"{limit} are accepted.",
        expected=limit.rounded().plain(),
        found=charges.plain(),
        about=f"order {order.number}",
        difference=f"{(charges - limit).amount:+f}",
        letter=f"Charges of {charges} are billed that order {order.number} does not name.",
    )


def _beside(facts: Facts) -> Money | None:
    """Charges, and lines of freight that are not on the order."""
    stated = facts.reading.money("charges")
    if not lines_fit(facts):
        return stated
    lines = [amount for _, row, amount in not_ordered(facts) if is_freight(row)]
    if not lines:
        return stated
    together = total(lines, lines[0].currency)
    return together + stated if stated is not None else together


def order_limit(order: OrderRecord, tolerance: OrderTolerance) -> Money:
    """The most that may be billed on an order, the narrower of both tolerances."""
    total, currency = order.net_total.amount, order.net_total.currency
    room = total * tolerance.percent / 100
    if tolerance.amount is not None:
        room = min(room, tolerance.amount) if tolerance.percent else tolerance.amount
    return Money(amount=round_half_up(total + max(room, Decimal(0)), currency), currency=currency)
