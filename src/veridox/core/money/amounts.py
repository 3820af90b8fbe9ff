"""An amount with its currency, and the arithmetic that invoices need."""

from collections.abc import Iterable
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal
from typing import Self

from veridox.core.money.currencies import minor_digits


class CurrencyMismatchError(ValueError):
    """Two amounts of different currencies were added or compared."""


def minor_unit(currency: str) -> Decimal:
    """The smallest amount of a currency: 0.01 for EUR, 1 for JPY, 0.001 for KWD."""
    return Decimal(1).scaleb(-minor_digits(currency))


def round_half_up(amount: Decimal, currency: str) -> Decimal:
    """Round to the currency's minor unit, halves away from zero (EN 16931 rounding)."""
    return amount.quantize(minor_unit(currency), rounding=ROUND_HALF_UP)


@dataclass(frozen=True, kw_only=True, slots=True)
class Money:
    """An exact amount in one currency. Not rounded unless `rounded` is called.

    Attributes:
        amount: in units of the currency (not in its minor unit), a finite decimal.
        currency: ISO 4217 code.
    """

    amount: Decimal
    currency: str

    def __post_init__(self) -> None:
        if not isinstance(self.amount, Decimal):
            raise TypeError(f"amount must be a Decimal, not {type(self.amount).__name__}")
        if not self.amount.is_finite():
            raise ValueError(f"amount must be finite, not {self.amount}")
        minor_digits(self.currency)

    @classmethod
    def of(cls, amount: str | int | Decimal, currency: str) -> Self:
        """Build from text, int or Decimal; floats are refused by type."""
        return cls(amount=Decimal(amount), currency=currency)

    def rounded(self) -> "Money":
        """Rounded half-up to the currency's minor unit."""
        return Money(amount=round_half_up(self.amount, self.currency), currency=self.currency)

    def _other(self, other: "Money") -> Decimal:
        if other.currency != self.currency:
            raise CurrencyMismatchError(f"{self} and {other} are of different currencies")
        return other.amount

    def __add__(self, other: "Money") -> "Money":
        return Money(amount=self.amount + self._other(other), currency=self.currency)

    def __sub__(self, other: "Money") -> "Money":
        return Money(amount=self.amount - self._other(other), currency=self.currency)

    def __neg__(self) -> "Money":
        return Money(amount=-self.amount, currency=self.currency)

    def __abs__(self) -> "Money":
        return Money(amount=abs(self.amount), currency=self.currency)

    def __lt__(self, other: "Money") -> bool:
        return self.amount < self._other(other)

    def __le__(self, other: "Money") -> bool:
        return self.amount <= self._other(other)

    def within(self, other: "Money", tolerance: Decimal) -> bool:
        """Whether both differ by at most `tolerance` (in currency units)."""
        return abs(self.amount - self._other(other)) <= tolerance

    def plain(self) -> str:
        """The amount alone with the minor unit's digits at least: `1421.28`."""
        digits = max(minor_digits(self.currency), -int(self.amount.as_tuple().exponent))
        return f"{self.amount:.{digits}f}"

    def __str__(self) -> str:
        digits = max(minor_digits(self.currency), -int(self.amount.as_tuple().exponent))
        return f"{self.amount:,.{digits}f} {self.currency}"


def total(amounts: Iterable[Money], currency: str) -> Money:
    """Exact sum of amounts that are all in `currency`; zero for none.

    Raises:
        CurrencyMismatchError: one of them is in another currency.
    """
    result = Money(amount=Decimal(0), currency=currency)
    for amount in amounts:
        result = result + amount
    return result
