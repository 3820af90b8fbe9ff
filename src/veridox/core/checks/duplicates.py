"""Have we had this before?"""

from collections.abc import Iterator

from veridox.core.checks.evidence import at_field
from veridox.core.checks.facts import Facts
from veridox.core.findings import Finding


def exact_duplicate(facts: Facts) -> Iterator[Finding]:
    """`duplicate.exact`: same vendor, kind, normalised number and year of issue."""
    if not facts.earlier:
        return
    first = facts.earlier[0]
    became = f"posted as {first.posted_as}" if first.posted_as else f"now {first.state}"
    yield at_field(
        facts.reading,
        "number",
        code="duplicate.exact",
        message=f"{first.number} of this vendor came before as document {first.reference}, "
        f"{became}.",
        expected=None,
        found=facts.reading.text("number"),
        hint="Discard this one, unless the vendor really used the number twice.",
    )
