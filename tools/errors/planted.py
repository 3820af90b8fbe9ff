"""Mistakes and frauds that are planted: each spoils a usual bill in one way."""

from collections.abc import Callable
from dataclasses import replace
from datetime import timedelta
from decimal import Decimal

from tools.errors.world import FOUNDATION, STRANGERS, World, account, tax_id
from tools.errors.year import Draft, credit, number, on_order
from veridox.core.facts import EntityRecord
from veridox.core.matching import SenderFact, VendorAccount
from veridox.core.reading import Kind
from veridox.core.tax import Treatment

Spoil = Callable[[World, Draft], Draft | None]
"""Gives the spoiled bill, or None where it cannot be done to this one."""


def _by(draft: Draft, name: str, amount: str) -> Draft:
    value = draft.values[name]
    draft.values[name] = replace(value, amount=value.amount + Decimal(amount))
    return draft


def _total_too_high(world: World, draft: Draft) -> Draft:
    return _by(draft, "gross_total", "60")


def _digits_exchanged(world: World, draft: Draft) -> Draft | None:
    value = draft.values["gross_total"]
    text = f"{value.amount:f}"
    for at in range(len(text) - 1):
        if text[at].isdigit() and text[at + 1].isdigit() and text[at] != text[at + 1] and (
            at or text[at + 1] != "0"):  # fmt: skip
            spoiled = text[:at] + text[at + 1] + text[at] + text[at + 2 :]
            draft.values["gross_total"] = replace(value, amount=Decimal(spoiled))
            return draft
    return None


def _line_too_high(world: World, draft: Draft) -> Draft:
    line = draft.lines[0]
    more = draft.money(line["amount"].amount / 5 + 5)
    line["amount"] = line["amount"] + more
    draft.add_up()
    return draft


def _net_is_not_the_lines(world: World, draft: Draft) -> Draft:
    draft.values["net_total"] = draft.values["net_total"] + draft.money(Decimal(100))
    net = draft.values["net_total"].amount
    rate = draft.seller.rate
    tax = draft.money(net * rate / 100)
    draft.taxes = [{"rate": rate, "base": draft.money(net), "amount": tax}]
    draft.values |= {"tax_total": tax, "gross_total": draft.values["net_total"] + tax}
    return draft


def _tax_too_high(world: World, draft: Draft) -> Draft | None:
    if not draft.seller.rate:
        return None
    more = draft.money(draft.values["tax_total"].amount / 4 + 3)
    draft.taxes[0]["amount"] = draft.taxes[0]["amount"] + more
    draft.values["tax_total"] = draft.values["tax_total"] + more
    draft.values["gross_total"] = draft.values["gross_total"] + more
    return draft


def _taxes_do_not_add_up(world: World, draft: Draft) -> Draft | None:
    if not draft.seller.rate:
        return None
    more = draft.money(Decimal(30))
    draft.values["tax_total"] = draft.values["tax_total"] + more
    draft.values["gross_total"] = draft.values["gross_total"] + more
    return draft


def _lines_total_misprinted(world: World, draft: Draft) -> Draft:
    summed = sum((line["amount"].amount for line in draft.lines), Decimal(0))
    draft.values["lines_total"] = draft.money(summed + 45)
    return draft


def _charges_do_not_add_up(world: World, draft: Draft) -> Draft:
    draft.charges = [{"reason": "Freight", "amount": draft.money(Decimal(20))},
                     {"reason": "Packing", "amount": draft.money(Decimal(8))}]  # fmt: skip
    draft.add_up()
    draft.values["charges"] = draft.money(Decimal(38))
    return draft


def _base_of_another_rate(world: World, draft: Draft) -> Draft | None:
    if not draft.seller.rate:
        return None
    net = draft.values["net_total"].amount
    base = draft.money(net * 2)
    tax = draft.money(base.amount * draft.seller.rate / 100)
    draft.taxes = [{"rate": draft.seller.rate, "base": base, "amount": tax}]
    draft.values |= {"tax_total": tax, "gross_total": draft.values["net_total"] + tax}
    return draft


