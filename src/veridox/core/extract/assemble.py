"""A whole reading from the pages of one document."""

from dataclasses import replace
from decimal import Decimal

from veridox.core.extract.accounts import accounts
from veridox.core.extract.header import header_fields
from veridox.core.extract.hints import Hints
from veridox.core.extract.kinds import kind_of
from veridox.core.extract.loose import loose_lines
from veridox.core.extract.parties import parties
from veridox.core.extract.sheet import Sheet, prepare
from veridox.core.extract.spans import stands_below
from veridox.core.extract.table import headers_of, table_lines
from veridox.core.extract.totals import totals
from veridox.core.extract.witness import witnessed
from veridox.core.locales.currencies import SHARED_SIGNS, currency_of, split_sign
from veridox.core.money import Money
from veridox.core.pages import Page
from veridox.core.pages.features import features_of
from veridox.core.reading import Field, Kind, Reading, Row, Source


def extract(
    pages: tuple[Page, ...], source: Source, hints: Hints | None = None
) -> tuple[Reading, ...]:
    """Readings of the documents on these pages.

    Pages without any words give a reading of kind `other` without fields, so
    that a person can enter what the picture shows. One file is taken as one
    document so far; the result is a tuple because files may hold several.
    """
    hints = hints or Hints()
    source = replace(source, pages=tuple(page.number for page in pages))
    if not any(page.words for page in pages):
        return (Reading(source=source, kind=Kind.OTHER, kind_confidence=0.0),)
    # What every customer is told in small print is no value of this bill.
    terms = {page.number for page in features_of(pages) if page.terms}
    if len(terms) < len(pages):
        pages = tuple(page for page in pages if page.number not in terms)
    sheet = prepare(pages)
    sheet = replace(sheet, values_below=stands_below(sheet.hits, sheet))
    kind, kind_confidence = kind_of(sheet)
    code, share = sheet.currency or (None, 0.0)
    headers = headers_of(sheet)
    lines = table_lines(sheet, code, headers)
    found = totals(sheet, code, lines, tuple(sheet.rows[at] for at in headers))
    if not lines and code is not None:
        goal = found.fields.get("lines_total") or found.fields.get("net_total")
        shown = [each for each in found.fields.values() if each.box is not None]
        top = min(
            shown,
            key=lambda each: (each.page or 0, each.box.top if each.box else 0.0),
            default=None,
        )
        lines = loose_lines(sheet, code, goal, top) if goal is not None else ()
    fields = {**header_fields(sheet, hints), **parties(sheet, hints), **accounts(sheet)}
    fields |= found.fields
    currency = _currency_field(sheet, code, share)
    if currency is not None:
        fields["currency"] = currency
    reading = Reading(
        source=source,
        kind=kind,
        kind_confidence=kind_confidence,
        language=sheet.language,
        fields=fields,
        lines=lines,
        tax_lines=found.tax_lines,
    )
    gross = reading.money("gross_total")
    if reading.kind is Kind.INVOICE and gross is not None and gross.amount < 0:
        # Whatever it calls itself: who bills less than nothing gives credit.
        reading = replace(reading, kind=Kind.CREDIT_NOTE, kind_confidence=0.7)
    found_as = _positive(reading) if reading.kind is Kind.CREDIT_NOTE else reading
    return (witnessed(found_as, pages),)


def _currency_field(sheet: Sheet, code: str | None, share: float) -> Field | None:
    if code is None:
        return None
    for row in sheet.rows:
        for word in row.words:
            if _names(word.text, code):
                return Field(
                    value=code,
                    text=word.text,
                    page=row.page,
                    box=word.box,
                    confidence=min(0.999, 0.5 + share / 2),
                )
    return None


def _names(text: str, code: str) -> bool:
    """Whether a word names the currency, by a sign of its own or one of several."""
    if (currency_of(text) or split_sign(text)[0]) == code:
        return True
    bare = text.strip("().,;:").lower()
    return any(
        code in by_language.values() and bare.startswith(sign) and not bare[len(sign) :].isalpha()
        for sign, by_language in SHARED_SIGNS.items()
    )


def _positive(reading: Reading) -> Reading:
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

    gross = reading.money("gross_total")
    if gross is None or gross.amount >= 0:
        return reading
    return replace(
        reading,
        fields={name: cell(each) for name, each in reading.fields.items()},
        lines=tuple(line(row) for row in reading.lines),
        tax_lines=tuple(line(row) for row in reading.tax_lines),
    )
