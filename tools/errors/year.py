"""Bills of the made-up year: lawful ones with their oddities."""

from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from decimal import Decimal
from typing import Any

from tools.errors.world import CURRENCY, TRUST, Seller, World
from veridox.core.facts import MailFact
from veridox.core.matching import OrderLineRecord, OrderRecord, SenderFact
from veridox.core.money import Money, round_half_up
from veridox.core.reading import Field, Kind, Reading

SURE = 0.9995
"""Every value is taken as read right: what is measured are the checks, not the reading."""


@dataclass
class Draft:
    """A bill in the making: plain values that become a reading.

    Attributes:
        seller: who sells.
        day: of issue.
        oddity: what is lawfully odd about it; empty for nothing.
        values: header fields.
        lines: cells of each line.
        taxes: cells of each tax line.
        extras: rows of allowances and charges.
        arrives: days after its issue.
        sender: of its mail.
        kind: of document.
    """

    seller: Seller
    day: date
    oddity: str = ""
    values: dict[str, Any] = field(default_factory=dict)
    lines: list[dict[str, Any]] = field(default_factory=list)
    taxes: list[dict[str, Any]] = field(default_factory=list)
    allowances: list[dict[str, Any]] = field(default_factory=list)
    charges: list[dict[str, Any]] = field(default_factory=list)
    arrives: int = 2
    sender: SenderFact | None = None
    kind: Kind = Kind.INVOICE

    @property
    def currency(self) -> str:
        """Of the bill."""
        return str(self.values["currency"])

    def money(self, amount: Decimal) -> Money:
        """An amount of it, rounded."""
        return Money(amount=round_half_up(amount, self.currency), currency=self.currency)

    def reading(self) -> Reading:
        """As it is read."""

        def row(cells: dict[str, Any]) -> dict[str, Field]:
            return {name: Field(value=value, confidence=SURE) for name, value in cells.items()}

        return Reading(
            kind=self.kind, kind_confidence=SURE,
            fields={n: Field(value=v, confidence=SURE) for n, v in self.values.items()
                    if v not in (None, "")},
            lines=tuple(map(row, self.lines)), tax_lines=tuple(map(row, self.taxes)),
            allowance_lines=tuple(map(row, self.allowances)),
            charge_lines=tuple(map(row, self.charges)),
        )  # fmt: skip

    @property
    def mail(self) -> MailFact:
        """What its mail tells."""
        return MailFact(sender=self.sender, recipients=("ap@merrowmere.example",))

    def add_up(self) -> None:
        """Totals from lines, charges and allowances, by the seller's rate."""
        net = sum((line["amount"].amount for line in self.lines), Decimal(0))
        net += sum((row["amount"].amount for row in self.charges), Decimal(0))
        net -= sum((row["amount"].amount for row in self.allowances), Decimal(0))
        rates = {line.get("tax_rate", self.seller.rate) for line in self.lines}
        bases = {rate: Decimal(0) for rate in rates}
        for line in self.lines:
            bases[line.get("tax_rate", self.seller.rate)] += line["amount"].amount
        first = max(bases)
        bases[first] += net - sum(bases.values(), Decimal(0))
        self.taxes = [
            {"rate": rate, "base": self.money(base), "amount": self.money(base * rate / 100)}
            for rate, base in sorted(bases.items(), reverse=True)
        ]
        tax = sum((row["amount"].amount for row in self.taxes), Decimal(0))
        self.values |= {
            "net_total": self.money(net), "tax_total": self.money(tax),
            "gross_total": self.money(net + tax),
        }  # fmt: skip
        for name, rows in (("charges", self.charges), ("allowances", self.allowances)):
            if rows:
                together = sum((row["amount"].amount for row in rows), Decimal(0))
                self.values[name] = self.money(together)


def number(world: World, seller: Seller, day: date) -> str:
    """The next number of a seller's series."""
    counts: dict[str, int] = world.__dict__.setdefault("numbers", {})
    step = 1 if seller.monthly else world.chance.randrange(1, 9)
    counts[seller.record.code] = counts.get(seller.record.code, 1000) + step
    return f"{seller.prefix}{day.year}-{counts[seller.record.code]}"


