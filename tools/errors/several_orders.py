"""Bills of two orders: lawful ones, and mistakes that concern the second order only."""

from collections.abc import Callable
from dataclasses import replace
from decimal import Decimal

from tools.errors.planted import Spoil
from tools.errors.world import World
from tools.errors.year import Draft, on_order
from veridox.core.matching import OrderRecord
from veridox.core.money import Money

Pair = tuple[OrderRecord, OrderRecord]
ROOM = Decimal(100_000)
"""By its total far more may be billed on the second order: only its lines tell."""
Change = Callable[[World, Draft, Pair], bool]


def on_two_orders(world: World, draft: Draft) -> Pair | None:
    """Give the bill two orders, each of a part of its lines; None where it has too few."""
    if len(draft.lines) < 2:
        return None
    order = on_order(world, draft)
    if len(order.lines) != len(draft.lines):
        return None
    half = world.chance.randrange(1, len(order.lines))
    second = replace(order, number=f"{order.number}-B", lines=order.lines[half:])
    first = replace(order, lines=order.lines[:half])
    # What lines make is rounded on the bill line by line: a unit for each is no mistake.
    pair = tuple(
        replace(each, net_total=Money(
            amount=sum((line.amount for line in each.lines), Decimal(0)) + len(each.lines),
            currency=order.net_total.currency,
        ).rounded())
        for each in (first, second)
    )  # fmt: skip
    for each in pair:
        world.placed[each.number] = each
    named = [first.number, second.number]
    world.chance.shuffle(named)
    draft.values["order_number"] = world.chance.choice([", ", " / ", " and "]).join(named)
    return pair[0], pair[1]


def spoiled(change: Change) -> Spoil:
    """A bill of two orders that were changed then, or it was."""

    def spoil(world: World, draft: Draft) -> Draft | None:
        draft.oddity = ""
        if not draft.seller.record.needs_order or draft.values["gross_total"].amount < 50:
            return None
        pair = on_two_orders(world, draft)
        if pair is None or not change(world, draft, pair):
            return None
        draft.add_up()
        return draft

    return spoil


def _second(**values: object) -> Change:
    def change(world: World, draft: Draft, pair: Pair) -> bool:
        world.placed[pair[1].number] = replace(pair[1], **values)  # type: ignore[arg-type]
        return True

    return change


def _of_another_vendor(world: World, draft: Draft, pair: Pair) -> bool:
    own = draft.seller.record.code
    others = [each.code for each in world.every_vendor if each.code != own]
    return _second(vendor=world.chance.choice(others))(world, draft, pair)


def _not_named(world: World, draft: Draft, pair: Pair) -> bool:
    draft.values["order_number"] = pair[0].number
    world.placed[pair[0].number] = replace(
        pair[0], net_total=Money(amount=ROOM, currency=draft.currency)
    )
    return True


def _misread(world: World, draft: Draft, pair: Pair) -> bool:
    draft.values["order_number"] = f"{pair[0].number}, {pair[1].number[:-3]}9-B"
    return draft.values["order_number"].split(", ")[1] not in world.placed


def _used_up(world: World, draft: Draft, pair: Pair) -> bool:
    line = pair[1].lines[0]
    used = replace(line, invoiced=line.quantity, billed=line.amount)
    total = Money(amount=ROOM, currency=draft.currency)
    return _second(lines=(used, *pair[1].lines[1:]), net_total=total)(world, draft, pair)


def _cheaper(world: World, draft: Draft, pair: Pair) -> bool:
    line = pair[1].lines[0]
    lower = replace(line, unit_price=line.unit_price * Decimal("0.9"), quantity=line.quantity * 2)
    total = Money(amount=ROOM, currency=draft.currency)
    return line.quantity > 1 and _second(lines=(lower, *pair[1].lines[1:]), net_total=total)(
        world, draft, pair
    )


def _small_total(world: World, draft: Draft, pair: Pair) -> bool:
    small = Money(amount=pair[1].net_total.amount / 2, currency=draft.currency).rounded()
    world.placed[pair[0].number] = replace(
        pair[0], net_total=Money(amount=ROOM, currency=draft.currency)
    )
    return pair[1].net_total.amount > 100 and _second(net_total=small)(world, draft, pair)


def _without_lines(world: World, draft: Draft, pair: Pair) -> bool:
    world.placed[pair[0].number] = replace(pair[0], lines=())
    return _second(lines=())(world, draft, pair)


SEVERAL_ORDERS: dict[str, Spoil] = {
    "second order closed": spoiled(_second(closed=True)),
    "second order not approved": spoiled(_second(approved=False)),
    "second order of another vendor": spoiled(_of_another_vendor),
    "second order not named": spoiled(_not_named), "second order misread": spoiled(_misread),
    "line of second order billed": spoiled(_used_up),
    "line of second order dearer": spoiled(_cheaper),
    "second order's total passed": spoiled(_small_total),
    "two orders known by total": spoiled(_without_lines),
}  # fmt: skip
