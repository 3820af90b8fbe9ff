"""Exactly once, whatever the ledger does. The ledger is in memory; its faults are real ones."""

import pytest
from django.db import IntegrityError, transaction

from demo import bills
from tests.service.conftest import carry_through as post
from tests.service.conftest import jobs
from veridox.core.posting import Bill, PostingState
from veridox.service.accounts.actors import Actor
from veridox.service.desk.actions.discard import discard
from veridox.service.desk.actions.post import post as clear
from veridox.service.documents.actions import settle as settling
from veridox.service.documents.models import Document, State
from veridox.service.errors import UnreachableError, WrongStateError
from veridox.service.flow.actions.fail import fail
from veridox.service.intake.models import File, Message
from veridox.service.ledgers.actions import answers
from veridox.service.ledgers.actions.answers import begin_sending
from veridox.service.ledgers.models import Posting
from veridox.service.ledgers.posting import LookAgainError
from veridox.service.notices.models import Notice
from veridox.service.ports.ledger import NoAnswerError
from veridox.service.storage import originals


@pytest.fixture
def cleared(installation):
    return installation.checked(bills.KRILL)


def run(document):
    post(str(document.posting.pk))
    document.refresh_from_db()
    document.posting.refresh_from_db()


def delivery_note_beside(document):
    note = originals().put(b"a delivery note")
    File.objects.create(
        pipeline_version=document.pipeline_version, name="note.docx", media_type="x/y", size=15,
        sha256=note, state="aside", goes_with=document.file, position=2,
    )  # fmt: skip
    return note


def bills_in(installation):
    return len(installation.ledger.bills)


def test_a_bill_is_rehearsed_booked_attached_and_read_back(installation, cleared):
    run(cleared)
    assert installation.ledger.calls == ["rehearse", "post", "attach"]
    assert (cleared.state, cleared.posting.number) == (State.POSTED, "M-1")
    assert installation.ledger.files[str(cleared.posting.pk)] == [cleared.file.sha256]


def test_one_confirmation_with_number_and_link_is_queued(installation, cleared):
    run(cleared)
    run(cleared)
    notice = Notice.objects.get()
    assert "M-1" in notice.subject
    assert "memory:1" in notice.text
    assert f"/documents/{cleared.pk}" in notice.text
    assert jobs("tell") == [{"notice_id": notice.pk}]


def test_a_refused_bill_goes_back_to_the_desk_with_the_ledgers_words(installation, cleared):
    installation.ledger.refuses = ("period: November is closed",)
    run(cleared)
    assert cleared.state == State.AT_DESK
    assert "November is closed" in cleared.reasons[0]
    assert bills_in(installation) == 0


def test_after_a_refusal_the_same_posting_is_used_again(installation, cleared, clerk):
    installation.ledger.refuses = ("period: closed",)
    run(cleared)
    first = cleared.posting.pk
    installation.ledger.refuses = ()
    clear(Actor.of(clerk), cleared.pk, cleared.version, "period is open now")
    run(cleared)
    assert (cleared.state, cleared.posting.pk) == (State.POSTED, first)
    assert bills_in(installation) == 1


def test_a_ledger_that_is_down_is_tried_again_and_nothing_changes(installation, cleared):
    installation.ledger.down = 2
    for _ in range(2):
        with pytest.raises(UnreachableError):
            run(cleared)
    cleared.posting.refresh_from_db()
    assert "is down" in cleared.posting.problem
    run(cleared)
    assert "posting.differs" not in [each["code"] for each in cleared.findings]
    cleared.refresh_from_db()
    assert cleared.state == State.POSTED
    assert bills_in(installation) == 1


def test_what_came_with_a_bill_is_attached_to_it(installation, cleared):
    note = delivery_note_beside(cleared)
    run(cleared)
    (attached,) = installation.ledger.files.values()
    assert attached == [cleared.file.sha256, note]
    assert "posting.differs" not in [each["code"] for each in cleared.findings]


def test_a_ledger_that_lost_what_came_with_a_bill_is_told(installation, cleared):
    note, attach = delivery_note_beside(cleared), installation.ledger.attach

    def forgetful(ledger_id, name, content, sha256):
        if sha256 != note:
            attach(ledger_id, name, content, sha256)

    installation.ledger.attach = forgetful
    run(cleared)
    assert "not attached: note.docx" in cleared.findings[-1]["message"]


def test_a_bill_is_posted_once_when_the_answer_is_lost(installation, cleared):
    installation.ledger.drops = 1
    with pytest.raises(LookAgainError):
        run(cleared)
    cleared.posting.refresh_from_db()
    assert cleared.posting.state == PostingState.UNSURE
    run(cleared)
    assert cleared.state == State.POSTED
    assert installation.ledger.calls.count("post") == 1
    assert bills_in(installation) == 1


