"""What people, ledgers and others have said of a document, and of what exactly they said it."""

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from veridox.core.findings import Finding
from veridox.core.reading import Reading


class Said(StrEnum):
    """What a statement says."""

    ACCEPTED = "accepted"  # this finding, with a reason
    PROVEN = "proven"  # somebody made sure that this finding is harmless, and says how
    CLEARED = "cleared"  # the desk lets it through to the next gate
    TOLD = "told"  # the ledger found this
    STOPPED = "stopped"  # it was stopped for this, and only a person lets it go on
    DISCARDED = "discarded"  # nothing is to be posted
    CALLED = "called"  # to the desk: it does not wait any more
    SENT_BACK = "sent back"  # a letter about it goes to its vendor


@dataclass(frozen=True, kw_only=True, slots=True)
class Identity:
    """What a finding is, so that another of the same code is not taken for it.

    Attributes:
        code: of the finding.
        fields: that it concerns.
        figures: expected, found and difference, as they were shown.
        values: what the fields held, as text.
        about: another record of ours that it speaks of, as in `document 41`.
    """

    code: str
    fields: tuple[str, ...] = ()
    figures: tuple[str, ...] = ()
    values: tuple[str, ...] = ()
    about: str = ""

    def to_json(self) -> dict[str, object]:
        """The shape in which it is stored."""
        return {
            "code": self.code, "fields": list(self.fields),
            "figures": list(self.figures), "values": list(self.values), "about": self.about,
        }  # fmt: skip

    @classmethod
    def from_json(cls, data: Mapping[str, object]) -> "Identity":
        """Back from `to_json`. Raises KeyError on another shape."""

        def texts(key: str) -> tuple[str, ...]:
            found = data[key]
            return tuple(str(each) for each in found) if isinstance(found, list | tuple) else ()

        return cls(
            code=str(data["code"]), fields=texts("fields"),
            figures=texts("figures"), values=texts("values"), about=str(data["about"]),
        )  # fmt: skip


def identity_of(finding: Finding, reading: Reading) -> Identity:
    """What a finding on a reading is."""
    figures = (finding.expected, finding.found, finding.difference)
    return Identity(
        code=finding.code,
        fields=finding.fields,
        figures=tuple(figure or "" for figure in figures),
        values=tuple(_value_at(reading, path) for path in finding.fields),
        about=finding.about,
    )


_CELL = re.compile(r"(lines|tax_lines)\[(\d+)\]\.(\w+)")


def _value_at(reading: Reading, path: str) -> str:
    """The value at a path such as `gross_total` or `lines[2].amount`, empty when absent."""
    cell = _CELL.fullmatch(path)
    if cell is None:
        value = reading.value(path)
    else:
        rows = reading.lines if cell[1] == "lines" else reading.tax_lines
        at = int(cell[2]) - 1
        field = rows[at].get(cell[3]) if at < len(rows) else None
        value = field.value if field else None
    return "" if value is None else str(value)


@dataclass(frozen=True, kw_only=True, slots=True)
class Statement:
    """One thing that somebody said and that still holds.

    Attributes:
        what: see `Said`.
        by: who, as the trail names actors.
        at: when (UTC).
        reading: number of the version of the reading that it was said on.
        identity: of the finding that it speaks of; None for the whole document.
        finding: that finding, where it was told from outside and no check finds it anew.
        looked: conditions with their values that stood when the desk was cleared.
        reason: in the person's words.
    """

    what: Said
    by: str
    at: datetime
    reading: int = 1
    identity: Identity | None = None
    finding: Finding | None = None
    looked: tuple[str, ...] = ()
    reason: str = ""


def told(statements: Iterable[Statement]) -> tuple[Finding, ...]:
    """What others found and no person has answered yet."""
    return tuple(
        each.finding for each in statements if each.what is Said.TOLD and each.finding is not None
    )


def acceptance_of(
    finding: Finding, reading: Reading, statements: Iterable[Statement]
) -> Statement | None:
    """The statement by which somebody accepted exactly this finding, None if nobody did."""
    identity = identity_of(finding, reading)
    found = None
    for each in statements:
        if each.what is Said.ACCEPTED and each.identity == identity:
            found = each
    return found


def acceptance_by_two(
    finding: Finding,
    reading: Reading,
    statements: Iterable[Statement],
    entered_by: frozenset[str] = frozenset(),
) -> Statement | None:
    """The same of a finding that takes two people: one says how it was proven, another one
    accepts it, and neither entered a value of the bill. None as long as that is not so."""
    every = tuple(statements)
    identity = identity_of(finding, reading)
    proven = {
        each.by for each in every
        if each.what is Said.PROVEN and each.identity == identity and each.by not in entered_by
    }  # fmt: skip
    found = None
    for each in every:
        accepts = each.what is Said.ACCEPTED and each.identity == identity
        if accepts and each.by not in entered_by and proven - {each.by}:
            found = each
    return found
