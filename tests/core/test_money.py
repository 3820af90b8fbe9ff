from decimal import Decimal

import pytest

from veridox.core.money import CurrencyMismatchError, Money, round_half_up, total


@pytest.mark.parametrize(
    ("amount", "currency", "rounded"),
    [
        ("1.005", "EUR", "1.01"),
        ("-1.005", "EUR", "-1.01"),
        ("10.5", "JPY", "11"),
        ("1.0005", "KWD", "1.001"),
        ("2.675", "GBP", "2.68"),
    ],
)
def test_halves_are_rounded_away_from_zero_to_the_minor_unit(amount, currency, rounded):
    assert round_half_up(Decimal(amount), currency) == Decimal(rounded)


def test_a_float_is_no_amount():
    with pytest.raises(TypeError, match="Decimal"):
        Money(amount=0.1, currency="EUR")  # type: ignore[arg-type]


@pytest.mark.parametrize("amount", ["NaN", "Infinity"])
def test_an_amount_is_finite(amount):
    with pytest.raises(ValueError, match="finite"):
        Money.of(amount, "EUR")


def test_amounts_of_two_currencies_are_never_added_or_compared():
    euros, pounds = Money.of("1", "EUR"), Money.of("1", "GBP")
    with pytest.raises(CurrencyMismatchError):
        euros + pounds
    with pytest.raises(CurrencyMismatchError):
        assert euros < pounds


def test_a_sum_is_exact():
    assert total([Money.of("0.10", "EUR")] * 3, "EUR") == Money.of("0.30", "EUR")


def test_an_unknown_currency_is_refused_by_name():
    with pytest.raises(ValueError, match="'EUX'"):
        Money.of("1", "EUX")


def test_amounts_are_shown_with_the_digits_of_their_currency():
    assert str(Money.of("1234.5", "EUR")) == "1,234.50 EUR"
    assert Money.of("1234", "JPY").plain() == "1234"
    assert Money.of("0.1250", "EUR").plain() == "0.1250"
