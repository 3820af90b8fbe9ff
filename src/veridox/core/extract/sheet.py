"""A document's pages prepared for the search: rows, formats, language, labels."""

import re
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import chain

from veridox.core.extract.thresholds import SHARED
from veridox.core.locales.currencies import SHARED_SIGNS, currency_of, split_sign
from veridox.core.locales.dates import DateOrder, order_of_dates
from veridox.core.locales.labels import (
    Label,
    Lexicon,
    as_in_labels,
    lexicon,
    normalise,
)
from veridox.core.locales.languages import languages_of
from veridox.core.locales.numbers import (
    COMMA,
    POINT,
    NumberFormat,
    format_of_numbers,
    with_grouping_of,
)
from veridox.core.pages import Box, Page, Segment, TextRow, Word, rows_of
from veridox.core.pages.words import WordOrigin

DAY_FIRST_CURRENCIES = frozenset(
    ["EUR", "GBP", "CHF", "SEK", "DKK", "NOK", "PLN", "CZK", "HUF", "RON", "BGN"]
)


@dataclass(frozen=True, kw_only=True, slots=True)
class LabelHit:
    """A label of the lexicon found on a page.

    Attributes:
        label: which one.
        row: where.
        first, last: indexes of its words in the row, both included.
        box: around its words.
    """

    label: Label
    row: TextRow
    first: int
    last: int
    box: Box


@dataclass(frozen=True, kw_only=True, slots=True)
class Sheet:
    """Everything the extractors look at.

    Attributes:
        pages: the document's pages in order.
        rows: of all pages, from the top of the first to the bottom of the last.
        segments: of each row, at the row's index in `rows`.
        numbers: how the document writes numbers.
        dates: how it writes numeric dates, None when it does not tell.
        languages: ISO 639-1 codes of those in which its labels may be, the likeliest first.
        currency: likeliest ISO 4217 code with the share of votes, None without any.
        hits: labels found, in reading order.
        values_below: values stand below their labels rather than right of them.
    """

    pages: tuple[Page, ...]
    rows: tuple[TextRow, ...]
    segments: tuple[tuple[Segment, ...], ...]
    numbers: NumberFormat
    dates: DateOrder | None
    languages: tuple[str, ...]
    currency: tuple[str, float] | None
    hits: tuple[LabelHit, ...]
    values_below: bool = False

    @property
    def language(self) -> str:
        """ISO 639-1 code of the likeliest language; empty when nothing tells."""
        return self.languages[0] if self.languages else ""

    def position(self, row: TextRow) -> int:
        """Index of a row in `rows`."""
        before = sum(1 for each in self.rows if each.page < row.page)
        return before + row.index

    def hits_of(self, field: str) -> Iterator[LabelHit]:
        """Hits of one field."""
        return (hit for hit in self.hits if hit.label.field == field)


def prepare(pages: tuple[Page, ...]) -> Sheet:
    """Look over the pages once."""
    rows = tuple(_unglued(row) for page in pages for row in rows_of(page))
    segments = tuple(row.segments() for row in rows)
    texts = [word.text for row in rows for word in row.words]
    languages = languages_of(row.text for row in rows)
    language = languages[0] if languages else ""
    currency = _currency(texts) or _by_language(texts, languages)
    numbers = format_of_numbers(split_sign(text)[1] for text in texts)
    hits = chain.from_iterable(
        label_hits(row, parts, lexicon("header"), languages)
        for row, parts in zip(rows, segments, strict=True)
    )
    return Sheet(
        pages=pages,
        rows=rows,
        segments=segments,
        numbers=with_grouping_of(numbers or (POINT if language in ("", "en") else COMMA), texts),
        dates=order_of_dates(row.text for row in rows) or _usual_order(currency),
        languages=languages,
        currency=currency,
        hits=tuple(hits),
    )


_GLUED = re.compile(r"(\D*[^\W\d]\D*:)(\S*\d\S*)")
_LEADER = re.compile(r"(.*?)[.…_·]{4,}(.*)")
"""Dots or rules that lead from a label to its value."""


LEADING = 6
"""Signs of a word from which it may hold a leader."""


def _unglued(row: TextRow) -> TextRow:
    """The row with labels parted from the values that stand behind their colon without a space."""
    if not any(":" in word.text[:-1] or len(word.text) > LEADING for word in row.words):
        return row
    words: list[Word] = []
    for word in row.words:
        match = _LEADER.fullmatch(word.text) if len(word.text) > LEADING else None
        if match is None and "//" not in word.text:
            match = _GLUED.fullmatch(word.text)
        if match is None:
            words.append(word)
            continue
        box, sign = word.box, word.box.width / len(word.text)
        for text, left in ((match[1], 0), (match[2], match.start(2))):
            if text:
                start = box.left + sign * left
                part = Box(start, box.top, start + sign * len(text), box.bottom)
                words.append(replace(word, text=text, box=part))
    return replace(row, words=tuple(words)) if words else row


def _usual_order(currency: tuple[str, float] | None) -> DateOrder | None:
    """The order of dates where a currency is used; dollars are written both ways."""
    if currency is not None and currency[0] in DAY_FIRST_CURRENCIES:
        return DateOrder.DAY_FIRST
    return None


