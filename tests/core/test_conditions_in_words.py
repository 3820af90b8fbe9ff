"""Conditions told with the values they looked at, and never otherwise than they were evaluated."""

from datetime import date, timedelta
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from veridox.core.language import NotEvaluableError, compile_condition, evaluate, look
from veridox.core.language.explain import LONGEST, shown_value
from veridox.core.language.syntax import Percent, Type
from veridox.core.language.words import in_words
from veridox.core.money import Money

NAMES = {
    "gross_total": Money.of("6120.00", "GBP"), "net_total": Money.of("5100.00", "GBP"),
    "risk": Percent(Decimal("0.0117")), "kind": "invoice", "subject": "Invoice\nSG/10442",
    "blocked": True, "issue_date": date(2026, 11, 5), "due_date": date(2026, 12, 5),
    "vendor.needs_order": False, "file.size": Decimal(2400),
}  # fmt: skip


@pytest.mark.parametrize(("source", "said", "holds"), [
    ("gross_total > 5000 GBP", "gross_total 6,120.00 GBP > 5,000.00 GBP: yes", True),
    ("risk > 1 %", "risk 1.17 % > 1 %: yes", True),
    ("risk > 10 %", "risk 1.17 % > 10 %: no", False),
    ("blocked", "blocked: yes", True),
    ("not blocked", "not blocked yes: no", False),
    ('kind == "credit note"', 'kind "invoice" == "credit note": no', False),
    ('kind in ["invoice", "credit note"]',
     'kind "invoice" in ["invoice", "credit note"]: yes', True),
    ('found("total.sum")', 'found("total.sum"): yes', True),
    ('subject matches "*SG*"', 'subject "Invoice SG/10442" matches "*SG*": yes', True),
    ("order_number is missing", "order_number is missing: yes", True),
    ("kind is missing", 'kind "invoice" is missing: no', False),
    ('order_number == "PO-1"',
     'order_number (missing) == "PO-1": cannot be evaluated (order_number is missing)', None),
    ("due_date - issue_date > 14 days",
     "due_date 2026-12-05 - issue_date 2026-11-05 > 14 days: yes", True),
    ("blocked and (risk > 10 % or gross_total > 1 GBP)",
     "blocked yes and (risk 1.17 % > 10 % or gross_total 6,120.00 GBP > 1.00 GBP): yes", True),
    ("gross_total - (net_total - 20 GBP) > 1000 GBP",
     "gross_total 6,120.00 GBP - (net_total 5,100.00 GBP - 20.00 GBP) > 1,000.00 GBP: yes", True),
    ("gross_total - net_total * 2 > 1 GBP",
     "gross_total 6,120.00 GBP - net_total 5,100.00 GBP * 2 > 1.00 GBP: no", False),
    ("gross_total > 5000 EUR",
     "gross_total 6,120.00 GBP > 5,000.00 EUR: cannot be evaluated (no rate from GBP to EUR)",
     None),
    ("file.size > -1", "file.size 2400 > -1: yes", True),
])  # fmt: skip
def test_a_condition_is_told_with_its_values(source, said, holds):
    found = look(compile_condition(source), NAMES, {"total.sum"})
    assert (found.said, found.holds) == (said, holds)


class Banker:
    """Knows what a pound is worth."""

    def rate(self, source, target, day=None):
        del day
        worth = {"GBP": Decimal(1), "EUR": Decimal("1.17"), "JPY": Decimal(195)}
        return worth[target] / worth[source] if {source, target} <= set(worth) else None


@pytest.mark.parametrize(("source", "said", "holds"), [
    ("gross_total > 7000 EUR", "gross_total 6,120.00 GBP (7,160.40 EUR) > 7,000.00 EUR: yes", True),
    ("7000 EUR < gross_total", "7,000.00 EUR < gross_total 6,120.00 GBP (7,160.40 EUR): yes", True),
    ("gross_total == 7160.40 EUR",
     "gross_total 6,120.00 GBP (7,160.40 EUR) == 7,160.40 EUR: yes", True),
    ("gross_total != 7160.40 EUR",
     "gross_total 6,120.00 GBP (7,160.40 EUR) != 7,160.40 EUR: no", False),
    ("gross_total > 1193401 JPY",
     "gross_total 6,120.00 GBP (1,193,400 JPY) > 1,193,401 JPY: no", False),
    ("gross_total - net_total > 1193 EUR",
     "gross_total 6,120.00 GBP - net_total 5,100.00 GBP (1,193.40 EUR) > 1,193.00 EUR: yes", True),
    ("gross_total - 1000 EUR > 5265 GBP", "gross_total 6,120.00 GBP (7,160.40 EUR) - 1,000.00 EUR "
     "(5,265.30 GBP) > 5,265.00 GBP: yes", True),
    ("gross_total in [1 JPY, 7160.40 EUR]",
     "gross_total 6,120.00 GBP in [1 JPY, 7,160.40 EUR]: yes", True),
    ("gross_total > 1 NOK",
     "gross_total 6,120.00 GBP > 1.00 NOK: cannot be evaluated (no rate from GBP to NOK)", None),
])  # fmt: skip
def test_amounts_are_compared_in_the_currency_that_the_condition_names(source, said, holds):
    found = look(compile_condition(source), NAMES, rates=Banker())
    assert (found.said, found.holds) == (said, holds)


