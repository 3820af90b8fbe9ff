"""Does it add up? EN 16931 BR-CO rules on what is printed; nothing is repaired."""

from collections.abc import Iterator
from decimal import Decimal
from typing import Final

from veridox.core.checks.evidence import at_cell, at_field
from veridox.core.checks.figures import amounts_of, percent_differs, signed, unit_of
from veridox.core.checks.table import check
from veridox.core.facts import Facts
from veridox.core.findings import Code, Finding
from veridox.core.findings.wording import counted
from veridox.core.money import Money, round_half_up, total
from veridox.core.reading import Reading, Row
from veridox.core.reading.reading import cell_money, cell_number

PART_OF_LINE: Final = Decimal("0.005")
"""Rounding of a price never excuses more than this part of a line."""


IN_THE_BOOKS = "tax_total_accounting"
"""Is in the currency of the books (BT-111), whatever that of the bill is."""


def _one_currency(reading: Reading) -> bool:
    amounts = [
        field.value for name, field in reading.fields.items()
        if isinstance(field.value, Money) and name != IN_THE_BOOKS
    ]  # fmt: skip
    amounts += amounts_of(reading.lines)
    return len({money.currency for money in amounts} | {reading.currency}) <= 1


@check(
    place=110,
    codes={
        "line.amount": Code(
            title="A line's amount is not quantity times price",
            why="Small differences come from rounded prices; larger ones are slips or misreadings.",
            do="Look at quantity, price and any discount of this line.",
            rule="EN 16931 BT-131",
            lowered=True,
        ),
    },
)
def line_amounts(facts: Facts) -> Iterator[Finding]:
    """`line.amount`: each line's amount is quantity x price / base - discount + charge (BT-131).

    It may be off by one minor unit, or as many as the pipeline says. A price printed with
    more places than the currency has was rounded: then quantity times half of its last
    place, though never more than 0.5 % of the line.
    """
    reading = facts.reading
    unit = unit_of(reading)
    for index, row in enumerate(reading.lines, start=1):
        amount = cell_money(row, "amount")
        expected = _product(row)
        if unit is None or amount is None or expected is None:
            continue
        if abs(expected - amount.amount) <= _line_tolerance(
            row, unit, expected, facts.settings.line_within
        ):
            continue
        shown = round_half_up(expected, amount.currency)
        message = f"Line {index}: {_shown_product(row)} is {shown:,f}, but {amount} is stated."
        yield at_cell(
            row["amount"],
            f"lines[{index}].amount",
            code="line.amount",
            message=message,
            also=(f"lines[{index}].quantity", f"lines[{index}].unit_price"),
            expected=f"{shown:f}",
            found=amount.plain(),
            difference=signed(amount.amount - shown),
            letter=message,
        )


def _line_tolerance(row: Row, unit: Decimal, expected: Decimal, least: int) -> Decimal:
    """In units of the currency; `least` in minor units."""
    price = cell_number(row, "unit_price") or Decimal(0)
    place = Decimal(1).scaleb(int(price.as_tuple().exponent))
    if place >= unit:
        return unit * least
    base = cell_number(row, "price_base") or Decimal(1)
    rounded = abs(cell_number(row, "quantity") or Decimal(0)) / base * place / 2
    return max(unit * least, min(rounded, abs(expected) * PART_OF_LINE))


def _shown_product(row: Row) -> str:
    quantity, price = cell_number(row, "quantity"), cell_number(row, "unit_price")
    text = f"{quantity:f} x {price:f}"
    base, discount = cell_number(row, "price_base"), cell_money(row, "discount")
    if base is not None and base != 1:
        text += f" / {base:f}"
    if discount is not None and discount.amount:
        text += f" - {discount.plain()}"
    charge = cell_money(row, "charge")
    return f"{text} + {charge.plain()}" if charge is not None and charge.amount else text