def _at_rate(draft: Draft, rate: str) -> Draft:
    for line in draft.lines:
        line["tax_rate"] = Decimal(rate)
    draft.add_up()
    return draft


def _rate_that_ended(world: World, draft: Draft) -> Draft | None:
    ended = {"DE": "16", "CH": "7.7"}.get(draft.seller.record.country)
    if ended is None or not draft.seller.rate:
        return None
    return _at_rate(draft, ended)


def _another_rate(world: World, draft: Draft) -> Draft | None:
    other = {"GB": "5", "DE": "7", "FR": "10", "NL": "9", "IT": "10"}
    if draft.seller.record.country not in other or not draft.seller.rate:
        return None
    return _at_rate(draft, other[draft.seller.record.country])


def _tax_where_none_is_usual(world: World, draft: Draft) -> Draft | None:
    if draft.seller.record.treatment is Treatment.DOMESTIC:
        return None
    draft.values.pop("exemption_reason", None)
    return _at_rate(draft, "19")


def _no_tax_and_no_reason(world: World, draft: Draft) -> Draft | None:
    if not draft.seller.rate:
        return None
    return _at_rate(draft, "0")


def _reason_and_tax(world: World, draft: Draft) -> Draft | None:
    if not draft.seller.rate:
        return None
    draft.values["exemption_reason"] = "VAT reverse charge"
    return draft


def _union_that_is_none(world: World, draft: Draft) -> Draft | None:
    countries = {draft.seller.record.country, draft.seller.entity.country}
    if "GB" not in countries or draft.seller.rate:
        return None
    draft.values["exemption_reason"] = "Exempt intra-community supply"
    return draft


def _tax_without_registration(world: World, draft: Draft) -> Draft | None:
    if draft.seller.record.tax_id or draft.seller.record.country == "US":
        return None
    draft.values.pop("exemption_reason", None)
    return _at_rate(draft, "19")


def _sent_again(world: World, draft: Draft) -> Draft:
    world.keep(draft.reading(), draft.seller.record)
    return replace(draft, arrives=draft.arrives + 20)


def _renumbered(change: Callable[[World, str], str | None]) -> Spoil:
    def spoil(world: World, draft: Draft) -> Draft | None:
        world.keep(draft.reading(), draft.seller.record)
        found = change(world, draft.values["number"])
        if found is None:
            return None
        again = replace(draft, values={**draft.values, "number": found})
        again.arrives += 15
        return again

    return spoil


def _without_separators(world: World, text: str) -> str:
    return text.replace("-", "").replace("/", "")


def _misread(world: World, text: str) -> str | None:
    for one, other in (("1", "I"), ("0", "O"), ("5", "S"), ("8", "B"), ("7", "1"), ("6", "5")):
        at = text.rfind(one)
        if at > 0:
            return text[:at] + other + text[at + 1 :]
    return None


def _exchanged(world: World, text: str) -> str | None:
    if text[-1] == text[-2] or not text[-2].isdigit():
        return None
    return text[:-2] + text[-1] + text[-2]


def _new_number(world: World, text: str) -> str:
    return f"{text}-{world.chance.randrange(3, 9)}K"


def _other_date(world: World, draft: Draft) -> Draft | None:
    if draft.seller.monthly is not None:
        return None
    world.keep(draft.reading(), draft.seller.record)
    day = draft.day + timedelta(days=3)
    fresh = number(world, draft.seller, day)
    return replace(draft, values={**draft.values, "number": fresh, "issue_date": day}, day=day)


def _under_the_twin(world: World, draft: Draft) -> Draft | None:
    record = draft.seller.record
    if not record.tax_id:
        return None
    twin = replace(record, code=f"{record.code}-T", name=f"{record.name} Sales", names=())
    if world.vendor(twin.code) is None:
        world.add_vendor(twin)
    world.keep(draft.reading(), record)
    return replace(draft, values={**draft.values, "seller.name": twin.name})


