"""Why a document stands where it stands, and how it is processed again."""

from dataclasses import replace

import pytest
from django.db import transaction

from demo import bills
from tests.service.conftest import (
    PIPELINE,
    SYSTEM,
    answer_of,
    carry_through,
    drawn,
    go_on,
    jobs,
    rechecked,
)
from tests.service.test_api import Caller
from veridox.core.pipeline import Said, State, effects
from veridox.core.pipeline.stages import road
from veridox.core.pipeline.stages.outcome import Outcome, Stop
from veridox.core.posting import PostingState
from veridox.service.accounts.actors import Actor
from veridox.service.desk.actions.again import again
from veridox.service.desk.actions.correct import correct
from veridox.service.desk.actions.discard import discard
from veridox.service.desk.actions.post import post
from veridox.service.desk.actions.reopen import reopen
from veridox.service.desk.actions.resume import resume
from veridox.service.documents import reading
from veridox.service.documents.models import Document, Statement
from veridox.service.documents.queries import accepted
from veridox.service.errors import BadInputError, StaleError, WrongStateError
from veridox.service.flow import appliers
from veridox.service.flow.actions import advance as advancing
from veridox.service.flow.actions import recheck as rechecking
from veridox.service.flow.actions.advance import advance
from veridox.service.flow.actions.fail import fail
from veridox.service.flow.models import Walk
from veridox.service.flow.walks import why
from veridox.service.ledgers.models import Posting
from veridox.service.ledgers.posting import post as post_by_hand
from veridox.service.masterdata.models import Vendor
from veridox.service.notices.models import Notice
from veridox.service.pipelines.actions.pause import pause_refused
from veridox.service.pipelines.actions.publish import publish
from veridox.service.pipelines.models import Pipeline, PipelineVersion
from veridox.service.pipelines.queries import _loaded, not_running
from veridox.service.reports.troubles import troubles
from veridox.service.trail.models import Entry


@pytest.fixture
def cleo(clerk):
    return Actor.of(clerk)


@pytest.fixture
def slip(installation):
    return installation.checked(bills.SALT_SLIP, "band")


def steps(document):
    return {step["stage"]: step for step in why(document)[0]["steps"]}


# -- why


def test_each_walk_says_what_each_stage_looked_at(slip):
    (walk,) = why(slip)
    assert (walk["by"], walk["before"], walk["state"]) == ("system:test", "read", "at_desk")
    assert (walk["pipeline"], walk["pipeline_version"]) == ("supplier-invoices", 1)
    assert walk["reading_version"] == 1
    told = steps(slip)
    assert "vendor V1002 Saltglass Systems Ltd" in told["check"]["looked"]
    assert any("total.sum, block:" in line for line in told["check"]["looked"])
    assert told["desk"]["looked"][1].startswith("blocked: yes")
    assert told["desk"]["then"] == "at desk, queue exceptions"


def test_a_document_that_goes_through_has_a_walk_for_each_time(installation):
    document = installation.checked(bills.KRILL)
    carry_through(str(document.posting.pk))
    document.refresh_from_db()
    assert [walk["state"] for walk in why(document)] == ["posted", "cleared"]
    assert "stands in the ledger as M-1" in steps(document)["post"]["looked"]


def test_what_changes_nothing_leaves_no_walk(installation):
    document = installation.checked(bills.KRILL)
    advance(SYSTEM, document.pk)
    advance(SYSTEM, document.pk)
    assert Walk.objects.filter(document=document).count() == 1


def test_a_check_that_finds_the_same_leaves_the_story_as_it_is(slip):
    acts, version = Entry.objects.count(), slip.version
    advance(SYSTEM, slip.pk)
    slip.refresh_from_db()
    assert (len(why(slip)), Entry.objects.count(), slip.version) == (1, acts, version)
    Vendor.objects.filter(pk=slip.vendor_id).update(blocked=True)
    advance(SYSTEM, slip.pk)
    slip.refresh_from_db()
    assert (len(why(slip)), slip.version) == (2, version + 1)
    assert "vendor.blocked" in str(why(slip)[0])


