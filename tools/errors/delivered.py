"""Mistakes in what was delivered, packed and agreed, and lawful bills of the same kinds."""

from collections.abc import Callable
from dataclasses import replace
from decimal import Decimal

from tools.errors.order_lines import Change, changed_order
from tools.errors.planted import Spoil
from tools.errors.world import World
from tools.errors.year import Draft, on_order
from veridox.core.matching import AgreedRate, ItemRecord, OrderLineRecord

CASE = 12


def _received(draft: Draft, lines: list[OrderLineRecord], share: str, back: str = "0") -> None:
    """All lines came in whole, the first one in part."""
    for at, line in enumerate(lines):
        lines[at] = replace(line, received=line.quantity)
    whole = lines[0].quantity
    lines[0] = replace(
        lines[0], received=(whole * Decimal(share)).quantize(Decimal("0.0001")),
        returned=(whole * Decimal(back)).quantize(Decimal("0.0001")),
    )  # fmt: skip


def _short(share: str, back: str = "0") -> Change:
    def change(draft: Draft, lines: list[OrderLineRecord]) -> bool:
        _received(draft, lines, share, back)
        return True

    return change


def _nothing_came(draft: Draft, lines: list[OrderLineRecord]) -> bool:
    lines[0] = replace(lines[0], needs_receipt=True)
    return True


def _billed_before(draft: Draft, lines: list[OrderLineRecord]) -> bool:
    """Twice as much was ordered as came, and all that came is billed already."""
    line = lines[0]
    lines[0] = replace(line, quantity=line.quantity * 2, received=line.quantity,
                       invoiced=line.quantity, billed=line.amount)  # fmt: skip
    return line.quantity > 1


def _in_an_unknown_pack(draft: Draft, lines: list[OrderLineRecord]) -> bool:
    lines[0] = replace(lines[0], received=Decimal(0), unclear=((lines[0].quantity, "crate"),))
    return True


def _cases(draft: Draft, lines: list[OrderLineRecord], price: str) -> bool:
    """The bill is by the case of twelve, the order by the piece."""
    line, ordered = draft.lines[0], lines[0]
    quantity, each = line["quantity"], line["unit_price"]
    lines[0] = replace(
        ordered, quantity=quantity * CASE, unit="piece",
        item=ItemRecord(unit="piece", packs={"case": Decimal(CASE)}),
    )  # fmt: skip
    by_case = (each * CASE * Decimal(price)).quantize(Decimal("0.01"))
    draft.lines[0] |= {"unit": "case", "unit_price": by_case,
                       "amount": draft.money(quantity * by_case)}  # fmt: skip
    return ordered.quantity > 1 and each > 1


def _cases_dearer(draft: Draft, lines: list[OrderLineRecord]) -> bool:
    return _cases(draft, lines, "1.10")


def _more_cases(draft: Draft, lines: list[OrderLineRecord]) -> bool:
    done = _cases(draft, lines, "1")
    lines[0] = replace(lines[0], quantity=lines[0].quantity - 1)
    return done


def _not_approved(world: World, draft: Draft) -> Draft | None:
    draft.oddity = ""
    if not draft.seller.record.needs_order:
        return None
    draft.add_up()
    order = on_order(world, draft)
    world.placed[order.number] = replace(order, approved=False)
    return draft


# -- rate cards


def _card(world: World, draft: Draft) -> list[AgreedRate]:
    """A card that has the bill's charges as they are; the bill names no order."""
    draft.values.pop("order_number", None)
    rates = {
        line["description"]: AgreedRate(
            card="2026", currency=draft.currency, wording=line["description"],
            price=line["amount"].amount / line["quantity"],
        )
        for line in draft.lines
    }  # fmt: skip
    world.cards[draft.seller.record.code] = found = list(rates.values())
    return found


Bend = Callable[[Draft, list[AgreedRate]], bool]


def _off(bend: Bend) -> Spoil:
    def spoil(world: World, draft: Draft) -> Draft | None:
        draft.oddity = ""
        if draft.seller.record.needs_order or draft.seller.monthly is not None:
            return None
        rates = _card(world, draft)
        if not bend(draft, rates):
            world.cards.clear()
            return None
        draft.add_up()
        return draft

    return spoil


def _cheaper(share: str) -> Bend:
    def bend(draft: Draft, rates: list[AgreedRate]) -> bool:
        rates[0] = replace(rates[0], price=(rates[0].price or Decimal(0)) * Decimal(share))
        return draft.lines[0]["amount"].amount > 20

    return bend


