"""Have we had this before?"""

from collections.abc import Iterator

from veridox.core.checks.evidence import at_field
from veridox.core.checks.table import check
from veridox.core.facts import Facts
from veridox.core.findings import BOOKS, Code, Finding, Weight
from veridox.core.findings.wording import counted
from veridox.core.matching import DAYS_MANY, MANY, EarlierDocument, Likeness


@check(
    place=80,
    needs=("alike", "number_taken"),
    codes={
        "duplicate.exact": Code(
            title="We had this document before",
            why="Same vendor, kind, number and year: paying it again would pay twice.",
            do="Discard this one, unless the vendor really used the number twice.",
            second=True,
            alone=False,
        ),
    },
)
def exact_duplicate(facts: Facts) -> Iterator[Finding]:
    """`duplicate.exact`: same vendor, kind, normalised number and year of issue."""
    exact = [each for each in facts.alike if each.exact]
    if not exact:
        if facts.number_taken:  # whoever has it is of another year or kind by now
            yield _taken(facts)
        return
    first = exact[0].earlier
    yield at_field(
        facts.reading,
        "number",
        code="duplicate.exact",
        message=f"{first.number} of this vendor {_came(first)}{_elsewhere(facts, first)}.",
        about=first.named,
        found=facts.reading.text("number"),
        expected=first.number,
    )


@check(
    place=90,
    needs=("alike",),
    codes={
        "duplicate.near": Code(
            title="We most likely had this bill before",
            why="Its number differs in separators only, or may be misread, with the same total; or "
            "total and date are the same under another number; or it is the very same file.",
            do="Compare both pages. Discard this one if it is the same bill; post "
            "with a reason if it is not.",
            alone=False,
            helped_by=BOOKS,
        ),
    },
)
def near_duplicate(facts: Facts) -> Iterator[Finding]:
    """`duplicate.near`: another bill with reasons to take this one for it."""
    if any(each.exact for each in facts.alike) or not facts.alike:
        return  # an exact duplicate says all there is to say
    first, stated = facts.alike[0], facts.reading.text("number") or "without a number"
    others = f" ({counted(len(facts.alike), 'bill')} in all)" if len(facts.alike) > 1 else ""
    yield at_field(
        facts.reading,
        "number",
        code="duplicate.near",
        message=f"{stated} may be {first.earlier.number}, which {_came(first.earlier)}"
        f"{_elsewhere(facts, first.earlier)}: {_reasons(first)}{others}.",
        about=first.earlier.named,
        found=stated,
        expected=first.earlier.number,
        also=("gross_total", "issue_date"),
    )


@check(
    place=95,
    needs=("same_total",),
    codes={
        "duplicate.many": Code(
            title="Many bills of one amount in a few days",
            why="Each may be right; an amount that comes five times in ten days is worth a look.",
            do="Look whether each of them is for something of its own.",
            lowered=True,
        ),
    },
)
def many_of_one_amount(facts: Facts) -> Iterator[Finding]:
    """`duplicate.many`: five bills of one total within ten days."""
    total = facts.reading.money("gross_total")
    if total is None or facts.same_total < MANY:
        return
    yield at_field(
        facts.reading,
        "gross_total",
        code="duplicate.many",
        weight=Weight.NOTE,
        message=f"This is one of {facts.same_total} bills over {total} of this vendor within "
        f"{DAYS_MANY} days.",
        found=total.plain(),
    )


def _reasons(like: Likeness) -> str:
    return "; ".join(like.reasons)


def _taken(facts: Facts) -> Finding:
    number = facts.reading.text("number")
    return at_field(
        facts.reading,
        "number",
        code="duplicate.exact",
        message=f"Another document with number {number} of this vendor is being posted.",
        found=number,
    )


def _came(earlier: EarlierDocument) -> str:
    if earlier.in_books:
        return f"stands in the ledger's books as {earlier.reference}"
    state = f"posted as {earlier.posted_as}" if earlier.posted_as else f"now {earlier.state}"
    return f"came before as document {earlier.reference}, {state}"


def _elsewhere(facts: Facts, earlier: EarlierDocument) -> str:
    """In whose name the other one stands, where that is somebody else."""
    parts = []
    if facts.vendor is not None and earlier.vendor and earlier.vendor != facts.vendor.code:
        parts.append(f"under vendor {earlier.vendor} of the same family")
    if facts.entity is not None and earlier.entity and earlier.entity != facts.entity.code:
        parts.append(f"billed to {earlier.entity}")
    return f" ({', '.join(parts)})" if parts else ""
