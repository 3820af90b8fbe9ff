"""Values as people type them: usual forms are taken, what can mean two things is refused."""

import re
from datetime import date
from decimal import Decimal

from veridox.core.locales.dates import DateOrder, find_dates
from veridox.core.locales.numbers import COMMA, POINT, read_number
from veridox.core.money import is_currency, minor_digits

DAY_FIRST = ("de", "fr", "es", "it", "nl", "pl", "pt", "sv")
"""Languages in which 03/04/2026 is the third of April; in English it may be either."""


class TypedError(ValueError):
    """What was typed cannot be taken, in words that say what it could mean."""


class TwoNumbersError(TypedError):
    """What was typed can be two numbers.

    Attributes:
        large, small: what it can be.
    """

    def __init__(self, text: str, large: Decimal, small: Decimal) -> None:
        super().__init__(
            f"{text!r} can be {large:f} or {small:f}; write {large:f}.00 or {small:f}0"
        )
        self.large, self.small = large, small


def typed_number(text: str) -> Decimal:
    """A number in any usual form: `1421.28`, `1.421,28`, `1 421,28`, `1'421.28`, `-12,50`.

    Raises:
        TypedError: it is none, or can be read in two ways (`1.234`, `1,234`).
    """
    bare = text.strip()
    read = (read_number(bare, style) for style in (POINT, COMMA))
    found = sorted({each for each in read if each is not None and not _zero_led(bare, each)})
    if not found:
        raise TypedError(f"{text!r} is not a number; write it as 1421.28")
    if len(found) > 1:
        small, large = sorted(found, key=abs)
        raise TwoNumbersError(text, large, small)
    return found[0]


def _zero_led(text: str, value: Decimal) -> bool:
    """Whether a reading takes the zero of `0.125` for a group of thousands."""
    return bool(re.match(r"[-(+]?\s*0[.,]\d{3}", text)) and abs(value) >= 1


def typed_amount(text: str, currency: str | None) -> tuple[Decimal, str]:
    """An amount with its currency, which is typed or the document's.

    Raises:
        TypedError: no number, no currency, or more decimals than the currency has.
    """
    match = re.fullmatch(r"\s*(?:([A-Za-z]{3})\s*)?(.*?)(?:\s*([A-Za-z]{3}))?\s*", text)
    before, number, after = match.groups() if match else (None, text, None)
    named = (before or after or "").upper()
    if named and not is_currency(named):
        raise TypedError(f"{named!r} is not an ISO 4217 code such as EUR or GBP")
    code = named or currency or ""
    if not code:
        raise TypedError(f"{text!r} has no currency and the document has none; write 1421.28 GBP")
    try:
        value = typed_number(number)
    except TwoNumbersError as error:
        if _places(error.small) <= minor_digits(code):
            raise
        raise TypedError(
            f"{text!r} can be {error.large:,f} {code} or {error.small:f}, which has more decimals "
            f"than {code}; write {error.large:f} if it is the first"
        ) from error
    refuse_more_digits(value, code)
    return value, code


def refuse_more_digits(value: Decimal, currency: str) -> None:
    """Raises TypedError when an amount has more decimals than its currency."""
    places, most = _places(value), minor_digits(currency)
    if places > most:
        raise TypedError(f"{value:f} has {places} decimals; amounts in {currency} have {most}")


def _places(value: Decimal) -> int:
    return -int(value.normalize().as_tuple().exponent)


def typed_day(text: str, language: str | None) -> date:
    """A day in any usual form: `2026-03-31`, `31.03.2026`, `31 March 2026`, `31 mars 2026`.

    Args:
        text: as typed.
        language: of the document (ISO 639-1), which may say what 03/04/2026 means.

    Raises:
        TypedError: it is none, or can be read in two ways.
    """
    bare = text.strip()
    order = DateOrder.DAY_FIRST if language in DAY_FIRST else None
    found = [each for each in find_dates(bare, order) if each.text == bare]
    if not found:
        raise TypedError(f"{text!r} is not a date; write it as 2026-03-31")
    if found[0].ambiguous:
        first = found[0].value
        (other,) = (e.value for e in find_dates(bare, DateOrder.MONTH_FIRST) if e.text == bare)
        raise TypedError(
            f"{text!r} can be {_in_words(first)} or {_in_words(other)}; "
            f"write {first.isoformat()} or {other.isoformat()}"
        )
    return found[0].value


def _in_words(day: date) -> str:
    return f"{day.day} {day:%B %Y}"
