"""Does the date make sense on the day on which the bill came in?"""

from collections.abc import Iterator
from datetime import timedelta
from typing import Final

from veridox.core.checks.evidence import at_field
from veridox.core.checks.table import check
from veridox.core.facts import Facts
from veridox.core.findings import Code, Finding

AHEAD: Final = timedelta(days=1)
"""It may be tomorrow already where the vendor sits."""


@check(
    place=100,
    needs=("arrived",),
    codes={
        "date.future": Code(
            title="The issue date lies in the future",
            why="A misread date, or a bill that is not due to be booked yet.",
            lowered=True,
        ),
        "date.old": Code(
            title="The issue date lies long ago",
            why="A misread date, or an old bill that was most likely paid long ago.",
            lowered=True,
        ),
    },
)
def issue_date_fits(facts: Facts) -> Iterator[Finding]:
    """`date.future`, `date.old`: issued after it came in, or too long before.

    A day ahead is no finding. How old a bill may be is the pipeline's choice
    (`check: dates: {oldest: 730 days}`).
    """
    issued, arrived = facts.reading.day("issue_date"), facts.arrived
    if issued is None or arrived is None:
        return
    if issued > arrived + AHEAD:
        yield at_field(
            facts.reading,
            "issue_date",
            code="date.future",
            message=f"The bill is dated {issued}, {(issued - arrived).days} days after it came in "
            f"on {arrived}.",
            expected=arrived.isoformat(),
            found=issued.isoformat(),
            difference=f"+{(issued - arrived).days} days",
            hint="Correct the date if it was misread; hold the bill if it is not due yet.",
            letter=f"It is dated {issued}, which lay in the future when it reached us.",
        )
    elif (arrived - issued).days > facts.settings.oldest_days:
        yield at_field(
            facts.reading,
            "issue_date",
            code="date.old",
            message=f"The bill is dated {issued}, {(arrived - issued).days:,} days before it came "
            f"in on {arrived}; up to {facts.settings.oldest_days:,} are usual.",
            found=issued.isoformat(),
            difference=f"-{(arrived - issued).days} days",
            hint="Correct the date if it was misread; else make sure that it was not paid before.",
            letter=f"It is dated {issued}.",
        )
