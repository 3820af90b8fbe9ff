import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.pipelines import UNCODED
from veridox.core.pipeline import PipelineError, Problem, load
from veridox.core.pipeline.file.shown import underlined
from veridox.core.pipeline.file.start import starting_text

TEXT = UNCODED


def problems(text):
    with pytest.raises(PipelineError) as refused:
        load(text)
    return refused.value.problems


def test_the_demos_pipeline_is_good():
    definition = load(TEXT)
    assert definition.name == "supplier-invoices"
    assert definition.collect[0].afterwards.people == "With people"
    assert definition.collect[0].only.subject == (
        "invoice",
        "credit note",
        "Rechnung",
        "Gutschrift",
    )
    assert definition.check.totals_within == 1
    assert definition.post.ledger == "main-books"
    assert [tell.on for tell in definition.tell] == ["posted"]


def test_all_problems_are_told_at_once_with_line_and_column():
    text = TEXT.replace("mailbox:", "mailbx:").replace("totals:", "totls:")
    found = [(each.line, each.column, each.message) for each in problems(text)]
    assert (7, 5, "unknown key 'mailbx'") in found
    assert (18, 3, "unknown key 'totls'") in found
    assert "did you mean totals?" in [each.hint for each in problems(text)]


def test_a_mistake_inside_a_condition_is_told_at_its_own_column():
    (problem,) = problems(TEXT.replace("risk > 10 %", "blocked or rsk > 10 %"))
    line = TEXT.splitlines()[problem.line - 1]
    assert problem.column == line.index("when: ") + len("when: blocked or ") + 1
    assert problem.hint == "did you mean risk?"


@pytest.mark.parametrize(("old", "new", "message"), [
    ("post:\n  ledger: main-books\n  as: bill\n", "", "needs 'post'"),
    ("mailbox: ap-inbox", "mailbox: AP Inbox", "small letters"),
    ("within: 1 minor unit", "within: 1 euro", "not a tolerance"),
    ("percent: 2,", "percent: 200,", "from 0 to 100"),
    ("unknown: block", "unknown: warn", "never lowered"),
    ("done: Done", "done: INBOX", "which is watched itself"),
    ("kinds: [invoice, credit note]", "kinds: [reminder]", "never posted|ever posted"),
    ("need: [number,", "need: [numbr,", "unknown field 'numbr'"),
    ("to: ap-team@merrowmere.example", "to: nobody", "not a mail address"),
    ("as: bill", "as: expense", "not yet available"),
    ("as: bill", "as: gift", "is not known"),
    ("unread: true", "unread: perhaps", "true or false"),
    ("title:", "pipeline: twice\ntitle:", "stands here twice"),
])  # fmt: skip
def test_each_kind_of_mistake_has_its_message(old, new, message):
    import re

    assert old in TEXT
    assert any(re.search(message, each.message) for each in problems(TEXT.replace(old, new, 1)))


@pytest.mark.parametrize(
    "text", ["", "- a list", "{", "a: &x [*x]", "\x00", "x: !!python/object:os.system"]
)
def test_what_is_no_pipeline_at_all_is_told_at_a_place(text):
    assert all(each.line >= 1 and each.column >= 1 for each in problems(text))


@given(st.text(alphabet="ab:- \n[]{}&*!|>'\"#", max_size=80))
def test_any_text_gives_a_definition_or_problems(text):
    try:
        load(text)
    except PipelineError as error:
        assert error.problems


@pytest.mark.parametrize(("text", "line", "column", "shown"), [
    ("a: b\n  - when: rsk > 1", 2, 11, ["    2 |   - when: rsk > 1", "      |           ^^^"]),
    ("a: b", 1, 2, ["    1 | a: b", "      |  ^"]), ("a", 1, 9, ["    1 | a", "      |         ^"]),
    ("a", 2, 1, []), ("", 1, 1, []),
])  # fmt: skip
def test_what_is_meant_is_underlined(text, line, column, shown):
    assert underlined(text, Problem(line=line, column=column, message="x")) == shown


def test_a_long_line_is_shown_where_the_problem_is():
    text = "x" * 500 + " rsk " + "y" * 500
    first, mark = underlined(text, Problem(line=1, column=502, message="x"))
    at = mark.index("^")
    assert first[at : at + 3] == "rsk"
    assert mark.count("^") == 3
    assert max(len(first), len(mark)) < 140


@given(st.text(max_size=80), st.integers(1, 5), st.integers(1, 300))
def test_underlining_never_fails(text, line, column):
    assert len(underlined(text, Problem(line=line, column=column, message="x"))) in (0, 2)


START = starting_text("first-one")


def test_a_pipeline_file_to_begin_with_passes_its_check():
    definition = load(START)
    assert (definition.name, definition.post.ledger) == ("first-one", "main-books")
    assert definition.desk[1].because == "Something was read with doubt."


def test_every_line_that_it_offers_can_be_taken():
    text = START.replace("#: ", "")
    definition = load(text)
    assert len(definition.desk) == 4
    assert definition.collect[1].watch == "drop"
    assert definition.declared[0].field.name == "request_type"
    assert (definition.through.outbox, definition.through.chat) == ("mail-out", "ap-chat")
    assert definition.tell[1].channel == "ap"
