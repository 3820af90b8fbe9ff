"""Does a credit note take back what was billed, and no more?"""

from collections.abc import Iterator

from veridox.core.checks.evidence import at_field
from veridox.core.checks.table import check
from veridox.core.facts import Facts, PrecedingBill
from veridox.core.findings import BOOKS, Code, Finding
from veridox.core.money import Money, minor_unit
from veridox.core.reading import Kind


@check(
    place=210,
    needs=("preceding",),
    codes={
        "credit.unknown": Code(
            title="The bill that is credited is not known",
            why="A credit that takes back nothing we were billed is a mistake, or a bonus that "
            "somebody has to confirm.",
            do="Enter the number of the bill; accept with a reason if it is a bonus or the like.",
            helped_by=BOOKS,
        ),
        "credit.above": Code(
            title="More is credited than is left of the bill",
            why="All credits of a bill together never exceed it.",
            do="Ask the vendor which bills it takes back.",
            helped_by=BOOKS,
        ),
    },
)
def credit_fits(facts: Facts) -> Iterator[Finding]:
    """`credit.unknown`, `credit.above`: a credit note against the bill that it takes back."""
    reading, total = facts.reading, facts.reading.money("gross_total")
    if reading.kind is not Kind.CREDIT_NOTE or facts.preceding is None:
        return
    stated = reading.text("preceding_number")
    if not facts.preceding:
        said = f"bill {stated}, which is not known here" if stated else "no bill"
        found = "" if stated else ", and none of this vendor fits it"
        yield at_field(
            reading,
            "preceding_number",
            code="credit.unknown",
            message=f"The credit note over {total or 'an unknown total'} names {said}{found}.",
            found=stated,
            letter=f"It names {said.replace(', which is not known here', ', which we do not have')}"
            "; please tell us which bill it takes back.",
        )
        return
    bill = facts.preceding[0]
    if total is None or total.currency != bill.total.currency:
        return
    # The tax of a credit is rounded anew: what sums may be off by, it may be above.
    room = Money(amount=minor_unit(total.currency) * facts.settings.totals_within,
                 currency=total.currency)  # fmt: skip
    if total <= bill.left + room:
        return
    before = f" less {bill.credited} credited before" if bill.credited.amount else ""
    yield at_field(
        reading,
        "gross_total",
        code="credit.above",
        message=f"The credit note is over {total}; of bill {_named(bill)} only {bill.left} are "
        f"left ({bill.total}{before}), which is {total - bill.left} too much.",
        also=("preceding_number",),
        expected=bill.left.plain(),
        found=total.plain(),
        difference=f"{(total - bill.left).amount:+f}",
        about=bill.reference,
        letter=f"It is over {total}; bill {bill.number} was over {bill.total}{before}.",
    )


def _named(bill: PrecedingBill) -> str:
    how = "" if bill.how == "number" else f", found by {bill.how}"
    return f"{bill.number} ({bill.reference}{how})"
