"""Findings that point at a field's place."""

from veridox.core.findings import Finding, Weight
from veridox.core.reading import Field, Reading


def at_field(
    reading: Reading,
    name: str,
    *,
    code: str,
    message: str,
    weight: Weight = Weight.BLOCK,
    also: tuple[str, ...] = (),
    expected: str | None = None,
    found: str | None = None,
    difference: str | None = None,
    hint: str | None = None,
) -> Finding:
    """A finding on header field `name`, with its page and box when it has one."""
    return at_cell(
        reading.fields.get(name),
        name,
        code=code,
        message=message,
        weight=weight,
        also=also,
        expected=expected,
        found=found,
        difference=difference,
        hint=hint,
    )


def at_cell(
    cell: Field | None,
    name: str,
    *,
    code: str,
    message: str,
    weight: Weight = Weight.BLOCK,
    also: tuple[str, ...] = (),
    expected: str | None = None,
    found: str | None = None,
    difference: str | None = None,
    hint: str | None = None,
) -> Finding:
    """The same for any cell, named as in `lines[2].amount`."""
    return Finding(
        code=code,
        weight=weight,
        message=message,
        fields=(name, *also),
        page=cell.page if cell else None,
        box=cell.box.rounded() if cell and cell.box else None,
        expected=expected,
        found=found,
        difference=difference,
        hint=hint,
    )
