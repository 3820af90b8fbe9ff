"""Numbers, dates, currencies and labels as documents of different languages write them."""

from veridox.core.locales.currencies import currency_of
from veridox.core.locales.dates import DateOrder, find_dates, order_of_dates
from veridox.core.locales.labels import Lexicon, lexicon, normalise
from veridox.core.locales.numbers import NumberFormat, format_of_numbers, read_number

__all__ = [
    "DateOrder",
    "Lexicon",
    "NumberFormat",
    "currency_of",
    "find_dates",
    "format_of_numbers",
    "lexicon",
    "normalise",
    "order_of_dates",
    "read_number",
]
