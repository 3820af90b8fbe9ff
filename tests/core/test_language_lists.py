"""Expressions that go through lists, functions, patterns; and the text they are written in."""

import string
import time
from contextlib import suppress
from datetime import date, timedelta
from decimal import Decimal

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from veridox.core.language import (
    EVERY,
    FUNCTIONS,
    LISTS,
    ExpressionError,
    NotEvaluableError,
    Scope,
    compile_condition,
    evaluate,
    known_at,
    look,
    parse,
    printed,
)
from veridox.core.language.evaluate import MAX_STEPS
from veridox.core.language.functions import is_of_plugin
from veridox.core.language.syntax import (
    Binary,
    Call,
    Constant,
    Expression,
    Gather,
    Many,
    Name,
    Percent,
    Type,
    Unary,
)
from veridox.core.language.typing import type_of
from veridox.core.money import Money


def gbp(amount):
    return Money.of(amount, "GBP")


LINES = [
    {"amount": gbp("640.00"), "quantity": Decimal(2), "description": "Reef salt", "tax_rate":
     Decimal(20)},
    {"amount": gbp("12.50"), "quantity": Decimal(1), "description": "Freight"},
    {"quantity": Decimal(3), "description": "of which returned"},
]  # fmt: skip
NAMES = {
    "subject": "Re: Invoice 7 for PO-26-0101, urgent", "issue_date": date(2026, 1, 31),
    "received": date(2026, 2, 1), "due_date": date(2026, 3, 1), "gross_total": gbp("652.50"),
    "order_number": "po 26 0101",
}  # fmt: skip
ALL = {"lines": LINES, "tax_lines": [], "orders": [],
       "findings": [{"code": "total.sum", "weight": "block", "message": "x"}]}  # fmt: skip


def value(source):
    return evaluate(compile_condition(source), NAMES, {"total.sum"}, ALL)


@pytest.mark.parametrize(("source", "found"), [
    ("any(line.quantity > 2 for line in lines)", True),
    ("any(line.quantity > 3 for line in lines)", False),
    ("all(line.quantity > 0 for line in lines)", True),
    ("all(line.quantity > 1 for line in lines)", False),
    ("count(lines) == 3", True),
    ("count(line for line in lines if line.amount is missing) == 1", True),
    ("sum(line.quantity for line in lines) == 6", True),
    ("sum(line.amount for line in lines if line.amount is not missing) == 652.50 GBP", True),
    ("sum(line.amount for line in lines if line.amount is not missing) == gross_total", True),
    ("min(line.quantity for line in lines) == 1", True),
    ("max(line.quantity for line in lines) == 3", True),
    ("max(line.amount for line in lines if line.amount is not missing) == 640 GBP", True),
    ('any(contains(line.description, "FREIGHT") for line in lines)', True),
    ('all(each.weight == "block" for each in findings)', True),
    ("count(tax_lines) == 0", True),
    ("all(tax.rate > 0 for tax in tax_lines)", True),  # of none, all
    ("any(tax.rate > 0 for tax in tax_lines)", False),
    ("any(line.quantity == max(other.quantity for other in lines) for line in lines)", True),
    # One row decides, whatever cannot be evaluated of the others.
    ("any(line.amount > 500 GBP for line in lines)", True),
    ("all(line.amount > 500 GBP for line in lines)", False),
])  # fmt: skip
def test_lists_are_gone_through(source, found):
    assert value(source) is found


@pytest.mark.parametrize(("source", "said"), [
    ("any(line.amount > 5000 GBP for line in lines)", "line.amount is missing"),
    ("sum(line.amount for line in lines) > 1 GBP", "line.amount is missing"),
    ("sum(tax.amount for tax in tax_lines) > 1 GBP", "no row to add up"),
    ("min(tax.rate for tax in tax_lines) > 1", "no row to take the min of"),
    ("any(line.amount > 1 EUR for line in lines if line.amount is not missing)", "no rate"),
    ('part(subject, "SG/[0-9]+") == "x"', "no part of the text"),
    ('convert(gross_total, "EUR", issue_date) > 1 EUR', "no rate from GBP to EUR on 2026-01-31"),
    ("months_later(issue_date, 1.5) > issue_date", "whole numbers"),
    ("months_later(issue_date, 200000) > issue_date", "no such day"),
])  # fmt: skip
def test_what_cannot_be_answered_says_why(source, said):
    with pytest.raises(NotEvaluableError, match=said):
        value(source)


def test_a_list_that_is_not_there_is_missing_and_not_empty():
    with pytest.raises(NotEvaluableError, match="lines are missing"):
        evaluate(compile_condition("count(lines) == 0"), NAMES)


class Rates:
    def rate(self, source, target, day):
        return (
            Decimal("1.15") if (source, target, day) == ("GBP", "EUR", date(2026, 1, 31)) else None
        )