def _product(row: Row) -> Decimal | None:
    quantity, price = cell_number(row, "quantity"), cell_number(row, "unit_price")
    if quantity is None or price is None:
        return None
    base = cell_number(row, "price_base") or Decimal(1)
    discount, charge = cell_money(row, "discount"), cell_money(row, "charge")
    found = quantity * price / base - (discount.amount if discount else Decimal(0))
    return found + (charge.amount if charge else Decimal(0))


@check(
    place=120,
    codes={
        "lines.sum": Code(
            title="The lines do not add up to the net total",
            why="A line is missing, was misread, or the vendor added up wrongly.",
            do="Is a line missing or misread?",
            rule="EN 16931 BR-CO-10, BR-CO-13",
        ),
    },
)
def lines_sum(facts: Facts) -> Iterator[Finding]:
    """`lines.sum`: lines - allowances + charges is the net total (BR-CO-10, BR-CO-13).

    Prices that include tax are recognised: then the lines add up to the total.
    """
    reading = facts.reading
    net, gross, unit = reading.money("net_total"), reading.money("gross_total"), unit_of(reading)
    if not reading.lines or unit is None or not _one_currency(reading):
        return
    amounts = amounts_of(reading.lines)
    summed = total(amounts, str(reading.currency))
    charges, allowances = reading.money("charges"), reading.money("allowances")
    expected = summed
    if charges:
        expected = expected + charges
    if allowances:
        expected = expected - allowances
    stated, name = (net, "net_total") if net else (gross, "gross_total")
    within = unit * facts.settings.totals_within
    if stated is None or stated.within(expected, within):
        return
    if gross is not None and gross.within(expected, within):
        return
    parts = f"{counted(len(amounts), 'line')} together make {summed}"
    if charges:
        parts += f" and with charges of {charges}"
    if allowances:
        parts += f" and less allowances of {allowances}"
    message = f"{parts}: {expected} net. Stated: {stated}."
    yield at_field(
        reading,
        name,
        code="lines.sum",
        message=message,
        expected=expected.plain(),
        found=stated.plain(),
        difference=signed((stated - expected).amount),
        letter=message,
    )


@check(
    place=130,
    codes={
        "tax.amount": Code(
            title="A tax amount is not base times rate",
            why="Differences of a minor unit come from rounding per line.",
            do="Look at the rate and at the amount it applies to.",
            rule="EN 16931 BR-CO-17",
            lowered=True,
        ),
    },
)
def tax_amounts(facts: Facts) -> Iterator[Finding]:
    """`tax.amount`: a tax line's amount is base x rate (BR-CO-17), within rounding.

    Rounding per line may put it off by half a minor unit for each line.
    """
    reading = facts.reading
    unit = unit_of(reading)
    if unit is None:
        return
    tolerance = max(unit * facts.settings.tax_within, unit * len(reading.lines) / 2)
    for index, row in enumerate(reading.tax_lines, start=1):
        rate, base = cell_number(row, "rate"), cell_money(row, "base")
        if base is None and len(reading.tax_lines) == 1:
            base = reading.money("net_total")
        if rate is None or base is None:
            continue
        name = f"tax_lines[{index}].amount"
        yield from percent_differs(
            row, name, "tax.amount", base=base, percent=rate, within=tolerance
        )


@check(
    place=140,
    codes={
        "tax.sum": Code(
            title="The tax amounts do not add up to the total tax",
            why="A tax line is missing or wrong.",
            do="Look for a tax line that was not read, or return the bill.",
            rule="EN 16931 BR-CO-14",
        ),
    },
)
def tax_sum(facts: Facts) -> Iterator[Finding]:
    """`tax.sum`: the tax lines add up to the tax total (BR-CO-14)."""
    reading = facts.reading
    stated, unit = reading.money("tax_total"), unit_of(reading)
    amounts = amounts_of(reading.tax_lines)
    if stated is None or unit is None or not amounts or not _one_currency(reading):
        return
    summed = total(amounts, stated.currency)
    if stated.within(summed, unit * facts.settings.totals_within):
        return
    message = f"The tax lines add up to {summed}, but {stated} tax is stated."
    yield at_field(
        reading,
        "tax_total",
        code="tax.sum",
        message=message,
        letter=message,
        expected=summed.plain(),
        found=stated.plain(),
        difference=signed((stated - summed).amount),
    )


