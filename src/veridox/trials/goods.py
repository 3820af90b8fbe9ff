"""Orders with their lines, what came in, items and rate cards of a file of facts."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal

from veridox.core.matching import (
    AgreedRate,
    ItemRecord,
    OrderLineRecord,
    OrderRecord,
    came_in,
)
from veridox.core.money import Money, round_half_up
from veridox.trials.cells import FactsError, money, number, read_as, several, truth

Rows = Sequence[Mapping[str, str]]


@dataclass(frozen=True, kw_only=True, slots=True)
class Orders:
    """Rows that say of orders what was ordered, of which things, and what came in."""

    orders: Rows
    lines: Rows
    receipts: Rows
    items: Rows


def orders_from(given: Orders) -> list[OrderRecord]:
    """Orders with their lines.

    Raises:
        FactsError: a line or a receipt is of an order that is not there; neither lines nor a net
            total say what an order is over.
    """
    items = _items(given.items)
    placed = {row["number"]: row for row in given.orders}
    lines: dict[str, list[OrderLineRecord]] = {number: [] for number in placed}
    for row in given.lines:
        order = placed.get(row["order"])
        if order is None:
            raise FactsError(f"order_lines: there is no order {row['order']!r}")
        item = items.get((order["vendor"], row.get("item_code", "")))
        lines[row["order"]].append(_line(row, item))
    for row in given.receipts:
        if row["order_number"] not in placed:
            raise FactsError(f"receipts: there is no order {row['order_number']!r}")
    return [
        _order(row, tuple(_received(line, row["number"], given.receipts)
                          for line in lines[row["number"]]))
        for row in given.orders
    ]  # fmt: skip


def _items(rows: Rows) -> dict[tuple[str, str], ItemRecord]:
    found: dict[tuple[str, str], ItemRecord] = {}
    for row in rows:
        item = ItemRecord(
            code=row.get("code", ""), vendor_code=row.get("vendor_code", ""),
            unit=row.get("unit", ""), packs=dict(map(_pack, several(row, "packs"))),
        )  # fmt: skip
        for code in item.codes:
            found.setdefault((row["vendor"], code), item)
    return found


def _pack(text: str) -> tuple[str, Decimal]:
    """A pack, with how many are in it: `case = 12`."""
    name, equals, count = text.partition("=")
    if not equals or not name.strip():
        raise FactsError(f"{text!r} is no pack; write it as case = 12")
    return name.strip(), number({"packs": count.strip()}, "packs")


def _line(row: Mapping[str, str], item: ItemRecord | None) -> OrderLineRecord:
    price = number(row, "unit_price")
    invoiced = number(row, "invoiced")
    return OrderLineRecord(
        position=read_as(int, row["line"]), item_code=row.get("item_code", ""),
        description=row.get("description", ""), quantity=number(row, "quantity"),
        unit=row.get("unit", ""), unit_price=price, invoiced=invoiced, billed=invoiced * price,
        needs_receipt=truth(row, "needs_receipt", False) if "needs_receipt" in row else None,
        item=item, gl_account=row.get("gl_account", ""), cost_centre=row.get("cost_centre", ""),
        project=row.get("project", ""),
    )  # fmt: skip


def _received(line: OrderLineRecord, order: str, receipts: Rows) -> OrderLineRecord:
    """A line with what came in of it; less than nothing is what went back."""
    booked = [
        (row.get("unit", ""), max(count, Decimal(0)), max(-count, Decimal(0)))
        for row in receipts
        if row["order_number"] == order and read_as(int, row["line"]) == line.position
        for count in (number(row, "quantity"),)
    ]
    if not booked:
        return line
    goods = came_in(line.item, line.unit, booked)
    return replace(line, received=goods.received, returned=goods.returned, unclear=goods.unclear)


def _order(row: Mapping[str, str], lines: tuple[OrderLineRecord, ...]) -> OrderRecord:
    if "net_total" in row:
        total = money(row["net_total"])
    elif lines and "currency" in row:
        made = sum((line.amount for line in lines), Decimal(0))
        total = Money(amount=round_half_up(made, row["currency"]), currency=row["currency"])
    else:
        raise FactsError(f"order {row['number']} needs a net_total, or a currency and lines")
    billed = sum((line.billed for line in lines), Decimal(0))
    invoiced = money(row["invoiced"]) if "invoiced" in row else Money(
        amount=round_half_up(billed, total.currency), currency=total.currency
    )  # fmt: skip
    return OrderRecord(
        number=row["number"], vendor=row["vendor"], net_total=total, invoiced=invoiced,
        closed=truth(row, "closed", False), approved=truth(row, "approved", True),
        entity=row.get("entity", ""), lines=lines,
        ordered_on=read_as(date.fromisoformat, row["ordered_on"]) if "ordered_on" in row else None,
    )  # fmt: skip


def cards_from(rows: Rows) -> dict[str, Sequence[AgreedRate]]:
    """Charges of rate cards by vendor.

    Raises:
        FactsError: a charge has neither code nor wording, or not either a price or a percentage.
    """
    found: dict[str, list[AgreedRate]] = {}
    for row in rows:
        if "code" not in row and "wording" not in row:
            raise FactsError(f"cards: a charge of {row['card']} has a code or a wording")
        if ("price" in row) == ("percent" in row):
            raise FactsError(f"cards: a charge of {row['card']} has a price or a percentage")
        days = {name: read_as(date.fromisoformat, row[name])
                for name in ("first", "last") if name in row}  # fmt: skip
        found.setdefault(row["vendor"], []).append(AgreedRate(
            card=row["card"], currency=row["currency"], code=row.get("code", ""),
            wording=row.get("wording", ""), unit=row.get("unit", ""),
            price=number(row, "price") if "price" in row else None,
            percent=number(row, "percent") if "percent" in row else None,
            of=row.get("of", ""), from_quantity=number(row, "from_quantity"), **days,
        ))  # fmt: skip
    return dict(found)
