"""Have we had this before?"""

from collections.abc import Iterator

from veridox.core.checks.evidence import at_field
from veridox.core.checks.table import check
from veridox.core.facts import Facts
from veridox.core.findings import Code, Finding
from veridox.core.matching import EarlierDocument


@check(
    place=80,
    needs=("earlier", "number_taken"),
    codes={
        "duplicate.exact": Code(
            title="We had this document before",
            why="Same vendor, kind, number and year: paying it again would pay twice.",
            accepted=False,
            alone=False,
        ),
    },
)
def exact_duplicate(facts: Facts) -> Iterator[Finding]:
    """`duplicate.exact`: same vendor, kind, normalised number and year of issue."""
    if not facts.earlier:
        if facts.number_taken:  # whoever has it is of another year or kind by now
            yield _taken(facts)
        return
    first = facts.earlier[0]
    yield at_field(
        facts.reading,
        "number",
        code="duplicate.exact",
        message=f"{first.number} of this vendor came before as document {first.reference}, "
        f"{_became(first)}.",
        about=f"document {first.reference}",
        found=facts.reading.text("number"),
        hint="Discard this one, unless the vendor really used the number twice.",
    )


@check(
    place=90,
    needs=("earlier", "earlier_near"),
    codes={
        "duplicate.near": Code(
            title="We had this number before, written otherwise",
            why="Same vendor, kind and year, and a number that differs in separators only: most "
            "often the same bill, typed again.",
            alone=False,
        ),
    },
)
def near_duplicate(facts: Facts) -> Iterator[Finding]:
    """`duplicate.near`: the number came before, written with other separators."""
    if facts.earlier or not facts.earlier_near:
        return  # an exact duplicate says all there is to say
    first, stated = facts.earlier_near[0], facts.reading.text("number")
    yield at_field(
        facts.reading,
        "number",
        code="duplicate.near",
        message=f"{stated} is {first.number} but for its separators, which came before from this "
        f"vendor as document {first.reference}, {_became(first)}.",
        about=f"document {first.reference}",
        found=stated,
        hint="Discard this one if it is the same bill; post with a reason if it is not.",
    )


def _taken(facts: Facts) -> Finding:
    number = facts.reading.text("number")
    return at_field(
        facts.reading,
        "number",
        code="duplicate.exact",
        message=f"Another document with number {number} of this vendor is being posted.",
        found=number,
        hint="Discard this one, unless the vendor really used the number twice.",
    )


def _became(earlier: EarlierDocument) -> str:
    return f"posted as {earlier.posted_as}" if earlier.posted_as else f"now {earlier.state}"
