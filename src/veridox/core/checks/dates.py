"""Do the dates make sense, and do the terms keep to what was agreed?"""

from collections.abc import Iterator
from datetime import timedelta
from decimal import Decimal
from typing import Final

from veridox.core.checks.evidence import at_field
from veridox.core.checks.table import check
from veridox.core.facts import Facts
from veridox.core.findings import ENTITIES, RATES, VENDORS, Code, Finding, Weight
from veridox.core.money import Money, round_half_up

AHEAD: Final = timedelta(days=1)
"""It may be tomorrow already where the vendor sits."""
GRACE: Final = 1
"""Days by which a due date may be earlier than agreed: some count the day of issue."""


@check(
    place=100,
    needs=("arrived", "entity"),
    codes={
        "date.future": Code(
            title="The issue date lies in the future",
            why="A misread date, or a bill that is not due to be booked yet.",
            do="Correct the date if it was misread; hold the bill if it is not due yet.",
            lowered=True,
        ),
        "date.old": Code(
            title="The issue date lies long ago",
            why="A misread date, or an old bill that was most likely paid long ago.",
            do="Correct the date if it was misread; else make sure that it was not paid before.",
            lowered=True,
        ),
        "date.closed": Code(
            title="The issue date lies in a closed period",
            why="The books of that day are closed: it is posted on the first open day after it.",
            do="Nothing to do, unless it belongs into the closed period after all.",
            lowered=True,
            helped_by=ENTITIES,
        ),
        "date.due_before": Code(
            title="It is due before it was issued",
            why="One of both dates is misread or misprinted.",
            do="Correct the date that was misread.",
            lowered=True,
        ),
    },
)
def issue_date_fits(facts: Facts) -> Iterator[Finding]:
    """`date.future`, `date.old`: issued after it came in, or too long before; `date.closed`,
    `date.due_before`.

    A day ahead is no finding. How old a bill may be is the pipeline's choice
    (`check: dates: {oldest: 730 days}`).
    """
    issued, arrived = facts.reading.day("issue_date"), facts.arrived
    due = facts.reading.day("due_date")
    if issued is not None and due is not None and due < issued:
        yield at_field(
            facts.reading,
            "due_date",
            code="date.due_before",
            message=f"It is due on {due}, {_days((issued - due).days)} before it was issued on "
            f"{issued}.",
            also=("issue_date",),
            expected=issued.isoformat(),
            found=due.isoformat(),
            difference=f"-{(issued - due).days} days",
            letter=f"It is dated {issued} and due on {due}, before that.",
        )
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
            letter=f"It is dated {issued}.",
        )
    posted = facts.posting_day
    if posted is not None and posted != issued and facts.entity is not None:
        yield at_field(
            facts.reading,
            "issue_date",
            code="date.closed",
            weight=Weight.NOTE,
            message=f"The books of {facts.entity.name} are closed on {issued}: it is posted on "
            f"{posted}.",
            expected=posted.isoformat(),
            found=issued.isoformat(),
            difference=f"+{(posted - issued).days} days",
        )


@check(
    place=102,
    needs=("vendor", "arrived"),
    codes={
        "terms.shorter": Code(
            title="It is due earlier than agreed",
            why="The vendor's record has terms; a bill that asks for less time was not agreed.",
            do="Pay by the agreed terms, or have the new ones confirmed.",
            lowered=True,
            helped_by=VENDORS,
        ),
        "terms.discount": Code(
            title="A discount is at risk",
            why="Paid in time it costs less; the days are running out.",
            do="Have it posted and paid today.",
            lowered=True,
            helped_by=VENDORS,
        ),
    },
)
def terms_kept(facts: Facts) -> Iterator[Finding]:
    """`terms.shorter`: due earlier than the terms agreed; `terms.discount`: days run out."""
    issued, due = facts.reading.day("issue_date"), facts.reading.day("due_date")
    terms = facts.vendor.terms if facts.vendor is not None else None
    if terms is None or issued is None:
        return
    agreed = terms.due(issued)
    if due is not None and issued <= due and (agreed - due).days > GRACE:
        until = terms.discount_until(issued)
        if until is None or due != until:  # some print the day of the discount as the due date
            yield at_field(
                facts.reading,
                "due_date",
                code="terms.shorter",
                weight=Weight.WARN,
                message=f"It is due on {due}; agreed are {terms}, which is {agreed}, "
                f"{_days((agreed - due).days)} later.",
                expected=agreed.isoformat(),
                found=due.isoformat(),
                difference=f"-{(agreed - due).days} days",
                letter=f"It is due on {due}; we agreed on {terms}, which is {agreed}.",
            )
    yield from _discount(facts)


def _discount(facts: Facts) -> Iterator[Finding]:
    issued, gross = facts.reading.day("issue_date"), facts.reading.money("gross_total")
    terms = facts.vendor.terms if facts.vendor is not None else None
    if terms is None or issued is None or gross is None or facts.arrived is None:
        return
    until, percent = terms.discount_until(issued), terms.discount_percent
    if until is None or percent is None:
        return
    left = (until - facts.arrived).days
    if left > facts.settings.discount_days:
        return
    saved = Money(
        amount=round_half_up(gross.amount * percent / Decimal(100), gross.currency),
        currency=gross.currency,
    )
    when = f"{_days(left)} from its arrival" if left >= 0 else f"{_days(-left)} before it came in"
    lost = "can be saved" if left >= 0 else "cannot be saved any more"
    yield at_field(
        facts.reading,
        "gross_total",
        code="terms.discount",
        weight=Weight.NOTE,
        message=f"{percent.normalize():f} % discount ({saved}) {lost}: it ends on {until}, {when}.",
        expected=until.isoformat(),
        found=facts.arrived.isoformat(),
        difference=f"{left} days",
        hint="Take it first; pay in time." if left >= 0 else "Look why it came so late.",
    )


@check(
    place=104,
    needs=("entity", "exchange"),
    codes={
        "rate.missing": Code(
            title="No rate of exchange for the day",
            why="The bill is in another currency than the company's books; without a rate nobody "
            "knows what it is worth there.",
            do="Import the rates of that day; what waits is checked again by itself.",
            lowered=True,
            helped_by=RATES,
        ),
    },
)
def rate_known(facts: Facts) -> Iterator[Finding]:
    """`rate.missing`: a bill in another currency than the books', and no rate of its day."""
    currency, entity = facts.reading.currency, facts.entity
    if not currency or entity is None or not entity.currency or currency == entity.currency:
        return
    if facts.exchange is not None or facts.issued is None:
        return
    yield at_field(
        facts.reading,
        "currency",
        code="rate.missing",
        message=f"The bill is in {currency}, the books of {entity.name} in {entity.currency}; "
        f"there is no rate of exchange for {facts.issued}.",
        expected=entity.currency,
        found=currency,
    )


def _days(count: int) -> str:
    return "1 day" if count == 1 else f"{count} days"