def test_a_trace_costs_about_as_much_as_a_notice(installation, slip):
    from django.db import connection

    with connection.cursor() as cursor:
        cursor.execute("select avg(pg_column_size(trace)) from flow_walk")
        assert cursor.fetchone()[0] < 1_500


def test_why_is_told_over_the_api(slip, clerk):
    reads = Caller(clerk, "read")
    (walk,) = reads.get(f"/documents/{slip.pk}/why").json()
    assert [step["stage"] for step in walk["steps"]] == ["end", "check", "wait", "desk"]
    assert reads.get("/documents/999999/why").status_code == 404


def test_a_person_who_clears_leaves_what_they_saw(slip, cleo):
    seen = steps(slip)["desk"]["looked"]
    post(cleo, slip.pk, slip.version, "agreed by phone")
    cleared = Statement.objects.get(what=Said.CLEARED)
    assert (cleared.looked, cleared.reading, cleared.reason) == (seen, 1, "agreed by phone")
    slip.refresh_from_db()
    assert "(accepted by cleo: agreed by phone)" in str(steps(slip)["check"])


def test_what_was_cleared_once_is_cleared_again_in_one_step(installation, cleo):
    definition = PIPELINE.replace("risk > 10 %", "gross_total > 1 GBP or risk > 10 %")
    installation.version = publish(SYSTEM, definition)
    document = installation.checked(bills.KRILL)
    after = post(cleo, document.pk, document.version, "fine")
    assert after.state == State.CLEARED
    installation.ledger.refuses = ("closed",)
    carry_through(str(after.posting.pk))
    after.refresh_from_db()
    assert (after.state, len(after.reasons)) == (State.AT_DESK, 1)  # the refusal alone
    assert "; looked at already" in str(steps(after)["desk"])
    assert post(cleo, after.pk, after.version, "it is open now").state == State.CLEARED


# -- statements


def test_another_slip_of_the_same_code_is_not_accepted_by_what_was_said(slip, cleo):
    after = post(cleo, slip.pk, slip.version, "agreed")
    Document.objects.filter(pk=slip.pk).update(state=State.AT_DESK)
    after = correct(cleo, slip.pk, after.version, {"fields": {"gross_total": "1500.00"}})
    assert (after.state, accepted(after)) == (State.AT_DESK, [])
    back = correct(cleo, slip.pk, after.version, {"fields": {"gross_total": "1481.28"}})
    assert [each["reason"] for each in accepted(back)] == ["agreed"]  # these figures again


def test_a_reopened_document_is_looked_at_as_if_for_the_first_time(slip, cleo):
    after = discard(cleo, slip.pk, slip.version, "came twice")
    assert (after.state, after.end_reason) == (State.DISCARDED, "came twice")
    back = reopen(cleo, slip.pk, after.version)
    assert (back.state, back.end_reason) == (State.AT_DESK, "")
    assert not back.statements.filter(ended_at=None).exists()
    assert back.statements.get(what=Said.DISCARDED).ended_by == "person:cleo"


@pytest.mark.parametrize(("what", "again_at"), [
    ("vendors", 1), ("entities", 0), ("orders", 0),
])  # fmt: skip
def test_only_what_may_help_has_a_document_looked_at_again(installation, what, again_at):
    waiting = installation.checked(bills.KIOSK)
    go_on()
    assert [each["code"] for each in waiting.findings] == ["vendor.unknown"]
    assert rechecked(what) == [{"document_id": waiting.pk}] * again_at


def test_long_lists_are_looked_at_in_chunks(installation, monkeypatch):
    monkeypatch.setattr(rechecking, "CHUNK", 2)
    documents = [installation.checked(replace(bills.KIOSK, number=f"K-{n}")) for n in range(3)]
    go_on()
    assert len(rechecked()) == 2
    assert jobs("recheck") == [{"what": "vendors", "after": documents[1].pk}]


