"""Line by line: was it ordered, at this price, and so much of it?"""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal

from veridox.core.checks.evidence import at_cell
from veridox.core.checks.figures import prices_include_tax, signed
from veridox.core.checks.table import check
from veridox.core.facts import Facts
from veridox.core.findings import ITEMS, ORDERS, Code, Finding, Weight
from veridox.core.findings.wording import listed
from veridox.core.locales.labels import lexicon, normalise
from veridox.core.locales.units import beside
from veridox.core.matching import OrderLineRecord, OrderRecord, packed
from veridox.core.money import Money, minor_unit, round_half_up
from veridox.core.reading import Kind, Row
from veridox.core.reading.reading import cell_money, cell_number, cell_text

LONGEST = 60
"""Characters of a description that a sentence shows."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Billed:
    """A line of the bill beside its line of the order.

    Attributes:
        at: its number on the bill, from 1.
        row: its cells.
        order, line: what it speaks of.
        amount: what is asked for it, without tax.
        quantity: in the order's unit; None where not stated, or in a unit that nothing is known of.
    """

    at: int
    row: Row
    order: OrderRecord
    line: OrderLineRecord
    amount: Money
    quantity: Decimal | None

    @property
    def named(self) -> str:
        """The line of the order in a sentence."""
        return f"line {self.line.position} of order {self.order.number}"

    @property
    def price(self) -> Decimal | None:
        """For one of the order's unit, as it is really charged: discounts taken off."""
        return self.amount.amount / self.quantity if self.quantity else None

    @property
    def unit_differs(self) -> bool:
        """Whether quantity and order are in units of which nobody knows how many are in another."""
        return self.quantity is None and cell_number(self.row, "quantity") is not None


def lines_fit(facts: Facts, order: OrderRecord) -> bool:
    """Whether lines can be compared with an order's at all: one of this vendor, in the bill's
    currency, known line by line."""
    vendor, currency = facts.vendor, facts.reading.currency
    return (
        bool(order.lines)
        and facts.reading.kind is not Kind.CREDIT_NOTE
        and currency == order.net_total.currency
        and (vendor is None or order.vendor == vendor.code)
    )


def all_lines_fit(facts: Facts) -> bool:
    """Whether lines can be compared with every order that is named, so that a line of none of
    them was not ordered."""
    orders = facts.orders
    return (
        bool(orders)
        and not facts.unknown_orders
        and all(lines_fit(facts, order) for order in orders)
    )


def billed_lines(facts: Facts) -> list[Billed]:
    """Lines of the bill that have a line on an order."""
    found, with_tax = [], prices_include_tax(facts.reading)
    for at, (row, pair) in enumerate(zip(facts.reading.lines, facts.pairs, strict=False), 1):
        amount = cell_money(row, "amount")
        if pair is None or amount is None:
            continue
        if with_tax:
            amount = amount_without_tax(facts, row, amount)
        found.append(Billed(at=at, row=row, order=pair.order, line=pair.line, amount=amount,
                            quantity=_in(row, pair.line)))  # fmt: skip
    return found


def compared_lines(facts: Facts) -> list[Billed]:
    """Those of orders with which lines can be compared."""
    fitting = {each.number for each in facts.orders if lines_fit(facts, each)}
    return [each for each in billed_lines(facts) if each.order.number in fitting]


def amount_without_tax(facts: Facts, row: Row, amount: Money) -> Money:
    """Of a line whose price includes tax: at its own rate, else as the totals are to each other."""
    rate = cell_number(row, "tax_rate")
    net, gross = facts.reading.money("net_total"), facts.reading.money("gross_total")
    if rate is not None:
        share = Decimal(100) / (100 + rate)
    elif net is not None and gross is not None and gross.amount:
        share = net.amount / gross.amount
    else:
        return amount
    return Money(amount=amount.amount * share, currency=amount.currency).rounded()


def _in(row: Row, line: OrderLineRecord) -> Decimal | None:
    """A line's quantity in the unit of the order's line."""
    quantity, unit = cell_number(row, "quantity"), cell_text(row, "unit") or ""
    if quantity is None:
        return None
    factor = packed(line.item, unit, line.unit)
    if factor is not None:
        return quantity * factor
    # Two words for one thing: then they cost the same.
    price = cell_number(row, "unit_price")
    return quantity if price is not None and price == line.unit_price else None


def taken(facts: Facts) -> list[tuple[Billed, Decimal | None]]:
    """What each line of a bill takes of its order's line, in that one's unit.

    In a unit that nothing is known of as much as its amount buys at the ordered price.
    """
    found = []
    for billed in billed_lines(facts):
        quantity, price = billed.quantity, billed.line.unit_price
        if quantity is None and price > 0:
            quantity = (billed.amount.amount / price).quantize(Decimal("0.000001"))
        found.append((billed, quantity))
    return found


def by_order_line(billed: Iterable[Billed]) -> list[list[Billed]]:
    """Lines of a bill, those of one order's line together."""
    found: dict[tuple[str, int], list[Billed]] = {}
    for each in billed:
        found.setdefault((each.order.number, each.line.position), []).append(each)
    return list(found.values())


