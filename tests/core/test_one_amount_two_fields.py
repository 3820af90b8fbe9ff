"""One amount of a page that is the total and what is due: a correction of one is one of both."""

from dataclasses import replace

import pytest

from veridox.core.money import Money
from veridox.core.pages import Box
from veridox.core.pipeline.edits import corrected
from veridox.core.reading import Field, Origin, Reading

SPOT = Box(10, 10, 40, 20)


def both(**changes):
    own = Field(value=Money.of("120.00", "GBP"), text="120.00", page=1, box=SPOT, confidence=0.9)
    other = replace(own, **changes)
    return Reading(fields={"gross_total": own, "amount_due": other})


CHANGE = {"fields": {"gross_total": {"amount": "130.00", "currency": "GBP"}}}


def test_who_corrects_one_of_two_fields_read_from_one_spot_corrects_both():
    after = corrected(both(), CHANGE, frozenset({1}))
    for name in ("gross_total", "amount_due"):
        assert after.money(name) == Money.of("130.00", "GBP")
        assert after.fields[name].origin is Origin.PERSON


@pytest.mark.parametrize(
    "other",
    [
        {"box": Box(10, 30, 40, 40)}, {"origin": Origin.PERSON}, {"page": 2},
        {"value": Money.of("90.00", "GBP")},
    ],
)  # fmt: skip
def test_what_stands_elsewhere_or_was_entered_stays(other):
    before = both(**other)
    after = corrected(before, CHANGE, frozenset({1, 2}))
    assert after.fields["amount_due"] == before.fields["amount_due"]


def test_a_value_given_for_the_other_field_is_not_overwritten():
    change = {"fields": {**CHANGE["fields"], "amount_due": {"amount": "5.00", "currency": "GBP"}}}
    after = corrected(both(), change, frozenset({1}))
    assert after.money("amount_due") == Money.of("5.00", "GBP")


def test_taking_one_field_out_leaves_the_other():
    after = corrected(both(), {"fields": {"amount_due": None}}, frozenset({1}))
    assert after.money("gross_total") == Money.of("120.00", "GBP")
