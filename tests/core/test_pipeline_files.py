from dataclasses import replace
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_checks import facts, gbp
from veridox.core.checks import Facts
from veridox.core.findings import Weight
from veridox.core.matching import VendorRecord
from veridox.core.pipeline import (
    Outcome,
    PipelineError,
    Situation,
    check_document,
    decide,
    load,
    risk,
)
from veridox.core.reading import Field, Kind, Origin, Reading

TEXT = Path("demo/pipelines/supplier-invoices.pipeline.yaml").read_text()


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
    ("as: bill", "as: expense", "is not known"),
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


# -- the desk's gate

DEFINITION = load(TEXT)


def situation(given, **more):
    return Situation(facts=given, findings=check_document(DEFINITION, given), **more)


def test_a_clean_document_is_cleared():
    assert decide(DEFINITION, situation(facts())).outcome is Outcome.CLEARED


def test_a_blocking_finding_stops_even_when_no_rule_asks_for_it():
    wrong = situation(facts(gross_total=gbp("1481.28")))
    decision = decide(replace(DEFINITION, desk=()), wrong)
    assert decision.outcome is Outcome.AT_DESK
    assert "60.00 GBP too high" in decision.reasons[0]


def test_a_warning_stops_nothing():
    wrong = situation(facts(gross_total=gbp("1481.28")))
    mild = replace(wrong, findings=tuple(f.weighted(Weight.WARN) for f in wrong.findings))
    assert decide(DEFINITION, mild).outcome is Outcome.CLEARED


def test_the_first_rule_that_holds_names_the_queue():
    given = facts()
    given = replace(given, reading=replace(given.reading, kind=Kind.CREDIT_NOTE))
    assert decide(DEFINITION, situation(given)).queue == "credits"


def test_a_rule_that_cannot_be_evaluated_stops_the_document():
    text = TEXT.replace("risk > 10 %", 'contract_number == "C-1"')
    decision = decide(load(text), situation(facts()))
    assert decision.outcome is Outcome.AT_DESK
    assert "contract_number is missing" in decision.reasons[0]


def test_a_person_clears_what_they_accepted_and_nothing_else():
    wrong = situation(facts(gross_total=gbp("1481.28")), cleared_by_person=True)
    assert decide(DEFINITION, wrong).outcome is Outcome.AT_DESK
    accepted = replace(wrong, accepted=frozenset({"total.sum"}))
    assert decide(DEFINITION, accepted).outcome is Outcome.CLEARED


def test_a_delivery_note_is_laid_aside_and_not_checked():
    given = facts(without=("number",))
    given = replace(given, reading=replace(given.reading, kind=Kind.DELIVERY_NOTE))
    assert decide(DEFINITION, situation(given)).outcome is Outcome.ASIDE
    assert situation(given).findings == ()


def test_a_document_of_no_known_kind_is_for_a_person():
    given = facts()
    given = replace(given, reading=replace(given.reading, kind=Kind.OTHER))
    assert decide(DEFINITION, situation(given)).outcome is Outcome.AT_DESK


def test_risk_grows_with_each_unsure_value_and_a_persons_values_carry_none():
    reading = facts().reading
    assert risk(reading).share == 0
    unsure = Field(value="X", confidence=0.9)
    one = reading.with_fields({"number": unsure})
    two = one.with_fields({"issue_date": replace(unsure, value=reading.day("issue_date"))})
    assert 0 < risk(one).share < risk(two).share
    person = one.with_fields({"number": Field(value="X", origin=Origin.PERSON)})
    assert risk(person).share == 0


VENDOR = VendorRecord(code="KS", name="Kelpwick Supplies Ltd", tax_id="GB284771906")
NAME, TAX_ID = "Kelpwick Supplies", "GB 284 7719 06"


@pytest.mark.parametrize(
    ("name", "tax_id", "vendor", "known"),
    [
        (NAME, TAX_ID, VENDOR, True),
        (NAME, TAX_ID, None, False),
        (NAME, None, VENDOR, False),
        (None, TAX_ID, VENDOR, False),
        ("Kelpwick Marine", TAX_ID, VENDOR, False),
        (NAME, "GB 284 7719 07", VENDOR, False),
    ],
)
def test_who_sells_is_no_risk_where_name_and_tax_id_are_one_vendors(name, tax_id, vendor, known):
    read = {"seller.name": name, "seller.tax_id": tax_id}
    fields = {key: Field(value=text, confidence=0.7) for key, text in read.items() if text}
    own = Facts(reading=Reading(kind=Kind.INVOICE, fields=fields), vendor=vendor)
    assert own.seller_known is known
    assert (risk(own.reading, seller_known=own.seller_known).share == 0) is known
