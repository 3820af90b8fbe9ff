"""Figures that several checks of sums share."""

from collections.abc import Iterable, Iterator
from decimal import Decimal

from veridox.core.checks.evidence import at_cell
from veridox.core.findings import Finding
from veridox.core.money import Money, minor_unit, round_half_up, total
from veridox.core.reading import Reading, Row
from veridox.core.reading.reading import cell_money


def signed(difference: Decimal) -> str:
    """A difference with its sign, as findings have it."""
    return f"{difference:+f}"


def unit_of(reading: Reading) -> Decimal | None:
    """The smallest amount of the bill's currency; None where no currency is stated."""
    return minor_unit(reading.currency) if reading.currency else None


def amounts_of(rows: Iterable[Row]) -> list[Money]:
    """The amounts of rows that state one."""
    return [money for row in rows if (money := cell_money(row, "amount"))]


def prices_include_tax(reading: Reading) -> bool:
    """Whether its lines add up to the total with tax, and not to the net one."""
    net, gross = reading.money("net_total"), reading.money("gross_total")
    if net is None or gross is None or net == gross or net.currency != gross.currency:
        return False
    amounts = amounts_of(reading.lines)
    if not amounts or {each.currency for each in amounts} != {gross.currency}:
        return False
    within = minor_unit(gross.currency) * len(amounts)
    summed = total(amounts, gross.currency)
    return summed.within(gross, within) and not summed.within(net, within)


def percent_differs(
    row: Row, name: str, code: str, *, base: Money, percent: Decimal, within: Decimal
) -> Iterator[Finding]:
    """A finding where a row's amount is not its base times its percent.

    Args:
        row: that states an amount.
        name: of its amount, as in `tax_lines[1].amount`.
        code: of the finding.
        base, percent: that the amount is made of.
        within: by how much it may be off.
    """
    amount = cell_money(row, "amount")
    if amount is None:
        return
    expected = round_half_up(base.amount * percent / 100, amount.currency)
    if abs(expected - amount.amount) <= within:
        return
    message = f"{percent.normalize():f} % of {base} is {expected:,f}, but {amount} is stated."
    yield at_cell(
        row["amount"],
        name,
        code=code,
        message=message,
        expected=f"{expected:f}",
        found=amount.plain(),
        difference=signed(amount.amount - expected),
        letter=message,
    )