@pytest.mark.parametrize(("expected", "state"), [
    (PostingState.UNSURE, State.CLEARED), (PostingState.PREPARED, State.AT_DESK),
])  # fmt: skip
def test_nothing_is_sent_that_stands_elsewhere_by_now(cleared, expected, state):
    type(cleared).objects.filter(pk=cleared.pk).update(state=state)
    assert begin_sending(str(cleared.posting.pk), expected) is None
    cleared.posting.refresh_from_db()
    assert (cleared.posting.state, cleared.posting.attempts) == (PostingState.PREPARED, 0)


def test_a_second_sending_is_guarded_against(installation, cleared):
    assert begin_sending(str(cleared.posting.pk), PostingState.PREPARED) is not None
    assert begin_sending(str(cleared.posting.pk), PostingState.PREPARED) is None
    cleared.posting.refresh_from_db()
    assert cleared.posting.attempts == 1


def test_what_was_attached_is_not_attached_again_after_a_crash(installation, cleared):
    read_back = installation.ledger.read_back
    installation.ledger.read_back = lambda ledger_id: 1 / 0
    with pytest.raises(ZeroDivisionError):
        run(cleared)
    cleared.posting.refresh_from_db()
    assert cleared.posting.attached_at is not None
    installation.ledger.read_back = read_back
    run(cleared)
    assert (cleared.state, installation.ledger.calls.count("attach")) == (State.POSTED, 1)


def test_a_number_that_stands_in_the_ledger_is_told_with_its_bill(installation, cleared):
    installation.ledger.bills["somebody else's"] = Bill.from_json(cleared.posting.bill)
    run(cleared)
    (finding,) = [f for f in cleared.findings if f["code"] == "duplicate.in_ledger"]
    assert (finding["found"], "M-1" in finding["message"]) == ("M-1", True)


@pytest.mark.parametrize(("posting", "document"), [
    (PostingState.PREPARED, State.CLEARED), (PostingState.UNSURE, State.AT_DESK),
])  # fmt: skip
def test_nobody_is_asked_about_what_stands_elsewhere_by_now(cleared, posting, document):
    type(cleared.posting).objects.filter(pk=cleared.posting.pk).update(state=posting)
    type(cleared).objects.filter(pk=cleared.pk).update(state=document)
    answers.ask_about(Actor.system("test"), str(cleared.posting.pk))
    cleared.refresh_from_db()
    assert (cleared.state, cleared.findings) == (document, [])


@pytest.mark.parametrize(("state", "attempts", "after"), [
    (PostingState.SENDING, 1, PostingState.PREPARED),
    (PostingState.SENDING, 2, PostingState.UNSURE),
    (PostingState.POSTED, 1, PostingState.POSTED), (PostingState.UNSURE, 1, PostingState.UNSURE),
])  # fmt: skip
def test_what_certainly_was_not_sent_is_sent_anew_unless_an_earlier_try_may_have_been(
    cleared, state, attempts, after
):
    rows = type(cleared.posting).objects.filter(pk=cleared.posting.pk)
    rows.update(state=state, attempts=attempts)
    answers.note_not_sent(str(cleared.posting.pk), "nobody there")
    assert rows.get().state == after


def test_the_mail_of_a_refused_bill_goes_to_people(installation, cleared):
    settled = []
    installation.ledger.refuses = ("period: closed",)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(settling, "settle", settled.append)
        message = Message.objects.create(
            connection=None, pipeline_version=cleared.pipeline_version, arrived_folder="",
            arrived_uidvalidity=1, arrived_uid=1, folder="", fingerprint="f", size=1, sha256="s",
            received_at=cleared.received_at,
        )  # fmt: skip
        type(cleared.file).objects.filter(pk=cleared.file_id).update(message=message)
        run(cleared)
    assert settled == [message.pk]


def test_a_refusal_finds_nothing_in_the_ledger(installation, cleared):
    installation.ledger.refuses = ("period: closed",)
    run(cleared)
    assert cleared.findings[-1]["found"] is None


def test_a_worker_that_died_while_sending_looks_before_it_sends(installation, cleared):
    begin_sending(str(cleared.posting.pk), PostingState.PREPARED)
    run(cleared)
    assert installation.ledger.calls[:2] == ["find", "post"]
    assert cleared.posting.attempts == 2
    assert bills_in(installation) == 1


def test_within_the_ledgers_window_nothing_is_sent_again(installation, cleared):
    installation.ledger.late_window = 60
    begin_sending(str(cleared.posting.pk), PostingState.PREPARED)
    with pytest.raises(LookAgainError) as wait:
        run(cleared)
    assert 0 < wait.value.retry_after <= 60
    assert "post" not in installation.ledger.calls


def test_a_ledger_that_books_late_is_found_out(installation, cleared):
    installation.ledger.late_window = 60

    def late(reference):
        raise NoAnswerError("line broke")

    installation.ledger.misbehave = late
    with pytest.raises(LookAgainError):
        run(cleared)
    installation.ledger.misbehave = None
    late = Bill.from_json(cleared.posting.bill)
    installation.ledger.bills[str(cleared.posting.pk)] = late
    run(cleared)
    assert cleared.state == State.POSTED
    assert bills_in(installation) == 1


