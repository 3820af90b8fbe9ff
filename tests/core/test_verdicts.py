"""What is certain of a condition before any document, and nothing more."""

from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from veridox.core.language import compile_condition, evaluate
from veridox.core.language.verdict import implies, names_in, verdict


def of(source):
    return compile_condition(source)


COMPARED = st.builds(
    "{} {} {}".format,
    st.sampled_from(["file.size", "file.position"]),
    st.sampled_from(["==", "!=", "<", "<=", ">", ">="]),
    st.integers(-2, 2).map(lambda n: f"({n})" if n < 0 else str(n)),
)
CONDITIONS = st.recursive(
    COMPARED,
    lambda inner: st.one_of(
        st.builds("({} and {})".format, inner, inner),
        st.builds("({} or {})".format, inner, inner),
        st.builds("not ({})".format, inner),
    ),
    max_leaves=5,
)


@pytest.mark.parametrize(("source", "always"), [
    ("risk >= 0 %", True), ("risk > 100 %", False), ("risk > 10 %", None),
    ("gross_total > 5 GBP and gross_total < 3 GBP", False),
    ("gross_total > 5 GBP and gross_total < 3 EUR", None),
    ("gross_total > 5 GBP or gross_total <= 5 GBP", True),
    ("blocked and not blocked", False), ("blocked or not blocked", True),
    ('kind == "invoice" and kind == "credit note"', False),
    ('kind == "invoice" or kind == "credit note"', None),
    ('kind == "invoice" and kind != "invoice"', False),
    ("due_date is missing and due_date is not missing", False),
    ("count(lines) >= 0", True), ("count(lines) < 0", False), ("length(number) > 3", None),
    ("weekday(issue_date) > 7", False), ("weekday(issue_date) <= 7", True),
    ("month_of(issue_date) == 13", False), ("not (risk > 5 % and risk < 2 %)", True),
    ("issue_date > 2026-03-01 and issue_date < 2026-02-01", False), ("5 GBP > gross_total", None),
    ("risk > 5 % and (risk < 2 % or risk < 1 %)", False),
])  # fmt: skip
def test_what_always_or_never_holds(source, always):
    assert verdict(of(source)) is always


@pytest.mark.parametrize(("one", "other", "follows"), [
    ("risk > 10 %", "risk > 5 %", True), ("risk > 5 %", "risk > 10 %", False),
    ("risk > 5 %", "risk >= 5 %", True), ("risk >= 5 %", "risk > 5 %", False),
    ("blocked and risk > 5 %", "blocked", True), ("blocked", "blocked or risk > 5 %", True),
    ('kind == "invoice"', 'kind != "credit note"', True),
    ("gross_total > 9 GBP", "gross_total > 5 EUR", False),
    ('found("total.sum")', 'found("total.sum")', True),
])  # fmt: skip
def test_one_follows_from_another(one, other, follows):
    assert implies(of(one), of(other)) is follows


def test_names_of_rows_are_no_names_of_their_own():
    source = 'any(line.amount > gross_total for line in lines if line.unit == "kg") and blocked'
    assert set(names_in(of(source))) == {"lines", "gross_total", "blocked"}


@given(CONDITIONS, CONDITIONS, st.integers(-3, 3), st.integers(-3, 3))
def test_a_verdict_is_never_wrong(one, other, size, position):
    names = {"file.size": Decimal(size), "file.position": Decimal(position)}
    first, second = of(one), of(other)
    always = verdict(first)
    assert always is None or evaluate(first, names) is always
    if implies(first, second) and evaluate(first, names):
        assert evaluate(second, names) is True


def test_too_many_ways_are_left_unsaid():
    source = " and ".join(f"(risk > {n} % or risk < {n} %)" for n in range(1, 12))
    assert verdict(of(source)) is None
