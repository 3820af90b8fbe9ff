"""Findings that point at a value's place."""

from typing import Required, TypedDict, Unpack

from veridox.core.findings import Finding, Weight
from veridox.core.reading import Field, Reading


class Details(TypedDict, total=False):
    """What a finding may say besides its place; see `Finding`."""

    weight: Weight
    also: tuple[str, ...]
    expected: str | None
    found: str | None
    difference: str | None
    hint: str | None
    letter: str
    about: str


class CodedDetails(Details):
    """The same with what it says, and the code of it."""

    code: Required[str]
    message: Required[str]


def at_field(
    reading: Reading, name: str, *, code: str, message: str, **details: Unpack[Details]
) -> Finding:
    """A finding on header field `name`, with its page and box when it is stated."""
    return at_cell(reading.fields.get(name), name, code=code, message=message, **details)


def at_cell(
    cell: Field | None, name: str, *, code: str, message: str, **details: Unpack[Details]
) -> Finding:
    """A finding on any cell, named as in `lines[2].amount`; it blocks unless told otherwise."""
    return Finding(
        code=code,
        weight=details.get("weight", Weight.BLOCK),
        message=message,
        fields=(name, *details.get("also", ())),
        page=cell.page if cell else None,
        box=cell.box.rounded() if cell and cell.box else None,
        expected=details.get("expected"),
        found=details.get("found"),
        difference=details.get("difference"),
        hint=details.get("hint"),
        letter=details.get("letter", ""),
        about=details.get("about", ""),
    )
