from datetime import date
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from veridox.core.locales.currencies import currency_of, split_sign
from veridox.core.locales.dates import DateOrder, find_dates, order_of_dates
from veridox.core.locales.labels import normalise
from veridox.core.locales.numbers import COMMA, POINT, format_of_numbers, read_number


@pytest.mark.parametrize(
    ("text", "style", "number"),
    [
        ("1,234.56", POINT, "1234.56"),
        ("1.234,56", COMMA, "1234.56"),
        ("1 234,56", COMMA, "1234.56"),
        ("1\u202f234,56", COMMA, "1234.56"),
        ("1\u00a0234,56", COMMA, "1234.56"),
        ("1'234.56", POINT, "1234.56"),
        ("1,23,456.00", POINT, "123456.00"),
        ("1234,5", COMMA, "1234.5"),
        ("(12.00)", POINT, "-12.00"),
        ("12.00-", POINT, "-12.00"),
        ("-12,00", COMMA, "-12.00"),
        ("\u221212.00", POINT, "-12.00"),
        ("12.00 CR", POINT, "-12.00"),
        ("1.234", COMMA, "1234"),
        ("1.234", POINT, "1.234"),
    ],
)
def test_numbers_are_read_in_their_format(text, style, number):
    assert read_number(text, style) == Decimal(number)


@pytest.mark.parametrize(
    ("text", "style"),
    [("1,50", POINT), ("1.50", COMMA), ("", POINT), ("12.34.56", POINT), ("1,2345", POINT),
     ("(12.00", POINT), ("12a", POINT), ("1,234.56", COMMA), (".", POINT), ("1 234.567,8", COMMA)],
)  # fmt: skip
def test_what_is_no_number_in_a_format_is_refused_and_not_guessed(text, style):
    assert read_number(text, style) is None


@given(st.decimals(min_value=0, max_value=10**9, places=2, allow_nan=False))
def test_a_printed_amount_is_read_back_in_both_formats(amount):
    english = f"{amount:,.2f}"
    german = english.translate(str.maketrans(",.", ".,"))
    assert read_number(english, POINT) == amount
    assert read_number(german, COMMA) == amount


def test_the_documents_numbers_settle_the_format():
    assert format_of_numbers(["1.234,56", "12", "3,50"]) is COMMA
    assert format_of_numbers(["1,234.56", "9.99"]) is POINT
    assert format_of_numbers(["1.234", "12"]) is None


def test_contradicting_numbers_settle_nothing():
    assert format_of_numbers(["1.50", "1,50"]) is None


@pytest.mark.parametrize(
    ("text", "day"),
    [
        ("Invoice date: 3 March 2026", date(2026, 3, 3)),
        ("14. März 2026", date(2026, 3, 14)),
        ("March 5, 2026", date(2026, 3, 5)),
        ("1st of December 2026", date(2026, 12, 1)),
        ("2026-03-31", date(2026, 3, 31)),
        ("31.12.26", date(2026, 12, 31)),
        ("05.11.2026", date(2026, 11, 5)),
        ("25/12/2026", date(2026, 12, 25)),
    ],
)
def test_dates_are_found_in_english_and_german_forms(text, day):
    found = find_dates(text, None)
    assert [each.value for each in found] == [day]
    assert not found[0].ambiguous


def test_a_date_that_can_be_two_days_says_so_until_the_order_is_known():
    assert find_dates("03/04/2026", None)[0].ambiguous
    assert find_dates("03/04/2026", DateOrder.MONTH_FIRST)[0].value == date(2026, 3, 4)
    assert find_dates("03/04/2026", DateOrder.DAY_FIRST)[0].value == date(2026, 4, 3)


def test_other_dates_of_the_document_settle_the_order():
    assert order_of_dates(["03/04/2026", "due 25/04/2026"]) is DateOrder.DAY_FIRST
    assert order_of_dates(["04/25/2026"]) is DateOrder.MONTH_FIRST
    assert order_of_dates(["25/04/2026", "04/25/2026"]) is None


@pytest.mark.parametrize("text", ["31.02.2026", "2026-13-01", "99/99/9999", "1.2.3.4", "no date"])
def test_days_outside_the_calendar_are_no_dates(text):
    assert find_dates(text, None) == []


def test_currency_signs_stand_before_or_after():
    assert split_sign("£1,254.00") == ("GBP", "1,254.00")
    assert split_sign("1.254,00€") == ("EUR", "1.254,00")
    assert split_sign("CHF12.00") == ("CHF", "12.00")
    assert currency_of("(EUR)") == "EUR"
    assert currency_of("$") is None


def test_labels_are_compared_without_case_accents_and_points():
    assert normalise("Fällig am:") == normalise("FALLIG AM")
    assert normalise("Rechnungs-Nr.") == ("rechnungs", "nr")