def clean(world: World, seller: Seller, day: date) -> Draft:
    """A usual bill of a seller."""
    chance, record = world.chance, seller.record
    currency = CURRENCY.get(record.country, "EUR")
    if chance.random() < 0.6:
        currency = seller.entity.currency
    draft = Draft(seller=seller, day=day, arrives=chance.randrange(0, 9))
    terms = record.terms
    draft.values = {
        "number": number(world, seller, day), "issue_date": day, "currency": currency,
        "seller.name": record.name, "seller.tax_id": record.tax_id, "account":
        record.accounts[0].number, "buyer.name": seller.entity.name,
        "buyer.tax_id": seller.entity.tax_id, "due_date": terms.due(day) if terms else None,
    }  # fmt: skip
    if seller.monthly is not None:
        draft.lines = [
            {
                "description": "Monthly service",
                "quantity": Decimal(1),
                "unit_price": seller.monthly,
                "amount": draft.money(seller.monthly),
            }
        ]
        draft.values["period"] = f"{day:%Y-%m}"
        draft.oddity = "one sum each month"
    else:
        for at in range(chance.randrange(1, 9)):
            quantity = Decimal(chance.randrange(1, 40))
            price = Decimal(chance.randrange(200, 60_000)) / 100
            if currency == "JPY":
                price = price.quantize(Decimal(1))
            draft.lines.append({
                "description": f"Article {at + 1}", "quantity": quantity, "unit_price": price,
                "amount": draft.money(quantity * price),
            })  # fmt: skip
    if seller.reason:
        draft.values["exemption_reason"] = seller.reason
    domain = record.domains[0]
    draft.sender = SenderFact(address=f"accounts@{domain}", passed=True, said="dmarc=pass")
    draft.add_up()
    return draft


def ordered(draft: Draft, room: Decimal = Decimal(1)) -> tuple[OrderLineRecord, ...]:
    """What was ordered, where the bill bills just this; with `room` so many times as much of it.

    Prices are what is really charged: of a hundred, with discounts, without tax.
    """
    with_tax = draft.oddity == "prices with tax"
    # A little less was agreed: each thing at a little less.
    cheaper = room if Decimal("0.9") < room < 1 else Decimal(1)
    found = []
    for at, line in enumerate(draft.lines, start=1):
        quantity, amount = line.get("quantity") or Decimal(1), line["amount"].amount
        if with_tax:
            amount = amount * 100 / (100 + line.get("tax_rate", draft.seller.rate))
        if not quantity or amount < 0:
            continue
        found.append(OrderLineRecord(
            position=at, item_code=str(line.get("item_code") or ""),
            description=str(line["description"]), unit_price=cheaper * amount / quantity,
            quantity=quantity * room / cheaper,
        ))  # fmt: skip
    return tuple(found)


def on_order(world: World, draft: Draft, *, room: str = "1") -> OrderRecord:
    """Give the bill an order that has room for it."""
    net = draft.values["net_total"]
    charges = sum((row["amount"].amount for row in draft.charges), Decimal(0))
    order = OrderRecord(
        number=f"PO-{len(world.placed) + 1:05}", vendor=draft.seller.record.code,
        net_total=Money(amount=(net.amount - charges) * Decimal(room), currency=net.currency),
        invoiced=Money(amount=Decimal(0), currency=net.currency),
        entity=draft.seller.entity.code, lines=ordered(draft, Decimal(room)),
    )  # fmt: skip
    world.placed[order.number] = order
    draft.values["order_number"] = order.number
    return order


# -- lawful oddities: each is done to a usual bill


def _mixed_rates(world: World, draft: Draft) -> bool:
    low = {"GB": "0", "DE": "7"}.get(draft.seller.record.country)
    if low is None or not draft.seller.rate or len(draft.lines) < 2 or low == "0":
        return False
    draft.lines[0]["tax_rate"] = Decimal(low)
    for line in draft.lines[1:]:
        line["tax_rate"] = draft.seller.rate
    return Decimal(low) in draft.seller.record.rates


def _price_per_hundred(world: World, draft: Draft) -> bool:
    line = draft.lines[0]
    line |= {"price_base": Decimal(100), "quantity": line["quantity"] * 100}
    return True


def _fine_prices(world: World, draft: Draft) -> bool:
    price, quantity = Decimal("0.0437"), Decimal(1234)
    draft.lines.append({"description": "Small parts", "quantity": quantity, "unit_price": price,
                        "amount": draft.money(quantity * price)})  # fmt: skip
    return draft.currency != "JPY"


def _line_discount(world: World, draft: Draft) -> bool:
    line = draft.lines[0]
    off = draft.money(line["amount"].amount / 10)
    line |= {"discount": off, "amount": line["amount"] - off}
    return True


