"""Texts with names filled in: checked before they run, bounded, without a way to anything else."""

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from veridox.core.language import ExpressionError, Scope, known_at
from veridox.core.language.texts import LONGEST, compile_text, one_line
from veridox.core.money import Money

KNOWN = known_at(Scope.POSTED)
NAMES = {
    "number": "A-1", "kind": "invoice", "seller.name": "Saltglass", "issue_date": date(2026, 3, 5),
    "gross_total": Money.of("1234.5", "GBP"), "vendor.name": "Saltglass Systems Ltd",
    "entity": "trust", "entity.name": "The Trust",
}  # fmt: skip
LISTS = {
    "lines": [{"description": "Salt", "amount": Money.of("5", "GBP")}, {"description": "Cup"}],
    "findings": [],
}


def filled(source, known=KNOWN):
    return compile_text(source, known).fill(NAMES, LISTS)


@pytest.mark.parametrize(("source", "text"), [
    ("{{ number }} of {{ seller.name }}", "A-1 of Saltglass"),
    ("{{ gross_total }}, {{ gross_total | amount }}", "1,234.50 GBP, 1,234.50"),
    ("{{ issue_date }} {{ issue_date | in_words }}", "2026-03-05 5 March 2026"),
    ("{{ kind | capital }} {{ kind | upper }}", "Invoice INVOICE"),
    ("{{ order.number }}", "(not stated)"),
    ("{{ entity }} {{ entity.name }}", "trust The Trust"),
    ("{% if order.number is missing %}none{% else %}{{ order.number }}{% endif %}", "none"),
    ("{% if number is not missing and kind == 'invoice' %}yes{% endif %}", "yes"),
    ("{{ 'bill' if kind == 'invoice' else kind }}", "bill"),
    ("{% for line in lines %}{{ line.description }} {{ line.amount }};{% endfor %}",
     "Salt 5.00 GBP;Cup (not stated);"),
    ("{% for line in lines if line.amount is missing %}{{ line.description }}{% endfor %}", "Cup"),
    ("{% for f in findings %}x{% else %}nothing{% endfor %}", "nothing"),
])  # fmt: skip
def test_names_are_filled_in(source, text):
    assert filled(source) == text


@pytest.mark.parametrize(("source", "said", "at"), [
    ("{{ numbr }}", "unknown name 'numbr'", 3), ("a\nb {{ number }} {{ numbr }}", "numbr", 20),
    ("{{ lines }}", "lines is a list: go through it", 3),
    ("{{ gross_total | in_words }}", "takes a date, this is a money", 17),
    ("{{ number | shout }}", "unknown filter 'shout'", 12),
    ("{{ number | short(5) }}", "takes nothing beside its value", 0),
    ("{{ 'a' * 1000000000 }}", "* is not possible", 0), ("{{ number + number }}", "+ is not", 0),
    ("{{ number.__class__ }}", "unknown name 'number.__class__'", 3),
    ("{{ number['x'] }}", "[...] is not possible", 0), ("{{ number() }}", "a call is not", 0),
    ("{{ ''.join(lines) }}", "a call", 0), ("{{ cycler }}", "unknown name 'cycler'", 3),
    ("{% for i in range(9) %}x{% endfor %}", "no list to go through", 0),
    ("{% for a in lines %}{% for b in lines %}x{% endfor %}{% endfor %}", "one list within", 0),
    ("{% for number in lines %}x{% endfor %}", "a name of its own", 0),
    ("{% for line in lines %}{{ line.amont }}{% endfor %}", "has no 'amont'", 26),
    ("{% for line in lines %}{{ loop.index }}{% endfor %}", "unknown name 'loop.index'", 26),
    ("{% set x = 1 %}", "assign is not possible", 0), ("{% include 'x' %}", "include is not", 0),
    ("{% if gross_total > 5 %}x{% endif %}", "only asks whether texts are equal", 0),
    ("{% if kind == 'banana' %}x{% endif %}", "kind is never 'banana'", 0),
    ("{% if number is defined %}x{% endif %}", "'is defined' is not known", 0),
    ("{{ number", "cannot be filled in", 0), ("{{ 5 }}", "no figures of its own", 0),
    ("x" * 20_001, "more than 20,000", 0), ("{{ [1] }}", "a list is not possible", 0),
])  # fmt: skip
def test_what_a_text_does_not_do_is_told_with_its_place(source, said, at):
    with pytest.raises(ExpressionError) as refused:
        compile_text(source, KNOWN)
    assert said in str(refused.value)
    assert refused.value.at == at


def test_what_is_not_known_yet_is_no_name():
    with pytest.raises(ExpressionError, match="no value yet where this is used"):
        compile_text("{{ gross_total }}", known_at(Scope.MAIL))


def test_what_a_text_makes_is_bounded():
    rows = {"lines": [{"description": "x" * 1000}] * 2000}
    text = compile_text("{% for line in lines %}{{ line.description }}{% endfor %}", KNOWN)
    assert len(text.fill({}, rows)) == LONGEST + 1


def test_a_subject_is_one_line():
    text = compile_text("{{ number }}", KNOWN).fill({"number": "A\r\nBcc: x@y.example"}, {})
    assert one_line(text) == "A Bcc: x@y.example"


def test_a_value_is_never_a_text_to_be_filled_in_again():
    assert compile_text("{{ number }}", KNOWN).fill({"number": "{{ kind }}"}, {}) == "{{ kind }}"


@given(st.text(alphabet="{}% |.'\"()[]*+number for lines if is missing end\n", max_size=60))
def test_any_text_passes_or_says_what_is_wrong(source):
    try:
        text = compile_text(source, KNOWN)
    except ExpressionError as error:
        assert str(error)
        assert 0 <= error.at <= len(source)
    else:
        assert isinstance(text.fill(NAMES, LISTS), str)
