from datetime import date
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from veridox.core.language import ExpressionError, NotEvaluableError, compile_condition, evaluate
from veridox.core.language.syntax import Percent
from veridox.core.money import Money

NAMES = {
    "kind": "invoice",
    "blocked": False,
    "risk": Percent(Decimal("0.02")),
    "gross_total": Money.of("5000.01", "GBP"),
    "net_total": Money.of("4166.68", "GBP"),
    "issue_date": date(2026, 11, 5),
    "due_date": date(2026, 12, 5),
    "vendor.name": "Saltglass Systems Ltd",
    "subject": "Invoice SG/10442",
}


@pytest.mark.parametrize(("source", "value"), [
    ("gross_total > 5000 GBP", True),
    ("gross_total > 5000.01 GBP", False),
    ("gross_total >= 5000.01 GBP and not blocked", True),
    ("risk > 0.1 %", True),
    ("risk > 2 %", False),
    ('kind == "credit note" or kind == "invoice"', True),
    ('kind in ["invoice", "till receipt"]', True),
    ('kind not in ["invoice"]', False),
    ("order_number is missing", True),
    ("order_number is not missing", False),
    ('order_number is missing or order_number == "PO-1"', True),
    ('subject matches "*sg/*"', True),
    ('subject matches "SG*"', False),
    ('found("total.sum")', True),
    ('found("tax.sum")', False),
    ("issue_date < 2026-11-06", True),
    ("due_date - issue_date <= 30 days", True),
    ("days_between(issue_date, due_date) == 30", True),
    ("gross_total - net_total > net_total * 20 %", False),
    ('startswith(lower(vendor.name), "salt")', True),
    ("gross_total / net_total < 1.3", True),
    ("not (blocked or gross_total < 1 GBP)", True),
    ("gross_total + net_total == 9166.69 GBP", True),
    ("gross_total - net_total == 833.33 GBP", True),
    ("net_total * 2 == 8333.36 GBP", True),
    ("2 * net_total == 8333.36 GBP", True),
    ("net_total * 25 % == 1041.67 GBP", True),
    ("net_total / 4 == 1041.67 GBP", True),
    ("net_total / net_total == 1", True),
    ("1 + 2 == 3 and not blocked", True), ("5 - 2 == 3 and not blocked", True),
    ("6 * 2 == 12 and not blocked", True), ("6 / 2 == 3 and not blocked", True),
    ("-1 + 2 == 1 and not blocked", True), ("-risk < 0 %", True), ("-(gross_total) < 0 GBP", True),
    ("issue_date + 30 days == due_date", True),
    ("due_date - 30 days == issue_date", True),
    ("days_between(due_date, issue_date) == -30", True),
    ("gross_total >= 5000.02 GBP", False), ("gross_total <= 5000.01 GBP", True),
    ("gross_total <= 5000 GBP", False), ("gross_total < 5000.01 GBP", False),
    ("gross_total != 5000.01 GBP", False), ("gross_total == 5000.01 GBP", True),
    ("blocked and order_number == \"x\"", False), ("not blocked or order_number == \"x\"", True),
    ('subject matches "invoice s?/10442"', True), ('subject matches "invoice s?10442"', False),
    ('startswith(subject, "invoice")', True), ('startswith(subject, "voice")', False),
])  # fmt: skip
def test_conditions_mean_what_they_say(source, value):
    assert evaluate(compile_condition(source), NAMES, {"total.sum"}) is value


