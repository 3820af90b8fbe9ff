"""Values as people type them."""

from datetime import date
from decimal import Decimal

import pytest

from veridox.core.locales.typed import (
    TypedError,
    refuse_more_digits,
    typed_amount,
    typed_day,
    typed_number,
)


@pytest.mark.parametrize(("text", "value"), [
    ("1421.28", "1421.28"), ("1.421,28", "1421.28"), ("1,421.28", "1421.28"),
    ("1 421,28", "1421.28"), ("1'421.28", "1421.28"), ("1421,28", "1421.28"), ("12,5", "12.5"),
    ("1,50", "1.50"), ("-12.00", "-12.00"), ("(12.00)", "-12.00"), ("12.00-", "-12.00"),
    ("0.125", "0.125"), ("0,125", "0.125"), ("1234.567", "1234.567"), ("1,234,567", "1234567"),
    ("1.234.567", "1234567"), ("42", "42"),
])  # fmt: skip
def test_usual_forms_of_numbers_are_taken(text, value):
    assert typed_number(text) == Decimal(value)


@pytest.mark.parametrize(("text", "both"), [
    ("1.234", ["1234", "1.234"]), ("1,234", ["1234", "1.234"]), ("12.345", ["12345", "12.345"]),
    ("-1.234", ["-1234", "-1.234"]),
])  # fmt: skip
def test_what_can_be_two_numbers_is_refused_with_both(text, both):
    with pytest.raises(TypedError) as refused:
        typed_number(text)
    assert all(each in str(refused.value) for each in both)


@pytest.mark.parametrize("text", ["", "abc", "1.2.3", "1,2,3", "12.34.56", "--1", "1e5", "NaN"])
def test_what_is_no_number_is_told(text):
    with pytest.raises(TypedError, match="not a number"):
        typed_number(text)


@pytest.mark.parametrize(("text", "currency", "found"), [
    ("1.421,28", "EUR", ("1421.28", "EUR")), ("1421.28 GBP", "EUR", ("1421.28", "GBP")),
    ("gbp 1,421.28", None, ("1421.28", "GBP")), ("1500", "JPY", ("1500", "JPY")),
    ("1500.0", "JPY", ("1500.0", "JPY")), ("1.2345", "KWD", None), ("12.345", None, None),
])  # fmt: skip
def test_amounts_carry_their_currency_and_no_more_decimals_than_it_has(text, currency, found):
    if found is None:
        with pytest.raises(TypedError):
            typed_amount(text, currency)
    else:
        assert typed_amount(text, currency) == (Decimal(found[0]), found[1])


@pytest.mark.parametrize(("value", "currency", "good"), [
    ("12.34", "GBP", True), ("12.345", "GBP", False), ("12.340", "GBP", True), ("1", "JPY", True),
    ("1.5", "JPY", False), ("1.234", "KWD", True), ("1.2345", "KWD", False), ("1E+3", "GBP", True),
])  # fmt: skip
def test_more_digits_than_the_currency_has_are_refused(value, currency, good):
    if good:
        refuse_more_digits(Decimal(value), currency)
    else:
        with pytest.raises(TypedError, match="decimals"):
            refuse_more_digits(Decimal(value), currency)


@pytest.mark.parametrize(("text", "language", "day"), [
    ("2026-03-31", "en", (2026, 3, 31)), ("31.03.2026", "de", (2026, 3, 31)),
    ("31 March 2026", "en", (2026, 3, 31)), ("31 mars 2026", "fr", (2026, 3, 31)),
    ("31/03/2026", "en", (2026, 3, 31)), ("03/31/2026", "en", (2026, 3, 31)),
    ("03/04/2026", "fr", (2026, 4, 3)), ("4/4/2026", "en", (2026, 4, 4)),
    ("03.04.2026", "en", (2026, 4, 3)),
])  # fmt: skip
def test_usual_forms_of_days_are_taken(text, language, day):
    assert typed_day(text, language) == date(*day)


@pytest.mark.parametrize("language", ["en", None])
def test_a_day_that_can_be_two_is_refused_with_both(language):
    with pytest.raises(TypedError) as refused:
        typed_day("03/04/2026", language)
    assert "3 April 2026" in str(refused.value)
    assert "4 March 2026" in str(refused.value)


@pytest.mark.parametrize("text", ["", "soon", "2026-13-01", "31.02.2026", "2026", "on 2026-03-31"])
def test_what_is_no_day_is_told(text):
    with pytest.raises(TypedError, match="not a date"):
        typed_day(text, "en")
