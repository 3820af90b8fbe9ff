"""Was it delivered? The third way: order, bill, and the goods that were booked in."""

from collections.abc import Iterator
from dataclasses import dataclass
from decimal import Decimal

from veridox.core.checks.evidence import at_cell
from veridox.core.checks.order_lines import (
    Billed,
    bills_so_much,
    by_order_line,
    compared_lines,
    quantity_text,
)
from veridox.core.checks.table import check
from veridox.core.facts import Facts, Match
from veridox.core.findings import ORDERS, RECEIPTS, Code, Finding
from veridox.core.findings.wording import listed
from veridox.core.locales.units import beside
from veridox.core.matching import OrderLineRecord
from veridox.core.money import round_half_up


def needs_receipt(line: OrderLineRecord, match: Match) -> bool:
    """Whether a line of an order is paid only once its goods are booked in.

    What the order says of the line counts first, then what the pipeline says; where neither says
    anything, it does as soon as somebody books receipts on the line.
    """
    if line.needs_receipt is not None:
        return line.needs_receipt
    return match is Match.THREE_WAY or (match is Match.AS_BOOKED and line.received is not None)


@check(
    place=194,
    needs=("vendor", "orders", "pairs"),
    codes={
        "order.not_received": Code(
            title="More is billed than was received",
            why="What did not arrive, or went back, is not to be paid yet.",
            do="Wait for the goods receipt; ask whoever takes the goods in if they are there.",
            lowered=True,
            waits=True,
            helped_by=ORDERS | RECEIPTS,
        ),
    },
)
def goods_received(facts: Facts) -> Iterator[Finding]:
    """`order.not_received`: of each line of the order, all bills together against the goods that
    came in less those that went back.

    What was ordered as one thing for a sum is compared by amount.
    """
    for lines in by_order_line(compared_lines(facts)):
        line = lines[0].line
        if not needs_receipt(line, facts.settings.match):
            continue
        if line.by_amount or any(each.quantity is None for each in lines):
            found = _by_amount(facts, lines)
        else:
            found = _by_count(facts, lines)
        if found is not None:
            yield _finding(lines, found)


@dataclass(frozen=True, kw_only=True, slots=True)
class _Short:
    """What is billed and did not come, with its unit; `figures` are what is here, what is billed
    now and what is missing, without it."""

    now: str
    before: str
    there: str
    missing: str
    figures: tuple[Decimal, Decimal, Decimal]
    came_one: bool = False
    missing_one: bool = False


def _there(line: OrderLineRecord) -> Decimal:
    return max(Decimal(0), (line.received or Decimal(0)) - line.returned)


def _by_count(facts: Facts, lines: list[Billed]) -> _Short | None:
    line = lines[0].line
    now = sum((each.quantity or Decimal(0) for each in lines), Decimal(0))
    there = _there(line)
    room = there * facts.settings.order_total.quantity_percent / 100
    if now <= 0 or line.invoiced + now <= there + room:
        return None
    missing = line.invoiced + now - there
    return _Short(
        now=beside(quantity_text(now), line.unit),
        before=quantity_text(line.invoiced) if line.invoiced else "",
        there=beside(quantity_text(there), line.unit),
        missing=beside(quantity_text(missing), line.unit),
        figures=(there.normalize(), now.normalize(), missing.normalize()),
        came_one=there == 1,
        missing_one=missing == 1,
    )


def _by_amount(facts: Facts, lines: list[Billed]) -> _Short | None:
    line, currency = lines[0].line, lines[0].amount.currency
    now = sum((each.amount.amount for each in lines), Decimal(0))
    within = facts.settings.order_total
    percent = within.price_percent if line.by_amount else within.quantity_percent
    there = round_half_up(_there(line) * line.unit_price, currency)
    if now <= 0 or line.billed + now <= round_half_up(there * (1 + percent / 100), currency):
        return None
    before = round_half_up(line.billed, currency)
    return _Short(
        now=f"{now:,f} {currency}",
        before=f"{before:,f}" if before else "",
        there=f"{there:,f} {currency}",
        missing=f"{before + now - there:,f} {currency}",
        figures=(there, now, before + now - there),
    )


def _finding(lines: list[Billed], short: _Short) -> Finding:
    first, line = lines[0], lines[0].line
    billed = bills_so_much(lines, short.now, short.before)
    return at_cell(
        first.row.get("quantity") or first.row["amount"],
        f"lines[{first.at}].quantity",
        code="order.not_received",
        message=f"{billed}; {_came(line, short)} {first.named}, "
        f"{short.missing} {'is' if short.missing_one else 'are'} not there.",
        also=tuple(f"lines[{each.at}].amount" for each in lines),
        expected=f"{short.figures[0]:f}",
        found=f"{short.figures[1]:f}",
        difference=f"+{short.figures[2]:f}",
        about=first.named,
        letter=f"{billed}; we have received {short.there} of it on order {first.order.number}.",
    )


def _came(line: OrderLineRecord, short: _Short) -> str:
    if not line.received:
        came = "nothing was received on"
    elif line.returned:
        came = (
            f"{beside(quantity_text(line.received), line.unit)} were received and "
            f"{quantity_text(line.returned)} sent back on"
        )
    else:
        came = f"{short.there} {'was' if short.came_one else 'were'} received on"
    unclear = listed([f"{quantity_text(count)} {unit}" for count, unit in line.unclear])
    if not unclear:
        return came
    unit = line.unit or "the order's unit"
    return f"{unclear} were received that nobody can count in {unit}; {came}"