def _in_the_books(world: World, draft: Draft) -> Draft:
    world.keep(draft.reading(), draft.seller.record, in_books=True)
    return draft


def _other_account(world: World, draft: Draft) -> Draft:
    draft.values["account"] = account(world.chance)
    return draft


def _broken_account(world: World, draft: Draft) -> Draft:
    own = draft.values["account"]
    draft.values["account"] = own[:-1] + str((int(own[-1]) + 1) % 10)
    return draft


def _new_account(world: World, draft: Draft) -> Draft:
    record = draft.seller.record
    fresh = VendorAccount(number=account(world.chance), since=draft.day - timedelta(days=2))
    changed = replace(record, accounts=(*record.accounts, fresh))
    world.every_vendor = [changed if e.code == record.code else e for e in world.every_vendor]
    world.by_name[record.code] = changed
    draft.values["account"] = fresh.number
    draft.arrives = 3
    return draft


def _other_payee(world: World, draft: Draft) -> Draft:
    draft.values["payee.name"] = "Quickpay Settlement Partners"
    return draft


def _lookalike(world: World, draft: Draft) -> Draft:
    domain = draft.seller.record.domains[0]
    name, _, rest = domain.partition(".")
    at = world.chance.randrange(2, len(name) - 1)
    changed = world.chance.choice([
        name[:at] + name[at + 1 :], name[:at] + name[at] + name[at:],
        name[: at - 1] + name[at] + name[at - 1] + name[at + 1 :], f"{name}-invoices",
    ])  # fmt: skip
    if changed == name:
        changed = name + "s"
    draft.sender = SenderFact(address=f"accounts@{changed}.{rest}", passed=True)
    return draft


def _forged(world: World, draft: Draft) -> Draft:
    draft.sender = SenderFact(address=f"accounts@{draft.seller.record.domains[0]}", failed=True,
                              said="dmarc=fail, spf=fail")  # fmt: skip
    return draft


def _stranger(world: World, draft: Draft) -> Draft:
    draft.values |= {"seller.name": world.chance.choice(STRANGERS),
                     "seller.tax_id": tax_id(world.chance, "GB"),
                     "account": account(world.chance)}  # fmt: skip
    draft.sender = SenderFact(address="sales@unheard.example", passed=True)
    return draft


def _two_sellers(world: World, draft: Draft) -> Draft | None:
    others = [each for each in world.every_vendor if each.tax_id
              and each.code.split("-")[0] != draft.seller.record.code]  # fmt: skip
    draft.values["seller.tax_id"] = world.chance.choice(others).tax_id
    return draft if draft.seller.record.tax_id else None


def _other_of_ours(world: World, draft: Draft) -> Draft:
    return _billed_to(draft, FOUNDATION)


def _nobody_of_ours(world: World, draft: Draft) -> Draft:
    return _billed_to(draft, EntityRecord(code="", name="Seaview Hotels plc", tax_id=""))


def _billed_to(draft: Draft, entity: EntityRecord) -> Draft:
    draft.values |= {"buyer.name": entity.name, "buyer.tax_id": entity.tax_id}
    return draft


def _credit_of_nothing(world: World, draft: Draft) -> Draft:
    found = credit(world, draft)
    found.values["preceding_number"] = "NOTHING-77"
    return found


def _credit_above(world: World, draft: Draft) -> Draft:
    world.keep(draft.reading(), draft.seller.record)
    return credit(world, draft, "1.4")


def _of_tomorrow(world: World, draft: Draft) -> Draft:
    draft.arrives = -40
    return draft


def _of_long_ago(world: World, draft: Draft) -> Draft:
    draft.arrives = 900
    return draft


def _due_before(world: World, draft: Draft) -> Draft:
    draft.values["due_date"] = draft.day - timedelta(days=20)
    return draft


def ordered_ones(draft: Draft) -> bool:
    """Whether the seller delivers on orders."""
    return draft.seller.record.needs_order