def _freight(world: World, draft: Draft) -> bool:
    draft.charges = [{"reason": "Freight", "amount": draft.money(Decimal(24))}]
    return True


def _rebate(world: World, draft: Draft) -> bool:
    base = sum((line["amount"].amount for line in draft.lines), Decimal(0))
    draft.allowances = [{"reason": "Rebate", "percent": Decimal(3), "base": draft.money(base),
                         "amount": draft.money(base * 3 / 100)}]  # fmt: skip
    return True


def _prepaid(world: World, draft: Draft) -> bool:
    draft.add_up()
    gross = draft.values["gross_total"]
    draft.values["prepaid"] = draft.money(gross.amount / 4)
    draft.values["amount_due"] = gross - draft.values["prepaid"]
    return True


def _rounded_to_five(world: World, draft: Draft) -> bool:
    draft.add_up()
    gross = draft.values["gross_total"].amount
    due = (gross * 20).quantize(Decimal(1)) / 20
    draft.values["rounding"] = draft.money(due - gross)
    draft.values["amount_due"] = draft.money(due)
    return draft.currency == "CHF"


def _capitals(world: World, draft: Draft) -> bool:
    draft.values["seller.name"] = draft.seller.record.name.upper()
    return True


def _other_name(world: World, draft: Draft) -> bool:
    if not draft.seller.record.names:
        return False
    draft.values["seller.name"] = draft.seller.record.names[0]
    return True


def _no_tax_id(world: World, draft: Draft) -> bool:
    draft.values.pop("seller.tax_id")
    return bool(draft.seller.record.tax_id)


def _no_buyer_id(world: World, draft: Draft) -> bool:
    draft.values.pop("buyer.tax_id")
    return not draft.seller.reason


def _short_buyer(world: World, draft: Draft) -> bool:
    if draft.seller.entity is not TRUST:
        return False
    draft.values["buyer.name"] = TRUST.names[0]
    return True


def _forwarded(world: World, draft: Draft) -> bool:
    draft.sender = SenderFact(address=f"accounts@{draft.seller.record.domains[0]}", forwarded=True)
    return True


def _public_sender(world: World, draft: Draft) -> bool:
    draft.sender = SenderFact(address="somebody@publicpost.example", passed=True)
    return True


def _by_hand(world: World, draft: Draft) -> bool:
    draft.sender = None
    return True


def _last_year(world: World, draft: Draft) -> bool:
    draft.day = date(draft.day.year - 1, 12, world.chance.randrange(1, 29))
    terms = draft.seller.record.terms
    draft.values |= {"issue_date": draft.day, "due_date": terms.due(draft.day) if terms else None,
                     "number": number(world, draft.seller, draft.day)}  # fmt: skip
    draft.arrives = 30
    return True


def _factor(world: World, draft: Draft) -> bool:
    if not draft.seller.record.payees:
        return False
    draft.values["payee.name"] = draft.seller.record.payees[0]
    return True


def _direct_debit(world: World, draft: Draft) -> bool:
    draft.values["payment_means"] = "direct debit"
    draft.values.pop("account")
    return True


def _partial(world: World, draft: Draft) -> bool:
    draft.add_up()
    on_order(world, draft, room="3")
    return draft.seller.record.needs_order


def _paid_within_tolerance(world: World, draft: Draft) -> bool:
    draft.add_up()
    on_order(world, draft, room="0.99")
    return draft.seller.record.needs_order and draft.values["net_total"].amount < 4000


def _no_total_of_lines(world: World, draft: Draft) -> bool:
    draft.values["delivery_note"] = f"DN-{world.chance.randrange(10**6)}"
    return True


def _states_lines_total(world: World, draft: Draft) -> bool:
    summed = sum((line["amount"].amount for line in draft.lines), Decimal(0))
    draft.values["lines_total"] = draft.money(summed)
    return True


def _includes_tax(world: World, draft: Draft) -> bool:
    """Prices with tax, as shops print them."""
    rate = draft.seller.rate
    if not rate or draft.charges:
        return False
    gross = sum((line["amount"].amount for line in draft.lines), Decimal(0))
    net = round_half_up(gross * 100 / (100 + rate), draft.currency)
    draft.values |= {"net_total": draft.money(net), "tax_total": draft.money(gross - net),
                     "gross_total": draft.money(gross)}  # fmt: skip
    draft.taxes = [{"rate": rate, "base": draft.money(net), "amount": draft.money(gross - net)}]
    return True


