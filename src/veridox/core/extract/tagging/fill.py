"""What labels and rules left open is filled from tagged words: what they state stays as it is.

Most of what was wrong in readings of layouts never seen was not wrong but missing
(docs/decisions/0016). So the words speak where nothing was found, and never against what was.
"""

from dataclasses import replace

from veridox.core.extract.confidence import chance, lines_with_chances, tagged_points
from veridox.core.extract.hints import Hints
from veridox.core.extract.tagging.network import Network
from veridox.core.extract.tagging.read import Told, explained, told
from veridox.core.pages import Page
from veridox.core.reading import Field, Origin, Reading

ENOUGH = 25
"""Words from which a document is one of those that the network has learned from."""

EVEN = 0.5
"""Chance from which a value is filled in: it is rather right than wrong."""


def filled(reading: Reading, pages: tuple[Page, ...], hints: Hints, network: Network) -> Reading:
    """The reading with what it lacks, as far as words state it.

    Args:
        reading: of labels and rules, its confidences chances.
        pages: of the document.
        hints: what is known before.
        network: that tags words.
    """
    if sum(len(page.words) for page in pages) < ENOUGH:
        return reading
    found = told(pages, hints, network, reading)
    fields = dict(reading.fields)
    taken = {(field.page, field.box) for field in fields.values() if field.box is not None}
    for name, field in found.fields.items():
        if name in fields:
            continue
        if field.box is not None and (field.page, field.box) in taken:
            if name == "amount_due" and _same(field, fields.get("gross_total")):
                fields[name] = fields["gross_total"]
            continue
        field = _with_chance(found, name, field)
        if field.confidence >= EVEN:
            fields[name] = field
    reading = replace(
        reading, fields=fields, kind=found.kind, kind_confidence=round(found.kind_chance, 5)
    )
    return _with_lines(reading, found)


def _same(one: Field, other: Field | None) -> bool:
    return other is not None and (one.value, one.page, one.box) == (
        other.value,
        other.page,
        other.box,
    )


def _with_chance(found: Told, name: str, field: Field) -> Field:
    if field.origin is Origin.DERIVED:
        return field
    said = chance(found.group(name), field.confidence, tagged_points())
    return replace(field, confidence=round(said, 5))


def _with_lines(reading: Reading, found: Told) -> Reading:
    """Lines of words where they explain more than those of the columns."""
    code = reading.currency
    if code is not None and found.lines and found.lines != reading.lines:
        own = explained(found.lines, reading.fields, code)
        if own > explained(reading.lines, reading.fields, code) or not reading.lines:
            lines = lines_with_chances(
                found.lines, code, summed=found.lines_add_up, points=tagged_points()
            )
            reading = replace(reading, lines=lines)
    if not reading.tax_lines and found.tax_lines:
        reading = replace(reading, tax_lines=found.tax_lines)
    return reading
