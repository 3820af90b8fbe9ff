"""Words parsed once into what they can be."""

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal
from functools import lru_cache
from itertools import pairwise

from veridox.core.locales.currencies import SHARED_SIGNS, SIGNS, currency_of, split_sign
from veridox.core.locales.dates import DateOrder, compact_day, find_dates, order_of_dates
from veridox.core.locales.numbers import (
    COMMA,
    POINT,
    SPACES,
    NumberFormat,
    format_of_numbers,
    read_number,
    with_grouping_of,
)
from veridox.core.pages import Box, Page, Word, rows_of

GLUED = re.compile(r"(\D*[^\W\d]\D*[:=])(\S*\d\S*)")
"""A label at whose colon its value hangs."""
LEADER = re.compile(r"(.*?)[.…_·]{4,}(.*)")
NEAR = 0.5
"""Widest gap between groups of digits of one number, in letter heights."""
HEAD = re.compile(r"[-(\u2212+]?(?:[€£$]|zł|kr\.?|Kč|Fr\.)?[-\u2212]?\d{1,3}")
REST = re.compile(r"\d{3}(?:[.,]\d{1,4})?[-)]?(?:[€%]|zł|kr|Kč)?[.,;:]?")
MIDDLE = re.compile(r"\d{3}")


@dataclass(slots=True)
class Token:
    """A word, or the words of one number.

    Attributes:
        words: what it is made of.
        text: as shown; groups of digits parted by a space.
        box: around it, in points.
        page: number from 1.
        row: index of its row in the document.
        number: what it reads as, None for no number.
        places: decimals shown; -1 for no number.
        percent: whether it is a percentage, its sign in the next word or not.
        currency: code, or a sign of several currencies; empty for none.
        day: the day that it is part of.
        first: whether it begins that day.
        confidence: of the least sure word.
    """

    words: tuple[Word, ...]
    text: str
    box: Box
    page: int
    row: int
    number: Decimal | None = None
    places: int = -1
    percent: bool = False
    currency: str = ""
    day: date | None = None
    first: bool = False
    confidence: float = 1.0


@dataclass(slots=True)
class Document:
    """The tokens of a document's pages with what they tell of its way to write.

    Attributes:
        pages: as read.
        tokens: in reading order, row by row.
        style: of numbers.
        order: of the parts of numeric dates, None when nothing tells.
    """

    pages: tuple[Page, ...]
    tokens: list[Token]
    style: NumberFormat
    order: DateOrder | None


def parted(word: Word) -> Iterable[Word]:
    """A word cut behind a label's colon and at dots that lead to a value."""
    text = word.text
    match = LEADER.fullmatch(text) if len(text) > 6 else None
    if match is None and (":" in text[:-1] or "=" in text[:-1]) and "//" not in text:
        match = GLUED.fullmatch(text)
    if match is None:
        yield word
        return
    sign = word.box.width / len(text)
    for part, at in ((match[1], 0), (match[2], match.start(2))):
        if part:
            start = word.box.left + sign * at
            box = Box(start, word.box.top, start + sign * len(part), word.box.bottom)
            yield replace(word, text=part, box=box)


def document_of(pages: tuple[Page, ...], order: DateOrder | None = None) -> Document:
    """Parse all pages of a document.

    Args:
        pages: of one document, in order.
        order: of numeric dates where the document itself does not tell.
    """
    rows = [
        (row.page, [part for word in row.words for part in parted(word)])
        for page in pages
        for row in rows_of(page)
    ]
    texts = [word.text for _, row in rows for word in row]
    style = format_of_numbers(split_sign(text)[1] for text in texts)
    style = with_grouping_of(style or _usual(texts), texts)
    spaced = any(sign in style.group for sign in SPACES)
    tokens: list[Token] = []
    for at, (page, row) in enumerate(rows):
        for words in _numbers_joined(row) if spaced else ((word,) for word in row):
            tokens.append(_token(words, page, at, style))
    lines = [" ".join(word.text for word in row) for _, row in rows]
    order = order_of_dates(lines) or order
    _mark_percent(tokens)
    _mark_days(tokens, order)
    return Document(pages=pages, tokens=tokens, style=style, order=order)


