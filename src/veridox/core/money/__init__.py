"""Money, currencies, rounding and tolerances: exact decimals throughout."""

from veridox.core.money.amounts import (
    CurrencyMismatchError,
    Money,
    minor_unit,
    round_half_up,
    total,
)
from veridox.core.money.currencies import CURRENCIES, is_currency, minor_digits

__all__ = [
    "CURRENCIES",
    "CurrencyMismatchError",
    "Money",
    "is_currency",
    "minor_digits",
    "minor_unit",
    "round_half_up",
    "total",
]
