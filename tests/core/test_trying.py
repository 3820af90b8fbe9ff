"""A reading walked along the road with nothing done; own rules; versions compared."""

from dataclasses import replace
from datetime import date

import pytest

from tests.core.test_checks import facts
from tests.core.test_pipeline_files import TEXT
from veridox.core.facts import MemoryKnown
from veridox.core.findings import Weight
from veridox.core.pipeline import State, load
from veridox.core.pipeline.compare import differences, loosened
from veridox.core.pipeline.trying import Given, as_json, try_reading
from veridox.core.reading import Field, Origin

GIVEN = facts()
KNOWN = MemoryKnown(
    every_vendor=[replace(GIVEN.vendor, contact="billing@saltglass.example")],
    every_entity=[GIVEN.entity], every_order=[GIVEN.order],
)  # fmt: skip
MAIL = {"subject": "Invoice PO-26-0102", "sender.address": "a@saltglass.example",
        "file.name": "a.pdf"}  # fmt: skip


def tried(text=TEXT, reading=GIVEN.reading, until="", known=KNOWN, **given):
    definition = load(text)
    return try_reading(
        definition, reading, known, Given(mail=MAIL, today=date(2026, 11, 20), **given), until
    )


def sure(reading):
    """The same, read beyond doubt."""
    return replace(
        reading, kind_confidence=1.0,
        fields={name: replace(field, confidence=1.0) for name, field in reading.fields.items()},
    )  # fmt: skip


def test_what_would_be_posted_and_told_is_shown_whole():
    found = tried(reading=sure(GIVEN.reading))
    assert found.advance.state is State.CLEARED
    assert found.bill.number == GIVEN.reading.text("number")
    (sent,) = found.sent
    assert (sent.event, sent.told.outgoing.to) == ("posted", "ap-team@merrowmere.example")
    assert "(the ledger's number)" in sent.told.outgoing.text
    shown = as_json(found)
    assert [step["stage"] for step in shown["steps"]] == ["end", "check", "wait", "desk", "post"]
    assert shown["bill"]["vendor"] == GIVEN.vendor.code


def test_what_stops_is_shown_with_its_reasons():
    found = tried(known=MemoryKnown(every_entity=[GIVEN.entity]))
    shown = as_json(found)
    assert (shown["state"], shown["queue"], shown["bill"]) == ("at_desk", "exceptions", None)
    assert any("vendor" in reason.lower() for reason in shown["reasons"])
    assert shown["sent"] == []


@pytest.mark.parametrize(("until", "stages"), [
    ("read", []), ("check", ["end", "check"]), ("desk", ["end", "check", "wait", "desk"]),
])  # fmt: skip
def test_it_ends_after_the_stage_that_is_named(until, stages):
    found = tried(reading=sure(GIVEN.reading), until=until)
    shown = as_json(found)
    assert [step["stage"] for step in shown["steps"]] == stages
    assert (shown["state"], shown["bill"], shown["sent"]) == ("", None, [])


def test_the_mail_tells_what_the_page_does_not():
    text = TEXT.replace(
        "read:\n", "read:\n  fields:\n    order_number: {from: '=part(subject, \"PO-[0-9-]+\")'}\n"
    )
    fields = {k: v for k, v in GIVEN.reading.fields.items() if k != "order_number"}
    field = tried(text, replace(GIVEN.reading, fields=fields)).reading.fields["order_number"]
    assert (field.value, field.origin) == ("PO-26-0102", Origin.MAIL)
    printed = Field(value="PO-1", text="PO-1", origin=Origin.TEXT, confidence=1.0)
    on_page = replace(GIVEN.reading, fields={**fields, "order_number": printed})
    assert tried(text, on_page).reading.fields["order_number"] == printed


RULES = TEXT.replace("check:\n", """check:
  rules:
    - name: large
      when: gross_total > 100 GBP
      weight: block
      say: "{{ vendor.name }} bills {{ gross_total }}."
      hint: Ask for the order.
    - name: told twice
      when: found("total.sum")
      say: It does not add up.
    - name: needs a contract
      when: contract_number == "C-1"
      weight: note
      say: Never.
""")  # fmt: skip


def test_rules_of_a_pipelines_own_are_findings():
    found = {each.about: each for each in tried(RULES).advance.checked.findings}
    large = found["rule large"]
    assert (large.code, large.weight, large.hint) == (
        "rule.told", Weight.BLOCK, "Ask for the order.",
    )  # fmt: skip
    assert large.message.startswith(f"{GIVEN.vendor.name} bills ")
    assert large.fields == ("gross_total",)
    unknown = found["rule needs a contract"]
    assert (unknown.code, unknown.weight) == ("rule.not_evaluated", Weight.BLOCK)
    assert "contract_number is missing" in unknown.message
    assert "rule told twice" not in found


