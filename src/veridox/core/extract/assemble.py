"""A whole reading from the pages of one document."""

from dataclasses import replace
from decimal import Decimal

from veridox.core.extract.confidence import chance, lines_with_chances, with_chances
from veridox.core.extract.extra import extra_fields
from veridox.core.extract.hints import Hints
from veridox.core.extract.mending import mended
from veridox.core.extract.remarks import with_remarks
from veridox.core.extract.sheet import prepare
from veridox.core.extract.spans import stands_below
from veridox.core.extract.splitting import parts_of
from veridox.core.extract.tagging.network import shipped
from veridox.core.extract.tagging.read import told
from veridox.core.extract.thresholds import CONTESTED, CREDITED, STATED
from veridox.core.extract.witness import witnessed
from veridox.core.money import Money
from veridox.core.pages import Page
from veridox.core.reading import Field, Kind, Reading, Row, Source


def extract(
    pages: tuple[Page, ...], source: Source, hints: Hints | None = None
) -> tuple[Reading, ...]:
    """Readings of the documents on these pages, in their order.

    Pages without any words give a reading of kind `other` without fields, so
    that a person can enter what the picture shows. Blank pages and small print
    between documents belong to none of them; behind the only one they are its own.
    """
    hints = hints or Hints()
    if not any(page.words for page in pages):
        numbers = tuple(page.number for page in pages)
        source = replace(source, pages=numbers)
        return (Reading(source=source, kind=Kind.OTHER, kind_confidence=0.0),)
    parts = parts_of(pages)
    return tuple(
        _one(part, _stretch(source, part if len(parts) > 1 else pages), hints) for part in parts
    )


def _stretch(source: Source, pages: tuple[Page, ...]) -> Source:
    return replace(source, pages=tuple(page.number for page in pages))


def _one(pages: tuple[Page, ...], source: Source, hints: Hints) -> Reading:
    """The reading of one document."""
    found = told(pages, hints, shipped())
    fields = {
        name: at_most(field, CONTESTED) if name in found.contested else field
        for name, field in with_chances(found.fields, found.group, found.signs).items()
        if field.confidence >= STATED or name == "currency"
    }
    code = fields["currency"].value if "currency" in fields else None
    currency = code if isinstance(code, str) else None
    reading = Reading(
        source=source,
        kind=found.kind,
        kind_confidence=round(chance(found.kind_group, found.kind_signs), 5),
        language=found.language,
        fields=fields,
        lines=lines_with_chances(found.lines, currency, found.vouched, found.clear),
        tax_lines=found.tax_lines,
    )
    gross = reading.money("gross_total")
    if reading.kind is Kind.INVOICE and gross is not None and gross.amount < 0:
        # Whatever it calls itself: who bills less than nothing gives credit.
        reading = replace(reading, kind=Kind.CREDIT_NOTE, kind_confidence=CREDITED)
    reading = _with_extra(reading, pages, hints)
    found_as = positive(reading) if reading.kind is Kind.CREDIT_NOTE else reading
    return mended(witnessed(with_remarks(found_as, pages), pages))


def at_most(field: Field, sure: float) -> Field:
    """A field that is no surer than this."""
    return replace(field, confidence=min(field.confidence, sure))


def _with_extra(reading: Reading, pages: tuple[Page, ...], hints: Hints) -> Reading:
    """The reading with the declared fields that concern its kind."""
    if not hints.extra:
        return reading
    declared = {each.name: each.spec for each in hints.extra if each.concerns(reading.kind)}
    sheet = prepare(pages)
    sheet = replace(sheet, values_below=stands_below(sheet.hits, sheet))
    found = extra_fields(sheet, hints.extra, reading.kind, reading.currency)
    return replace(reading, fields={**reading.fields, **found}, extra=declared)


def positive(reading: Reading) -> Reading:
    """A credit note's amounts without their sign; the kind carries it."""

    def cell(field: Field) -> Field:
        if isinstance(field.value, Money) and field.value.amount < 0:
            return replace(field, value=abs(field.value))
        return field

    def line(row: Row) -> Row:
        # A quantity printed negative gives a negative amount: both turn together.
        cells = {name: cell(each) for name, each in row.items()}
        quantity = row.get("quantity")
        if quantity is not None and isinstance(quantity.value, Decimal) and quantity.value < 0:
            cells["quantity"] = replace(quantity, value=-quantity.value)
        return cells

    # A slip to pay by may show the total of a credit note once more, without its sign.
    names = ("gross_total", "net_total", "amount_due", "lines_total")
    telling = names if reading.kind is Kind.CREDIT_NOTE else names[:1]
    totals = (reading.money(name) for name in telling)
    if not any(each is not None and each.amount < 0 for each in totals):
        return reading
    return replace(
        reading,
        fields={name: cell(each) for name, each in reading.fields.items()},
        lines=tuple(line(row) for row in reading.lines),
        tax_lines=tuple(line(row) for row in reading.tax_lines),
    )