def test_a_number_that_a_later_document_may_post_is_no_longer_free(installation, cleo):
    first = installation.checked(bills.KIOSK)
    later = installation.checked(replace(bills.VET_VISIT, number="QV-77"))
    assert (first.pk < later.pk, later.state) == (True, State.CLEARED)
    change = {"vendor": later.vendor.code, "fields": {
        "number": "QV-77", "issue_date": later.issue_date.isoformat()}}  # fmt: skip
    after = correct(cleo, first.pk, first.version, change)
    (finding,) = [each for each in after.findings if each["code"] == "duplicate.exact"]
    assert finding["about"] == f"document {later.pk}"


# -- again


def test_a_document_is_checked_again_and_the_old_result_is_kept(slip, cleo):
    post_code = [each["code"] for each in slip.findings]
    after = again(cleo, slip.pk, slip.version, stage="check", newest_version=False, reason="why")
    assert [each["code"] for each in after.findings] == post_code
    assert len(why(after)) == 2
    entry = Entry.objects.get(act="document.again")
    assert entry.details["from"] == "check"
    assert (entry.details["was"], entry.details["reason"]) == ("at_desk", "why")


def test_under_the_newest_version_its_rules_count(slip, cleo, installation):
    relaxed = PIPELINE.replace("queue: exceptions", "queue: later")
    publish(SYSTEM, relaxed)
    same = again(cleo, slip.pk, slip.version, stage="check", newest_version=False, reason="")
    assert (same.queue, same.pipeline_version.number) == ("exceptions", 1)
    newer = again(cleo, slip.pk, same.version, stage="check", newest_version=True, reason="")
    assert (newer.queue, newer.pipeline_version.number) == ("later", 2)


def test_fields_that_only_the_newer_version_declares_come_from_the_mail_or_by_default(
    slip, cleo, installation
):
    publish(SYSTEM, PIPELINE.replace(
        "read:\n", "read:\n  fields:\n    desk_of: {type: text, labels: [desk], default: main}\n"
    ))  # fmt: skip
    after = again(cleo, slip.pk, slip.version, stage="check", newest_version=True, reason="")
    newest = after.readings.latest("number")
    assert (newest.number, newest.reading["fields"]["desk_of"]["value"]) == (2, "main")
    assert after.readings.get(number=1).reading["fields"].get("desk_of") is None


def test_what_was_decided_on_the_old_result_holds_no_more(slip, cleo):
    after = post(cleo, slip.pk, slip.version, "agreed")
    Posting.objects.filter(pk=after.posting.pk).update(state=PostingState.REFUSED)
    Document.objects.filter(pk=slip.pk).update(state=State.AT_DESK)
    after = again(cleo, slip.pk, after.version, stage="check", newest_version=False, reason="")
    assert (after.state, accepted(after)) == (State.AT_DESK, [])


def read_again(document, monkeypatch, *contents):
    """The file gives these bills now."""
    answers = [answer_of(content) for content in contents]
    found = replace(answers[0], readings=tuple(r for a in answers for r in a.readings))
    monkeypatch.setattr(reading, "_answer", lambda *_: found)
    reading.read_again(document.pk)
    go_on()
    document.refresh_from_db()


def test_a_file_is_read_anew_for_its_document(slip, cleo, monkeypatch):
    after = again(cleo, slip.pk, slip.version, stage="read", newest_version=False, reason="")
    assert (after.state, jobs("read_again")) == (State.RECEIVED, [{"document_id": slip.pk}])
    right = drawn("band", replace(bills.SALT_SLIP, gross_slip=0))
    read_again(after, monkeypatch, right)
    assert after.state == State.CLEARED
    assert [row.note for row in after.readings.order_by("number")] == ["", "read again"]
    reading.read_again(after.pk)  # a rescued job changes nothing
    assert after.readings.count() == 2


def test_a_file_that_holds_another_number_of_documents_now_changes_nothing(slip, cleo, monkeypatch):
    after = again(cleo, slip.pk, slip.version, stage="read", newest_version=False, reason="")
    content = drawn("band", bills.SALT_SLIP)
    read_again(after, monkeypatch, content, content)
    assert (after.state, after.readings.count()) == (State.AT_DESK, 1)
    kept = Entry.objects.get(act="document.read_again").details["kept"]
    assert "2 documents now, for 1 document before" in kept


