"""What the bench of reading counts, and that its truth adds up."""

from decimal import Decimal

import pytest

from tools.bench_reading import by_field, judge
from tools.corpus.bills import bill
from veridox.core.money import Money
from veridox.core.reading import Field, Kind, Reading

TRUTH = {
    "kind": "invoice", "fields": {"number": "A-1", "gross_total": "10.00", "account": "NL20 X"},
    "lines": [{"quantity": "2", "unit_price": "5", "amount": "10.00"}], "tax_lines": [],
}  # fmt: skip


def test_right_wrong_missing_and_invented_are_told_apart():
    fields = {
        "number": Field(value="a-1 "), "gross_total": Field(value=Money.of("11.00", "EUR")),
        "order_number": Field(value="PO"),
    }  # fmt: skip
    counts = by_field([judge(Reading(kind=Kind.INVOICE, fields=fields), TRUTH)])
    assert counts["number"].right == 1
    assert counts["gross_total"].wrong == 1
    assert counts["account"].missing == 1
    assert counts["order_number"].invented == 1
    assert (counts["header"].stated, counts["header"].right) == (3, 1)


def test_a_line_is_right_when_quantity_price_and_amount_are():
    good = {
        "quantity": Field(value=Decimal("2.0")), "unit_price": Field(value=Decimal(5)),
        "amount": Field(value=Money.of("10.00", "EUR")),
    }  # fmt: skip
    bad = {**good, "quantity": Field(value=Decimal(5)), "unit_price": Field(value=Decimal(2))}
    assert judge(Reading(lines=(good,)), TRUTH).lines_right == 1
    assert judge(Reading(lines=(bad,)), TRUTH).lines_right == 0
    twice = {**TRUTH, "lines": TRUTH["lines"] * 2}
    assert judge(Reading(lines=(good,)), twice).lines_right == 1


@pytest.mark.parametrize("seed", range(40))
def test_what_is_billed_adds_up_but_for_errors_made_on_purpose(seed):
    drawn = bill(seed)
    assert sum(item.amount for item in drawn.items) == drawn.lines_total
    assert drawn.lines_total - drawn.allowance + drawn.charge == drawn.net
    assert sum(tax.base for tax in drawn.taxes) == drawn.net
    assert drawn.gross - drawn.net - drawn.tax in (0, 10, 60, -1)


def test_the_same_seed_gives_the_same_bill():
    assert bill(7, "pl") == bill(7, "pl")
    assert bill(7, "pl") != bill(8, "pl")
