"""Is everything there, and is it a document that is posted at all?"""

from collections.abc import Iterator

from veridox.core.checks.evidence import at_field
from veridox.core.checks.facts import Facts
from veridox.core.findings import Finding, Weight
from veridox.core.reading import FIELDS, POSTED_KINDS


def fields_present(facts: Facts) -> Iterator[Finding]:
    """`field.missing`: each field that the pipeline needs is stated."""
    for name in facts.settings.need:
        if name not in facts.reading.fields:
            title = FIELDS[name].title
            yield Finding(
                code="field.missing",
                weight=Weight.BLOCK,
                message=f"{title} ({name}) was not found.",
                fields=(name,),
                hint="Enter it from the page.",
            )


def kind_is_posted(facts: Facts) -> Iterator[Finding]:
    """`kind.not_posted`: only kinds that the pipeline posts, and never a reminder or statement."""
    kind = facts.reading.kind
    if kind not in POSTED_KINDS & facts.settings.kinds:
        named = (
            "It is not clear what kind of document this is"
            if kind == "other"
            else (f"This is a {kind.value}")
        )
        yield Finding(
            code="kind.not_posted",
            weight=Weight.BLOCK,
            message=f"{named}; it is not posted as an invoice.",
            found=kind.value,
            hint="Set the kind if it is an invoice after all, or discard it.",
        )


def file_findings(facts: Facts) -> Iterator[Finding]:
    """What the reader found on file and pages goes with the document."""
    yield from facts.file_findings


def entity_known(facts: Facts) -> Iterator[Finding]:
    """`entity.unknown`: the bill must stand in the right company's books."""
    if facts.entity is None:
        buyer = facts.reading.text("buyer.name")
        said = f"Billed to {buyer!r}, which is none of ours" if buyer else "No buyer was found"
        yield at_field(
            facts.reading,
            "buyer.name",
            code="entity.unknown",
            message=f"{said}; which of our entities is meant is not clear.",
            found=buyer,
            hint="Enter buyer.name as it stands in the list of entities.",
        )
