"""A pipeline never talks a bill through: weights, the risk gate, names that have no value yet."""

from dataclasses import replace
from pathlib import Path

import pytest

from tests.core.test_checks import facts
from tests.core.test_pipeline_files import TEXT, problems
from veridox.core.checks import CODES
from veridox.core.findings import PLUGINS, RULES
from veridox.core.pipeline import Case, State, advance, load
from veridox.core.reading import Field, Origin

POST_ROOM = Path("demo/pipelines/post-room.pipeline.yaml").read_text()


def with_weights(code, weight):
    return TEXT.replace("check:\n", f"check:\n  weights: {{{code}: {weight}}}\n")


WEIGHED = {code: about for code, about in CODES.items() if code not in {**RULES, **PLUGINS}}


@pytest.mark.parametrize("code", [code for code, about in WEIGHED.items() if not about.lowered])
@pytest.mark.parametrize("weight", ["warn", "note"])
def test_what_would_pay_wrongly_cannot_be_lowered(code, weight):
    assert any("never lowered" in each.message for each in problems(with_weights(code, weight)))


@pytest.mark.parametrize("code", [code for code, about in WEIGHED.items() if about.lowered])
def test_the_rest_can(code):
    assert load(with_weights(code, "note")).check.weights[code] == "note"


def test_any_code_can_be_made_to_block():
    assert load(with_weights("total.due", "block")).check.weights["total.due"] == "block"


def outcome(definition, confidence):
    given = facts()
    unsure = Field(value="SG/10442", text="x", origin=Origin.IMPRINT, confidence=confidence)
    reading = given.reading.with_fields({"number": unsure})
    given = replace(given, reading=reading, settings=definition.check)
    return advance(definition, Case(facts=given)).state


def without_desk():
    begin, end = TEXT.index("desk:"), TEXT.index("post:")
    return TEXT[:begin] + TEXT[end:]


@pytest.mark.parametrize(("text", "sources"), [
    (without_desk(), ["risk > 10 %"]),
    (TEXT, ["blocked", 'kind == "credit note"', "risk > 10 %"]),
    (TEXT.replace("risk > 10 %", "risk > 3 %"), ["blocked", 'kind == "credit note"', "risk > 3 %"]),
    (TEXT.replace("risk > 10 %", "blocked or risk >= 3 %"),
     ["blocked", 'kind == "credit note"', "blocked or risk >= 3 %"]),
    (TEXT.replace("risk > 10 %", 'risk > 3 % and kind == "invoice"'),
     ["blocked", 'kind == "credit note"', 'risk > 3 % and kind == "invoice"', "risk > 10 %"]),
    (TEXT.replace("risk > 10 %", "risk < 3 %"),
     ["blocked", 'kind == "credit note"', "risk < 3 %", "risk > 10 %"]),
])  # fmt: skip
def test_every_pipeline_that_posts_has_a_risk_gate(text, sources):
    assert [rule.source for rule in load(text).desk] == sources


def test_the_gate_of_a_pipeline_that_names_none_stops_what_is_doubtful():
    definition = load(without_desk())
    assert outcome(definition, 1.0) is State.CLEARED
    assert outcome(definition, 0.3) is State.AT_DESK


@pytest.mark.parametrize(("event", "when", "name"), [
    ("at the desk", 'posting.number == "BL-1"', "posting.number"),
    ("taken in", "gross_total > 100 GBP", "gross_total"), ("taken in", "blocked", "blocked"),
    ("taken in", 'vendor.code == "V1"', "vendor.code"), ("taken in", "risk > 1 %", "risk"),
    ("taken in", 'urgency == "urgent"', "urgency"),
    ("taken in", 'any(line.amount > 5 GBP for line in lines)', "lines"),
])  # fmt: skip
def test_a_notice_asks_for_nothing_that_is_not_there(event, when, name):
    mail = "    mail: {to: a@b.example, subject: x, text: y}\n"
    text = POST_ROOM.replace("tell:\n", f"tell:\n  - on: {event}\n    when: {when}\n{mail}")
    (problem,) = problems(text)
    assert name in problem.message
    assert problem.line == text.splitlines().index(f"    when: {when}") + 1


@pytest.mark.parametrize("when", [
    "gross_total > 100 GBP", 'vendor.code == "V1"', "risk > 1 %", 'kind == "invoice"',
    'urgency == "urgent"', 'posting.number is missing', "count(lines) > 3",
])  # fmt: skip
def test_of_a_posted_bill_all_may_be_asked(when):
    text = POST_ROOM.replace("  - on: posted\n", f"  - on: posted\n    when: {when}\n")
    assert load(text).tell[1].when is not None


@pytest.mark.parametrize("when", [
    'sender.address matches "*@x.example"', 'subject == "x"', 'file.name == "a.pdf"',
    'message.headers["x-topic"] == "ap"', "received > 2026-01-01",
])  # fmt: skip
def test_a_notice_may_ask_for_mail_and_file(when):
    text = POST_ROOM.replace("  - on: posted\n", f"  - on: posted\n    when: {when}\n")
    assert load(text).tell[1].when is not None


def test_of_a_mail_that_just_came_no_file_is_known():
    text = POST_ROOM.replace('message.kind == "letter"', 'file.name == "a.pdf"')
    assert "file.name" in problems(text)[0].message


@pytest.mark.parametrize("source", ["=seller.name", "=vendor.name", "=kind"])
def test_a_declared_field_takes_nothing_that_is_not_read_yet(source):
    text = POST_ROOM.replace(
        "from: =subject, default: normal", f'from: "{source}", default: normal'
    )
    assert "has no value yet" in problems(text)[0].message


@pytest.mark.parametrize(("said", "days"), [("90 days", 90), ("1 day", 1), ("400", 400)])
def test_how_old_a_bill_may_be(said, days):
    text = TEXT.replace("check:\n", f"check:\n  dates: {{oldest: {said}}}\n")
    assert load(text).check.oldest_days == days


@pytest.mark.parametrize("said", ["a year", "-1 days", "1.5 days"])
def test_an_age_that_is_none_is_told(said):
    text = TEXT.replace("check:\n", f'check:\n  dates: {{oldest: "{said}"}}\n')
    assert "not a number of days" in problems(text)[0].message
