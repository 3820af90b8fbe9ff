"""Which order may be meant, where its number is missing, misread or another one's."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from decimal import Decimal
from typing import Final

from veridox.core.matching.duplicates import misread
from veridox.core.matching.lines import OrderLineRecord, pair_lines
from veridox.core.matching.orders import OrderRecord, order_key
from veridox.core.matching.vendors import Evidence, together
from veridox.core.reading import Reading, Row
from veridox.core.reading.reading import cell_money, cell_number

SHOWN: Final = 0.4
"""Chance from which an order is worth showing."""
MOST: Final = 3
_ON_PAGE, _MISREAD, _TAIL, _LINES, _TOTAL = 0.85, 0.7, 0.5, 0.8, 0.6
"""How much each kind of evidence says by itself, as a chance."""
_TAIL_FROM = 3
"""Signs of a number's end that are not many numbers' end."""


@dataclass(frozen=True, kw_only=True, slots=True)
class OrderProposal:
    """An order that may be meant, how likely, and why: what counts most first."""

    order: OrderRecord
    score: float
    reasons: tuple[Evidence, ...]


def propose_orders(
    reading: Reading, orders: Iterable[OrderRecord], text: str = "", stated: str = ""
) -> tuple[OrderProposal, ...]:
    """Orders of a vendor that a bill may be of, likeliest first.

    Args:
        reading: of the bill.
        orders: of its vendor, with what is open of their lines.
        text: words of its pages, in which a number may stand that was taken for something else.
        stated: the number that it names and that is none of this vendor's; empty for none.
    """
    page = order_key(text)
    found = []
    for order in orders:
        if order.closed or order.gone or order.net_total.currency != reading.currency:
            continue
        score, reasons = together(_reasons(reading, order, page, stated))
        if score >= SHOWN:
            found.append(OrderProposal(order=order, score=score, reasons=reasons))
    return tuple(sorted(found, key=lambda each: (-each.score, each.order.number))[:MOST])


def _reasons(reading: Reading, order: OrderRecord, page: str, stated: str) -> Iterator[Evidence]:
    key = order_key(order.number)
    how = misread(stated, order.number) if stated else ""
    if how:
        yield Evidence(what="number", said=stated, ours=order.number, strength=_MISREAD, note=how)
    elif len(order_key(stated)) >= _TAIL_FROM and key.endswith(order_key(stated)):
        yield Evidence(
            what="number", said=stated, ours=order.number, strength=_TAIL, note="its last part"
        )
    if len(key) >= 5 and key in page:
        yield Evidence(what="number", said=order.number, strength=_ON_PAGE, note="on the page")
    billed = [row for row in reading.lines if cell_money(row, "amount")]
    fitting = _fitting(billed, order.lines)
    if fitting:
        yield Evidence(
            what="lines", said=f"{fitting} of {len(billed)} at its prices",
            strength=_LINES * fitting / len(billed),
        )  # fmt: skip
    net, open_ = reading.money("net_total"), _open(order)
    if net is not None and open_ and net.rounded().amount == open_:
        yield Evidence(what="total", said=f"{net}, just what is open", strength=_TOTAL)


def _fitting(billed: list[Row], ordered: tuple[OrderLineRecord, ...]) -> int:
    """Lines that are on the order at its price, with so much of them open."""
    count = 0
    for row, at in zip(billed, pair_lines(billed, ordered), strict=True):
        line = ordered[at] if at is not None else None
        quantity, price = cell_number(row, "quantity"), cell_number(row, "unit_price")
        if line is None or quantity is None or quantity > line.open:
            continue
        count += price == line.unit_price
    return count


def _open(order: OrderRecord) -> Decimal:
    worth = sum((line.open * line.unit_price for line in order.lines), Decimal(0))
    return worth.quantize(Decimal("0.01"))