@pytest.mark.parametrize(("source", "message", "hint"), [
    ("rsk > 1 %", "unknown name 'rsk'", "did you mean risk?"),
    ("gross_total > 5000", "cannot be compared", "5000 GBP"),
    ("risk > 0.1", "cannot be compared", "0.1 %"),
    ('found("total.summ")', "no finding has the code", "total.sum"),
    ("gross_total", "a condition is needed", ""),
    ("1 EUR < 2 GBP", "cannot be compared", ""),
    ("kind = 1", "unexpected '='", "=="),
    ("kind == ", "expected a value, found the end", ""),
    ("(blocked", "expected ')'", ""),
    ("blocked blocked", "unexpected 'blocked'", ""),
    ("2026-02-30 < issue_date", "no day of the calendar", ""),
    ("1 is missing", "only a name", ""),
    ("nope()", "unknown function", ""),
    ("lower(kind, kind)", "takes 1", ""),
    ("due_date - issue_date > 30 weeks", "unexpected 'weeks'", ""),
    ("due_date - issue_date > 1.5 days", "whole numbers", ""),
    ("kind and blocked", "and wants a", ""), ("blocked and kind", "and wants a", ""),
    ("kind or blocked", "or wants a", ""), ("blocked or kind", "or wants a", ""),
    ("not kind", "not wants a", ""), ("kind in kind", "in wants a", ""),
    ("risk matches \"a\"", "matches wants a", ""), ("kind matches risk", "matches wants a", ""),
    ("lower(risk) == \"a\"", "lower wants a", ""),
    ("kind in [rsk]", "unknown name 'rsk'", "did you mean risk?"),
    ('kind == "banana"', "'banana' is no kind of document", "it is one of: invoice"),
    ('kind in ["invoice", "crdit note"]', "is no kind of document", "did you mean credit note?"),
    ('"leter" == message.kind', "is no kind of mail", "did you mean letter?"),
    ("risk > 110 %", "a share is from 0 % to 100 %", ""),
    ("5 > 3", "the same for every document", ""), ("true or 1 == 1", "the same for every", ""),
    ("-kind == 1", "does not go with", ""), ("kind == risk", "never equal", ""),
    ("kind < kind", "cannot be compared", ""), ("kind + kind == 1", "has no meaning", ""),
    ("(blocked ]", "expected ')', found ']'", ""), ("(blocked", "found the end", ""),
])  # fmt: skip
def test_what_cannot_work_is_refused_before_it_runs(source, message, hint):
    with pytest.raises(ExpressionError) as refused:
        compile_condition(source)
    assert message in str(refused.value)
    assert hint in refused.value.hint


def test_the_place_of_a_mistake_is_told():
    with pytest.raises(ExpressionError) as refused:
        compile_condition("blocked and rsk > 1 %")
    assert refused.value.at == len("blocked and ")


@pytest.mark.parametrize("source", [
    'order_number == "PO-1"',
    'not (order_number == "PO-1")',
    'order_number == "PO-1" or blocked',
    "gross_total > 5000 EUR",
    "gross_total == 5000 EUR", "gross_total != 5000 EUR", "gross_total in [1 EUR]",
    "net_total / 0 > 1 GBP",
])  # fmt: skip
def test_a_condition_that_cannot_be_answered_is_never_just_false(source):
    with pytest.raises(NotEvaluableError):
        evaluate(compile_condition(source), NAMES)


def test_thirty_brackets_are_no_depth():
    assert compile_condition("(" * 30 + "blocked" + ")" * 30)


@pytest.mark.parametrize("source", ["(" * 500 + "blocked", "blocked and " * 500 + "blocked"])
def test_huge_expressions_are_refused(source):
    with pytest.raises(ExpressionError):
        compile_condition(source)


@pytest.mark.parametrize(("length", "good"), [(2_000, True), (2_001, False)])
def test_an_expression_may_be_as_long_as_it_may_be(length, good):
    source = "blocked".ljust(length)
    if good:
        assert evaluate(compile_condition(source), NAMES) is False
    else:
        with pytest.raises(ExpressionError, match="longer than 2000"):
            compile_condition(source)


@given(st.text(max_size=60))
def test_any_text_is_either_an_expression_or_a_clear_error(source):
    try:
        compile_condition(source)
    except ExpressionError as error:
        assert 0 <= error.at <= len(source)