@pytest.mark.parametrize(("value", "shown"), [
    (True, "yes"), (Percent(Decimal("0.000004")), "0 %"), (Percent(Decimal("0.1")), "10 %"),
    (timedelta(days=1), "1 day"), (Decimal("1E+3"), "1000"), ("a" * 200, None),
])  # fmt: skip
def test_values_are_written_as_people_write_them(value, shown):
    said = shown_value(value)
    assert said == shown if shown else len(said) == LONGEST + 2


PARTS = st.sampled_from([
    "blocked", "risk > 1 %", 'kind == "invoice"', "order_number is missing",
    'contract_number == "C"', "gross_total > 5000 EUR", 'found("total.sum")',
])  # fmt: skip


@given(PARTS, st.sampled_from(["and", "or"]), PARTS, st.sampled_from(["and", "or"]), PARTS)
def test_what_is_told_is_what_is_evaluated(first, one, second, other, third):
    expression = compile_condition(f"{first} {one} ({second} {other} {third})")
    found = look(expression, NAMES, {"total.sum"})
    try:
        assert found.holds is bool(evaluate(expression, NAMES, {"total.sum"}))
        assert found.why == ""
    except NotEvaluableError as error:
        assert (found.holds, found.why) == (None, str(error))


@pytest.mark.parametrize(("source", "said"), [
    ("gross_total > 5000 GBP", "The total with tax (6,120.00 GBP) is more than 5,000.00 GBP."),
    ("risk >= 1 %", "The chance that a value is wrong (1.17 %) is at least 1 %."),
    ("blocked", "Something stops it."),
    ("not blocked", "It is not so that something stops it."),
    ('kind in ["invoice", "credit note"]',
     "The kind of document (invoice) is one of invoice, credit note."),
    ("order_number is missing", "The order number is not stated."),
    ('order_number == "PO-1"', "The order number (not stated) is PO-1."),
    ("due_date > 2026-12-01", "The due date (2026-12-05) is after 2026-12-01."),
    ('found("total.sum")', "Net and tax do not add up to the total."),
    ('site == "north"', "The sampling site (north) is north."),
    ("risk > 1 % and (blocked or risk > 10 %)",
     "The chance that a value is wrong (1.17 %) is more than 1 % and (something stops it or the "
     "chance that a value is wrong (1.17 %) is more than 10 %)."),
    ("gross_total - net_total > 1000 GBP",
     "The total with tax (6,120.00 GBP) less the net total (5,100.00 GBP) is more than "
     "1,000.00 GBP."),
])  # fmt: skip
def test_clerks_read_words(source, said):
    expression = compile_condition(source, {"site": Type.TEXT})
    assert in_words(expression, {**NAMES, "site": "north"}, {"site": "Sampling site"}) == said


@pytest.mark.parametrize(("source", "words"), [
    ("days_between(issue_date, due_date) > 20",
     "The number of days from the issue date (2026-11-05) to the due date (2026-12-05) "
     "is more than 20."),
    ('contains(subject, "reminder")', "The subject of the mail (Invoice SG/10442) "
     "contains reminder."),
    ("any(line.amount > 500 GBP for line in lines if line.tax_rate is missing)",
     "For one of the lines where its tax rate is not stated, its amount is more than 500.00 GBP."),
    ("sum(tax.amount for tax in tax_lines) > 5 GBP",
     "The sum over the tax lines of its amount is more than 5.00 GBP."),
    ("count(lines) > 3", "The number of lines is more than 3."),
    ('part(subject, "PO-[0-9]+") is missing',
     "The part of the subject of the mail (Invoice SG/10442) that is like PO-[0-9]+ "
     "is not stated."),
])  # fmt: skip
def test_no_clerk_reads_a_function_or_a_list_as_it_is_written(source, words):
    said = in_words(compile_condition(source), NAMES)
    assert said == words


def test_every_function_has_words():
    from veridox.core.language.functions import _ADDED, FUNCTIONS

    assert all(
        each.words for name, each in FUNCTIONS.items() if name != "found" and name not in _ADDED
    )