def test_amounts_are_converted_at_the_rate_of_a_day():
    source = 'convert(gross_total, "EUR", issue_date) == 750.38 EUR'
    assert evaluate(compile_condition(source), NAMES, rates=Rates()) is True
    assert value('convert(gross_total, "GBP", issue_date) == gross_total') is True


@pytest.mark.parametrize(("source", "found"), [
    (r'part(subject, "PO-[0-9]{2}-[0-9]{4}") == "PO-26-0101"', True),
    (r'part(subject, "for (PO-[0-9-]+)") == "PO-26-0101"', True),
    (r'part(subject, "SG/[0-9]+") is missing', True),
    (r'part(subject, "PO-[0-9]+") is not missing', True),
    ('upper(replace(order_number, " ", "-")) == "PO-26-0101"', True),
    ('trim("  a   b ") == "a b" and count(lines) == 3', True), ("length(subject) == 36", True),
    ('endswith(subject, "URGENT")', True), ('contains(subject, "invoice 7")', True),
    ("year_of(issue_date) == 2026", True), ("month_of(issue_date) == 1", True),
    ("day_of(issue_date) == 31", True), ("weekday(received) == 7", True),
    ("end_of_month(received) == 2026-02-28", True),
    ("months_later(issue_date, 1) == 2026-02-28", True),
    ("months_later(issue_date, -2) == 2025-11-30", True),
    ('subject matches "*a*a*a*b*"', False), ('subject matches "re:*urgent"', True),
])  # fmt: skip
def test_functions_give_what_they_say(source, found):
    assert value(source) is found


@pytest.mark.parametrize(("source", "message", "hint"), [
    ("any(line.amout > 1 GBP for line in lines)", "unknown name 'line.amout'", "line.amount"),
    ("any(line.amount > 1 GBP for line in line)", "no list", "lines"),
    ("any(1 > 0 for line in kind)", "no list", ""),
    ("lines == 1", "go through it", "for line in lines"),
    ("kind in lines", "go through it", ""),
    ("any(line.amount for line in lines)", "any wants a truth", ""),
    ("sum(line.description for line in lines) == 1", "cannot be added up", ""),
    ("min(line.description for line in lines) == 1", "none is the least", ""),
    ("count(line.amount for line in lines) > 1", "count takes the rows", ""),
    ("any(line.amount > 1 GBP for line in lines if line.quantity)", "if wants a truth", ""),
    ("any(kind.x for kind in lines)", "'kind' has a meaning already", ""),
    ("any(line.amount > 1 GBP for line.x in lines)", "expected a name for each row", ""),
    ("any(line.amount > 1 GBP)", "expected 'for'", ""),
    ('part(subject, "(") == "x"', "this is no pattern", ""),
    (r'part(subject, "(a)\1") == "x"', "this is no pattern", ""),
    ("part(subject, kind) == 1", "the pattern stands in quotes", ""),
    ('kind in ["invoice", 5]', "never equal to a number", ""),
    ("line.amount > 1 GBP", "unknown name 'line.amount'", ""),
])  # fmt: skip
def test_mistakes_are_told_before_anything_runs(source, message, hint):
    with pytest.raises(ExpressionError) as refused:
        compile_condition(source)
    assert message in str(refused.value)
    assert hint in refused.value.hint


def test_a_list_is_there_from_its_stage_on():
    assert "lines" not in known_at(Scope.FILE)
    assert known_at(Scope.READING)["lines"] is Type.LIST
    with pytest.raises(ExpressionError, match="no list that is there"):
        compile_condition("count(findings) > 0", names=known_at(Scope.READING))


@pytest.mark.parametrize("source", [
    'subject matches "' + "*a" * 900 + '"', r'part(subject, "(a*)*b") is missing',
    "any(" * 20 + "true" + "".join(f" for x{i} in lines)" for i in range(20)),
])  # fmt: skip
def test_nothing_takes_long(source):
    began = time.perf_counter()
    text = {"subject": "a" * 5_000}
    with suppress(NotEvaluableError, ExpressionError):
        evaluate(compile_condition(source), text, (), {"lines": [{}] * 1_000})
    assert time.perf_counter() - began < 5


def test_going_through_too_much_is_given_up():
    deep = "any(any(any(a.quantity < b.quantity - c.quantity - 9 for a in lines) for b in lines)"
    source = f"{deep} for c in lines)"
    rows = [{"quantity": Decimal(1)}] * 300
    with pytest.raises(NotEvaluableError, match=f"more than {MAX_STEPS:,} steps"):
        evaluate(compile_condition(source), {}, (), {"lines": rows})


def test_a_typical_condition_takes_no_time():
    expression = compile_condition(
        "risk > 1 % and (gross_total > 5000 GBP or kind == 'credit note')"
    )
    names = {"risk": Percent(Decimal("0.02")), "gross_total": gbp("1"), "kind": "invoice"}
    best = min(_took(lambda: evaluate(expression, names)) for _ in range(50))
    assert best < 200e-6


