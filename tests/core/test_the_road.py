"""The road a document takes: pure, so each turn of it is a table."""

import re
from dataclasses import replace
from datetime import UTC, datetime

import pytest

from tests.core.test_checks import came, facts, gbp
from tests.pipelines import UNCODED
from veridox.core.checks import CheckError
from veridox.core.facts import Facts
from veridox.core.findings import Finding, Weight
from veridox.core.matching import EarlierDocument, VendorRecord
from veridox.core.pipeline import (
    Advance,
    Case,
    LetterFact,
    PostingFact,
    Said,
    State,
    Statement,
    advance,
    identity_of,
    load,
)
from veridox.core.pipeline import effects as effects_module
from veridox.core.pipeline.effects import (
    GiveFree,
    Notify,
    PreparePosting,
    Remember,
    SettleMail,
)
from veridox.core.pipeline.stages.check import risk
from veridox.core.pipeline.stages.outcome import Outcome
from veridox.core.pipeline.stages.road import NOT_YET, ROAD, Place
from veridox.core.pipeline.trace import from_json, shown, to_json
from veridox.core.reading import Field, Kind, Origin, Reading

TEXT = UNCODED
DEFINITION = load(TEXT)
CLEAN, WRONG = facts(), facts(gross_total=gbp("1481.28"))
NOW = datetime(2026, 11, 29, tzinfo=UTC)


def case(given=CLEAN, *statements, **more):
    return Case(facts=given, statements=statements, **more)


def said(what, **more):
    return Statement(what=what, by="person:cleo", at=NOW, **more)


def went(given=CLEAN, *statements, definition=DEFINITION, **more) -> Advance:
    return advance(definition, case(given, *statements, **more))


def steps(result, stage):
    return next(step.looked for step in result.trace if step.stage == stage)


def kinds(result):
    return [type(effect) for effect in result.effects]


# -- the desk's gate


def test_a_clean_document_is_posted_next():
    result = went()
    assert (result.state, result.reasons) == (State.CLEARED, ())
    assert result.effects == (PreparePosting(ledger="main-books"), SettleMail())


def test_a_blocking_finding_stops_even_when_no_rule_asks_for_it():
    result = went(WRONG, definition=replace(DEFINITION, desk=()))
    assert (result.state, result.queue) == (State.AT_DESK, "exceptions")
    assert "60.00 GBP too high" in result.reasons[0]
    assert result.effects == (Notify(event="at the desk"), SettleMail())


def test_a_warning_stops_nothing():
    mild = replace(DEFINITION.check, weights={"total.sum": Weight.WARN})
    result = went(replace(WRONG, settings=mild))
    assert result.state is State.CLEARED
    assert [each.code for each in result.checked.findings] == ["total.sum"]


def of_kind(kind, given=CLEAN):
    return replace(given, reading=replace(given.reading, kind=kind))


def test_the_first_rule_that_holds_names_the_queue():
    assert went(of_kind(Kind.CREDIT_NOTE)).queue == "credits"


def test_a_rule_that_cannot_be_evaluated_stops_the_document():
    definition = load(TEXT.replace("risk > 10 %", 'contract_number == "C-1"'))
    result = went(definition=definition)
    assert result.state is State.AT_DESK
    assert "contract_number is missing" in result.reasons[0]
    assert 'contract_number (missing) == "C-1": cannot be evaluated' in str(steps(result, "desk"))


@pytest.mark.parametrize(("because", "said_to_people"), [
    ("", "The kind of document (credit note) is credit note."),
    ("Credits are looked at by Bo.", "Credits are looked at by Bo."),
])  # fmt: skip
def test_people_are_told_in_words_why_a_rule_stops_it(because, said_to_people):
    text = TEXT.replace(
        'kind == "credit note", queue: credits',
        f'kind == "credit note", queue: credits, because: "{because}"',
    )
    text = text if because else TEXT
    result = went(of_kind(Kind.CREDIT_NOTE), definition=load(text))
    assert said_to_people in result.reasons
    assert "==" not in "".join(result.reasons)


def test_a_delivery_note_is_laid_aside_and_not_checked():
    result = went(of_kind(Kind.DELIVERY_NOTE, facts(without=("number",))))
    assert (result.state, result.checked.findings) == (State.ASIDE, ())
    assert [step.stage for step in result.trace] == ["end", "check"]


def test_a_document_of_no_known_kind_is_for_a_person():
    assert went(of_kind(Kind.OTHER)).state is State.AT_DESK


# -- what people said


