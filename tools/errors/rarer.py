"""Mistakes that are planted beside the usual ones: rarer, and each of a check of its own."""

from dataclasses import replace
from decimal import Decimal

from tools.errors.delivered import DELIVERED
from tools.errors.order_lines import ORDER_LINES
from tools.errors.planted import PLANTED, Spoil, ordered_ones
from tools.errors.several_orders import SEVERAL_ORDERS
from tools.errors.world import MEERHAUS, TRUST, World, tax_id
from tools.errors.year import Draft, on_order
from veridox.core.money import Money


def _order_in_other_currency(world: World, draft: Draft) -> Draft | None:
    order = on_order(world, draft)
    other = "USD" if order.net_total.currency == "EUR" else "EUR"
    world.placed[order.number] = replace(
        order, net_total=Money(amount=order.net_total.amount, currency=other),
        invoiced=Money(amount=Decimal(0), currency=other),
    )  # fmt: skip
    return draft if ordered_ones(draft) else None


def _order_of_another_of_ours(world: World, draft: Draft) -> Draft | None:
    order = on_order(world, draft)
    other = MEERHAUS if draft.seller.entity is TRUST else TRUST
    world.placed[order.number] = replace(order, entity=other.code)
    return draft if ordered_ones(draft) else None


def _dear_freight_on_an_order(world: World, draft: Draft) -> Draft | None:
    draft.charges = [{"reason": "Freight", "amount": draft.money(Decimal(140))}]
    draft.add_up()
    on_order(world, draft)
    return draft if ordered_ones(draft) else None


def _rebates_do_not_add_up(world: World, draft: Draft) -> Draft | None:
    if draft.values["net_total"].amount < 100:
        return None
    draft.allowances = [{"reason": "Rebate", "amount": draft.money(Decimal(12))},
                        {"reason": "Fair", "amount": draft.money(Decimal(9))}]  # fmt: skip
    draft.add_up()
    draft.values["allowances"] = draft.money(Decimal(31))
    return draft


def _charge_is_not_its_percent(world: World, draft: Draft) -> Draft:
    base = draft.values["net_total"]
    amount = draft.money(base.amount * 5 / 100 + 20)
    draft.charges = [{"reason": "Surcharge", "percent": Decimal(5), "base": base, "amount": amount}]
    draft.add_up()
    return draft


def _left_to_pay_is_wrong(world: World, draft: Draft) -> Draft:
    paid = draft.money(Decimal(20))
    draft.values |= {"prepaid": paid, "amount_due": draft.values["gross_total"]}
    return draft


def _base_that_the_lines_do_not_make(world: World, draft: Draft) -> Draft | None:
    if not draft.seller.rate or len(draft.lines) < 2:
        return None
    half = len(draft.lines) // 2
    for line in draft.lines[:half]:
        line["tax_rate"] = Decimal(0)
    for line in draft.lines[half:]:
        line["tax_rate"] = draft.seller.rate
    draft.values["exemption_reason"] = "Zero rated supply"
    draft.add_up()
    more = draft.money(Decimal(25))
    for row in draft.taxes:
        row["base"] = row["base"] + (more if row["rate"] else -more)
        row["amount"] = draft.money(row["base"].amount * row["rate"] / 100)
    tax = sum((row["amount"].amount for row in draft.taxes), Decimal(0))
    net = draft.values["net_total"].amount
    draft.values |= {"tax_total": draft.money(tax), "gross_total": draft.money(net + tax)}
    return draft


def _vendor_that_is_gone(world: World, draft: Draft) -> Draft:
    record = draft.seller.record
    gone = replace(record, code=f"{record.code}-G", name=f"Former {record.name}", names=(),
                   tax_id=tax_id(world.chance, "GB"), gone=True, accounts=())  # fmt: skip
    world.add_vendor(gone)
    draft.values |= {"seller.name": gone.name, "seller.tax_id": gone.tax_id}
    return draft


def _two_of_one_name(world: World, draft: Draft) -> Draft:
    record = draft.seller.record
    name = f"{record.name.split()[0]} Harbour Works"
    for letter in "XY":
        world.add_vendor(
            replace(record, code=f"{record.code}-{letter}", name=name, names=(), tax_id="",
                    accounts=(), domains=(), senders=())
        )  # fmt: skip
    draft.values |= {"seller.name": name, "seller.tax_id": "", "account": ""}
    draft.sender = None
    return draft


def _name_of_one_and_tax_id_of_another(world: World, draft: Draft) -> Draft:
    other = MEERHAUS if draft.seller.entity is TRUST else TRUST
    draft.values |= {"buyer.name": draft.seller.entity.name, "buyer.tax_id": other.tax_id}
    return draft


def _net_is_not_stated(world: World, draft: Draft) -> Draft:
    draft.values.pop("net_total")
    return draft


RARER: dict[str, Spoil] = {
    "an order in other money": _order_in_other_currency,
    "our other company's order": _order_of_another_of_ours,
    "dear freight on an order": _dear_freight_on_an_order,
    "rebates do not add up": _rebates_do_not_add_up,
    "a charge is not its percent": _charge_is_not_its_percent,
    "left to pay is wrong": _left_to_pay_is_wrong,
    "a base that lines do not make": _base_that_the_lines_do_not_make,
    "a vendor that is gone": _vendor_that_is_gone, "two vendors of one name": _two_of_one_name,
    "two of ours on one bill": _name_of_one_and_tax_id_of_another,
    "no net total": _net_is_not_stated,
}  # fmt: skip

EVERY: dict[str, Spoil] = {
    **PLANTED, **RARER, **ORDER_LINES, **SEVERAL_ORDERS, **DELIVERED,
}  # fmt: skip
"""All kinds, by what was done."""