def _anothers_order(world: World, draft: Draft) -> Draft | None:
    if not ordered_ones(draft):
        return None
    order = on_order(world, draft)
    others = [code for code in world.every_seller if code != draft.seller.record.code]
    world.placed[order.number] = replace(order, vendor=world.chance.choice(others))
    return draft


def _over_the_order(world: World, draft: Draft) -> Draft | None:
    if not ordered_ones(draft):
        return None
    on_order(world, draft, room="0.5")
    return draft


def _no_order(world: World, draft: Draft) -> Draft | None:
    draft.values.pop("order_number", None)
    return draft if ordered_ones(draft) else None


def _unknown_order(world: World, draft: Draft) -> Draft | None:
    draft.values["order_number"] = "PO-99999"
    return draft if ordered_ones(draft) else None


def _closed_order(world: World, draft: Draft) -> Draft | None:
    order = on_order(world, draft)
    world.placed[order.number] = replace(order, closed=True)
    return draft if ordered_ones(draft) else None


def _blocked_vendor(world: World, draft: Draft) -> Draft:
    record = draft.seller.record
    blocked = replace(record, code=f"{record.code}-B", name=f"Blocked {record.name}", names=(),
                      tax_id=tax_id(world.chance, "GB"), blocked=True, accounts=())  # fmt: skip
    world.add_vendor(blocked)
    draft.values |= {"seller.name": blocked.name, "seller.tax_id": blocked.tax_id}
    return draft


def _reminder(world: World, draft: Draft) -> Draft:
    draft.kind = world.chance.choice([Kind.REMINDER, Kind.PRO_FORMA, Kind.STATEMENT])
    return draft


def _nothing_to_pay(world: World, draft: Draft) -> Draft:
    zero = draft.money(Decimal(0))
    draft.lines = [{"description": "Sample", "quantity": Decimal(1), "unit_price": Decimal(0),
                    "amount": zero}]  # fmt: skip
    draft.add_up()
    return draft


PLANTED: dict[str, Spoil] = {
    "total too high": _total_too_high, "digits of the total exchanged": _digits_exchanged,
    "a line too high": _line_too_high, "net is not the lines": _net_is_not_the_lines,
    "tax too high": _tax_too_high, "taxes do not add up": _taxes_do_not_add_up,
    "sum of lines misprinted": _lines_total_misprinted,
    "charges do not add up": _charges_do_not_add_up,
    "tax on twice the base": _base_of_another_rate, "a rate that ended": _rate_that_ended,
    "another rate than usual": _another_rate, "tax where none is usual": _tax_where_none_is_usual,
    "no tax and no reason": _no_tax_and_no_reason, "reverse charge and tax": _reason_and_tax,
    "intra-community with GB": _union_that_is_none,
    "tax without registration": _tax_without_registration, "sent again": _sent_again,
    "again without separators": _renumbered(_without_separators),
    "again, a digit misread": _renumbered(_misread),
    "again, digits exchanged": _renumbered(_exchanged),
    "again under a new number": _renumbered(_new_number),
    "again, new number and date": _other_date, "again under the twin": _under_the_twin,
    "in the books already": _in_the_books, "another account": _other_account,
    "a broken account": _broken_account, "an account of two days": _new_account,
    "another payee": _other_payee, "a lookalike sender": _lookalike, "a forged sender": _forged,
    "a stranger": _stranger, "tax id of another": _two_sellers,
    "billed to another of ours": _other_of_ours, "billed to nobody of ours": _nobody_of_ours,
    "credit of nothing": _credit_of_nothing, "credit above the bill": _credit_above,
    "dated ahead": _of_tomorrow, "of long ago": _of_long_ago, "due before issue": _due_before,
    "another vendor's order": _anothers_order, "over the order": _over_the_order,
    "no order named": _no_order, "an order that is none": _unknown_order,
    "a closed order": _closed_order, "a blocked vendor": _blocked_vendor,
    "no bill at all": _reminder, "nothing to pay": _nothing_to_pay,
}  # fmt: skip
"""By what was done."""