def accepted(given, *, reading=1, change=None):
    """What a clerk accepts who sees this document: its blocking findings, and the conditions."""
    before = went(given)
    told = [
        said(Said.ACCEPTED, identity=identity_of(f, given.reading), reading=reading, reason="ok")
        for f in before.checked.open
    ]
    if change:
        told = [replace(each, identity=replace(each.identity, **change)) for each in told]
    return (*told, said(Said.CLEARED, looked=steps(before, "desk"), reading=reading))


def test_what_was_accepted_and_cleared_goes_on_and_the_trace_says_who():
    result = went(WRONG, *accepted(WRONG), state=State.AT_DESK)
    assert result.state is State.CLEARED
    assert "(accepted by cleo: ok)" in str(steps(result, "check"))
    assert "cleared by cleo" in str(steps(result, "desk"))


def test_clearing_alone_accepts_no_finding():
    result = went(WRONG, said(Said.CLEARED, looked=steps(went(WRONG), "desk")))
    assert result.state is State.AT_DESK


@pytest.mark.parametrize("change", [
    {"code": "lines.sum"}, {"fields": ("net_total",)}, {"figures": ("1421.28", "1491.28", "+70")},
    {"values": ("1491.28 GBP",)}, {"about": "document 7"},
])  # fmt: skip
def test_another_finding_is_not_accepted_by_it(change):
    assert went(WRONG, *accepted(WRONG, change=change)).state is State.AT_DESK


def test_another_slip_of_the_same_code_is_not_accepted_by_it():
    other = facts(gross_total=gbp("1491.28"))
    assert went(other, *accepted(WRONG)).state is State.AT_DESK


def near(reference, number="SG10442"):
    given = EarlierDocument(reference=reference, number=number, issued=None, state="posted")
    return came(CLEAN, given)


def test_a_second_near_duplicate_is_not_accepted_with_the_first():
    assert went(near("7"), *accepted(near("7"))).state is State.CLEARED
    assert went(near("8"), *accepted(near("7"))).state is State.AT_DESK


def test_what_was_accepted_survives_a_correction_of_something_else():
    corrected = replace(
        WRONG, reading=WRONG.reading.with_fields({"due_date": Field(value=NOW.date())})
    )
    told = (*accepted(WRONG)[:-1], *accepted(corrected, reading=2)[-1:])
    assert went(corrected, *told, reading=2).state is State.CLEARED


def test_a_clearing_holds_for_the_version_that_was_seen():
    unsure = facts()
    field = Field(value="SG/10442", text="SG/10442", confidence=0.3, origin=Origin.IMPRINT)
    unsure = replace(unsure, reading=unsure.reading.with_fields({"number": field}))
    told = accepted(unsure)
    (said_to_people,) = went(unsure).reasons
    assert said_to_people.startswith("The chance that a value is wrong (")
    assert said_to_people.endswith(" %) is more than 10 %.")
    assert went(unsure, *told).state is State.CLEARED
    assert went(unsure, *told, reading=2).state is State.AT_DESK


def test_a_clearing_holds_for_the_conditions_that_stood():
    definition = load(TEXT.replace("risk > 10 %", "order.net_total > 1000 GBP or risk > 10 %"))
    seen = steps(went(definition=definition), "desk")
    cleared = said(Said.CLEARED, looked=seen)
    assert went(CLEAN, cleared, definition=definition).state is State.CLEARED
    dearer = replace(CLEAN, order=replace(CLEAN.order, net_total=gbp("5000.00")))
    result = went(dearer, cleared, definition=definition)
    assert result.state is State.AT_DESK
    assert "order.net_total 5,000.00 GBP > 1,000.00 GBP" in str(steps(result, "desk"))


def test_what_stopped_it_and_is_gone_waits_for_a_person():
    finding = Finding(code="vendor.contradicted", weight=Weight.BLOCK, message="x")
    stopped = said(Said.STOPPED, identity=identity_of(finding, CLEAN.reading))
    result = went(CLEAN, stopped, state=State.AT_DESK)
    assert result.state is State.AT_DESK
    assert "a person lets it go on" in result.reasons[0]


@pytest.mark.parametrize(("given", "remembered"), [
    (replace(CLEAN, vendor=None, vendor_contradiction="two sellers"), ["vendor.contradicted"]),
    (near("7", "SG/10442"), ["duplicate.exact"]), (near("7"), ["duplicate.near"]),
    (replace(CLEAN, number_taken=True), ["duplicate.exact"]),
    (replace(CLEAN, vendor=None), []), (WRONG, []),
])  # fmt: skip
def test_only_what_never_goes_on_alone_is_remembered(given, remembered):
    found = [e for e in went(given).effects if isinstance(e, Remember)]
    assert [f.code for effect in found for f in effect.findings] == remembered