def currency_in(text: str) -> str | None:
    """The currency that a word names, alone or beside a number or a word."""
    glued = _CODE_AND_WORD.match(text)
    return currency_of(glued[1] if glued else text) or split_sign(text)[0]


_CODE_AND_WORD = re.compile(r"([A-Z]{3})(?=[A-ZÀ-Þ][a-zß-ÿ])")
"""A currency's code with the next sentence at its heels: `EURZahlbar`."""


def _currency(texts: list[str]) -> tuple[str, float] | None:
    votes: Counter[str] = Counter()
    for text in texts:
        code = currency_in(text)
        if code:
            votes[code] += 1
    if not votes:
        return None
    best, count = votes.most_common(1)[0]
    return best, count / votes.total()


def _shared_sign(texts: list[str], language: str) -> tuple[str, float] | None:
    """A sign of several currencies, taken for the one of the document's language."""
    bare = [text.strip("().,;:").lower() for text in texts]
    for sign, by_language in SHARED_SIGNS.items():
        code = by_language.get(language) or by_language.get("")
        if code and any(
            text == sign or (text.startswith(sign) and text[len(sign)].isdigit()) for text in bare
        ):
            return code, SHARED
    return None


_RATE = re.compile(r"@?\d{1,2}(?:[.,]\d+)?%?|@|%")


def _rate_words(words: tuple[Word, ...]) -> set[int]:
    """Indexes of words that state a tax rate: `19 %`, `@20%`, `19,00 %`."""
    rates: set[int] = set()
    for index, word in enumerate(words):
        if _RATE.fullmatch(word.text) is None:
            continue
        after = words[index + 1].text if index + 1 < len(words) else ""
        if "%" in word.text or word.text == "@" or after == "%":
            rates.add(index)
    return rates


def _tokens(words: tuple[Word, ...], skipped: set[int]) -> tuple[tuple[str, ...], list[int]]:
    """Normalised words and, for each, the index of the word it came from."""
    tokens: list[str] = []
    owners: list[int] = []
    for index, word in enumerate(words):
        if index in skipped:
            continue
        for token in normalise(word.text):
            tokens.append(as_in_labels(token) if word.origin is WordOrigin.OCR else token)
            owners.append(index)
    return tuple(tokens), owners


def _by_language(texts: list[str], languages: tuple[str, ...]) -> tuple[str, float] | None:
    """What a sign that several currencies share means where one of the languages is spoken."""
    shared = (_shared_sign(texts, each) for each in languages or ("",))
    return next((found for found in shared if found), None)


def label_hits(
    row: TextRow,
    segments: tuple[Segment, ...],
    words: Lexicon,
    languages: tuple[str, ...] = (),
) -> Iterator[LabelHit]:
    """Labels in a row, from left to right, the longest at each place.

    A label begins a segment, follows a slash or another label, or ends with a
    colon; otherwise "please pay by transfer" would be a label.
    """
    # Rates stand inside labels ("zzgl. 19 % MwSt.") and before them ("20% VAT").
    rates = _rate_words(row.words)
    tokens, owners = _tokens(row.words, rates)
    starts = {id(segment.words[0]) for segment in segments}
    position = 0
    after_label = False
    labelled: Word | None = None
    while position < len(tokens):
        label = words.match(tokens, position, languages)
        if label is None:
            after_label = False
            position += 1
            continue
        end = position + len(label.words)
        first, last = owners[position], owners[end - 1]
        begins = position == 0 or owners[position - 1] != first
        # PO-26-0101 is a value, not the label "PO".
        value = end < len(owners) and owners[end] == last and tokens[end].isdigit()
        before = _text_before(row, first)
        slash = before.endswith(("/", "|", "·"))
        stands_out = (
            slash
            or after_label
            or _opens(row, starts, _opening(first, rates), last)
            or _follows(before, segments, labelled, row.words[first])
        )
        if value:
            position += 1
        elif (begins or slash) and stands_out:
            yield LabelHit(
                label=label,
                row=row,
                first=first,
                last=last,
                box=Box.around(word.box for word in row.words[first : last + 1]),
            )
            after_label = True
            labelled = row.words[first]
            position += len(label.words)
        else:
            after_label = False
            position += 1


def _text_before(row: TextRow, first: int) -> str:
    return row.words[first - 1].text if first else ""


def _opens(row: TextRow, starts: set[int], first: int, last: int) -> bool:
    """Whether words begin a segment, or end with a colon."""
    return id(row.words[first]) in starts or row.words[last].text.endswith(":")


def _opening(first: int, rates: set[int]) -> int:
    """The first of the rates before a word, or itself."""
    while first - 1 in rates:
        first -= 1
    return first


def _follows(before: str, segments: tuple[Segment, ...], labelled: Word | None, word: Word) -> bool:
    """Behind the value of another label of the same cell: "Date 2026-04-18 Invoice no. ..."."""
    return any(map(str.isdigit, before)) and _same_cell(segments, labelled, word)


def _same_cell(segments: tuple[Segment, ...], one: Word | None, other: Word) -> bool:
    """Whether two words stand in the same segment."""
    return one is not None and any(
        any(word is one for word in segment.words) and any(word is other for word in segment.words)
        for segment in segments
    )