def _no_date_due(world: World, draft: Draft) -> bool:
    draft.values.pop("due_date", None)
    return True


def _day_early(world: World, draft: Draft) -> bool:
    due = draft.values.get("due_date")
    if due is None:
        return False
    draft.values["due_date"] = due - timedelta(days=1)
    return True


def _withheld(world: World, draft: Draft) -> bool:
    draft.add_up()
    net, gross = draft.values["net_total"], draft.values["gross_total"]
    draft.values["withheld"] = draft.money(net.amount * 20 / 100)
    draft.values["amount_due"] = gross - draft.values["withheld"]
    return draft.seller.record.country == "IT"


def _tax_in_our_currency(world: World, draft: Draft) -> bool:
    ours = draft.seller.entity.currency
    if draft.currency == ours:
        return False
    rate = world.exchange(draft.currency, ours, draft.day).rate
    tax = draft.values["tax_total"].amount * rate
    draft.values["tax_total_accounting"] = Money(amount=round_half_up(tax, ours), currency=ours)
    return True


def _leading_zeros(world: World, draft: Draft) -> bool:
    begin, _, tail = draft.values["number"].rpartition("-")
    draft.values["number"] = f"{begin}-{int(tail):08}"
    return True


ODDITIES = {
    "two rates": _mixed_rates, "price per hundred": _price_per_hundred,
    "fine prices": _fine_prices, "discount on a line": _line_discount, "freight": _freight,
    "rebate in percent": _rebate, "prepaid": _prepaid, "rounded to five": _rounded_to_five,
    "name in capitals": _capitals, "another name": _other_name, "no tax id printed": _no_tax_id,
    "no tax id of ours": _no_buyer_id, "short name of ours": _short_buyer,
    "forwarded": _forwarded, "public sender": _public_sender, "handed in": _by_hand,
    "of last year": _last_year, "to a factor": _factor, "direct debit": _direct_debit,
    "part of an order": _partial, "within tolerance": _paid_within_tolerance,
    "delivery note": _no_total_of_lines, "states sum of lines": _states_lines_total,
    "prices with tax": _includes_tax, "no due date": _no_date_due, "due a day early": _day_early,
    "tax withheld": _withheld, "leading zeros": _leading_zeros,
    "tax in our currency": _tax_in_our_currency,
}  # fmt: skip
KEEP_TOTALS = {"prices with tax", "prepaid", "rounded to five", "tax withheld"}


def odd(world: World, draft: Draft) -> Draft:
    """The bill with a lawful oddity, where one fits."""
    name = world.chance.choice(list(ODDITIES))
    tried = replace(draft, values=dict(draft.values), lines=[dict(line) for line in draft.lines])
    if not ODDITIES[name](world, tried):
        return draft
    if name not in KEEP_TOTALS:
        tried.add_up()
    tried.oddity = name
    return tried


def deliveries(world: World, draft: Draft) -> list[Draft]:
    """Two equal deliveries of one day, each with its note: two bills of one total."""
    second = replace(draft, values=dict(draft.values), lines=list(draft.lines))
    for each in (draft, second):
        each.values["delivery_note"] = f"DN-{world.chance.randrange(10**8)}"
        each.oddity = "two equal deliveries"
    second.values["number"] = number(world, draft.seller, draft.day)
    if "order_number" in second.values:
        on_order(world, second)
    return [draft, second]


def credit(world: World, draft: Draft, part: str = "0.5") -> Draft:
    """A credit note for a part of a bill."""
    found = replace(draft, values=dict(draft.values), lines=[], oddity="credit of a part",
                    kind=Kind.CREDIT_NOTE, charges=[], allowances=[])  # fmt: skip
    amount = draft.money(draft.values["net_total"].amount * Decimal(part))
    found.lines = [{"description": "Credit", "quantity": Decimal(1), "unit_price": amount.amount,
                    "amount": amount}]  # fmt: skip
    for name in ("charges", "allowances", "prepaid", "amount_due", "lines_total", "due_date",
                 "rounding", "withheld"):  # fmt: skip
        found.values.pop(name, None)
    found.values |= {"preceding_number": draft.values["number"],
                     "number": f"C{number(world, draft.seller, draft.day)}",
                     "issue_date": draft.day + timedelta(days=10)}  # fmt: skip
    found.day = draft.day + timedelta(days=10)
    found.add_up()
    return found