def test_it_is_remembered_once():
    finding = Finding(code="vendor.contradicted", weight=Weight.BLOCK, message="x")
    stopped = said(Said.STOPPED, identity=identity_of(finding, CLEAN.reading))
    contradicted = replace(CLEAN, vendor=None, vendor_contradiction="two sellers")
    result = went(contradicted, stopped, state=State.AT_DESK, queue="exceptions")
    assert (result.state, result.effects) == (State.AT_DESK, ())


REFUSED = Finding(code="ledger.refused", weight=Weight.BLOCK, message="The period is closed.")


def test_what_the_ledger_said_stands_until_a_person_answers():
    told = said(Said.TOLD, finding=REFUSED, identity=identity_of(REFUSED, CLEAN.reading))
    again = said(Said.ACCEPTED, identity=identity_of(REFUSED, CLEAN.reading))
    for statements in ((told,), (told, again), (again, told)):
        result = went(CLEAN, *statements, state=State.AT_DESK)
        assert result.state is State.AT_DESK
        assert result.reasons[0] == REFUSED.message
    assert went(CLEAN, again, state=State.AT_DESK).state is State.CLEARED


# -- ends


def test_a_discarded_document_ends_whatever_the_checks_say():
    result = went(WRONG, said(Said.DISCARDED, reason="came twice"), state=State.AT_DESK)
    assert (result.state, result.reasons) == (State.DISCARDED, ("came twice",))
    assert result.effects == (GiveFree(), Notify(event="discarded"), SettleMail())
    assert result.checked is None
    assert steps(result, "end") == ("discarded by cleo: came twice",)


@pytest.mark.parametrize(("letter", "state", "words"), [
    (LetterFact(to="a@b.example", state="sent"), State.RETURNED, "returned to a@b.example"),
    (LetterFact(to="a@b.example", state="failed", problem="550 no such box"), State.AT_DESK,
     "The letter to a@b.example did not go out: 550 no such box"),
])  # fmt: skip
def test_a_letter_that_went_out_ends_its_document_and_one_that_failed_brings_it_back(
    letter, state, words
):
    result = went(CLEAN, said(Said.SENT_BACK), letter=letter, state=State.AT_DESK)
    assert (result.state, result.reasons[0]) == (state, words)


def test_an_old_letter_ends_nothing_once_somebody_decided_otherwise():
    sent = LetterFact(to="a@b.example", state="sent")
    assert went(CLEAN, letter=sent, state=State.AT_DESK).state is State.CLEARED


# -- postings


def posting(state, **more):
    return PostingFact(id="p-1", state=state, **more)


@pytest.mark.parametrize("state", ["prepared", "sending", "unsure", "posted"])
def test_what_is_on_its_way_to_the_ledger_is_stopped_by_nothing_new(state):
    result = went(WRONG, state=State.CLEARED, posting=posting(state))
    assert (result.state, result.effects, result.checked) == (State.CLEARED, (), None)


def test_a_refused_posting_is_prepared_again_only_from_the_desk_on():
    result = went(state=State.AT_DESK, posting=posting("refused"))
    assert PreparePosting in kinds(result)


@pytest.mark.parametrize(("differences", "codes"), [((), []), (("total 1 instead of 2",), [
    "posting.differs"])])  # fmt: skip
def test_a_complete_posting_ends_its_document(differences, codes):
    fact = posting("posted", complete=True, number="BL-7", differences=differences)
    result = went(state=State.CLEARED, posting=fact)
    assert (result.state, [f.code for f in result.found]) == (State.POSTED, codes)
    assert result.effects == (Notify(event="posted"), SettleMail())


def test_what_the_ledger_told_stops_a_posting_that_is_unsure():
    unsure = Finding(code="posting.unsure", weight=Weight.BLOCK, message="No answer.")
    told = said(Said.TOLD, finding=unsure, identity=identity_of(unsure, CLEAN.reading))
    result = went(CLEAN, told, state=State.CLEARED, posting=posting("unsure"))
    assert (result.state, result.reasons[0]) == (State.AT_DESK, "No answer.")


def test_nothing_is_prepared_where_the_pipeline_posts_nothing():
    result = went(definition=replace(DEFINITION, post=None))
    assert (result.state, PreparePosting in kinds(result)) == (State.AT_DESK, False)


# -- effects that belong to every stop


@pytest.mark.parametrize(("state", "queue", "told", "settled"), [
    (State.READ, "", True, True), (State.AT_DESK, "exceptions", False, False),
    (State.AT_DESK, "credits", True, False), (State.CLEARED, "", True, True),
])  # fmt: skip
def test_people_are_told_once_of_what_comes_to_their_queue(state, queue, told, settled):
    result = went(WRONG, state=state, queue=queue)
    assert (Notify in kinds(result), SettleMail in kinds(result)) == (told, settled)