def called_orders(orders: Iterable[OrderRecord]) -> str:
    """Orders in a sentence: `order PO-1`, `order PO-1 or PO-2`."""
    return f"order {listed([each.number for each in orders], 'or')}"


def not_ordered(facts: Facts) -> list[tuple[int, Row, Money]]:
    """Lines that ask for money and have no line on an order."""
    found = []
    for at, (row, pair) in enumerate(zip(facts.reading.lines, facts.pairs, strict=False), 1):
        amount = cell_money(row, "amount")
        if pair is None and amount is not None and amount.amount:
            found.append((at, row, amount))
    return found


def is_freight(row: Row) -> bool:
    """Whether a line is freight, packing or the like, and nothing that one orders."""
    words = normalise(cell_text(row, "description") or "")
    label = lexicon("header").match(words, 0) if words else None
    return label is not None and label.field == "charges"


def called(row: Row) -> str:
    """What a line is of, in brackets behind its number; empty where nothing is stated."""
    text = " ".join((cell_text(row, "description") or "").split())
    short = text if len(text) <= LONGEST else text[: LONGEST - 1] + "…"
    return f" ({short})" if short else ""


@check(
    place=191,
    needs=("vendor", "orders", "pairs"),
    codes={
        "order.extra_line": Code(
            title="A line is not on the order",
            why="What nobody ordered is easily slipped in where the total fits.",
            do="Pair it with a line of the order if it is one of them; else ask whoever ordered.",
            lowered=True,
            helped_by=ORDERS,
        ),
    },
)
def lines_ordered(facts: Facts) -> Iterator[Finding]:
    """`order.extra_line`: each line that asks for money is on the order; freight is no such line.

    Needs what the order has line by line: one that is known by its total alone says nothing.
    """
    if not all_lines_fit(facts):
        return
    orders = called_orders(facts.orders)
    for at, row, amount in not_ordered(facts):
        if amount.amount < 0 or is_freight(row):
            continue  # a rebate is welcome; freight has a limit of its own
        message = f"Line {at}{called(row)} over {amount} is not on {orders}."
        yield at_cell(
            row["amount"],
            f"lines[{at}].amount",
            code="order.extra_line",
            message=message,
            found=amount.plain(),
            about=orders,
            letter=message,
        )


@check(
    place=192,
    needs=("vendor", "orders", "pairs"),
    codes={
        "order.price": Code(
            title="Another price than ordered",
            why="The price of the order is what was agreed.",
            do="Ask whoever ordered whether the new price was agreed; else return the bill.",
            lowered=True,
            helped_by=ORDERS,
        ),
        "order.unit": Code(
            title="Billed in another unit than ordered",
            why="Nothing says how many of one are in the other, so neither quantity nor price can "
            "be compared.",
            do="Enter quantity and price in the order's unit, or its pack with the item.",
            lowered=True,
            helped_by=ORDERS | ITEMS,
        ),
    },
)
def prices_agreed(facts: Facts) -> Iterator[Finding]:
    """`order.price`: for one of the order's unit, within percent and amount, the narrower of both;
    a lower price is a note. `order.unit` where units cannot be compared."""
    for billed in compared_lines(facts):
        if billed.unit_differs:
            yield _other_unit(billed)
        elif billed.price is not None and not billed.line.by_amount:
            yield from _price(facts, billed)


def _other_unit(billed: Billed) -> Finding:
    unit = cell_text(billed.row, "unit") or "no unit"
    ordered = billed.line.unit or "no unit"
    message = (
        f"Line {billed.at}{called(billed.row)} is billed by the {unit}, ordered by the {ordered} "
        f"({billed.named})."
    )
    return at_cell(
        billed.row.get("unit"),
        f"lines[{billed.at}].unit",
        code="order.unit",
        message=message,
        expected=billed.line.unit,
        found=unit,
        about=billed.named,
        letter=message,
    )


def _price(facts: Facts, billed: Billed) -> Iterator[Finding]:
    price, ordered = billed.price, billed.line.unit_price
    assert price is not None  # noqa: S101 - the caller has looked
    within = facts.settings.order_total
    room = ordered * within.price_percent / 100
    if within.price_amount is not None:
        room = min(room, within.price_amount) if within.price_percent else within.price_amount
    # A line's amount is rounded, twice where tax is taken out of it: a price that is taken from it
    # may be off by its share.
    share = minor_unit(billed.amount.currency) / abs(billed.quantity or Decimal(1))
    limit = ordered + room
    if abs(price - ordered) <= share or ordered < price <= limit + share:
        return
    shown = price.quantize(Decimal("0.0001")).normalize()
    currency = billed.amount.currency
    dearer = price > ordered
    limits = f" (limit {plain_price(limit)})" if dearer else ""
    message = (
        f"Line {billed.at}{called(billed.row)} costs {plain_price(shown)} {currency} each; "
        f"ordered were {plain_price(ordered)} {currency}{limits}, {billed.named}."
    )
    yield at_cell(
        billed.row.get("unit_price") or billed.row["amount"],
        f"lines[{billed.at}].unit_price",
        code="order.price",
        weight=Weight.BLOCK if dearer else Weight.NOTE,
        message=message,
        also=(f"lines[{billed.at}].amount", f"lines[{billed.at}].quantity"),
        expected=plain_price(limit if dearer else ordered),
        found=plain_price(shown),
        difference=signed((shown - ordered).normalize()),
        about=billed.named,
        letter=f"Line {billed.at}{called(billed.row)} costs {plain_price(shown)} {currency} each; "
        f"we ordered it at {plain_price(ordered)} {currency}." if dearer else "",
    )  # fmt: skip


