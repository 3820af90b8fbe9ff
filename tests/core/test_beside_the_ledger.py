"""A bill beside what stands in the ledger: both figures, and whether they are the same."""

import pytest

from tests.core.test_checks import facts, gbp
from veridox.core.matching import LedgerRecord, beside_ledger
from veridox.core.money import Money
from veridox.core.reading import Reading

READING = facts().reading


def record(open_="1421.28", currency="GBP"):
    return LedgerRecord(booked_as="BL-1", number="SG/10467", total=gbp("1421.28"), how="number",
                        open=Money.of(open_, currency) if open_ else None)  # fmt: skip


@pytest.mark.parametrize(("open_", "asks", "equal", "said"), [
    ("1421.28", None, True, "the bill asks for 1,421.28 GBP: the same."),
    ("1421.27", None, True, "the bill asks for 1,421.28 GBP: the same."),
    ("1400.00", None, False, "is open with 1,400.00 GBP; the bill asks for 1,421.28 GBP, "
                             "21.28 GBP more."),
    ("1500.00", None, False, "78.72 GBP less."),
    ("400.00", "400.00", True, "the bill asks for 400.00 GBP: the same."),
    (None, None, None, "the ledger does not tell what is open"),
])  # fmt: skip
def test_what_is_open_is_compared_with_what_is_left_to_pay(open_, asks, equal, said):
    reading = facts(amount_due=gbp(asks)).reading if asks else READING
    found = beside_ledger(reading, record(open_))
    assert found.equal is equal
    assert said in found.said
    assert found.said.startswith("BL-1 (SG/10467)")


def test_what_cannot_be_compared_is_said_and_not_guessed():
    other = beside_ledger(READING, record("1421.28", "EUR"))
    assert other.equal is None
    assert "in another currency" in other.said
    unread = beside_ledger(Reading(), record())
    assert (unread.equal, unread.asked) == (None, None)
    assert "is not read" in unread.said


def test_how_far_both_may_differ_is_counted_in_minor_units():
    assert beside_ledger(READING, record("1421.20"), within=8).equal is True
    assert beside_ledger(READING, record("1421.19"), within=8).equal is False
