"""Is everything there, and is it a document that is posted at all?"""

from collections.abc import Iterator

from veridox.core.checks.evidence import at_cell, at_field
from veridox.core.checks.table import check
from veridox.core.facts import Facts
from veridox.core.findings import ENTITIES, ORDERS, PLUGINS, READERS, Code, Finding, Weight
from veridox.core.reading import FIELDS, LINE_CELLS, POSTED_KINDS, Field, Origin

READ = (Origin.TEXT, Origin.OCR)
BY_COUNTRY = 0.8
"""How sure a currency is that the seller's country tells, and no word."""
SURE = 0.85
"""Confidence from which a value that was read may go on without a person."""


@check(
    place=30,
    codes={
        "field.missing": Code(
            title="A needed field is missing",
            why="The pipeline needs it, and it was not found on the pages.",
            do="Enter it from the page.",
            rule="EN 16931 BR-02 to BR-16",
            accepted=False,
        ),
    },
)
def fields_present(facts: Facts) -> Iterator[Finding]:
    """`field.missing`: each field that the pipeline needs is stated."""
    for name in facts.settings.need:
        if name not in facts.reading.fields:
            spec = facts.reading.spec(name)
            title = spec.title if spec else name
            yield Finding(
                code="field.missing",
                weight=Weight.BLOCK,
                message=f"{title} ({name}) was not found.",
                fields=(name,),
                letter=f"We could not find this on it: {title[0].lower()}{title[1:]}.",
            )


@check(
    place=40,
    needs=("vendor", "orders", "pairs"),
    codes={
        "field.unsure": Code(
            title="A value was read with doubt",
            why="One of its signs could not be recognised for sure on a picture, or little on the "
            "page says that it is what it was taken for.",
            do="Compare the value with the page and save it.",
        ),
    },
)
def read_surely(facts: Facts) -> Iterator[Finding]:
    """`field.unsure`: what goes to the ledger was read, but not for sure."""
    for name, spec in FIELDS.items():
        if not spec.doubted:
            continue
        field = facts.reading.fields.get(name)
        if name == "currency" and field is not None and field.origin is Origin.DERIVED:
            yield _worked_out(facts, field)
            continue
        if field is None or field.origin not in READ or field.confidence >= SURE:
            continue
        if name == "order_number" and _are_orders(facts):
            continue
        how = "recognised" if field.origin is Origin.OCR else "read"
        yield at_field(
            facts.reading,
            name,
            code="field.unsure",
            message=f"{spec.title} was {how} as {field.text!r}, which is only "
            f"{field.confidence:.0%} sure.",
            found=field.text,
            hint="Compare it with the page; enter it if it is right.",
        )


def _are_orders(facts: Facts) -> bool:
    """Whether all numbers that are named are orders of this vendor, and lines of the bill are on
    them: that they were misread is ruled out then."""
    vendor, named = facts.vendor, facts.orders
    return (
        vendor is not None
        and bool(named)
        and not facts.unknown_orders
        and all(order.vendor == vendor.code for order in named)
        and {order.number for order in named} == {p.order.number for p in facts.pairs if p}
    )


@check(
    place=50,
    codes={
        "field.mended": Code(
            title="A misread digit was mended",
            why="Two or more sums or products of a scan did not hold, and all do with one digit "
            "changed into one that it is easily taken for. Only the page says which it is.",
            do="Compare it with the page; enter what stands there.",
        ),
    },
)
def digits_mended(facts: Facts) -> Iterator[Finding]:
    """`field.mended`: what was recognised, and mended by arithmetic."""
    for name, field in facts.reading.fields.items():
        if field.origin is Origin.MENDED:
            yield _mended(field, name, FIELDS[name].title)
    for at, row in enumerate(facts.reading.lines, start=1):
        for name, cell in row.items():
            if cell.origin is Origin.MENDED:
                title = f"{LINE_CELLS[name].title} of line {at}"
                yield _mended(cell, f"lines[{at}].{name}", title)


def _mended(field: Field, path: str, title: str) -> Finding:
    """What arithmetic says that a recognised value is: a person looks at it."""
    recognised = field.others[0].value if field.others else field.text
    return at_cell(
        field,
        path,
        code="field.mended",
        message=f"{title} was recognised as {recognised}; with {field.value} everything adds up.",
        found=field.text,
        expected=str(field.value),
    )


def _worked_out(facts: Facts, currency: Field) -> Finding:
    """A currency that is printed nowhere."""
    usual = (
        "the one of the seller's country"
        if currency.confidence >= BY_COUNTRY
        else "usual in its language"
    )
    return at_field(
        facts.reading,
        "currency",
        code="field.unsure",
        message=f"No currency is printed; {currency.value} is {usual}.",
        found=str(currency.value),
        hint="Enter the currency that the amounts are in.",
    )


@check(
    place=20,
    codes={
        "kind.not_posted": Code(
            title="Not a kind of document that is posted",
            why="Statements, reminders, delivery notes and the like are never paid as invoices.",
            do="Set the kind if it is an invoice after all, or discard it.",
            accepted=False,
        ),
    },
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
        )


@check(place=10, needs=("file_findings",), codes={**READERS, **PLUGINS})
def file_findings(facts: Facts) -> Iterator[Finding]:
    """What the reader found on file and pages goes with the document."""
    yield from facts.file_findings


@check(
    place=60,
    needs=("entity", "entity_contradiction", "other_entity"),
    codes={
        "buyer.other_entity": Code(
            title="Another of our companies is billed",
            why="This pipeline does not post into its books: the bill would stand in the wrong "
            "company's.",
            do="Hand it to the other company, or choose ours if the name was misread.",
            accepted=False,
            helped_by=ENTITIES,
        ),
        "entity.unknown": Code(
            title="It is not clear which of our entities is billed",
            why="The bill must stand in the right company's books.",
            do="Say which of our entities is billed, or correct the buyer's name.",
            accepted=False,
            helped_by=ENTITIES | ORDERS,
        ),
        "entity.contradicted": Code(
            title="What the bill says of the buyer contradicts itself",
            why="Name and tax id are those of different companies; a person says whose bill it is.",
            do="Correct what was misread, or say which of our entities is billed.",
            accepted=False,
            alone=False,
            helped_by=ENTITIES,
        ),
    },
)
def entity_known(facts: Facts) -> Iterator[Finding]:
    """`buyer.other_entity`, `entity.contradicted`, `entity.unknown`: the bill must stand in the
    right books."""
    other = facts.other_entity
    if facts.entity is None and other is not None:
        yield at_field(
            facts.reading,
            "buyer.name",
            code="buyer.other_entity",
            message=f"It is made out to {other.name} ({other.code}), for which this pipeline does "
            "not work.",
            also=("buyer.tax_id",),
            found=other.code,
            hint=f"Process it again with a pipeline of {other.code}, or correct the buyer.",
        )
    elif facts.entity is None and facts.entity_contradiction:
        yield at_field(
            facts.reading,
            "buyer.name",
            code="entity.contradicted",
            message=facts.entity_contradiction,
            also=("buyer.tax_id",),
            found=facts.reading.text("buyer.name"),
        )
    elif facts.entity is None:
        buyer = facts.reading.text("buyer.name")
        said = f"Billed to {buyer!r}, which is none of ours" if buyer else "No buyer was found"
        yield at_field(
            facts.reading,
            "buyer.name",
            code="entity.unknown",
            message=f"{said}; which of our entities is meant is not clear.",
            found=buyer,
        )
