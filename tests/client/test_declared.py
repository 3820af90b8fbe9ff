"""Readings with fields that a pipeline declares, as the client gives them."""

from datetime import date
from decimal import Decimal

from veridox.client.readings import Money, reading_of


def entry(value):
    return {"value": value, "confidence": 0.97, "origin": "text"}


def test_declared_fields_have_the_types_that_the_reading_tells():
    types = {"time_on_site": "number", "sampled": "date", "deposit": "money", "urgency": "choice"}
    reading = reading_of({
        "fields": {
            "number": entry("SG/7"), "issue_date": entry("2026-11-05"),
            "time_on_site": entry("97"), "sampled": entry("2026-11-02"), "urgency": entry("new"),
            "deposit": entry({"amount": "4.50", "currency": "GBP"}),
        },
        "extra_fields": {name: {"type": kind} for name, kind in types.items()},
    })  # fmt: skip
    assert reading.time_on_site.value == Decimal(97)
    assert reading.sampled.value == date(2026, 11, 2)
    assert reading.deposit.value == Money(amount=Decimal("4.50"), currency="GBP")
    assert reading.urgency.value == "new"
    assert reading.issue_date.value == date(2026, 11, 5)