def _took(act):
    began = time.perf_counter()
    act()
    return time.perf_counter() - began


def test_every_example_of_the_reference_passes_its_check():
    for name, function in FUNCTIONS.items():
        if is_of_plugin(name):
            continue  # whatever another test of this process added
        assert compile_condition(function.example), name
        assert function.help, name
    for name, row in LISTS.items():
        assert compile_condition(row.example), name
        assert set(row.has), name


@pytest.mark.parametrize(("source", "said"), [
    ("sum(line.quantity for line in lines) > 5",
     "sum(line.quantity for line in lines) 6 > 5: yes"),
    ("count(lines) > 5", "count(lines) 3 > 5: no"),
    ("any(line.quantity > 2 for line in lines)", "any(line.quantity > 2 for line in lines): yes"),
    ('part(subject, "PO-[0-9]+") == "PO-26"',
     'part(subject "Re: Invoice 7 for PO-26-0101, urgent", "PO-[0-9]+") "PO-26" == "PO-26": yes'),
])  # fmt: skip
def test_what_came_out_of_a_list_or_function_is_told(source, said):
    assert look(compile_condition(source), NAMES, (), ALL).said == said


# -- printing and parsing are inverse

WORD = st.sampled_from(["kind", "gross_total", "vendor.code", 'message.headers["x-topic"]'])
TEXTS = st.text(alphabet=string.ascii_letters + " '.%é", max_size=8)
CONSTANTS = st.one_of(
    st.decimals(min_value=0, max_value=10**9, places=3).map(
        lambda n: Constant(value=n, type=Type.NUMBER, at=0)),
    st.integers(0, 9999).map(
        lambda n: Constant(value=Percent(Decimal(n) / 100), type=Type.PERCENT, at=0)),
    st.integers(0, 10**7).map(
        lambda n: Constant(value=Money.of(Decimal(n) / 100, "EUR"), type=Type.MONEY, at=0)),
    st.integers(0, 900).map(
        lambda n: Constant(value=timedelta(days=n), type=Type.DURATION, at=0)),
    st.dates().map(lambda d: Constant(value=d, type=Type.DATE, at=0)),
    st.booleans().map(lambda b: Constant(value=b, type=Type.TRUTH, at=0)),
    TEXTS.map(lambda t: Constant(value=t, type=Type.TEXT, at=0)),
)  # fmt: skip
LEAVES = st.one_of(CONSTANTS, WORD.map(lambda name: Name(name=name, at=0)))


def grown(inner):
    name = WORD.map(lambda word: Name(name=word, at=0))
    return st.one_of(
        st.builds(Unary, operator=st.sampled_from(["not", "-"]), operand=inner, at=st.just(0)),
        st.builds(Unary, operator=st.sampled_from(["is missing", "is not missing"]),
                  operand=name, at=st.just(0)),
        st.builds(Binary, left=inner, right=inner, at=st.just(0), operator=st.sampled_from(
            ["and", "or", "==", "!=", "<", "<=", "in", "matches", "+", "-", "*", "/"])),
        st.builds(Many, items=st.lists(inner, max_size=3).map(tuple), at=st.just(0)),
        st.builds(Call, function=st.sampled_from(["found", "lower"]),
                  arguments=st.lists(inner, max_size=2).map(tuple), at=st.just(0)),
        st.builds(Gather, function=st.sampled_from(["any", "sum", "max"]), over=st.just("lines"),
                  name=st.just("line"), body=inner, condition=st.none() | inner, at=st.just(0)),
        st.just(Gather(function="count", over="lines", name="", body=None, condition=None, at=0)),
    )  # fmt: skip


def bare(expression):
    """Without the places where its parts stood."""
    if isinstance(expression, Constant | Name):
        return repr(expression).partition(", at=")[0] + str(getattr(expression, "type", ""))
    parts = [type(expression).__name__]
    for field in expression.__dataclass_fields__:
        part = getattr(expression, field)
        if field == "at":
            continue
        if isinstance(part, tuple):
            part = [bare(each) for each in part]
        parts.append(bare(part) if isinstance(part, Expression) else part)
    return parts


@settings(max_examples=400)
@given(st.recursive(LEAVES, grown, max_leaves=12))
def test_what_is_printed_parses_to_the_same(expression):
    text = printed(expression)
    try:
        again = parse(text)
    except ExpressionError as error:
        assert "longer than" in str(error) or "too deeply" in str(error)
        return
    assert bare(again) == bare(expression)
    assert printed(again) == text


@settings(max_examples=200)
@given(st.text(alphabet="anylines.for if()<>=1%\"' GBP", max_size=60))
def test_any_text_is_typed_or_told(text):
    try:
        type_of(parse(text), EVERY)
    except ExpressionError as error:
        assert 0 <= error.at <= len(text)
