"""Dates as printed, with the month names of the languages of Europe (data of CLDR)."""

import re
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from enum import StrEnum

from veridox.core.locales.labels import LANGUAGES, fold, load_data


class DateOrder(StrEnum):
    """Which part a numeric date begins with."""

    DAY_FIRST = "day first"
    MONTH_FIRST = "month first"


@dataclass(frozen=True, kw_only=True, slots=True)
class FoundDate:
    """A date in a text.

    Attributes:
        value: the day.
        text: the piece of text it was read from.
        start, end: its place in the text.
        ambiguous: day and month could also be the other way round.
    """

    value: date
    text: str
    start: int
    end: int
    ambiguous: bool = False


_MONTHS: dict[str, int] = {
    fold(name): int(number)
    for names_of in (
        load_data("months.json"), *(load_data(f"months.{language}.json") for language in LANGUAGES)
    )
    for number, names in names_of.items()
    for name in names
}  # fmt: skip
"""By folded name; the nine languages with a lexicon come last and so win where names clash."""
_MONTH = "|".join(sorted(map(re.escape, _MONTHS), key=len, reverse=True))
_ISO = re.compile(r"(?<![\d./-])(\d{4})([./-]) ?(\d{1,2})\2 ?(\d{1,2})(?![\d/-])")
_COMPACT = re.compile(r"(20[0-4]\d)(0[1-9]|1[0-2])([0-2]\d|3[01])")
_YEAR_MONTH = re.compile(rf"(?<!\d)(\d{{4}})\.? ({_MONTH}) (\d{{1,2}})(?!\d)")
"""As in Hungary: 2026. november 3."""
_NUMERIC = re.compile(r"(?<![\d.,/-])(\d{1,2})([./-])\s?(\d{1,2})\2\s?(\d{4}|\d{2})(?![\d])")
_DAY_MONTH = re.compile(
    rf"(?<!\d)(\d{{1,2}})(?:\.|st|nd|rd|th|er|[ºo°])?[ -]*(?:of |de |d')?({_MONTH})\.?,?[ -]*"
    r"(?:de |del )?(\d{4}|\d{2})(?!\d)"
)
_MONTH_DAY = re.compile(rf"\b({_MONTH})\.? +(\d{{1,2}})(?:st|nd|rd|th)?,? +(\d{{4}})(?!\d)")


def _day(year: str, month: int, day: int) -> date | None:
    full = int(year) + (2000 if len(year) == 2 else 0)
    if not 1990 <= full <= 2099:
        return None
    try:
        return date(full, month, day)
    except ValueError:
        return None


def compact_day(text: str) -> date | None:
    """The day that eight digits alone may be (`20261103`); they may as well be a number."""
    match = _COMPACT.fullmatch(text)
    return _day(match[1], int(match[2]), int(match[3])) if match else None


def find_dates(text: str, order: DateOrder | None) -> list[FoundDate]:
    """All dates in one line of text, from left to right.

    `order` says how to read 03/04/2026. Without it dates with a point are read
    day first, as everywhere in Europe, and others are marked ambiguous.
    """
    low = fold(text)
    if len(low) != len(text):  # a folded letter became two: places no longer agree
        text = low
    found: list[FoundDate] = []

    def add(match: re.Match[str], value: date | None, ambiguous: bool = False) -> None:
        if value is None or any(match.start() < f.end and f.start < match.end() for f in found):
            return
        found.append(
            FoundDate(
                value=value,
                text=text[match.start() : match.end()],
                start=match.start(),
                end=match.end(),
                ambiguous=ambiguous,
            )
        )

    for match in _ISO.finditer(low):
        add(match, _day(match[1], int(match[3]), int(match[4])))
    for match in _YEAR_MONTH.finditer(low):
        add(match, _day(match[1], _MONTHS[match[2]], int(match[3])))
    for match in _DAY_MONTH.finditer(low):
        add(match, _day(match[3], _MONTHS[match[2]], int(match[1])))
    for match in _MONTH_DAY.finditer(low):
        add(match, _day(match[3], _MONTHS[match[1]], int(match[2])))
    for match in _NUMERIC.finditer(low):
        add(match, *_numeric(match, order))
    return sorted(found, key=lambda each: each.start)


def _numeric(match: re.Match[str], order: DateOrder | None) -> tuple[date | None, bool]:
    first, second, year = int(match[1]), int(match[3]), match[4]
    if first > 12 or second > 12 or first == second:
        day, month = (first, second) if second <= 12 else (second, first)
        return _day(year, month, day), False
    if match[2] == "." or order is not None:
        month_first = order is DateOrder.MONTH_FIRST and match[2] != "."
        day, month = (second, first) if month_first else (first, second)
        return _day(year, month, day), False
    return _day(year, second, first), True


def order_of_dates(texts: Iterable[str]) -> DateOrder | None:
    """What the numeric dates of a document say about their order; None if nothing or both."""
    seen = set()
    for text in texts:
        for match in _NUMERIC.finditer(text):
            first, second = int(match[1]), int(match[3])
            if 12 < first <= 31 and second <= 12:
                seen.add(DateOrder.DAY_FIRST)
            elif 12 < second <= 31 and first <= 12:
                seen.add(DateOrder.MONTH_FIRST)
    return seen.pop() if len(seen) == 1 else None
