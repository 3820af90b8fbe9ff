"""Mistakes that only a comparison line by line finds: the order's total has room for each."""

from collections.abc import Callable
from dataclasses import replace
from decimal import Decimal

from tools.errors.planted import Spoil
from tools.errors.world import World
from tools.errors.year import Draft, on_order
from veridox.core.matching import OrderLineRecord, OrderRecord

ROOM = Decimal(5)
"""So many times what the bill asks for may be billed on the order, by its total."""
Change = Callable[[Draft, list[OrderLineRecord]], bool]
"""Changes what was ordered, or the bill; says whether it could."""


def changed_order(change: Change) -> Spoil:
    """A bill on an order that had this bill's lines before they were changed."""

    def spoil(world: World, draft: Draft) -> Draft | None:
        record = draft.seller.record
        draft.oddity = ""
        if not record.needs_order or draft.values["gross_total"].amount < 50:
            return None
        order = on_order(world, draft)
        lines = list(order.lines)
        if len(lines) != len(draft.lines) or not change(draft, lines):
            return None
        draft.add_up()
        _with_room(world, order, lines)
        return draft

    return spoil


def _with_room(world: World, order: OrderRecord, lines: list[OrderLineRecord]) -> None:
    worth = max(order.net_total.amount, sum((line.amount for line in lines), Decimal(0)))
    total = replace(order.net_total, amount=worth * ROOM + 100_000).rounded()
    world.placed[order.number] = replace(order, net_total=total, lines=tuple(lines))


def _cost(draft: Draft, at: int, quantity: Decimal, price: Decimal) -> None:
    draft.lines[at] |= {
        "quantity": quantity, "unit_price": price, "amount": draft.money(quantity * price),
    }  # fmt: skip


def _dearer(percent: str) -> Change:
    def change(draft: Draft, lines: list[OrderLineRecord]) -> bool:
        line = draft.lines[0]
        price = (line["unit_price"] * (1 + Decimal(percent) / 100)).quantize(Decimal("0.01"))
        _cost(draft, 0, line["quantity"], price + Decimal("0.02"))
        return lines[0].quantity > 1

    return change


def _half_at_twice_the_price(draft: Draft, lines: list[OrderLineRecord]) -> bool:
    line = draft.lines[0]
    _cost(draft, 0, line["quantity"] / 2, line["unit_price"] * 2)
    return lines[0].quantity > 2


def _more(draft: Draft, lines: list[OrderLineRecord]) -> bool:
    line = draft.lines[0]
    _cost(draft, 0, line["quantity"] + 1 + line["quantity"] // 5, line["unit_price"])
    return lines[0].quantity > 1


def _never_ordered(draft: Draft, lines: list[OrderLineRecord]) -> bool:
    price = Decimal("48.50")
    draft.lines.append({
        "description": "Brass nameplate, engraved", "quantity": Decimal(1), "unit_price": price,
        "amount": draft.money(price),
    })  # fmt: skip
    return True


def _another_thing(draft: Draft, lines: list[OrderLineRecord]) -> bool:
    draft.lines[0]["description"] = "Velvet curtain, royal blue"
    return True


def _used_up(draft: Draft, lines: list[OrderLineRecord]) -> bool:
    lines[0] = replace(lines[0], invoiced=lines[0].quantity, billed=lines[0].amount)
    return True


def _used_in_part(draft: Draft, lines: list[OrderLineRecord]) -> bool:
    taken = lines[0].quantity // 2 + 1
    lines[0] = replace(lines[0], invoiced=taken, billed=taken * lines[0].unit_price)
    return lines[0].quantity > 2


def _in_another_unit(draft: Draft, lines: list[OrderLineRecord]) -> bool:
    line = draft.lines[0]
    lines[0] = replace(lines[0], unit="drum")
    line["unit"] = "pallet"
    _cost(draft, 0, line["quantity"], line["unit_price"] + 1)
    return lines[0].quantity > 1


def _gram_at_the_price_of_a_kilo(draft: Draft, lines: list[OrderLineRecord]) -> bool:
    lines[0] = replace(lines[0], unit="kg")
    draft.lines[0]["unit"] = "g"
    return lines[0].quantity > 1


def _service_above_its_sum(draft: Draft, lines: list[OrderLineRecord]) -> bool:
    line = draft.lines[0]
    lines[0] = replace(lines[0], quantity=Decimal(1), unit_price=line["amount"].amount)
    dearer = (line["amount"].amount * Decimal("1.06")).quantize(Decimal("0.01")) + 1
    _cost(draft, 0, Decimal(1), dearer)
    return True


def _service_billed_before(draft: Draft, lines: list[OrderLineRecord]) -> bool:
    amount = draft.lines[0]["amount"].amount
    lines[0] = replace(lines[0], quantity=Decimal(1), unit_price=amount, billed=amount * 4 / 5,
                       invoiced=Decimal(1))  # fmt: skip
    _cost(draft, 0, Decimal(1), amount)
    return True


def _freight_as_a_line(draft: Draft, lines: list[OrderLineRecord]) -> bool:
    price = Decimal("95.00")
    draft.lines.append({
        "description": "Freight and packing", "quantity": Decimal(1), "unit_price": price,
        "amount": draft.money(price),
    })  # fmt: skip
    return True


def _twice_on_the_bill(draft: Draft, lines: list[OrderLineRecord]) -> bool:
    draft.lines.append(dict(draft.lines[0]))
    return lines[0].quantity > 1


def _discount_forgotten(draft: Draft, lines: list[OrderLineRecord]) -> bool:
    lines[0] = replace(lines[0], unit_price=lines[0].unit_price * Decimal("0.85"))
    return lines[0].quantity > 1


def _price_of_a_hundred_for_one(draft: Draft, lines: list[OrderLineRecord]) -> bool:
    lines[0] = replace(lines[0], unit_price=lines[0].unit_price / 100)
    return lines[0].quantity > 1


ORDER_LINES: dict[str, Spoil] = {
    "a price 3 % above the order": changed_order(_dearer("3")), "a third dearer": changed_order(_dearer("33")),
    "half of it at twice the price": changed_order(_half_at_twice_the_price),
    "more than was ordered": changed_order(_more), "a line nobody ordered": changed_order(_never_ordered),
    "another thing at its price": changed_order(_another_thing), "a line billed before": changed_order(_used_up),
    "half of a line billed before": changed_order(_used_in_part),
    "a unit of unknown size": changed_order(_in_another_unit),
    "grams at the price of kilos": changed_order(_gram_at_the_price_of_a_kilo),
    "a service above its sum": changed_order(_service_above_its_sum),
    "a service billed before": changed_order(_service_billed_before),
    "dear freight as a line": changed_order(_freight_as_a_line),
    "a line twice on the bill": changed_order(_twice_on_the_bill),
    "a discount forgotten": changed_order(_discount_forgotten),
    "price of a hundred for one": changed_order(_price_of_a_hundred_for_one),
}  # fmt: skip
