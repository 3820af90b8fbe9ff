"""Rates of tax on sales by country and day: a table with source and validity (`rates.csv`)."""

import csv
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from enum import StrEnum
from importlib.resources import files
from typing import Final

EU: Final = frozenset(
    "AT BE BG CY CZ DE DK EE ES FI FR GR HR HU IE IT LT LU LV MT NL PL PT RO SE SI SK".split()  # noqa: SIM905 - a table
)
"""Member states by ISO 3166 code (2020-02-01 on)."""


class RateStanding(StrEnum):
    """What the table says of a rate on a day."""

    VALID = "valid"
    ENDED = "ended"  # it was valid before that day, and is no more
    TO_COME = "to come"  # it becomes valid later
    UNKNOWN = "unknown"  # no row of the country has it
    FREE = "free"  # the country knows no fixed rates
    NO_COUNTRY = "no country"  # the table has no rows of it


@dataclass(frozen=True, kw_only=True, slots=True)
class Rate:
    """One row of the table.

    Attributes:
        country: ISO 3166 code; `XI` for Northern Ireland.
        kind: `standard`, `reduced`, `zero`, `regional`, `temporary`, ... `free` for no rates.
        rate: in percent; None for `free`.
        begins, ends: first and last day; None for no limit that matters here.
        source: the law it stands in.
    """

    country: str
    kind: str
    rate: Decimal | None
    begins: date | None
    ends: date | None
    source: str

    def holds(self, day: date) -> bool:
        """Whether it is valid on a day."""
        return (self.begins is None or self.begins <= day) and (
            self.ends is None or day <= self.ends
        )


def _day(text: str) -> date | None:
    return date.fromisoformat(text) if text else None


def _table() -> dict[str, tuple[Rate, ...]]:
    found: dict[str, list[Rate]] = {}
    text = (files("veridox.core.tax") / "rates.csv").read_text("utf-8")
    for row in csv.DictReader(text.splitlines()):
        rate = Rate(
            country=row["country"], kind=row["kind"], source=row["source"],
            rate=Decimal(row["rate"]) if row["rate"] else None,
            begins=_day(row["from"]), ends=_day(row["to"]),
        )  # fmt: skip
        found.setdefault(rate.country, []).append(rate)
    return {country: tuple(rows) for country, rows in found.items()}


TABLE: Final = _table()
"""Rows by country."""


def standing(country: str, rate: Decimal, day: date) -> RateStanding:
    """What the table says of a rate in a country on a day.

    Args:
        country: ISO 3166 code.
        rate: in percent.
        day: the tax point.
    """
    rows = TABLE.get(country)
    if rows is None:
        return RateStanding.NO_COUNTRY
    if any(row.rate is None for row in rows):
        return RateStanding.FREE
    same = [row for row in rows if row.rate == rate]
    if not same:
        return RateStanding.UNKNOWN
    if any(row.holds(day) for row in same):
        return RateStanding.VALID
    if any(row.ends is not None and row.ends < day for row in same):
        return RateStanding.ENDED
    return RateStanding.TO_COME


def rates_of(country: str, day: date) -> tuple[Decimal, ...]:
    """Rates that are valid in a country on a day, highest first, each once."""
    rows = TABLE.get(country, ())
    return tuple(
        sorted({row.rate for row in rows if row.rate is not None and row.holds(day)}, reverse=True)
    )


def source_of(country: str, rate: Decimal) -> str:
    """Where a rate of a country stands, empty when no row has it; the newest row counts."""
    return next((row.source for row in reversed(TABLE.get(country, ())) if row.rate == rate), "")