@check(
    place=150,
    codes={
        "total.sum": Code(
            title="Net and tax do not add up to the total",
            why="Paying the printed total would pay too much or too little.",
            do="Correct the total if it was misread, or return the invoice to the vendor.",
            rule="EN 16931 BR-CO-15",
        ),
        "total.unchecked": Code(
            title="The total could not be checked",
            why="Net or tax is not stated, so nothing vouches for the total.",
            do="Enter what is missing, or post with a reason.",
        ),
    },
)
def total_sum(facts: Facts) -> Iterator[Finding]:
    """`total.sum`: net and tax add up to the total (BR-CO-15); else `total.unchecked`."""
    reading = facts.reading
    net, tax, gross = (reading.money(name) for name in ("net_total", "tax_total", "gross_total"))
    unit = unit_of(reading)
    if gross is None or unit is None:
        return
    if net is None or tax is None or not _one_currency(reading):
        absent = "net total" if net is None else "tax"
        why = f"no {absent} is stated" if net is None or tax is None else "currencies are mixed"
        yield at_field(
            reading,
            "gross_total",
            code="total.unchecked",
            message=f"The total of {gross} could not be checked: {why}.",
            found=gross.plain(),
            letter=f"It states no {absent}." if net is None or tax is None else "",
        )
        return
    expected = net + tax
    if gross.within(expected, unit * facts.settings.totals_within):
        return
    difference = gross - expected
    direction = "too high" if difference.amount > 0 else "too low"
    message = (
        f"Net {net} and tax {tax} make {expected}; stated is {gross}, "
        f"{abs(difference)} {direction}."
    )
    yield at_field(
        reading,
        "gross_total",
        code="total.sum",
        message=message,
        letter=message,
        also=("net_total", "tax_total"),
        expected=expected.plain(),
        found=gross.plain(),
        difference=signed(difference.amount),
    )


@check(
    place=160,
    codes={
        "total.due": Code(
            title="What is left to pay does not follow from the total",
            why="A deposit, or tax withheld by the buyer, was left out or misread.",
            do="Was a deposit or a tax withheld misread, or left out?",
            rule="EN 16931 BR-CO-16",
        ),
    },
)
def total_due(facts: Facts) -> Iterator[Finding]:
    """`total.due`: the total less what is prepaid and withheld, plus rounding, is left to pay
    (BR-CO-16)."""
    reading = facts.reading
    gross, due, unit = reading.money("gross_total"), reading.money("amount_due"), unit_of(reading)
    if gross is None or due is None or unit is None or not _one_currency(reading):
        return
    off = [reading.money(name) for name in ("prepaid", "withheld")]
    expected = gross - total([each for each in off if each], gross.currency)
    rounding = reading.money("rounding")
    if rounding is not None:
        expected = expected + rounding
    if due.within(expected, unit * facts.settings.totals_within):
        return
    message = f"Of {gross}, {expected} should be left to pay; stated are {due}."
    yield at_field(
        reading,
        "amount_due",
        code="total.due",
        message=message,
        letter=message,
        also=("prepaid", "withheld", "rounding"),
        expected=expected.plain(),
        found=due.plain(),
        difference=signed((due - expected).amount),
    )


@check(
    place=170,
    codes={
        "total.zero": Code(
            title="The bill asks for nothing",
            why="A total of zero is most often misread, or no bill at all.",
            do="Correct the total if it was misread, or discard the document.",
        ),
    },
)
def total_zero(facts: Facts) -> Iterator[Finding]:
    """`total.zero`: a bill asks for something; a total of zero is misread, or nothing to post."""
    gross = facts.reading.money("gross_total")
    if gross is None or gross.amount != 0:
        return
    yield at_field(
        facts.reading,
        "gross_total",
        code="total.zero",
        message=f"The total is {gross}: there is nothing to pay.",
        found=gross.plain(),
        letter=f"The total is {gross}.",
    )