def test_a_rule_that_holds_stops_its_document():
    found = tried(RULES, sure(GIVEN.reading))
    assert found.advance.state is State.AT_DESK
    assert any(GIVEN.vendor.name in reason for reason in found.advance.reasons)


@pytest.mark.parametrize(("old", "new", "said"), [
    ("name: told twice", "name: large", "another rule's name"),
    ('found("total.sum")', "5 > 3", "the same for every document"),
    ("It does not add up.", '"{{ posting.number }}"', "no value yet"),
    ("weight: note", "weight: nothing", "is not known"),
])  # fmt: skip
def test_a_wrong_rule_is_told(old, new, said):
    from tests.core.test_pipeline_files import problems

    assert any(said in each.message for each in problems(RULES.replace(old, new, 1)))


CHANGES = [
    ("risk > 10 %", "risk > 20 %", "desk", True),
    ("risk > 10 %", "risk > 5 %", "desk", False),
    ("percent: 2,", "percent: 3,", "check.order.total.percent", True),
    ("percent: 2,", "percent: 1,", "check.order.total.percent", False),
    ("amount: 50}\n    price", "amount: 60}\n    price", "check.order.total.amount", True),
    (", amount: 50}\n    price", "}\n    price", "check.order.total.amount", True),
    ("1 minor unit", "2 minor units", "check.totals.within", True),
    ("freight: {amount: 50}", "freight: {amount: 51}", "check.order.freight.amount", True),
    ("check:\n", "check:\n  weights: {line.amount: note}\n", "check.weights.line.amount", True),
    ("check:\n", "check:\n  weights: {total.due: block}\n", "check.weights.total.due", False),
    ("check:\n", "check:\n  dates: {oldest: 900 days}\n", "check.dates.oldest", True),
    ("missing: block", "missing: warn", "check.weights.order.missing", True),
    ("other_kinds: aside", "other_kinds: desk", "read.other_kinds", False),
    ("[invoice, credit note]\n  other", "[invoice]\n  other", "read.kinds", False),
    ("need: [number, issue_date, seller, currency, net_total", "need: [number, currency",
     "read.need", True),
    ("entities: [aquarium-trust, meerhaus]", "entities: [meerhaus]", "entities", False),
    ("entities: [aquarium-trust, meerhaus]\n", "", "entities", True),
    ("ledger: main-books", "ledger: other-books", "post.ledger", True),
    ("to: ap-team@", "to: others@", "tell", False),
    ('  - {when: kind == "credit note", queue: credits}\n', "", "desk", True),
    ("queue: credits", "queue: other", "desk", False),
    ("title: Supplier", "title: All", "title", False),
    ("unread: true", "unread: false", "collect ap-inbox INBOX.only.unread", False),
]  # fmt: skip


@pytest.mark.parametrize(("old", "new", "place", "loosens"), CHANGES)
def test_what_changed_is_told_by_meaning_and_whether_it_loosens(old, new, place, loosens):
    assert old in TEXT
    found = differences(load(TEXT), load(TEXT.replace(old, new, 1)))
    assert any(each.place.startswith(place) for each in found), found
    assert bool(loosened(found)) is loosens
    assert all(each.before != each.after for each in found)


@pytest.mark.parametrize("same", [
    TEXT.replace("# Supplier", "# Other"), TEXT.replace("risk > 10 %", "risk>10%"),
    TEXT.replace("percent: 2,", "percent: 2.0,"), TEXT.replace("read:\n", "read:  \n"),
])  # fmt: skip
def test_what_means_the_same_is_no_difference(same):
    assert differences(load(TEXT), load(same)) == ()


@pytest.mark.parametrize(("old", "new", "loosens"), [
    ("gross_total > 100 GBP", "gross_total > 200 GBP", True),
    ("gross_total > 100 GBP", "gross_total > 50 GBP", False),
    ("weight: block", "weight: note", True), ("weight: note", "weight: block", False),
    ("Never.", "Not ever.", False),
])  # fmt: skip
def test_a_rule_that_holds_for_less_loosens(old, new, loosens):
    found = differences(load(RULES), load(RULES.replace(old, new, 1)))
    assert found
    assert bool(loosened(found)) is loosens


def test_a_rule_that_is_gone_loosens_and_a_new_one_does_not():
    assert loosened(differences(load(RULES), load(TEXT)))
    assert not loosened(differences(load(TEXT), load(RULES)))
