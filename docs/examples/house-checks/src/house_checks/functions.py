"""Functions of expressions: `fiscal_year(issue_date) == 2027`."""

from datetime import date
from decimal import Decimal

from veridox.plugins import Function


def _fiscal_year(day: date) -> Decimal:
    """It begins in April and bears the number of the year in which it ends."""
    return Decimal(day.year + (day.month >= 4))


fiscal_year = Function(
    takes=("date",), gives="number", run=_fiscal_year,
    help="the fiscal year of a day, which begins in April",
    example="fiscal_year(issue_date) != 2027",
)  # fmt: skip
