"""Checks: a document in, what is wrong with it out."""

from collections.abc import Iterator
from datetime import date

from veridox.plugins import Document, Money, Told


def round_total(document: Document) -> Iterator[Told]:
    """A bill of several lines over a round sum is seldom honest arithmetic."""
    total = document.reading.get("gross_total")
    if total is None or not isinstance(total.value, Money) or len(document.reading.lines) < 3:
        return
    if total.value.amount >= 1000 and total.value.amount % 100 == 0:
        yield Told(
            message=f"{len(document.reading.lines)} lines come to exactly {total.value}.",
            weight="warn", fields=("gross_total",), hint="Look at the lines once more.",
        )  # fmt: skip


def weekend(document: Document) -> Iterator[Told]:
    """Nobody in the houses takes deliveries on a Sunday."""
    issued = document.reading.get("issue_date")
    if issued is not None and isinstance(issued.value, date) and issued.value.isoweekday() == 7:
        yield Told(message=f"{issued.value} is a Sunday.", weight="note", fields=("issue_date",))
