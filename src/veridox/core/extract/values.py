"""Candidates for typed values within a span of words."""

import re
from collections.abc import Iterator
from dataclasses import dataclass
from decimal import Decimal
from itertools import pairwise

from veridox.core.extract.spans import Span
from veridox.core.locales.currencies import currency_of, split_sign
from veridox.core.locales.dates import DateOrder, find_dates
from veridox.core.locales.numbers import NumberFormat, read_number
from veridox.core.pages import Box, Word
from veridox.core.reading import Field, Value


@dataclass(frozen=True, kw_only=True, slots=True)
class Found:
    """A value with its place and how far it is to be trusted, in [0, 1]."""

    value: Value
    text: str
    page: int
    box: Box
    trust: float

    def as_field(self, confidence: float) -> Field:
        """The same as a field of a reading."""
        return Field(
            value=self.value, text=self.text, page=self.page, box=self.box, confidence=confidence
        )


def _found(value: Value, words: tuple[Word, ...], span: Span, factor: float = 1.0) -> Found:
    return Found(
        value=value,
        text=" ".join(word.text for word in words),
        page=span.page,
        box=Box.around(word.box for word in words),
        trust=span.trust * factor,
    )


_IDENTIFIER = re.compile(r"[A-Za-z0-9][A-Za-z0-9./_\-]*")


def identifiers(span: Span) -> Iterator[Found]:
    """Numbers of documents and orders: the first word with a digit in it.

    A short upper-case prefix (`RE 2026-118`) belongs to it.
    """
    words = span.words
    for position, word in enumerate(words[:4]):
        text = word.text.strip(":;,()")
        if not any(char.isdigit() for char in text) or not _IDENTIFIER.fullmatch(text):
            continue
        if text.endswith(("-", "/")):
            return  # broken at the end of its line: half a number is none
        before = words[position - 1].text if position else ""
        if re.fullmatch(r"[A-Z]{1,4}", before):
            yield _found(f"{before} {text}", words[position - 1 : position + 1], span)
        else:
            yield _found(text, (word,), span)
        return


def dates(span: Span, order: DateOrder | None) -> Iterator[Found]:
    """Dates of a span; ambiguous ones at half trust."""
    words = span.words
    starts, length = [], 0
    for word in words:
        starts.append(length)
        length += len(word.text) + 1
    for each in find_dates(span.text, order):
        covered = tuple(
            word
            for word, start in zip(words, starts, strict=True)
            if start < each.end and each.start < start + len(word.text)
        )
        if covered:
            yield _found(each.value, covered, span, 0.5 if each.ambiguous else 1.0)


@dataclass(frozen=True, kw_only=True, slots=True)
class FoundNumber:
    """A number among words, with what stands around it.

    Attributes:
        number: the value.
        words: it was read from, including a currency sign.
        currency: named by a sign beside it.
        percent: a percent sign follows.
    """

    number: Decimal
    words: tuple[Word, ...]
    currency: str | None
    percent: bool


def numbers(words: tuple[Word, ...], style: NumberFormat) -> list[FoundNumber]:
    """All numbers of a row of words. Neighbours that form grouped digits are one number."""
    found: list[FoundNumber] = []
    position = 0
    while position < len(words):
        step = _number_at(words, position, style)
        if step is None:
            position += 1
            continue
        number, used = step
        found.append(number)
        position += used
    return found


def _as_one(taken: tuple[Word, ...], used: int) -> bool:
    """Whether so many words may be one number; a dash between two facts is no minus."""
    if used == 1 or len(taken) < used:
        return len(taken) == used
    return _touching(taken) and taken[-1].text not in "-–"


def _number_at(
    words: tuple[Word, ...], position: int, style: NumberFormat
) -> tuple[FoundNumber, int] | None:
    for used in (3, 2, 1):
        taken = words[position : position + used]
        if not _as_one(taken, used):
            continue
        text = " ".join(word.text for word in taken)
        currency, bare = split_sign(text)
        percent = bare.endswith("%")
        bare = bare.rstrip("%,;").rstrip()
        number = read_number(bare, style)
        if number is None and bare.endswith("."):
            number = read_number(bare[:-1], style)  # the end of a sentence
        if number is None:
            continue
        after = words[position + used].text if position + used < len(words) else ""
        before = words[position - 1].text if position else ""
        percent = percent or after.startswith("%")
        if currency is None:
            currency = currency_of(before) or currency_of(after)
        return FoundNumber(number=number, words=taken, currency=currency, percent=percent), used
    return None


def _touching(words: tuple[Word, ...]) -> bool:
    """Whether words stand as close as digit groups of one number do: a space apart, which is
    as wide as a letter where all letters are."""
    return all(
        second.box.left - first.box.right
        < max(0.45 * first.box.height, 1.1 * first.box.width / len(first.text))
        for first, second in pairwise(words)
    )