def test_while_it_is_read_anew_nothing_moves_it(slip, cleo):
    after = again(cleo, slip.pk, slip.version, stage="read", newest_version=False, reason="")
    advance(SYSTEM, slip.pk)
    slip.refresh_from_db()
    assert (slip.state, slip.version) == (State.RECEIVED, after.version)


@pytest.mark.parametrize("state", [
    PostingState.SENDING, PostingState.UNSURE, PostingState.POSTED,
])  # fmt: skip
def test_what_stands_in_the_ledger_or_may_is_not_processed_again(installation, cleo, state):
    document = installation.checked(bills.KRILL)
    Posting.objects.filter(document=document).update(state=state, number="BL-1")
    Document.objects.filter(pk=document.pk).update(state=State.AT_DESK)
    with pytest.raises(WrongStateError, match="stands in the ledger as BL-1, or may"):
        again(cleo, document.pk, document.version, stage="check", newest_version=True, reason="")


def test_what_is_on_its_way_is_not_processed_again(installation, cleo):
    document = installation.checked(bills.KRILL)
    with pytest.raises(WrongStateError, match="on its way to the ledger"):
        again(cleo, document.pk, document.version, stage="check", newest_version=True, reason="")


def test_again_asks_for_a_stage_it_knows_and_for_the_version_seen(slip, cleo):
    with pytest.raises(BadInputError, match="check or read"):
        again(cleo, slip.pk, slip.version, stage="post", newest_version=False, reason="")
    with pytest.raises(BadInputError, match="from where"):
        again(cleo, slip.pk, slip.version, stage="", newest_version=True, reason="")
    with pytest.raises(StaleError):
        again(cleo, slip.pk, slip.version - 1, stage="check", newest_version=False, reason="")


def test_again_over_the_api(slip, clerk):
    works = Caller(clerk, "read", "work")
    etag = {"If-Match": works.get(f"/documents/{slip.pk}").headers["ETag"]}
    answer = works.send("post", f"/documents/{slip.pk}/again", {"stage": "check"}, **etag)
    assert (answer.status_code, answer.json()["state"]) == (200, "at_desk")
    wrong = works.send("post", f"/documents/{slip.pk}/again", {"stage": "ask"}, **etag)
    assert wrong.status_code == 400


# -- what goes wrong


def test_a_stage_with_a_mistake_stops_the_document_and_the_worker_lives(
    installation, cleo, monkeypatch
):
    def broken(definition, case):
        raise KeyError("nothing")

    usual = road.ROAD
    wrong = tuple(replace(each, stage=broken) if each.name == "desk" else each for each in usual)
    compute = advancing.compute
    monkeypatch.setattr(advancing, "compute", lambda d, c: compute(d, c, wrong))
    document = installation.checked(bills.KRILL)
    assert (document.state, document.failed_at_state) == (State.FAILED, State.READ)
    assert document.reasons == ["Stopped at desk: 'nothing'"]
    assert Entry.objects.filter(act="document.failed").count() == 1
    assert steps(document)["desk"]["then"] == "failed"
    monkeypatch.setattr(advancing, "compute", lambda d, c: compute(d, c, usual))
    resume(cleo, document.pk, document.version)
    go_on()
    document.refresh_from_db()
    assert document.state == State.CLEARED


def test_an_effect_that_nobody_does_leaves_everything_as_it_was(installation, monkeypatch):
    def asks(definition, case):
        effect = effects.Ask(who="role tax", answers=("yes",), within=3)
        return Outcome(stop=Stop(state=State.ASKED), effects=(effect,))

    wrong = (*road.ROAD[:4], replace(road.ROAD[4], stage=asks))
    compute = advancing.compute
    monkeypatch.setattr(advancing, "compute", lambda d, c: compute(d, c, wrong))
    document = installation.arrive(bills.KRILL)
    with pytest.raises(LookupError, match="nothing here does Ask"), transaction.atomic():
        advance(SYSTEM, document.pk)
    document.refresh_from_db()
    assert (document.state, Walk.objects.count()) == (State.READ, 0)


