"""Is each charge what was agreed? Lines of a bill against the vendor's rate card."""

from collections.abc import Iterator
from decimal import Decimal

from veridox.core.checks.evidence import at_cell
from veridox.core.checks.figures import prices_include_tax, signed
from veridox.core.checks.order_lines import called, plain_price
from veridox.core.checks.table import check
from veridox.core.facts import Facts
from veridox.core.findings import CARDS, Code, Finding, Weight
from veridox.core.matching import Audited, Verdict, audit
from veridox.core.money import Money, round_half_up
from veridox.core.reading import Kind


def audited(facts: Facts) -> tuple[Audited, ...]:
    """Lines that a rate card speaks of: all but those of an order, which has its own prices.

    Nothing of a credit, and nothing where prices include tax: cards are without.
    """
    reading = facts.reading
    if not facts.agreed or reading.kind is Kind.CREDIT_NOTE or prices_include_tax(reading):
        return ()
    paired = {at for at, position in enumerate(facts.pairs, 1) if position is not None}
    return tuple(each for each in audit(reading.lines, facts.agreed) if each.at not in paired)


@check(
    place=205,
    needs=("vendor", "agreed", "pairs"),
    codes={
        "card.none": Code(
            title="No rate card is in force",
            why="The vendor has rate cards, but none for that day, so nothing can be compared.",
            do="Bring in the card that holds; else have the charges agreed.",
            lowered=True,
            helped_by=CARDS,
        ),
        "card.above": Code(
            title="A charge is above the agreed rate",
            why="The rate card is what was agreed.",
            do="Ask whoever agreed the card whether the rate changed; else return the bill.",
            lowered=True,
            helped_by=CARDS,
        ),
        "card.below": Code(
            title="A charge is below the agreed rate",
            why="Mostly a rebate; it may be a charge that was mistaken for another one.",
            do="Nothing, as long as the charge is the right one.",
            lowered=True,
            helped_by=CARDS,
        ),
        "card.not_listed": Code(
            title="A charge is not on the rate card",
            why="What was never agreed is easily added to what was.",
            do="Ask whoever agreed the card; bring in the charge if it was forgotten there.",
            lowered=True,
            helped_by=CARDS,
        ),
        "card.unit": Code(
            title="A charge is billed in another unit than agreed",
            why="Nothing says how many of one are in the other, so it cannot be compared.",
            do="Enter quantity and price in the card's unit.",
            lowered=True,
            helped_by=CARDS,
        ),
    },
)
def rates_agreed(facts: Facts) -> Iterator[Finding]:
    """`card.above`, `.below`, `.not_listed`, `.unit`: each line against the rates in force on the
    day of the bill; `card.none` where the vendor has cards of other days alone.

    A vendor without any card is not spoken of.
    """
    if facts.agreed is not None and not facts.agreed and facts.vendor and facts.issued:
        yield Finding(
            code="card.none",
            weight=Weight.BLOCK,
            message=f"No rate card of {facts.vendor.name} is in force on {facts.issued}.",
            fields=("issue_date",),
            found=str(facts.issued),
        )
    for each in audited(facts):
        if each.verdict is Verdict.NOT_LISTED:
            yield _not_listed(facts, each)
        elif each.verdict is Verdict.OTHER_UNIT:
            yield _other_unit(facts, each)
        elif each.verdict is not Verdict.AGREED and each.due is not None:
            yield from _differs(facts, each, each.due)


def _line(facts: Facts, each: Audited) -> str:
    return f"Line {each.at}{called(facts.reading.lines[each.at - 1])}"


def _not_listed(facts: Facts, each: Audited) -> Finding:
    cards = ", ".join(dict.fromkeys(rate.card for rate in facts.agreed or ()))
    message = f"{_line(facts, each)} over {each.amount} is not on the rate card ({cards})."
    return at_cell(
        facts.reading.lines[each.at - 1]["amount"],
        f"lines[{each.at}].amount",
        code="card.not_listed",
        message=message,
        found=each.amount.plain(),
        letter=f"{_line(facts, each)} over {each.amount} was not agreed.",
    )


def _other_unit(facts: Facts, each: Audited) -> Finding:
    assert each.rate is not None  # noqa: S101 - that is what its unit is compared with
    row = facts.reading.lines[each.at - 1]
    unit = row["unit"].value if row.get("unit") else "no unit"
    message = (
        f"{_line(facts, each)} is billed by the {unit}; rate card {each.rate.card} is for the "
        f"{each.rate.unit}."
    )
    return at_cell(
        row.get("unit"), f"lines[{each.at}].unit", code="card.unit", message=message,
        expected=each.rate.unit, found=str(unit), letter=message,
    )  # fmt: skip


def _differs(facts: Facts, each: Audited, due: Money) -> Iterator[Finding]:
    within = facts.settings.card
    room = due.amount * within.percent / 100
    if within.amount is not None:
        room = min(room, within.amount) if within.percent else within.amount
    limit = round_half_up(due.amount + room, due.currency)
    above = each.verdict is Verdict.ABOVE
    if above and each.amount.amount <= limit:
        return
    over = abs(each.amount.amount - due.amount)
    limits = f" (limit {limit:,f})" if above and room else ""
    shown = (
        f"{_line(facts, each)} costs {each.amount}; agreed are {due}{limits}"
        f"{_how(each)}, {over:,f} {'too much' if above else 'less'}."
    )
    cell, place = facts.reading.lines[each.at - 1]["amount"], f"lines[{each.at}].amount"
    found, difference = each.amount.plain(), signed(each.amount.amount - due.amount)
    if not above:
        yield at_cell(
            cell, place, code="card.below", weight=Weight.NOTE, message=shown,
            expected=due.plain(), found=found, difference=difference,
        )  # fmt: skip
        return
    yield at_cell(
        cell, place, code="card.above", message=shown, expected=f"{limit:f}", found=found,
        difference=difference,
        letter=f"{_line(facts, each)} costs {each.amount}; agreed are {due}.",
    )  # fmt: skip


def _how(each: Audited) -> str:
    """By which rate of which card."""
    rate = each.rate
    if rate is None:
        return ""
    if rate.percent is not None:
        base = f" of {rate.of}" if rate.of else ""
        return f" by rate card {rate.card}, {rate.percent.normalize():f} %{base}"
    price = plain_price(rate.price or Decimal(0))
    unit = f" a {rate.unit}" if rate.unit else " each"
    return f" by rate card {rate.card}, {price} {rate.currency}{unit}"
