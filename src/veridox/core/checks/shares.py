"""How much of a bill falls on each order that it names."""

from collections.abc import Iterator
from dataclasses import dataclass
from decimal import Decimal

from veridox.core.checks.evidence import at_field
from veridox.core.checks.figures import prices_include_tax
from veridox.core.checks.order_lines import (
    all_lines_fit,
    amount_without_tax,
    billed_lines,
    is_freight,
    lines_fit,
    not_ordered,
)
from veridox.core.checks.table import check
from veridox.core.facts import Facts
from veridox.core.findings import ORDERS, Code, Finding
from veridox.core.findings.wording import listed
from veridox.core.matching import order_of_row
from veridox.core.money import Money, round_half_up, total
from veridox.core.reading import Kind


@dataclass(frozen=True, kw_only=True, slots=True)
class Shares:
    """What a bill asks for of each of its orders, without tax, freight and charges.

    Attributes:
        of: by number of the order, in the order in which they are named; together the goods of the
            bill.
        unclear: how much of them nothing tells the order of.
    """

    of: dict[str, Money]
    unclear: Money


def shares(facts: Facts) -> Shares | None:
    """What of a bill falls on each order; None where no order or no net total is known.

    Of one order it is all. Of several it is what their lines make; a rebate on the whole is taken
    off each in proportion. What nothing tells the order of is counted where there is room, in the
    order in which they are named, so that it is never counted on none; unless it may be of a
    number that is named, too, and not known.
    """
    net, orders = facts.reading.money("net_total"), facts.orders
    if net is None or not orders:
        return None
    beside = charges_beside(facts)
    goods = net - beside if beside is not None and beside.currency == net.currency else net
    nothing = Money(amount=Decimal(0), currency=net.currency)
    elsewhere = bool(facts.unknown_orders)
    if len(orders) == 1 and not elsewhere:
        return Shares(of={orders[0].number: goods}, unclear=nothing)
    of, unclear = _scaled(_by_lines(facts), goods)
    found = {number: Money(amount=amount, currency=net.currency) for number, amount in of.items()}
    return Shares(
        of=found if elsewhere else _filled(facts, found, unclear),
        unclear=Money(amount=unclear, currency=net.currency),
    )


def _by_lines(facts: Facts) -> dict[str, Decimal]:
    """What lines make of each order; under an empty number what none is known of."""
    found = {order.number: Decimal(0) for order in facts.orders} | {"": Decimal(0)}
    for billed in billed_lines(facts):
        found[billed.order.number] += billed.amount.amount
    with_tax = prices_include_tax(facts.reading)
    for _, row, amount in not_ordered(facts):
        if not is_freight(row):
            bare = amount_without_tax(facts, row, amount) if with_tax else amount
            found[order_of_row(row, facts.orders)] += bare.amount
    return found


def _scaled(lines: dict[str, Decimal], goods: Money) -> tuple[dict[str, Decimal], Decimal]:
    """The same so that all of them are the goods of the bill, to the cent; and what is unclear."""
    made = sum(lines.values())
    if not made:
        return {number: Decimal(0) for number in lines if number}, goods.amount
    found = {
        number: round_half_up(amount * goods.amount / made, goods.currency)
        for number, amount in lines.items()
    }
    largest = max(found, key=lambda number: abs(found[number]))
    found[largest] += goods.amount - sum(found.values())
    return {number: amount for number, amount in found.items() if number}, found[""]


def _filled(facts: Facts, found: dict[str, Money], unclear: Decimal) -> dict[str, Money]:
    """What is unclear, put where there is room, or of a credit where something was billed; what
    fits nowhere falls on the last."""
    left, credited = unclear, facts.reading.kind is Kind.CREDIT_NOTE
    for order in facts.orders:
        own, billed = found[order.number], order.invoiced.amount
        limit = billed if credited else order.net_total.amount - billed
        room = max(Decimal(0), limit - own.amount)
        more = left if order is facts.orders[-1] else min(left, room)
        found[order.number] = Money(amount=own.amount + more, currency=own.currency)
        left -= more
    return found


def charges_beside(facts: Facts) -> Money | None:
    """Charges, and lines of freight that are on no order."""
    stated = facts.reading.money("charges")
    if not any(lines_fit(facts, order) for order in facts.orders):
        return stated
    lines = [amount for _, row, amount in not_ordered(facts) if is_freight(row)]
    if not lines:
        return stated
    together = total(lines, lines[0].currency)
    return together + stated if stated is not None else together


@check(
    place=187,
    needs=("vendor", "orders", "pairs"),
    codes={
        "order.share": Code(
            title="It is not clear how much falls on which order",
            why="The bill names several orders, and of a part of it nothing says on which of them "
            "it is billed.",
            do="Enter the order number at each line.",
            lowered=True,
            helped_by=ORDERS,
        ),
    },
)
def shares_clear(facts: Facts) -> Iterator[Finding]:
    """`order.share`: of a bill on several orders it is known of each line of which one it is.

    Where all of them are known line by line, a line of none was not ordered (`order.extra_line`).
    A credit takes nothing that could be too much: it is not stopped for this.
    """
    if len(facts.orders) < 2 or facts.reading.kind is Kind.CREDIT_NOTE:
        return
    found = shares(facts)
    if found is None or found.unclear.amount <= 0 or all_lines_fit(facts):
        return
    numbers = listed([order.number for order in facts.orders])
    yield at_field(
        facts.reading,
        "order_number",
        code="order.share",
        message=f"The bill names orders {numbers}; of {found.unclear} nothing says on which of "
        "them it is billed.",
        also=("net_total",),
        found=found.unclear.plain(),
        about=f"orders {numbers}",
        letter=f"It names our orders {numbers}, and does not say of {found.unclear} on which of "
        "them it is billed.",
    )
