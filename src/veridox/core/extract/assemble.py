"""A whole reading from the pages of one document."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from decimal import Decimal

from veridox.core.extract.accounts import accounts
from veridox.core.extract.columns import Named
from veridox.core.extract.confidence import lines_with_chances, with_chances
from veridox.core.extract.extra import extra_fields
from veridox.core.extract.header import header_fields
from veridox.core.extract.hints import Hints
from veridox.core.extract.kinds import kind_of
from veridox.core.extract.lines import all_lines, summed
from veridox.core.extract.loose import loose_lines
from veridox.core.extract.parties import is_ours, parties
from veridox.core.extract.scoring.choose import NAMED, chosen, others_of
from veridox.core.extract.scoring.describe import FIELDS
from veridox.core.extract.scoring.model import Model, Scored, shipped, surroundings
from veridox.core.extract.scoring.phrases import Phrases
from veridox.core.extract.sheet import Sheet, currency_in, prepare
from veridox.core.extract.spans import stands_below
from veridox.core.extract.splitting import parts_of
from veridox.core.extract.table import headers_of
from veridox.core.extract.tagging.fill import filled
from veridox.core.extract.tagging.network import shipped as model_of_words
from veridox.core.extract.totals import totals
from veridox.core.extract.witness import witnessed
from veridox.core.locales.currencies import SHARED_SIGNS
from veridox.core.locales.labels import lexicon, normalise
from veridox.core.money import Money
from veridox.core.pages import Page, TextRow
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
    """The reading of one document: by labels and rules, filled from what words say."""
    reading, sheet = ruled(pages, source, hints)
    reading = filled(reading, pages, hints, model_of_words())
    gross = reading.money("gross_total")
    if reading.kind is Kind.INVOICE and gross is not None and gross.amount < 0:
        # Whatever it calls itself: who bills less than nothing gives credit.
        reading = replace(reading, kind=Kind.CREDIT_NOTE, kind_confidence=0.7)
    reading = _with_extra(reading, sheet, hints)
    found_as = positive(reading) if reading.kind is Kind.CREDIT_NOTE else reading
    return witnessed(found_as, pages)


def ruled(pages: tuple[Page, ...], source: Source, hints: Hints) -> tuple[Reading, Sheet]:
    """What labels, rules and trees make of one document, and what it looks like to them."""
    model = shipped()
    seen = weigh(look(pages, hints, model.phrases), hints, model)
    sheet, code, lines = seen.sheet, seen.currency, seen.lines
    kind, kind_confidence = kind_of(sheet)
    fields = with_chances(seen.fields, seen.proved)
    lines = lines_with_chances(lines, code, summed=vouched_for(seen))
    reading = Reading(
        source=source,
        kind=kind,
        kind_confidence=kind_confidence,
        language=sheet.language,
        fields=fields,
        lines=lines,
        tax_lines=seen.tax_lines,
    )
    return reading, sheet


def _with_extra(reading: Reading, sheet: Sheet, hints: Hints) -> Reading:
    """The reading with the declared fields that concern its kind."""
    if not hints.extra:
        return reading
    declared = {each.name: each.spec for each in hints.extra if each.concerns(reading.kind)}
    found = extra_fields(sheet, hints.extra, reading.kind, reading.currency)
    return replace(reading, fields={**reading.fields, **found}, extra=declared)


@dataclass(frozen=True, kw_only=True, slots=True)
class Seen:
    """What rules made of a document, by labels, places and arithmetic.

    Attributes:
        sheet: the document, prepared.
        currency: ISO 4217 code, None where nothing names one; `share` of the votes that named it.
        headers: of the line table.
        lines, tax_lines: rows.
        fields: of the header.
        proved: names of totals that an equation vouches for.
    """

    sheet: Sheet
    currency: str | None
    share: float
    headers: tuple[TextRow, ...]
    lines: tuple[Row, ...]
    tax_lines: tuple[Row, ...]
    fields: dict[str, Field]
    proved: frozenset[str] = frozenset()


def vouched_for(seen: Seen) -> bool:
    """Whether a printed total vouches for the lines: their sum, or the net that they make with
    charges and less allowances."""
    return summed(seen.lines, seen.sheet) or bool({"charges", "allowances"} & seen.proved)


def look(pages: tuple[Page, ...], hints: Hints, phrases: Phrases) -> Seen:
    """Read all that rules can tell, and name columns that no lexicon has by a model of labels."""
    sheet = prepare(pages)
    sheet = replace(sheet, values_below=stands_below(sheet.hits, sheet))
    code, share = sheet.currency or (None, 0.0)
    named = column_names(sheet, phrases)
    at = headers_of(sheet, named)
    headers = tuple(sheet.rows[each] for each in at)
    lines = all_lines(sheet, code, at, named)
    found = totals(sheet, code, lines, headers)
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
    return Seen(
        sheet=sheet, currency=code, share=share, headers=headers, lines=lines,
        tax_lines=found.tax_lines, fields={**fields, **found.fields},
    )  # fmt: skip


COLUMN_LEAST = 0.55
"""Probability from which words that no lexicon has name a column."""


def column_names(sheet: Sheet, phrases: Phrases) -> Named:
    """What heads a column by the lexicon, else by a model of labels."""

    def name(text: str) -> str:
        tokens = normalise(text)
        label = lexicon("columns").match(tokens, 0, sheet.languages) if tokens else None
        if label is not None and len(label.words) == len(tokens):
            return label.field
        best, chance = phrases.column(text)
        return best if chance >= COLUMN_LEAST else ""

    return name


AMOUNT_LEAST = 0.04
"""Chance from which an amount takes part in the search for a set that adds up."""
BESIDE_LEAST = 0.2
"""The same for what not every bill states: with so many amounts something always adds up."""
RIVAL = 0.5
"""Share of the likeliest amount's chance that another needs: what is clearly named is not replaced
by what happens to add up."""
MAIN = ("net_total", "tax_total", "gross_total")


LABELLED = 0.5
"""What a value beside a label that the lexicon has counts where the model knows of none."""


def _by_labels(ruled: Mapping[str, Field], fields: Mapping[str, Field]) -> dict[str, Field]:
    """What rules found and the model did not, if no other field is stated there."""
    taken = {(field.page, field.box) for field in fields.values()}
    return {
        name: replace(field, confidence=LABELLED * field.confidence)
        for name, field in ruled.items()
        if name in NAMED
        and name not in fields
        and (field.page, field.box) not in taken
        and not (name.endswith(".name") and field.text[:1].islower())  # a sentence, no name
    }


def _ours_if_there(scored: list[Scored], hints: Hints) -> list[Scored]:
    """Who may be the buyer: where one of our entities stands, nobody else."""
    ours = [each for each in scored if is_ours(each.spot.found.text, hints)]
    return ours or scored


def _sellers_own(ruled: Mapping[str, Field], fields: dict[str, Field]) -> dict[str, Field]:
    """A lone tax id that labels call the seller's is the seller's: hardly any bill states the
    buyer's and not its own."""
    buyers, own = fields.get("buyer.tax_id"), ruled.get("seller.tax_id")
    if "seller.tax_id" in fields or buyers is None or own is None or own.value != buyers.value:
        return fields
    others = {name: field for name, field in fields.items() if name != "buyer.tax_id"}
    return {**others, "seller.tax_id": replace(own, confidence=LABELLED * own.confidence)}