def test_a_ledger_without_promise_is_never_sent_to_twice_a_person_is_asked(installation, cleared):
    installation.ledger.repeats_safely = False
    begin_sending(str(cleared.posting.pk), PostingState.PREPARED)
    run(cleared)
    assert cleared.state == State.AT_DESK
    assert [finding["code"] for finding in cleared.findings] == ["posting.unsure"]
    assert "post" not in installation.ledger.calls


@pytest.fixture
def unsure(installation, cleared):
    """A posting of which a ledger without promise said nothing, waiting for a person."""
    installation.ledger.repeats_safely = False
    begin_sending(str(cleared.posting.pk), PostingState.PREPARED)
    run(cleared)
    return cleared


def test_who_looked_into_the_ledger_has_it_sent_once_more(installation, unsure, clerk):
    clear(Actor.of(clerk), unsure.pk, unsure.version, "not there, I looked")
    run(unsure)
    assert unsure.state == State.POSTED
    assert bills_in(installation) == 1


def test_their_word_holds_for_one_sending_only(installation, unsure, clerk):
    clear(Actor.of(clerk), unsure.pk, unsure.version, "not there, I looked")
    installation.ledger.down = 0

    def lost(reference):
        raise NoAnswerError("line broke before booking")

    installation.ledger.misbehave = lost
    with pytest.raises(LookAgainError):
        run(unsure)
    run(unsure)
    assert unsure.state == State.AT_DESK
    assert unsure.findings[-1]["code"] == "posting.unsure"
    assert installation.ledger.calls.count("post") == 1


def test_who_looked_into_the_ledger_may_also_discard(unsure, clerk):
    after = discard(Actor.of(clerk), unsure.pk, unsure.version, "not there, and not wanted")
    assert after.state == State.DISCARDED


def test_what_may_be_booked_is_not_discarded_before_somebody_looked(installation, cleared, clerk):
    begin_sending(str(cleared.posting.pk), PostingState.PREPARED)
    fail(Actor.system("house"), cleared.pk, "given up")
    cleared.refresh_from_db()
    with pytest.raises(WrongStateError, match="may stand in the ledger"):
        discard(Actor.of(clerk), cleared.pk, cleared.version, "away with it")


def test_anothers_bill_of_the_same_number_is_not_adopted(installation, cleared):
    installation.ledger.bills["entered by hand"] = Bill.from_json(cleared.posting.bill)
    run(cleared)
    assert cleared.state == State.AT_DESK
    assert cleared.findings[-1]["code"] == "duplicate.in_ledger"
    assert bills_in(installation) == 1


def test_a_worker_that_died_after_booking_only_finishes(installation, cleared):
    def no_attaching(*_):
        raise UnreachableError("gone")

    attach, installation.ledger.attach = installation.ledger.attach, no_attaching
    with pytest.raises(UnreachableError):
        run(cleared)
    cleared.posting.refresh_from_db()
    assert cleared.posting.state == PostingState.POSTED
    installation.ledger.attach = attach
    run(cleared)
    assert cleared.state == State.POSTED
    assert installation.ledger.calls.count("post") == 1


def test_a_bill_that_stands_differently_in_the_ledger_is_told(installation, cleared):
    def cheaper(reference):
        bill = {**cleared.posting.bill, "gross_total": "1.00"}
        installation.ledger.bills[reference] = Bill.from_json(bill)

    installation.ledger.misbehave = cheaper
    run(cleared)
    assert cleared.state == State.POSTED
    assert cleared.findings[-1]["code"] == "posting.differs"
    assert "1.00 instead of 1220.40" in cleared.findings[-1]["message"]


def test_a_document_that_left_the_gate_is_not_posted(installation, cleared):
    cleared.state = State.AT_DESK
    cleared.save()
    run(cleared)
    assert installation.ledger.calls == []


def test_a_cancelled_posting_is_followed_by_another_with_an_id_of_its_own(
    installation, cleared, clerk
):
    first = cleared.posting
    Posting.objects.filter(pk=first.pk).update(state=PostingState.CANCELLED)
    Document.objects.filter(pk=cleared.pk).update(state=State.AT_DESK)
    after = clear(Actor.of(clerk), cleared.pk, cleared.version, "corrected by the vendor")
    assert after.posting.pk != first.pk
    assert [each.state for each in after.postings.order_by("prepared_at")] == [
        PostingState.CANCELLED, PostingState.PREPARED,
    ]  # fmt: skip
    run(after)
    assert (after.state, bills_in(installation)) == (State.POSTED, 1)


def test_two_postings_of_one_document_are_never_open_at_once(installation, cleared):
    with pytest.raises(IntegrityError, match="one_open_posting"), transaction.atomic():
        Posting.objects.create(document=cleared, ledger=cleared.posting.ledger, bill={},
                               state=PostingState.PREPARED)  # fmt: skip
