"""Words parsed once into what they can be."""

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal
from functools import lru_cache
from itertools import groupby, pairwise

from veridox.core.extract.thresholds import NARROW, NEAR
from veridox.core.locales.currencies import SHARED_SIGNS, SIGNS, currency_of, split_sign
from veridox.core.locales.dates import DateOrder, compact_day, find_dates, order_of_dates
from veridox.core.locales.languages import languages_of
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
from veridox.core.pages.layout import TextRow
from veridox.core.pages.words import WordOrigin

GLUED = re.compile(r"(\D*[^\W\d]\D*[:=])(\S*\d\S*)")
"""A label at whose colon its value hangs."""
COUNTED = re.compile(r"(\d{1,6}(?:[.,]\d{1,3})?)([^\W\d_]{1,6}\.?|[x×])")
"""A quantity with its unit at its heels."""
BRACKET = re.compile(r"([(\[])(\d[\d.,]*)|(\d[\d.,]*)([)\]])")
"""A number at a bracket that is closed, or was opened, by another word."""
PER = re.compile(r"(\d+[.,]\d{2,4}/)(10{0,3})([)\]]?)")
"""A price with the count it is for at its heels."""
EACH = re.compile(r"([€£$]?\d+[.,]\d{1,4}/)([^\W\d_]{1,6}[²³]?\.?)")
"""A price with its unit at its heels."""
LETTERED = re.compile(r"(.*\d[.,]\d\d)[A-Z]")
"""An amount with the letter of its tax rate at its heels."""
PARTS = {"½": Decimal("0.5"), "¼": Decimal("0.25"), "¾": Decimal("0.75")}
LEADER = re.compile(r"(.*?)[.…_·]{4,}(.*)")
UNITS = frozenset(
    (
        *("pcs", "ea", "h", "hr", "hrs", "kg", "g", "m", "m2", "m³", "m²", "l", "day"),
        *("days", "set", "pack", "stk", "stück", "st", "std", "tag", "pce", "jour", "ud"),
        *("pz", "szt", "un", "tim", "time", "kpl", "ks", "db", "buc", "hod", "godz"),
        *(
            "uur",
            "hour",
            "night",
            "unit",
            "each",
            "seat",
            "óra",
            "oră",
            "ora",
            "box",
            "pal",
            "psch",
            "km",
            "kwh",
            "t",
            "to",
        ),
        *("ton",),
    )
)
"""What quantities are counted in, as many suppliers print it."""
_SIGN = r"(?:[€£$]|zł|kr\.?|Kč|Fr\.?|Ft|lei|[A-Z]{3})"
HEAD = re.compile(rf"[-(\u2212+]?{_SIGN}?[-\u2212]?\d{{1,3}}")
REST = re.compile(rf"\d{{3}}(?:[.,]\d{{1,4}})?[-)]?(?:{_SIGN}|%)?[.,;:]?")
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
        languages: ISO 639-1 codes, the likeliest first; empty when nothing tells.
    """

    pages: tuple[Page, ...]
    tokens: list[Token]
    style: NumberFormat
    order: DateOrder | None
    languages: tuple[str, ...] = ()

    @property
    def language(self) -> str:
        """The likeliest, empty when nothing tells."""
        return self.languages[0] if self.languages else ""


def parted(word: Word) -> Iterable[Word]:
    """A word cut behind a label's colon, at dots that lead to a value, before a unit, at brackets
    that hold more than this word."""
    match = _where_cut(word.text)
    return [word] if match is None else _cut(word, match)


def _where_cut(text: str) -> re.Match[str] | None:
    match = BRACKET.fullmatch(text) or PER.fullmatch(text)
    if match is not None:
        return match
    each = EACH.fullmatch(text) if "/" in text else None
    if each is not None and _counts(each[2].rstrip(".").lower()):
        return each
    if text[:1].isdigit() and not text[-1].isdigit():
        counted = COUNTED.fullmatch(text)
        return counted if counted is not None and _counts(counted[2].rstrip(".")) else None
    leader = LEADER.fullmatch(text) if len(text) > 6 else None
    before = text[:-1]
    if leader is not None or "//" in text or (":" not in before and "=" not in before):
        return leader
    return GLUED.fullmatch(text)


def _counts(unit: str) -> bool:
    """Whether letters behind a number are a unit: 48m and 3Stk are, 3M is a name."""
    return unit in UNITS or unit in ("x", "×") or (len(unit) > 2 and unit.lower() in UNITS)


def _cut(word: Word, match: re.Match[str]) -> Iterable[Word]:
    """The parts of a word as words."""
    sign = word.box.width / len(word.text)
    for group, part in enumerate(match.groups(), start=1):
        if part:
            start = word.box.left + sign * match.start(group)
            box = Box(start, word.box.top, start + sign * len(part), word.box.bottom)
            yield replace(word, text=part, box=box)


def _parted_row(row: TextRow) -> tuple[int, list[Word]]:
    return row.page, [part for word in row.words for part in parted(word)]


def document_of(pages: tuple[Page, ...], order: DateOrder | None = None) -> Document:
    """Parse all pages of a document.

    Args:
        pages: of one document, in order.
        order: of numeric dates where the document itself does not tell.
    """
    rows = [_parted_row(row) for page in pages for row in rows_of(page)]
    texts = [word.text for _, row in rows for word in row]
    lines = [" ".join(word.text for word in row) for _, row in rows]
    languages = languages_of(lines)
    style = format_of_numbers(split_sign(text)[1] for text in texts)
    style = with_grouping_of(style or _usual(texts, languages), texts, _apart(rows))
    spaced = any(sign in style.group for sign in SPACES)
    tokens: list[Token] = []
    for at, (page, row) in enumerate(rows):
        for words in _numbers_joined(row) if spaced else ((word,) for word in row):
            tokens.append(_token(words, page, at, style))
    order = order_of_dates(lines) or order
    _mark_percent(tokens)
    _mark_days(tokens, order)
    return Document(pages, tokens, style, order, languages)


def _apart(rows: Sequence[tuple[int, Sequence[Word]]]) -> int:
    """How often groups of digits were recognised with a narrow space between."""
    return sum(
        one.origin is WordOrigin.OCR
        and HEAD.fullmatch(one.text) is not None
        and REST.fullmatch(other.text) is not None
        and other.box.left - one.box.right < NARROW * one.box.height
        for _, row in rows
        for one, other in pairwise(row)
    )


def with_order(document: Document, order: DateOrder) -> Document:
    """The same with its numeric dates read in an order, where it does not tell one itself."""
    if document.order is not None:
        return document
    tokens = [replace(token, day=None, first=False) for token in document.tokens]
    _mark_days(tokens, order)
    return replace(document, tokens=tokens, order=order)


def _usual(texts: Sequence[str], languages: Sequence[str]) -> NumberFormat:
    """Where no number tells: a point in English and on pages of pounds or dollars, else a comma."""
    english = not languages or languages[0] == "en"
    return POINT if english or any(text.startswith(("£", "$")) for text in texts) else COMMA


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
"""Signs of several currencies, or of ones that only some write; FR and FT are no signs."""
ALONE = frozenset([*SHARED_SIGNS, "kč", "ft", "lei", "fr"])


@lru_cache(maxsize=100_000)
def _number(text: str, style: NumberFormat) -> Decimal | None:
    """A number, also with a sign for a part (`2½`) and without what stands before its mark."""
    number = read_number(text, style)
    if number is None and text[-1:] in PARTS and (whole := text[:-1] or "0").isdigit():
        return Decimal(whole) + PARTS[text[-1]]
    if number is None and text[:1] in (".", ",") and text[1:].isdigit():
        return Decimal("0." + text[1:])
    return number


def _parsed(text: str, style: NumberFormat) -> tuple[Decimal | None, int, bool, str]:
    """Number, decimals, percent and currency of a text."""
    named = currency_of(text) or ""
    if named:
        return None, -1, False, named
    low = text.strip("().,;:").lower()
    if low in ALONE and not (text.isupper() and low.isascii() and low.isalpha()):
        return None, -1, False, low
    if not any(map(str.isnumeric, text)):
        return None, -1, False, ""
    bare = text.strip(",;:*/").rstrip(".")
    percent = bare.endswith("%")
    bare = bare.strip("%@").strip()
    code, rest = _signed(re.sub(r"(?:[.,]-+|,–|\.–)$", "", bare))  # "12,-"
    lettered = LETTERED.fullmatch(rest)
    rest = lettered[1] if lettered is not None else rest
    number = _number(rest, style)
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
        if text.startswith(sign) and text[len(sign) :][:1].isdigit():
            return sign, text[len(sign) :]
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
    for _, row in groupby(tokens, key=lambda token: token.row):
        _mark_days_of(list(row), order)


def _mark_days_of(row: Sequence[Token], order: DateOrder | None) -> None:
    starts, text = [], ""
    for token in row:
        starts.append(len(text))
        text += token.text + " "
    if not any(map(str.isdigit, text)):
        return
    for found in find_dates(text, order):
        own = [
            token
            for token, start in zip(row, starts, strict=True)
            if start < found.end and found.start < start + len(token.text)
        ]
        for token in own:
            token.day, token.first = found.value, token is own[0]
    for token in row:
        if token.day is None and len(token.text) == 8 and (day := compact_day(token.text)):
            token.day, token.first = day, True
