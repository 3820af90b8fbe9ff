"""Rate cards: what a vendor's charges were agreed to be, and each line of a bill against them."""

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from enum import StrEnum
from fnmatch import fnmatchcase

from veridox.core.locales.units import times
from veridox.core.money import Money, minor_unit, round_half_up
from veridox.core.reading import Row
from veridox.core.reading.reading import cell_money, cell_number, cell_text


@dataclass(frozen=True, kw_only=True, slots=True)
class AgreedRate:
    """One charge of a rate card.

    Attributes:
        card: name of the card.
        code: of the charge, empty where it is known by its wording.
        wording: of the charge; `*` stands for anything. Empty where it is known by its code.
        currency: ISO 4217.
        unit: that the price is for; empty says nothing.
        price: for one, without tax; None for a percentage.
        percent: of other charges; None for a price.
        of: code or wording of the charges that a percentage is of; empty for all others on the
            card.
        from_quantity: from so many on it holds, until a band with more begins.
        first, last: days on which it holds; None for no limit.
    """

    card: str
    currency: str
    code: str = ""
    wording: str = ""
    unit: str = ""
    price: Decimal | None = None
    percent: Decimal | None = None
    of: str = ""
    from_quantity: Decimal = Decimal(0)
    first: date | None = None
    last: date | None = None

    def holds(self, day: date) -> bool:
        """Whether it is in force on a day."""
        return (self.first is None or self.first <= day) and (self.last is None or day <= self.last)


class Verdict(StrEnum):
    """What a line is to its card."""

    AGREED = "as agreed"
    ABOVE = "above"
    BELOW = "below"
    NOT_LISTED = "not on the card"
    OTHER_UNIT = "in another unit"


@dataclass(frozen=True, kw_only=True, slots=True)
class Audited:
    """A line of a bill against its card.

    Attributes:
        at: its number on the bill, from 1.
        verdict: what it is.
        amount: that is asked for it, without tax.
        rate: that it falls under; None where none does.
        due: what it would be as agreed; None where that cannot be told.
    """

    at: int
    verdict: Verdict
    amount: Money
    rate: AgreedRate | None = None
    due: Money | None = None


def audit(rows: Sequence[Row], rates: Iterable[AgreedRate]) -> tuple[Audited, ...]:
    """Each line that asks for money, against the rates that are in force.

    A code says more than a wording, a longer wording more than a shorter one. Of several bands
    the highest counts that the quantity reaches. Amounts may be off by one minor unit.
    """
    every = list(rates)
    stated = [(at, row, amount) for at, row in enumerate(rows, 1)
              if (amount := cell_money(row, "amount")) is not None and amount.amount]  # fmt: skip
    named = {at: _named(row, every, amount.currency) for at, row, amount in stated}
    percents = {at for at, found in named.items() if any(r.percent is not None for r in found)}
    result = []
    for at, row, amount in stated:
        found = named[at]
        if not found:
            result.append(Audited(at=at, verdict=Verdict.NOT_LISTED, amount=amount))
        elif at in percents:
            rate = max(found, key=lambda each: each.from_quantity)
            base = sum(
                (other.amount for n, line, other in stated
                 if n not in percents and other.currency == amount.currency
                 and (_is_called(line, rate.of) if rate.of else named[n])),
                Decimal(0),
            )  # fmt: skip
            due = round_half_up(base * (rate.percent or Decimal(0)) / 100, amount.currency)
            result.append(_judged(at, amount, rate, due))
        else:
            result.append(_by_price(at, row, amount, found))
    return tuple(result)


def _by_price(at: int, row: Row, amount: Money, found: Sequence[AgreedRate]) -> Audited:
    quantity, unit = cell_number(row, "quantity") or Decimal(1), cell_text(row, "unit") or ""
    counted = [
        (rate, quantity * factor) for rate in found
        if (factor := times(unit, rate.unit)) is not None
    ]  # fmt: skip
    if not counted:
        return Audited(at=at, verdict=Verdict.OTHER_UNIT, amount=amount, rate=found[0])
    reached = [each for each in counted if each[0].from_quantity <= abs(each[1])]
    if not reached:
        return Audited(at=at, verdict=Verdict.NOT_LISTED, amount=amount)
    rate, count = max(reached, key=lambda each: each[0].from_quantity)
    due = round_half_up(count * (rate.price or Decimal(0)), amount.currency)
    return _judged(at, amount, rate, due)


def _judged(at: int, amount: Money, rate: AgreedRate, due: Decimal) -> Audited:
    over = amount.amount - due
    verdict = Verdict.ABOVE if over > 0 else Verdict.BELOW
    if abs(over) <= minor_unit(amount.currency):
        verdict = Verdict.AGREED
    agreed = Money(amount=due, currency=amount.currency)
    return Audited(at=at, verdict=verdict, amount=amount, rate=rate, due=agreed)


def _named(row: Row, rates: Iterable[AgreedRate], currency: str) -> list[AgreedRate]:
    """Rates that a line falls under: those that name it most closely."""
    best, found = 0, list[AgreedRate]()
    for rate in rates:
        said = _closeness(row, rate) if rate.currency == currency else 0
        if said > best:
            best, found = said, []
        if said and said == best:
            found.append(rate)
    return found


_BY_CODE = 10_000
"""A code says more than the longest wording."""


def _closeness(row: Row, rate: AgreedRate) -> int:
    if rate.code and _key(rate.code) == _key(cell_text(row, "item_code") or ""):
        return _BY_CODE
    return len(rate.wording) if rate.wording and _is_called(row, rate.wording) else 0


def _is_called(row: Row, said: str) -> bool:
    """Whether a line has a code, or a wording with `*` for anything."""
    code, text = cell_text(row, "item_code") or "", cell_text(row, "description") or ""
    if code and _key(code) == _key(said):
        return True
    return fnmatchcase(_words(text), _pattern(said))


def _pattern(said: str) -> str:
    """Only `*` stands for anything; other signs for themselves."""
    return re.sub(r"([?\[])", r"[\1]", _words(said))


def _words(text: str) -> str:
    return " ".join(text.lower().split())


def _key(code: str) -> str:
    return re.sub(r"[^A-Z0-9]", "", code.upper())