def _usual(texts: Sequence[str]) -> NumberFormat:
    """Where no number tells: a point in pages of pounds or dollars, else a comma."""
    return POINT if any(text.startswith(("£", "$")) for text in texts) else COMMA


def _numbers_joined(row: Sequence[Word]) -> Iterable[tuple[Word, ...]]:
    at = 0
    while at < len(row):
        taken = 1
        if HEAD.fullmatch(row[at].text):
            while at + taken < len(row) and _goes_on(row[at + taken - 1], row[at + taken]):
                taken += 1
                if not MIDDLE.fullmatch(row[at + taken - 1].text):
                    break
        yield tuple(row[at : at + taken])
        at += taken


def _goes_on(one: Word, other: Word) -> bool:
    close = other.box.left - one.box.right < NEAR * one.box.height
    return close and REST.fullmatch(other.text) is not None


MORE_SIGNS = ("$", "kr.", "kr", "Kč", "Ft", "lei", "Fr.")
"""Signs of several currencies, or of ones that only some write."""
ALONE = frozenset([*SHARED_SIGNS, "kč", "ft", "lei", "fr"])


@lru_cache(maxsize=100_000)
def _parsed(text: str, style: NumberFormat) -> tuple[Decimal | None, int, bool, str]:
    """Number, decimals, percent and currency of a text."""
    named = currency_of(text) or ""
    if named:
        return None, -1, False, named
    low = text.strip("().,;:").lower()
    if low in ALONE:
        return None, -1, False, low
    if not any(map(str.isdigit, text)):
        return None, -1, False, ""
    bare = text.strip(",;:*").rstrip(".")
    percent = bare.endswith("%")
    bare = bare.strip("%@").strip()
    code, rest = _signed(re.sub(r"(?:[.,]-+|,–|\.–)$", "", bare))  # "12,-"
    number = read_number(rest, style)
    if number is None and rest[:1] in (".", ",") and rest[1:].isdigit():
        number = Decimal("0." + rest[1:])
    if number is None:
        return None, -1, False, code
    digits = re.sub(r"[^\d.,]", "", rest)
    places = len(digits) - digits.rindex(style.decimal) - 1 if style.decimal in digits else 0
    return number, places, percent, code


def _signed(text: str) -> tuple[str, str]:
    """The currency that is glued to a number, empty for none, and the number with its minus."""
    code, rest = split_sign(text)
    if code is not None:
        return code, rest
    for sign in MORE_SIGNS:
        if rest.startswith(sign) or rest.endswith(sign):
            return sign, rest.removeprefix(sign).removesuffix(sign)
    if rest[:1] in ("-", "\u2212", "("):
        for sign in (*SIGNS, "$"):
            if rest[1:].startswith(sign):
                return SIGNS.get(sign, sign), rest[0] + rest[1 + len(sign) :]
    return "", rest


def _token(words: tuple[Word, ...], page: int, row: int, style: NumberFormat) -> Token:
    text = " ".join(word.text for word in words)
    box = words[0].box if len(words) == 1 else Box.around(word.box for word in words)
    number, places, percent, currency = _parsed(text, style)
    return Token(
        words,
        text,
        box,
        page,
        row,
        number,
        places,
        percent,
        currency,
        confidence=min(word.confidence for word in words),
    )


def _mark_percent(tokens: Sequence[Token]) -> None:
    for one, other in pairwise(tokens):
        if other.text.startswith("%") and one.row == other.row and one.number is not None:
            one.percent = True


def _mark_days(tokens: Sequence[Token], order: DateOrder | None) -> None:
    """Mark the tokens of every date; one that is broken at the end of a row is not seen."""
    at = 0
    while at < len(tokens):
        end = at
        while end < len(tokens) and tokens[end].row == tokens[at].row:
            end += 1
        row = tokens[at:end]
        if any(sign.isdigit() for token in row for sign in token.text):
            starts, text = [], ""
            for token in row:
                starts.append(len(text))
                text += token.text + " "
            for found in find_dates(text, order):
                first = True
                for token, start in zip(row, starts, strict=True):
                    if start < found.end and found.start < start + len(token.text):
                        token.day, token.first = found.value, first
                        first = False
            for token in row:
                if token.day is None and len(token.text) == 8 and (day := compact_day(token.text)):
                    token.day, token.first = day, True
        at = end
