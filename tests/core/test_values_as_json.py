from datetime import date
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from veridox.core.money import Money
from veridox.core.reading import (
    FIELDS,
    Field,
    FieldType,
    Kind,
    Origin,
    Reading,
    ValueFormatError,
    decode_value,
    encode_value,
    reading_from_json,
    reading_to_json,
)


@pytest.mark.parametrize(("kind", "data", "value"), [
    (FieldType.TEXT, "  Saltglass ", "Saltglass"),
    (FieldType.DATE, "2026-03-31", date(2026, 3, 31)),
    (FieldType.NUMBER, "12.50", Decimal("12.50")),
    (FieldType.RATE, "20", Decimal(20)),
    (FieldType.CURRENCY, "EUR", "EUR"),
    (FieldType.MONEY, "1421.28 GBP", Money.of("1421.28", "GBP")),
    (FieldType.MONEY, "1421.28", Money.of("1421.28", "EUR")),
    (FieldType.MONEY, {"amount": "-3", "currency": "JPY"}, Money.of("-3", "JPY")),
])  # fmt: skip
def test_values_are_typed(kind, data, value):
    assert decode_value(kind, data, currency="EUR") == value


@pytest.mark.parametrize(("kind", "data", "said"), [
    (FieldType.DATE, "31.03.2026", "2026-03-31"),
    (FieldType.NUMBER, "1,5", "decimal point"),
    (FieldType.NUMBER, "1e400", "out of range"),
    (FieldType.NUMBER, "Infinity", "out of range"),
    (FieldType.NUMBER, "", "string"),
    (FieldType.CURRENCY, "eur", "ISO 4217"),
    (FieldType.MONEY, "12 EUX", "ISO 4217"),
    (FieldType.MONEY, {"amount": "1"}, "exactly"),
    (FieldType.MONEY, {"amount": 1, "currency": "EUR"}, "strings"),
    (FieldType.MONEY, 12, "write 1421.28 GBP"),
    (FieldType.TEXT, "two\nlines", "one line"),
    (FieldType.TEXT, "x" * 3000, "at most"),
    (FieldType.TEXT, None, "string"),
])  # fmt: skip
def test_values_of_another_form_are_refused_with_what_is_wanted(kind, data, said):
    with pytest.raises(ValueFormatError, match=said):
        decode_value(kind, data, currency="EUR")


def test_money_without_a_known_currency_asks_for_it():
    with pytest.raises(ValueFormatError, match="has no currency"):
        decode_value(FieldType.MONEY, "12.00")


amounts = st.decimals(
    allow_nan=False, allow_infinity=False, places=3, min_value=-(10**9), max_value=10**9
)


@given(amounts, st.sampled_from(["EUR", "JPY", "KWD"]))
def test_money_survives_its_json_form_exactly(amount, currency):
    money = Money(amount=amount, currency=currency)
    assert decode_value(FieldType.MONEY, encode_value(money)) == money


@given(st.dictionaries(st.sampled_from(sorted(FIELDS)), st.floats(0, 1), max_size=6))
def test_any_reading_survives_its_json_form(confidences):
    values = {
        FieldType.TEXT: "x", FieldType.DATE: date(2026, 1, 2), FieldType.CURRENCY: "EUR",
        FieldType.MONEY: Money.of("1.10", "EUR"), FieldType.NUMBER: Decimal(1),
    }  # fmt: skip
    reading = Reading(
        kind=Kind.INVOICE,
        fields={
            name: Field(value=values[FIELDS[name].type], confidence=confidence, origin=Origin.TEXT)
            for name, confidence in confidences.items()
        },
    )
    once = reading_to_json(reading)
    assert reading_to_json(reading_from_json(once)) == once
    assert list(once["fields"]) == [name for name in FIELDS if name in confidences]


def test_a_confidence_outside_its_range_is_a_bug_and_raises():
    with pytest.raises(ValueError, match="between 0 and 1"):
        Field(value="x", confidence=1.1)
