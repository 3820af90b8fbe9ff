"""Does the order exist, is it this vendor's, and is there enough left on it?"""

from collections.abc import Iterator
from datetime import date
from decimal import Decimal
from typing import Unpack

from veridox.core.checks.evidence import CodedDetails, Details, at_cell, at_field
from veridox.core.checks.shares import charges_beside, shares
from veridox.core.checks.table import check
from veridox.core.facts import Facts, OrderTolerance
from veridox.core.findings import ENTITIES, ORDERS, VENDORS, Code, Finding, Weight
from veridox.core.findings.wording import counted, listed
from veridox.core.matching import OrderRecord, Raised, candidates, order_key, order_numbers
from veridox.core.money import Money, round_half_up
from veridox.core.reading import Kind
from veridox.core.reading.reading import cell_text


@check(
    place=180,
    needs=(
        "vendor",
        "entity",
        "orders",
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
    if not facts.orders and not order_numbers(facts.reading, surely=True):
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
    for number in facts.unknown_orders:
        yield _at_number(
            facts,
            number,
            code="order.unknown",
            message=f"Order {number} is not known.",
            found=number,
            hint=_meant(facts),
            letter=f"It names order {number}, which we do not have.",
        )
    for order in facts.orders:
        yield from _fits(facts, order)


def _fits(facts: Facts, order: OrderRecord) -> Iterator[Finding]:
    vendor, entity, currency = facts.vendor, facts.entity, facts.reading.currency
    if vendor is not None and order.vendor != vendor.code:
        yield _at_number(
            facts,
            order.number,
            code="order.vendor",
            message=f"Order {order.number} was placed with {order.vendor}, "
            f"not with {vendor.name} ({vendor.code}).",
            expected=order.vendor,
            found=vendor.code,
            hint=_meant(facts),
            letter=f"It names order {order.number}, which we did not place with you.",
        )
    if entity is not None and order.entity and order.entity != entity.code:
        yield _at_number(
            facts,
            order.number,
            code="order.entity",
            message=f"Order {order.number} was placed by {order.entity}; "
            f"{entity.name} ({entity.code}) is billed.",
            also=("buyer.name", "buyer.tax_id"),
            expected=order.entity,
            found=entity.code,
            letter=f"It is made out to {entity.name}, but order {order.number} was placed "
            "by another of our companies.",
        )
    yield from _open(facts, order)
    if currency and currency != order.net_total.currency:
        yield at_field(
            facts.reading,
            "currency",
            code="order.currency",
            message=f"The order is in {order.net_total.currency}, the invoice in {currency}."
            if not facts.further_orders
            else f"Order {order.number} is in {order.net_total.currency}, the invoice in "
            f"{currency}.",
            letter=f"Order {order.number} is in {order.net_total.currency}, "
            f"the invoice in {currency}.",
            expected=order.net_total.currency,
            found=currency,
            about=_one_of(facts, order.number),
        )


def _open(facts: Facts, order: OrderRecord) -> Iterator[Finding]:
    if order.gone:
        yield _at_number(
            facts,
            order.number,
            code="order.closed",
            message=f"Order {order.number} is not in the finance system any more.",
            found=order.number,
            hint="Ask whoever ordered; it may have been replaced by another one.",
            letter=f"Order {order.number}, which it names, was cancelled.",
        )
    elif order.closed:
        yield _at_number(
            facts,
            order.number,
            code="order.closed",
            message=f"Order {order.number} is closed.",
            found=order.number,
            letter=f"Order {order.number}, which it names, was completed before.",
        )
    elif not order.approved:
        yield _at_number(
            facts,
            order.number,
            code="order.not_approved",
            message=f"Order {order.number} is not approved yet.",
            found=order.number,
        )


def _one_of(facts: Facts, number: str) -> str:
    """Which of several orders a finding is about; of one it is said by the bill's own number."""
    several = len(facts.orders) + len(facts.unknown_orders) > 1
    return f"order {number}" if several else ""


def _at_number(facts: Facts, number: str, **details: Unpack[CodedDetails]) -> Finding:
    """A finding where the number of an order is stated: at the head, or at the first such line."""
    key = order_key(number)
    details["about"] = _one_of(facts, number)
    head = facts.reading.text("order_number") or ""
    if key not in map(order_key, candidates(head)):
        for at, row in enumerate(facts.reading.lines, 1):
            if order_key(cell_text(row, "order_number") or "") == key:
                return at_cell(row["order_number"], f"lines[{at}].order_number", **details)
    return at_field(facts.reading, "order_number", **details)


def _meant(facts: Facts) -> str | None:
    """What may be meant, for whoever looks at it; None for what the code says."""
    if not facts.near_orders:
        return None
    best = facts.near_orders[0]
    why = "; ".join(str(each) for each in best.reasons)
    return f"{best.order.number} may be meant ({best.score:.0%}): {why}."


@check(
    place=185,
    needs=("orders",),
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
    if facts.reading.kind is Kind.CREDIT_NOTE or facts.issued is None:
        return
    for order in facts.orders:
        if facts.raised_on(order) in (Raised.AFTERWARDS, Raised.SAME_DAY):
            yield _raised(facts, order, facts.issued)


def _raised(facts: Facts, order: OrderRecord, issued: date) -> Finding:
    assert order.ordered_on is not None  # noqa: S101 - the caller has looked
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
        return at_field(
            reading, "issue_date", code="order.raised_afterwards", message=after, **details
        )
    details |= {"weight": Weight.NOTE}
    same = f"{said}, as the bill is."
    return at_field(reading, "issue_date", code="order.same_day", message=same, **details)


@check(
    place=190,
    needs=("vendor", "orders", "pairs"),
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
    found = shares(facts) if facts.reading.kind is not Kind.CREDIT_NOTE else None
    for order in facts.orders:
        share = found.of[order.number] if found is not None else None
        if share is not None and share.currency == order.net_total.currency:
            yield from _over(facts, order, share)


def _over(facts: Facts, order: OrderRecord, net: Money) -> Iterator[Finding]:
    limit = order_limit(order, facts.settings.order_total)
    together = order.invoiced + net
    if together <= limit:
        return
    over = together - order.net_total
    before = f" with {order.invoiced} billed before" if order.invoiced.amount else ""
    if facts.further_orders:
        before = f" on it{before}"
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
        about=_one_of(facts, order.number),
        letter=f"Order {order.number} is for {order.net_total} net; this invoice bills {net}"
        f"{before}, which makes {together}, {over} more than was ordered.",
    )


@check(
    place=200,
    needs=("vendor", "orders", "pairs"),
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
    """`order.charges`: freight and the like stay within their own limit, once for each order of
    which something is billed."""
    charges, found = charges_beside(facts), shares(facts)
    billed = [each for each in facts.orders if found is None or found.of[each.number].amount]
    billed = billed or list(facts.orders[:1])  # nothing but freight
    if charges is None or not billed or any(
        each.net_total.currency != charges.currency for each in billed
    ):  # fmt: skip
        return
    limit = Money(
        amount=facts.settings.order_total.charges * len(billed), currency=charges.currency
    )
    if charges <= limit:
        return
    numbers = listed([each.number for each in billed])
    named = f"order {numbers}" if len(billed) == 1 else f"orders {numbers}"
    do = "does" if len(billed) == 1 else "do"
    yield at_field(
        facts.reading,
        "charges",
        code="order.charges",
        message=f"Charges of {charges} are billed on top of {named}; {limit} are accepted.",
        expected=limit.rounded().plain(),
        found=charges.plain(),
        about=named,
        difference=f"{(charges - limit).amount:+f}",
        letter=f"Charges of {charges} are billed that {named} {do} not name.",
    )


def order_limit(order: OrderRecord, tolerance: OrderTolerance) -> Money:
    """The most that may be billed on an order, the narrower of both tolerances."""
    total, currency = order.net_total.amount, order.net_total.currency
    room = total * tolerance.percent / 100
    if tolerance.amount is not None:
        room = min(room, tolerance.amount) if tolerance.percent else tolerance.amount
    return Money(amount=round_half_up(total + max(room, Decimal(0)), currency), currency=currency)
