"""Reading, Field and their evidence."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import date
from decimal import Decimal
from enum import StrEnum

from veridox.core.money import Money
from veridox.core.pages import Box
from veridox.core.reading.fields import FIELDS, FieldSpec, Kind

Value = str | date | Decimal | Money
"""A field's typed value: text (also currency codes), date, number or rate, money."""


class Origin(StrEnum):
    """Where a value comes from."""

    TEXT = "text"  # the file's own text
    OCR = "ocr"  # recognised from a picture
    MENDED = "mended"  # the same, with one digit that only arithmetic could tell
    EMBEDDED = "embedded"  # a structured e-invoice inside the file
    CODE = "code"  # a QR code
    IMPRINT = "imprint"  # what corrections taught about this vendor's layout
    MAIL = "mail"  # the message that brought the file
    DERIVED = "derived"  # computed from other values
    GIVEN = "given"  # known before it was read, by whoever handed it in
    PERSON = "person"  # entered by a person


ON_PAGE = frozenset({Origin.TEXT, Origin.OCR})
"""Origins of what was read at a spot of a page."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Candidate:
    """Another value that was considered for a field."""

    value: Value
    confidence: float
    page: int | None = None
    box: Box | None = None


@dataclass(frozen=True, kw_only=True, slots=True)
class Field:
    """A value and the evidence for it.

    Attributes:
        value: typed by the catalogue.
        text: as it stands in the source, before parsing.
        page: from 1; None when the value stands on no page.
        box: in points on that page.
        confidence: in [0, 1]: the chance that the value is right.
        origin: where it comes from.
        others: candidates that were not chosen, best first.
    """

    value: Value
    text: str = ""
    page: int | None = None
    box: Box | None = None
    confidence: float = 1.0
    origin: Origin = Origin.TEXT
    others: tuple[Candidate, ...] = ()

    def __post_init__(self) -> None:
        if not 0 <= self.confidence <= 1:
            raise ValueError(f"confidence {self.confidence} is not between 0 and 1")


Row = Mapping[str, Field]
"""A line, a tax line, an allowance or a charge: cells by name (`LINE_CELLS`, `TAX_CELLS`,
`ADJUSTMENT_CELLS`)."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Source:
    """The stretch of a file that a reading speaks of.

    Attributes:
        sha256: of the file, hexadecimal.
        name: the file's name as it came.
        media_type: as recognised from the content.
        pages: page numbers from 1.
        path: on the machine that read it, empty in the service.
    """

    sha256: str = ""
    name: str = ""
    media_type: str = ""
    pages: tuple[int, ...] = ()
    path: str = ""


@dataclass(frozen=True, kw_only=True, slots=True)
class Reading:
    """What was read of one document.

    A field that is not stated is absent from `fields`, never guessed or empty.
    Amounts of a credit note are positive; the kind carries the sign. `extra` are the
    declared fields that such a document may have beside the catalogue's, found or not.
    `allowance_lines` (BG-20) and `charge_lines` (BG-21) are those of the whole bill, where it
    states them singly.
    """

    source: Source = field(default_factory=Source)
    kind: Kind = Kind.OTHER
    kind_confidence: float = 1.0
    language: str = ""
    fields: Mapping[str, Field] = field(default_factory=dict)
    lines: tuple[Row, ...] = ()
    tax_lines: tuple[Row, ...] = ()
    allowance_lines: tuple[Row, ...] = ()
    charge_lines: tuple[Row, ...] = ()
    extra: Mapping[str, FieldSpec] = field(default_factory=dict)

    def spec(self, name: str) -> FieldSpec | None:
        """What a header field is: of the catalogue or declared; None for neither."""
        return FIELDS.get(name) or self.extra.get(name)

    def value(self, name: str) -> Value | None:
        """The value of a header field, None when absent."""
        found = self.fields.get(name)
        return None if found is None else found.value

    def money(self, name: str) -> Money | None:
        """A money field, None when absent."""
        value = self.value(name)
        return value if isinstance(value, Money) else None

    def text(self, name: str) -> str | None:
        """A text field, None when absent."""
        value = self.value(name)
        return value if isinstance(value, str) else None

    def day(self, name: str) -> date | None:
        """A date field, None when absent."""
        value = self.value(name)
        return value if isinstance(value, date) else None

    @property
    def currency(self) -> str | None:
        """ISO 4217 code of the document."""
        return self.text("currency")

    @property
    def confidence(self) -> float:
        """The least sure of the header fields; 0 when nothing was read."""
        return min((each.confidence for each in self.fields.values()), default=0.0)

    def read_with(self, name: str) -> tuple[str, ...]:
        """Other header fields that state the same value, read from the very same spot.

        A page that says "to pay 120.00" and no other total states what is due and the total with
        one amount: whoever corrects one of them corrects both.
        """
        own = self.fields.get(name)
        if own is None or own.box is None or own.origin not in ON_PAGE:
            return ()
        return tuple(
            other
            for other, field in self.fields.items()
            if other != name
            and field.origin in ON_PAGE
            and (field.value, field.page, field.box) == (own.value, own.page, own.box)
        )

    def with_fields(self, changes: Mapping[str, Field | None]) -> "Reading":
        """A copy with fields replaced, or taken out where the change is None."""
        fields = dict(self.fields)
        for name, change in changes.items():
            if change is None:
                fields.pop(name, None)
            else:
                fields[name] = change
        return replace(self, fields=fields)


def cell_money(row: Row, name: str) -> Money | None:
    """A row's money cell, None when absent."""
    found = row.get(name)
    return found.value if found is not None and isinstance(found.value, Money) else None


def cell_number(row: Row, name: str) -> Decimal | None:
    """A row's number or rate cell, None when absent."""
    found = row.get(name)
    return found.value if found is not None and isinstance(found.value, Decimal) else None


def cell_text(row: Row, name: str) -> str | None:
    """A row's text cell, None when absent."""
    found = row.get(name)
    return found.value if found is not None and isinstance(found.value, str) else None