# -- mistakes in stages and checks


def test_a_stage_that_fails_stops_the_document_with_the_reason():
    def broken(definition, given):
        del definition, given
        raise ZeroDivisionError("division by zero")

    road = (ROAD[0], Place(name="back", stage=broken), *ROAD[3:])
    result = advance(DEFINITION, case(), road)
    assert (result.state, result.effects[-2:]) == (
        State.FAILED, (Notify(event="failed"), SettleMail()),
    )  # fmt: skip
    assert result.reasons == ("Stopped at back: division by zero",)


def test_a_check_that_fails_says_which(monkeypatch):
    from veridox.core.checks import registry

    def broken(given):
        del given
        yield from {}["nothing"]

    row = next(each for each in registry.CHECKS if each.name == "read_surely")
    monkeypatch.setattr(registry, "CHECKS", (replace(row, run=broken),))
    with pytest.raises(CheckError, match="read_surely failed: KeyError"):
        registry.run_checks(CLEAN)
    result = went()
    assert (result.state, "read_surely" in result.reasons[0]) == (State.FAILED, True)


def test_a_check_says_only_codes_of_its_row(monkeypatch):
    from veridox.core.checks import registry

    row = replace(registry.CHECKS[3], run=lambda given: [REFUSED])
    monkeypatch.setattr(registry, "CHECKS", (row,))
    with pytest.raises(CheckError, match=r"does not declare 'ledger\.refused'"):
        registry.run_checks(CLEAN)


# -- the road itself


def test_the_same_case_gives_the_same_advance():
    given = case(WRONG, *accepted(WRONG), state=State.AT_DESK)
    assert advance(DEFINITION, given) == advance(DEFINITION, given)


def test_a_new_stage_stands_where_it_is_put_and_is_seen_in_the_trace():
    seen = Place(name="ask", stage=lambda definition, given: Outcome(looked=("asked nobody",)))
    road = tuple(seen if place.name == "ask" else place for place in ROAD)
    result = advance(DEFINITION, case(), road)
    assert [step.stage for step in result.trace] == ["end", "check", "wait", "desk", "ask", "post"]


@pytest.mark.parametrize("name", NOT_YET)
def test_a_stage_that_does_not_exist_yet_is_refused_when_checked(name):
    from tests.core.test_pipeline_files import problems

    (problem,) = problems(f"{TEXT}\n{name}:\n  - {{when: blocked}}\n")
    assert problem.message == f"{name} is not yet available"
    assert problem.line == len(TEXT.splitlines()) + 2


def test_every_effect_is_a_frozen_value():
    classes = [e for e in vars(effects_module).values() if isinstance(e, type)]
    assert {cls.__name__ for cls in classes} >= {
        "SendBack", "Ask", "RequestApproval", "WaitFor", "KeepRows", "PreparePosting",
    }  # fmt: skip
    assert all(
        cls.__dataclass_params__.frozen for cls in classes if hasattr(cls, "__dataclass_params__")
    )


def test_a_trace_comes_back_as_it_was_stored():
    result = went(WRONG)
    assert from_json(to_json(result.trace)) == result.trace
    told = shown(result.trace)
    assert told[-1]["then"] == "at desk, queue exceptions"
    assert any(re.search(r"total\.sum, block: .*60\.00 GBP too high", e) for e in told[1]["looked"])


# -- risk


def test_risk_grows_with_each_unsure_value_and_a_persons_values_carry_none():
    reading = facts().reading
    assert risk(reading).share == 0
    unsure = Field(value="X", confidence=0.9)
    one = reading.with_fields({"number": unsure})
    two = one.with_fields({"issue_date": replace(unsure, value=reading.day("issue_date"))})
    assert 0 < risk(one).share < risk(two).share
    person = one.with_fields({"number": Field(value="X", origin=Origin.PERSON)})
    assert risk(person).share == 0


def test_the_trace_names_what_the_risk_comes_from():
    unsure = CLEAN.reading.with_fields({"number": Field(value="X", confidence=0.9)})
    told = steps(went(replace(CLEAN, reading=unsure)), "check")
    assert told[-1].endswith("least sure are number 90.0%")


def test_at_most_three_values_are_named():
    names = ("number", "seller.name", "net_total", "tax_total", "gross_total")
    fields = {n: replace(CLEAN.reading.fields[n], confidence=0.9) for n in names}
    told = steps(went(replace(CLEAN, reading=CLEAN.reading.with_fields(fields))), "check")
    assert told[-1].count("90.0%") == 3


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