def test_one_applier_is_all_that_a_new_effect_needs(installation, monkeypatch):
    asked = []
    monkeypatch.setitem(appliers.APPLIERS, effects.Ask, lambda ground, effect: asked.append(effect))

    def asks(definition, case):
        effect = effects.Ask(who="role tax", answers=("yes",), within=3)
        return Outcome(stop=Stop(state=State.ASKED, reasons=("tax",)), effects=(effect,))

    new = (*road.ROAD[:4], replace(road.ROAD[4], stage=asks))
    compute = advancing.compute
    monkeypatch.setattr(advancing, "compute", lambda d, c: compute(d, c, new))
    document = installation.checked(bills.KRILL)
    assert (document.state, document.reasons, len(asked)) == (State.ASKED, ["tax"], 1)


@pytest.fixture
def refused_version(installation, slip):
    """A version that a newer loader does not take."""
    text = PIPELINE.replace("post:\n", "keep: {to: sheet}\npost:\n")
    PipelineVersion.objects.filter(pk=slip.pipeline_version_id).update(text=text)
    _loaded.cache_clear()
    yield
    _loaded.cache_clear()


def test_a_version_that_is_refused_now_is_paused_and_told(refused_version):
    refused = pause_refused(SYSTEM)
    assert "keep is not yet available" in refused["supplier-invoices"]
    assert Pipeline.objects.get().paused
    assert Entry.objects.get(act="pipeline.paused").subject_id == "supplier-invoices"
    pause_refused(SYSTEM)  # once
    assert Entry.objects.filter(act="pipeline.paused").count() == 1
    assert "keep" in not_running()["supplier-invoices"]
    assert troubles()[0]["part"] == "pipeline supplier-invoices"
    publish(SYSTEM, PIPELINE + "# mended\n")
    assert not Pipeline.objects.get().paused


def test_a_document_of_a_refused_version_stops_and_goes_on_with_a_corrected_one(
    refused_version, slip, cleo
):
    advance(SYSTEM, slip.pk)
    slip.refresh_from_db()
    assert slip.state == State.FAILED
    assert "does not pass its check any more" in slip.reasons[0]
    assert not Notice.objects.filter(event="failed").exists()
    assert not slip.walks.filter(state=State.FAILED).exists()
    publish(SYSTEM, PIPELINE + "# mended\n")
    after = again(cleo, slip.pk, slip.version, stage="check", newest_version=True, reason="")
    assert (after.state, after.pipeline_version.number) == (State.AT_DESK, 2)


def test_a_document_of_a_refused_version_can_still_be_discarded(refused_version, slip, cleo):
    advance(SYSTEM, slip.pk)
    slip.refresh_from_db()
    after = discard(cleo, slip.pk, slip.version, "we have it twice")
    assert (after.state, after.end_reason) == (State.DISCARDED, "we have it twice")


def test_a_booked_bill_of_a_refused_version_ends_as_posted(installation):
    document = installation.checked(bills.KRILL)
    text = PIPELINE.replace("post:\n", "keep: {to: sheet}\npost:\n")
    PipelineVersion.objects.filter(pk=document.pipeline_version_id).update(text=text)
    _loaded.cache_clear()
    try:
        advance(SYSTEM, document.pk)  # on its way: it stays so
        document.refresh_from_db()
        assert document.state == State.CLEARED
        carry_through(str(document.posting.pk))
    finally:
        _loaded.cache_clear()
    document.refresh_from_db()
    assert (document.state, document.posting.number) == (State.POSTED, "M-1")


def test_what_failed_after_its_bill_was_complete_goes_on_to_its_end(installation, cleo):
    document = installation.checked(bills.KRILL)
    post_by_hand(str(document.posting.pk))
    fail(SYSTEM, document.pk, "the queue was lost")
    document.refresh_from_db()
    resume(cleo, document.pk, document.version)
    go_on()
    document.refresh_from_db()
    assert document.state == State.POSTED
