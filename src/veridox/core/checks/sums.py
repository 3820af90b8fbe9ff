"""Do the parts add up that a bill states singly: rates, charges, allowances, the books' tax?"""

from collections.abc import Iterator
from decimal import Decimal
from typing import Final

from veridox.core.checks.evidence import at_cell, at_field
from veridox.core.checks.figures import amounts_of, percent_differs, signed, unit_of
from veridox.core.checks.table import check
from veridox.core.facts import Facts
from veridox.core.findings import RATES, Code, Finding, Weight
from veridox.core.findings.wording import counted
from veridox.core.money import minor_unit, round_half_up, total
from veridox.core.reading import Reading
from veridox.core.reading.reading import cell_money, cell_number

EXCHANGE_WITHIN: Final = Decimal("0.02")
"""Part by which a tax in the books' currency may differ from the day's rate: banks and authorities
publish their own."""


@check(
    place=115,
    codes={
        "lines.total": Code(
            title="The stated sum of the lines is not what they make",
            why="A line is missing, was misread, or the vendor added up wrongly.",
            do="Look for a line that was not read, or return the bill.",
            rule="EN 16931 BR-CO-10",
        ),
        "charges.sum": Code(
            title="The charges do not add up to their total",
            why="Freight, packing and the like are stated singly and make another sum.",
            do="Compare the charges with the page.",
            rule="EN 16931 BR-CO-12",
        ),
        "allowances.sum": Code(
            title="The allowances do not add up to their total",
            why="Rebates are stated singly and make another sum.",
            do="Compare the rebates with the page.",
            rule="EN 16931 BR-CO-11",
        ),
    },
)
def parts_add_up(facts: Facts) -> Iterator[Finding]:
    """`lines.total` (BR-CO-10), `charges.sum` (BR-CO-12), `allowances.sum` (BR-CO-11)."""
    reading, unit = facts.reading, unit_of(facts.reading)
    if unit is None:
        return
    parts = (
        ("lines.total", "lines_total", reading.lines, "line"),
        ("charges.sum", "charges", reading.charge_lines, "charge"),
        ("allowances.sum", "allowances", reading.allowance_lines, "allowance"),
    )
    for code, name, rows, noun in parts:
        stated, amounts = reading.money(name), amounts_of(rows)
        if stated is None or not amounts or len(amounts) != len(rows):
            continue
        if {each.currency for each in amounts} != {stated.currency}:
            continue
        summed = total(amounts, stated.currency)
        if stated.within(summed, unit * facts.settings.totals_within):
            continue
        message = f"{counted(len(amounts), noun)} together make {summed}, but {stated} is stated."
        yield at_field(
            reading,
            name,
            code=code,
            message=message,
            expected=summed.plain(),
            found=stated.plain(),
            difference=signed((stated - summed).amount),
            hint="Is one missing or misread?",
            letter=message,
        )


@check(
    place=117,
    codes={
        "adjustment.amount": Code(
            title="A charge or allowance is not its base times its percent",
            why="Small differences come from rounding; larger ones are slips or misreadings.",
            do="Compare base, percent and amount with the page.",
            rule="EN 16931 BT-94, BT-101",
            lowered=True,
        ),
    },
)
def adjustments_fit(facts: Facts) -> Iterator[Finding]:
    """`adjustment.amount`: each charge or allowance that states a percent is base x percent."""
    reading, unit = facts.reading, unit_of(facts.reading)
    if unit is None:
        return
    for name, rows in (("allowance_lines", reading.allowance_lines),
                       ("charge_lines", reading.charge_lines)):  # fmt: skip
        for at, row in enumerate(rows, start=1):
            base, percent = cell_money(row, "base"), cell_number(row, "percent")
            if base is None or percent is None:
                continue
            yield from percent_differs(
                row, f"{name}[{at}].amount", "adjustment.amount", base=base, percent=percent,
                within=unit * facts.settings.line_within,
            )  # fmt: skip


