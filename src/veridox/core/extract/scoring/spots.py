"""Everything on the pages that could be a date, a number of a document, an amount or a name."""

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace

from stdnum import iban

from veridox.core.extract import values
from veridox.core.extract.parties import company
from veridox.core.extract.sheet import Sheet
from veridox.core.extract.spans import Span
from veridox.core.extract.values import Found
from veridox.core.locales.currencies import currency_of
from veridox.core.money import Money, minor_unit
from veridox.core.pages import Box, Segment, TextRow, Word

KINDS = ("date", "id", "amount", "name")
MOST = 160
"""Spots of a kind that are looked at, the first of the document."""
LONGEST = 60
"""Letters of a name."""
_ID = re.compile(r"[A-Za-z0-9ÄÖÜÉ][A-Za-z0-9ÄÖÜÉ./_\-–]*")
_PREFIX = re.compile(r"[A-Z]{1,4}")
_NAMES = frozenset([
    "VAT", "TVA", "IVA", "MWST", "UST", "UID", "NIP", "NIF", "CIF", "BTW", "KVK", "IBAN", "BIC",
    "NR", "NO", "PO", "TEL", "FAX", "EAN", "ID", "REF", "SIRET", "SIREN", "HRB", "RCS", "MOMS",
    "ORG", "LOT", "PAGE", "DOC", "INV", "ORD", "PC", "UE", "EU", "CE",
])  # fmt: skip
"""Abbreviations that name a number and are none of it."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Spot:
    """A place on a page with what it could state.

    Attributes:
        kind: of `KINDS`.
        found: value and place; the trust is not used.
        row: index in the sheet's rows.
        segment: index in the row's segments.
        first, last: indexes of its words in the segment.
    """

    kind: str
    found: Found
    row: int
    segment: int
    first: int
    last: int


def spots(
    sheet: Sheet, currency: str | None, lines: Mapping[int, tuple[float, float]]
) -> list[Spot]:
    """All spots in reading order.

    Args:
        sheet: the document.
        currency: of the document; without one there are no amounts.
        lines: rows of the line table, and from where to where it reaches in them: none of the
            header's values stand there, but some may stand beside it.
    """
    found: list[Spot] = []
    for at, (row, segments) in enumerate(zip(sheet.rows, sheet.segments, strict=True)):
        inside = lines.get(at)
        for part, segment in enumerate(segments):
            span = Span(words=segment.words, page=row.page, trust=1.0)
            if inside is not None and inside[0] <= segment.box.middle[0] <= inside[1]:
                continue
            taken: set[int] = set()
            for spot in (
                *_dates(span, sheet, at, part),
                *(_amounts(span, sheet, currency, at, part) if currency else ()),
                *_ids(span, at, part),
            ):
                places = set(range(spot.first, spot.last + 1))
                if spot.kind != "id":
                    taken |= places
                elif places & taken:
                    continue  # a date or an amount is no number of a document
                found.append(spot)
            if row.page == sheet.pages[0].number:
                found += _names(segment, row, at, part)
    return [spot for kind in KINDS for spot in [each for each in found if each.kind == kind][:MOST]]


def _spot(
    kind: str, found: Found, words: tuple[Word, ...], inside: Span, row: int, segment: int
) -> Spot:
    first = next(at for at, word in enumerate(inside.words) if word is words[0])
    return Spot(kind=kind, found=found, row=row, segment=segment, first=first,
                last=first + len(words) - 1)  # fmt: skip


def _found(value: object, words: tuple[Word, ...], page: int) -> Found:
    return Found(
        value=value,  # type: ignore[arg-type]
        text=" ".join(word.text for word in words), page=page,
        box=Box.around(word.box for word in words), trust=1.0,
    )  # fmt: skip


def _dates(span: Span, sheet: Sheet, row: int, segment: int) -> Iterator[Spot]:
    for found in values.dates(span, sheet.dates):
        words = tuple(
            word for word in span.words
            if found.box.left - 0.1 <= word.box.left and word.box.right <= found.box.right + 0.1
        )  # fmt: skip
        if words:
            yield _spot("date", found, words, span, row, segment)


def _amounts(span: Span, sheet: Sheet, currency: str, row: int, segment: int) -> Iterator[Spot]:
    whole = minor_unit(currency) == 1
    for number in values.numbers(span.words, sheet.numbers):
        decimal = sheet.numbers.decimal in number.words[-1].text.strip("€£$krKR.")
        if number.percent or not (decimal or number.currency or whole):
            continue
        money = Money(amount=number.number, currency=number.currency or currency)
        yield _spot(
            "amount", _found(money, number.words, span.page), number.words, span, row, segment
        )


def _ids(span: Span, row: int, segment: int) -> Iterator[Spot]:
    words = span.words
    for at, word in enumerate(words):
        text = word.text.strip(":;,()#").removesuffix(".")
        if not any(map(str.isdigit, text)) or not _ID.fullmatch(text) or len(text) > 30:
            continue
        if text.endswith(("-", "/")) or iban.is_valid(text):
            continue  # broken off, or an account
        if values.COUNTRY.match(text) and at + 1 < len(words):
            # "DE 123 456 789" is one number.
            whole = next(values.tax_ids(replace(span, words=words[at : at + 6])), None)
            if (
                whole is not None
                and whole.text != word.text
                and values.tax_id_holds(str(whole.value))
            ):
                yield _spot(
                    "id", whole, words[at : at + whole.text.count(" ") + 1], span, row, segment
                )
                continue
        before = words[at - 1].text if at else ""
        if (
            text[:1].isdigit()
            and _PREFIX.fullmatch(before)
            and before not in _NAMES
            and currency_of(before) is None
        ):
            # "RE 2026-118" is one number, of "NIPC 542115506" the first part names it.
            both = (words[at - 1], word)
            whole_text = f"{before} {text}"
            yield _spot("id", _found(whole_text, both, span.page), both, span, row, segment)
        yield _spot("id", _found(text, (word,), span.page), (word,), span, row, segment)


def _names(segment: Segment, row: TextRow, at: int, part: int) -> Iterator[Spot]:
    found = company(segment, row, 1.0)
    if found is not None and len(found.text) <= LONGEST and not segment.text.endswith(":"):
        yield Spot(kind="name", found=found, row=at, segment=part, first=0,
                   last=len(segment.words) - 1)  # fmt: skip