def plain_price(number: Decimal) -> str:
    """With two places at least and six at most, and no zeros beyond them."""
    number = number.quantize(Decimal("0.000001"))
    places = max(2, -int(number.normalize().as_tuple().exponent))
    return f"{number:,.{places}f}"


def quantity_text(number: Decimal) -> str:
    """A quantity as people write it, without zeros at its end."""
    return f"{number.normalize():,f}"


@check(
    place=193,
    needs=("vendor", "orders", "pairs"),
    codes={
        "order.quantity": Code(
            title="More is billed of a line than was ordered",
            why="All bills on the line together, those on their way among them.",
            do="Have the order raised if more was wanted; else return the bill.",
            lowered=True,
            helped_by=ORDERS,
        ),
    },
)
def quantities_ordered(facts: Facts) -> Iterator[Finding]:
    """`order.quantity`: of each line of the order, all lines of this bill and of others together.

    What was ordered as one thing for a sum is compared by amount.
    """
    for lines in by_order_line(compared_lines(facts)):
        if lines[0].line.by_amount or any(each.quantity is None for each in lines):
            yield from _amount(facts, lines)
        else:
            yield from _count(facts, lines)


def _count(facts: Facts, lines: list[Billed]) -> Iterator[Finding]:
    line = lines[0].line
    now = sum((each.quantity or Decimal(0) for each in lines), Decimal(0))
    limit = line.quantity * (1 + facts.settings.order_total.quantity_percent / 100)
    if now <= 0 or line.invoiced + now <= limit:
        return
    unit = beside("", line.unit)
    figures = {
        "now": quantity_text(now), "before": quantity_text(line.invoiced), "unit": unit,
        "ordered": quantity_text(line.quantity), "limit": quantity_text(limit),
        "over": quantity_text(line.invoiced + now - line.quantity), "many": "many",
    }  # fmt: skip
    yield _too_much(lines, figures, bool(line.invoiced))


def _amount(facts: Facts, lines: list[Billed]) -> Iterator[Finding]:
    line, currency = lines[0].line, lines[0].amount.currency
    now = sum((each.amount.amount for each in lines), Decimal(0))
    within = facts.settings.order_total
    percent = within.price_percent if line.by_amount else within.quantity_percent
    ordered = round_half_up(line.amount, currency)
    limit = round_half_up(ordered * (1 + percent / 100), currency)
    if now <= 0 or line.billed + now <= limit:
        return
    figures = {
        name: f"{amount:,f}" for name, amount in (
            ("now", now), ("before", round_half_up(line.billed, currency)), ("ordered", ordered),
            ("limit", limit), ("over", round_half_up(line.billed + now - ordered, currency)),
        )
    }  # fmt: skip
    yield _too_much(lines, {**figures, "unit": f" {currency}", "many": "much"}, bool(line.billed))


def bills_so_much(lines: Sequence[Billed], now: str, before: str) -> str:
    """Begins a sentence on lines of one order line: `Lines 1, 2 (Krill) bill 10 with 5 billed
    before`; nothing is said of an empty `before`."""
    numbers = ", ".join(str(each.at) for each in lines)
    one, verb = (f"Line {numbers}", "bills") if len(lines) == 1 else (f"Lines {numbers}", "bill")
    earlier = f" with {before} billed before" if before else ""
    return f"{one}{called(lines[0].row)} {verb} {now}{earlier}"


def _too_much(lines: list[Billed], figures: Mapping[str, str], before: bool) -> Finding:
    first = lines[0]
    said = (
        bills_so_much(lines, f"{figures['now']}{figures['unit']}", figures["before"] * before)
        + f"; {first.named} is for {figures['ordered']}"
        f"{figures['unit']}, {figures['over']} too {figures['many']}"
    )
    return at_cell(
        first.row.get("quantity") or first.row["amount"],
        f"lines[{first.at}].quantity",
        code="order.quantity",
        message=f"{said} (limit {figures['limit']}).",
        also=tuple(f"lines[{each.at}].amount" for each in lines),
        expected=figures["limit"].replace(",", ""),
        found=figures["now"].replace(",", ""),
        difference=f"+{figures['over'].replace(',', '')}",
        about=first.named,
        letter=f"{said}.",
    )