def weigh(seen: Seen, hints: Hints, model: Model) -> Seen:
    """The same with every field chosen by the model: rules are one witness among others."""
    around = surroundings(
        seen.sheet, hints, seen.currency, seen.fields, seen.lines, seen.headers, model.phrases
    )
    scored = model.scored(around)
    weighed = (*NAMED, *FIELDS["amount"])
    fields = {name: field for name, field in seen.fields.items() if name not in weighed}
    scored = {**scored, "buyer.name": _ours_if_there(scored.get("buyer.name", []), hints)}
    fields |= chosen(scored)
    fields |= _by_labels(seen.fields, fields)
    fields = _sellers_own(seen.fields, fields)
    currency = _currency_field(seen.sheet, seen.currency, seen.share)
    if seen.currency is None or currency is None:
        return replace(seen, fields=fields)
    fields["currency"] = currency
    likely = {
        name: [
            replace(each.spot.found, trust=each.chance)
            for each in some
            if each.chance >= max(least, RIVAL * some[0].chance)
        ]
        for name, some in scored.items()
        if name in FIELDS["amount"]
        for least in [AMOUNT_LEAST if name in MAIN else BESIDE_LEAST]
    }
    found = totals(seen.sheet, seen.currency, seen.lines, seen.headers, likely)
    fields |= {
        name: replace(field, others=others_of(scored.get(name, ()), field))
        for name, field in found.fields.items()
    }
    return replace(seen, fields=fields, tax_lines=found.tax_lines, proved=found.proved)


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
    if currency_in(text) == code:
        return True
    bare = text.strip("().,;:").lower()
    return any(
        code in by_language.values() and bare.startswith(sign) and not bare[len(sign) :].isalpha()
        for sign, by_language in SHARED_SIGNS.items()
    )


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

    gross = reading.money("gross_total")
    if gross is None or gross.amount >= 0:
        return reading
    return replace(
        reading,
        fields={name: cell(each) for name, each in reading.fields.items()},
        lines=tuple(line(row) for row in reading.lines),
        tax_lines=tuple(line(row) for row in reading.tax_lines),
    )
