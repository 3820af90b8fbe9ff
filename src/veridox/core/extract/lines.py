"""The lines of a document, by the way to find them that explains most of it."""

from collections.abc import Sequence
from decimal import Decimal

from veridox.core.extract.cells import finished, line_holds
from veridox.core.extract.columns import Named
from veridox.core.extract.products import product_lines
from veridox.core.extract.sheet import Sheet
from veridox.core.extract.table import Headers, table_lines
from veridox.core.extract.values import figures
from veridox.core.reading import Row
from veridox.core.reading.reading import cell_money

MANY = 2
"""Lines that must contradict headers."""
SUMMED = 1.5
"""What it is worth that the lines make an amount that is printed elsewhere, in lines that hold."""


def all_lines(
    sheet: Sheet, currency: str | None, headers: Headers, named: Named
) -> tuple[Row, ...]:
    """Lines under headers; by arithmetic alone where that explains more.

    Args:
        sheet: the document.
        currency: ISO 4217 code; without one there are no amounts.
        headers: of line tables.
        named: what words above a column name.
    """
    under = table_lines(sheet, currency, headers)
    if currency is None:
        return under
    told = explained(under, sheet, currency)
    if under and told >= len(under) + SUMMED:
        return under
    made = tuple(finished(line, sheet, currency) for line in product_lines(sheet, currency, named))
    gain = explained(made, sheet, currency) - told
    named_both = any({"quantity", "unit_price"} <= set(line) for line in under)
    # A line or two may be wrong in themselves: what headers say is believed against them.
    least = MANY if named_both and not summed(made, sheet) else 0
    return made if made and (not under or gain > least) else under


def explained(lines: Sequence[Row], sheet: Sheet, currency: str) -> float:
    """How many lines hold, and whether together they make an amount that stands elsewhere."""
    held = sum(bool(line_holds(line, currency)) for line in lines)
    return held + SUMMED * summed(lines, sheet)


def summed(lines: Sequence[Row], sheet: Sheet) -> bool:
    """Whether the lines' amounts together stand somewhere outside the lines."""
    amounts = [money for line in lines if (money := cell_money(line, "amount")) is not None]
    total = sum((money.amount for money in amounts), Decimal(0))
    if not total or len(amounts) < len(lines):
        return False
    own = {
        (cell.page, round(cell.box.top), round(cell.box.left))
        for line in lines
        if (cell := line.get("amount")) is not None and cell.box is not None
    }
    return any(
        abs(found.number) == abs(total)
        and (row.page, round(found.words[0].box.top), round(found.words[0].box.left)) not in own
        for row in sheet.rows
        for found in figures(row, sheet)
    )
