"""Have we had this before?"""

from collections.abc import Iterator

from veridox.core.checks.evidence import at_field
from veridox.core.checks.facts import Facts
from veridox.core.findings import Finding
from veridox.core.matching import EarlierDocument


def exact_duplicate(facts: Facts) -> Iterator[Finding]:
    """`duplicate.exact`: same vendor, kind, normalised number and year of issue."""
    if not facts.earlier:
        return
    first = facts.earlier[0]
    yield at_field(
        facts.reading,
        "number",
        code="duplicate.exact",
        message=f"{first.number} of this vendor came before as document {first.reference}, "
        f"{_became(first)}.",
        expected=None,
        found=facts.reading.text("number"),
        hint="Discard this one, unless the vendor really used the number twice.",
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
        expected=None,
        found=stated,
        hint="Discard this one if it is the same bill; post with a reason if it is not.",
    )


def _became(earlier: EarlierDocument) -> str:
    return f"posted as {earlier.posted_as}" if earlier.posted_as else f"now {earlier.state}"