@check(
    place=125,
    codes={
        "tax.base": Code(
            title="The amount that a rate applies to is not what its lines make",
            why="Tax was charged on too much or too little of one rate.",
            do="Was a line, a charge or its rate misread?",
            rule="EN 16931 BR-S-08 and its like",
        ),
        "tax.bases": Code(
            title="The amounts that the rates apply to do not add up to the net total",
            why="A part of the bill is taxed twice, or not at all.",
            do="Look for a rate that was not read, or return the bill.",
            rule="EN 16931 BG-23",
        ),
    },
)
def bases_fit(facts: Facts) -> Iterator[Finding]:
    """`tax.base`: per rate lines - allowances + charges are the base; `tax.bases`: all bases
    together are the net total.

    Only where every line states its rate; prices that include tax are counted without it.
    """
    reading, unit = facts.reading, unit_of(facts.reading)
    net = reading.money("net_total")
    bases = [cell_money(row, "base") for row in reading.tax_lines]
    stated = [each for each in bases if each is not None]
    if unit is None or not stated or len(stated) != len(reading.tax_lines):
        return
    within = unit * max(facts.settings.totals_within, len(stated) - 1)
    if net is not None and {each.currency for each in stated} == {net.currency}:
        summed = total(stated, net.currency)
        if not net.within(summed, within):
            message = f"The rates apply to {summed} in all, but the net total is {net}."
            yield at_cell(
                reading.tax_lines[0]["base"],
                "tax_lines[1].base",
                code="tax.bases",
                message=message,
                also=("net_total",),
                expected=net.plain(),
                found=summed.plain(),
                difference=signed((summed - net).amount),
                letter=message,
            )
            return
    yield from _each_rate(facts, unit)


def _each_rate(facts: Facts, unit: Decimal) -> Iterator[Finding]:
    reading = facts.reading
    made = _by_rate(reading)
    if not made:
        return
    tolerance = unit * max(facts.settings.totals_within, 1)
    for at, row in enumerate(reading.tax_lines, start=1):
        rate, base = cell_number(row, "rate"), cell_money(row, "base")
        if rate is None or base is None or rate.normalize() not in made:
            continue
        expected = made[rate.normalize()]
        if abs(base.amount - expected) <= tolerance:
            continue
        message = (
            f"Lines, charges and allowances at {rate.normalize():f} % make {expected:,f}, but tax "
            f"is charged on {base}."
        )
        yield at_cell(
            row["base"],
            f"tax_lines[{at}].base",
            code="tax.base",
            message=message,
            expected=f"{expected:f}",
            found=base.plain(),
            difference=signed(base.amount - expected),
            letter=message,
        )


def _by_rate(reading: Reading) -> dict[Decimal, Decimal]:
    """What lines, charges and allowances make at each rate, without tax; empty where a part does
    not state its rate or the parts do not make the net total."""
    net, gross = reading.money("net_total"), reading.money("gross_total")
    if net is None or len({cell_number(r, "rate") for r in reading.tax_lines}) != len(
        reading.tax_lines
    ):
        return {}
    found: dict[Decimal, Decimal] = {}
    parts = (
        (reading.lines, 1), (reading.charge_lines, 1), (reading.allowance_lines, -1)
    )  # fmt: skip
    for rows, sign in parts:
        for row in rows:
            rate, amount = cell_number(row, "tax_rate"), cell_money(row, "amount")
            if rate is None or amount is None:
                return {}
            key = rate.normalize()
            found[key] = found.get(key, Decimal(0)) + sign * amount.amount
    summed = sum(found.values(), Decimal(0))
    if gross is not None and summed == gross.amount and gross != net:
        return {
            rate: round_half_up(amount * 100 / (100 + rate), net.currency)
            for rate, amount in found.items()
        }
    return found if summed == net.amount else {}


@check(
    place=145,
    needs=("exchange", "entity"),
    codes={
        "tax.accounting": Code(
            title="The tax in the books' currency does not follow from the day's rate",
            why="The amount that is deducted is the one in the books' currency.",
            do="Compare the amount in the books' currency with the rate of the day.",
            rule="EN 16931 BT-6, BT-111; Directive 2006/112/EC art. 230",
            lowered=True,
            helped_by=RATES,
        ),
    },
)
def tax_in_books(facts: Facts) -> Iterator[Finding]:
    """`tax.accounting`: the tax in the books' currency fits the day's rate within 2 %."""
    stated, tax = (
        facts.reading.money("tax_total_accounting"), facts.reading.money("tax_total")
    )  # fmt: skip
    rate = facts.exchange
    if stated is None or tax is None or rate is None or stated.currency != rate.into:
        return
    expected = round_half_up(tax.amount * rate.rate, stated.currency)
    room = max(abs(expected) * EXCHANGE_WITHIN, minor_unit(stated.currency))
    if abs(stated.amount - expected) <= room:
        return
    message = (
        f"{tax} tax are {expected:,f} {stated.currency} at {rate.rate.normalize():f} "
        f"({rate.source}, {rate.day}), but {stated} is stated."
    )
    yield at_field(
        facts.reading,
        "tax_total_accounting",
        code="tax.accounting",
        weight=Weight.WARN,
        message=message,
        expected=f"{expected:f}",
        found=stated.plain(),
        difference=signed(stated.amount - expected),
        letter=f"Of {tax} tax it states {stated}.",
    )