def _never_agreed(draft: Draft, rates: list[AgreedRate]) -> bool:
    price = Decimal("25.00")
    draft.lines.append({"description": "Toll", "quantity": Decimal(1), "unit_price": price,
                        "amount": draft.money(price)})  # fmt: skip
    return True


def _surcharge(percent: str) -> Bend:
    """Six percent were agreed."""

    def bend(draft: Draft, rates: list[AgreedRate]) -> bool:
        base = sum((line["amount"].amount for line in draft.lines), Decimal(0))
        rates.append(AgreedRate(card="2026", currency=draft.currency, wording="Fuel surcharge",
                                percent=Decimal(6)))  # fmt: skip
        amount = draft.money(base * Decimal(percent) / 100)
        draft.lines.append({"description": "Fuel surcharge", "quantity": Decimal(1),
                            "unit_price": amount.amount, "amount": amount})  # fmt: skip
        return base > 100

    return bend


def _band_missed(draft: Draft, rates: list[AgreedRate]) -> bool:
    """From this quantity on less was agreed."""
    quantity = draft.lines[0]["quantity"]
    rates.append(replace(rates[0], from_quantity=quantity,
                         price=(rates[0].price or Decimal(0)) * Decimal("0.8")))  # fmt: skip
    return quantity > 1 and draft.lines[0]["amount"].amount > 20


def _no_card_that_day(draft: Draft, rates: list[AgreedRate]) -> bool:
    rates[:] = [replace(rate, last=draft.day.replace(year=draft.day.year - 1)) for rate in rates]
    return True


DELIVERED: dict[str, Spoil] = {
    "order lines half delivered": changed_order(_short("0.5")),
    "order lines sent back": changed_order(_short("1", "0.4")),
    "order of which nothing came": changed_order(_nothing_came),
    "order whose goods are billed": changed_order(_billed_before),
    "order delivered in crates": changed_order(_in_an_unknown_pack),
    "order by piece, dearer cases": changed_order(_cases_dearer),
    "order by piece, more cases": changed_order(_more_cases),
    "order not approved": _not_approved,
    "a charge above the card": _off(_cheaper("0.9")),
    "a charge twice the card": _off(_cheaper("0.5")),
    "a charge nobody agreed": _off(_never_agreed),
    "a surcharge of 8 %": _off(_surcharge("8")),
    "a band that was missed": _off(_band_missed),
    "a card that ended": _off(_no_card_that_day),
}  # fmt: skip


# -- lawful bills of the same kinds


def _lawful(change: Change) -> Callable[[World, Draft], bool]:
    def done(world: World, draft: Draft) -> bool:
        return changed_order(change)(world, draft) is not None

    return done


def _whole(draft: Draft, lines: list[OrderLineRecord]) -> bool:
    _received(draft, lines, "1")
    return True


def _second_half(draft: Draft, lines: list[OrderLineRecord]) -> bool:
    """Twice as much was ordered and came; half of it is billed already."""
    line = lines[0]
    lines[0] = replace(line, quantity=line.quantity * 2, received=line.quantity * 2,
                       invoiced=line.quantity, billed=line.amount)  # fmt: skip
    return line.quantity > 1


def _replaced(draft: Draft, lines: list[OrderLineRecord]) -> bool:
    """Some went back and came anew."""
    line = lines[0]
    lines[0] = replace(line, received=line.quantity + 2, returned=Decimal(2))
    return True


def _fair_cases(draft: Draft, lines: list[OrderLineRecord]) -> bool:
    if not _cases(draft, lines, "1"):
        return False
    lines[0] = replace(lines[0], received=lines[0].quantity)
    return True


def _by_card(world: World, draft: Draft) -> bool:
    if draft.seller.record.needs_order or draft.seller.monthly is not None:
        return False
    _surcharge("6")(draft, _card(world, draft))
    return True


LAWFUL: dict[str, Callable[[World, Draft], bool]] = {
    "received whole": _lawful(_whole), "second half of the goods": _lawful(_second_half),
    "sent back and replaced": _lawful(_replaced), "cases of twelve": _lawful(_fair_cases),
    "by rate card": _by_card,
}  # fmt: skip


def delivered(world: World, draft: Draft) -> Draft:
    """The bill with its goods booked in, in packs, or by a rate card, where one fits."""
    name = world.chance.choice(list(LAWFUL))
    tried = replace(draft, values=dict(draft.values), lines=[dict(line) for line in draft.lines])
    if not LAWFUL[name](world, tried):
        world.cards.clear()
        return draft
    tried.add_up()
    tried.oddity = name
    return tried
