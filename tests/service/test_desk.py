"""Acts at the desk: take, hold, comment, return, restore, reopen."""

from dataclasses import replace
from datetime import timedelta

import pytest
from django.utils import timezone

from demo import bills
from tests.service.conftest import SYSTEM, go_on, jobs
from veridox.service.accounts.actors import Actor
from veridox.service.connections.models import Connection
from veridox.service.desk.actions.comment import comment
from veridox.service.desk.actions.correct import correct, restore
from veridox.service.desk.actions.discard import discard
from veridox.service.desk.actions.hold import hold
from veridox.service.desk.actions.post import post
from veridox.service.desk.actions.reopen import reopen
from veridox.service.desk.actions.send_back import send_back
from veridox.service.desk.actions.take import release, take
from veridox.service.desk.queries import may, waiting
from veridox.service.documents.models import Document, State
from veridox.service.errors import (
    BadInputError,
    NotAllowedError,
    NotThereError,
    StaleError,
    TakenError,
    WrongStateError,
)
from veridox.service.flow.actions.advance import advance
from veridox.service.intake.models import Message
from veridox.service.ledgers.models import BillReservation, Posting, PostingState
from veridox.service.masterdata.models import Vendor
from veridox.service.notices.actions.sent import store_sent
from veridox.service.notices.letter import draft
from veridox.service.notices.models import Notice
from veridox.service.people.actions.people import change_person, create_person
from veridox.service.trail.models import Entry

LETTER = ("billing@saltglass.example", "Please correct SG/10442", "Dear Saltglass,\nsee above.")


@pytest.fixture
def slip(installation):
    return installation.checked(bills.SALT_SLIP, "band")


@pytest.fixture
def cleo(clerk):
    return Actor.of(clerk)


@pytest.fixture
def bo(db):
    return Actor.of(create_person(SYSTEM, "bo", "a long enough word", "clerk"))


def acts_of(document):
    entries = Entry.objects.filter(subject="document", subject_id=str(document.pk))
    return list(entries.order_by("number").values_list("act", flat=True))


# -- taking


def test_what_one_has_taken_nobody_else_changes(slip, cleo, bo):
    take(cleo, slip.pk)
    slip.refresh_from_db()
    assert (slip.taken_by, slip.version) == (cleo.person, 2)  # its version stays
    changes = {"fields": {"due_date": "2026-12-31"}}
    for act in (
        lambda: correct(bo, slip.pk, 2, changes),
        lambda: post(bo, slip.pk, 2, "x"),
        lambda: discard(bo, slip.pk, 2, "x"),
        lambda: send_back(bo, slip.pk, 2, *LETTER),
        lambda: hold(bo, slip.pk, 2, None, ""),
        lambda: take(bo, slip.pk),
        lambda: release(bo, slip.pk),
    ):
        with pytest.raises(TakenError, match="cleo works on document") as caught:
            act()
        assert caught.value.extra["taken_by"] == "cleo"
    assert correct(cleo, slip.pk, 2, changes).taken_by == cleo.person


def test_it_can_be_taken_over_given_away_and_given_free(slip, cleo, bo):
    take(cleo, slip.pk)
    assert take(bo, slip.pk, over=True).taken_by == bo.person
    assert take(bo, slip.pk, person="cleo").taken_by == cleo.person
    assert release(cleo, slip.pk).taken_by is None
    assert acts_of(slip)[-4:] == ["document.taken"] * 3 + ["document.released"]
    assert Entry.objects.filter(act="document.taken").last().details == {"by": "cleo", "from": "bo"}


def test_taking_twice_says_nothing_twice(slip, cleo):
    take(cleo, slip.pk)
    take(cleo, slip.pk)
    assert acts_of(slip).count("document.taken") == 1


@pytest.mark.parametrize("name", ["nobody", "anna", "gone"])
def test_only_who_works_at_the_desk_can_be_given_something(slip, cleo, bo, name):
    create_person(SYSTEM, "anna", "a long enough word", "approver")
    create_person(SYSTEM, "gone", "a long enough word", "clerk")
    change_person(SYSTEM, "gone", {"active": False})
    with pytest.raises(BadInputError, match="works at the desk"):
        take(cleo, slip.pk, person=name)


def test_a_part_of_the_service_takes_nothing(slip):
    with pytest.raises(NotAllowedError):
        take(SYSTEM, slip.pk)


def test_what_is_posted_cannot_be_taken(installation, cleo):
    with pytest.raises(WrongStateError):
        take(cleo, installation.checked(bills.KRILL).pk)


def test_new_master_data_moves_nothing_under_somebodys_hands(slip, cleo):
    take(cleo, slip.pk)
    advance(SYSTEM, slip.pk)
    slip.refresh_from_db()
    assert slip.version == 2
    release(cleo, slip.pk)
    assert {"document_id": slip.pk} in jobs("advance")
    advance(SYSTEM, slip.pk)
    slip.refresh_from_db()
    assert (slip.version, slip.taken_by) == (2, None)  # it stands there for the same reasons
    Vendor.objects.filter(pk=slip.vendor_id).update(blocked=True)
    advance(SYSTEM, slip.pk)
    slip.refresh_from_db()
    assert slip.version == 3


def test_a_document_that_leaves_the_desk_is_nobodys(slip, cleo):
    take(cleo, slip.pk)
    assert discard(cleo, slip.pk, 2, "twice").taken_by is None


# -- holding


def test_a_hold_keeps_it_from_the_list_until_its_day(slip, cleo):
    day = timezone.localdate() + timedelta(days=2)
    held = hold(cleo, slip.pk, 2, day, "credit note announced")
    assert (held.state, held.held_until, held.version) == (State.AT_DESK, day, 3)
    assert waiting()["count"] == 0
    assert waiting()["held"] == {"count": 1, "next_on": day, "last_on": day}
    advance(SYSTEM, slip.pk)
    assert Document.objects.get(pk=slip.pk).version == 3
    Document.objects.filter(pk=slip.pk).update(held_until=timezone.localdate())
    assert waiting()["count"] == 1  # on the day itself it is back
    assert hold(cleo, slip.pk, 3, None, "it is here").held_until is None
    assert acts_of(slip)[-2:] == ["document.held", "document.hold_ended"]


@pytest.mark.parametrize(("days", "reason", "path"), [
    (0, "x", "until"), (-3, "x", "until"), (400, "x", "until"), (2, " ", "reason"),
])  # fmt: skip
def test_a_hold_needs_a_day_to_come_and_a_reason(slip, cleo, days, reason, path):
    with pytest.raises(BadInputError) as caught:
        hold(cleo, slip.pk, 2, timezone.localdate() + timedelta(days=days), reason)
    assert [each["path"] for each in caught.value.extra["errors"]] == [path]


@pytest.mark.parametrize(("days", "good"), [(0, False), (1, True), (366, True), (367, False)])
def test_a_hold_lasts_a_day_at_least_and_a_year_at_most(slip, cleo, days, good):
    day = timezone.localdate() + timedelta(days=days)
    if good:
        assert hold(cleo, slip.pk, 2, day, "x").held_until == day
    else:
        with pytest.raises(BadInputError):
            hold(cleo, slip.pk, 2, day, "x")


# -- comments


def test_a_comment_stands_in_the_story_and_changes_no_version(slip, bo):
    comment(bo, slip.pk, "  asked by phone ")
    entry = Entry.objects.get(act="document.commented")
    assert (entry.actor, entry.details) == ("person:bo", {"text": "asked by phone"})
    assert Document.objects.get(pk=slip.pk).version == 2


@pytest.mark.parametrize("text", ["", "   ", "x" * 4001])
def test_a_comment_says_something_and_not_too_much(slip, bo, text):
    with pytest.raises(BadInputError):
        comment(bo, slip.pk, text)


# -- returning


def test_the_letter_says_what_is_wrong_with_the_figures(slip):
    letter = draft(slip)
    assert letter.to == "billing@saltglass.example"
    assert letter.subject == "Please correct invoice SG/10442"
    assert "invoice SG/10442 of 5 November 2026 over 1,481.28 GBP" in letter.text
    assert "stated is 1,481.28 GBP, 60.00 GBP too high" in letter.text
    assert "Merrowmere Aquarium Trust" in letter.text


def test_the_letter_keeps_our_own_business_to_ourselves(installation):
    letter = draft(installation.checked(bills.KIOSK))
    assert "master data" not in letter.text
    assert "please say here what is wrong" in letter.text


def returned(actor, document):
    """Sent back, and the mail server took the letter."""
    send_back(actor, document.pk, document.version, *LETTER)
    notice = Notice.objects.filter(event="returned").latest("pk")
    store_sent(SYSTEM, notice.pk)
    go_on()
    return notice


def test_a_return_sends_the_letter_as_it_was_left_and_ends_once_it_went(slip, cleo):
    BillReservation.objects.create(
        vendor=slip.vendor, family="x", kind="invoice", number_key="SG-10442", year=2026,
        document=slip,
    )  # fmt: skip
    back = send_back(cleo, slip.pk, 2, *LETTER)
    assert (back.state, back.letter_out, back.touched) == (State.AT_DESK, True, True)
    assert BillReservation.objects.filter(document=slip).exists()
    notice = Notice.objects.get(event="returned")
    assert (notice.recipient, notice.subject, notice.text) == LETTER
    assert jobs("tell") == [{"notice_id": notice.pk}]
    assert Entry.objects.get(act="document.letter_queued").details["text"] == LETTER[2]
    store_sent(SYSTEM, notice.pk)
    go_on()
    back.refresh_from_db()
    assert (back.state, back.letter_out, back.ended_at is not None) == (State.RETURNED, False, True)
    assert not BillReservation.objects.filter(document=slip).exists()


@pytest.mark.parametrize(("at", "value", "path"), [
    (0, "no address", "to"), (0, "", "to"), (0, "a@b.example\nBcc: c@d.example", "to"),
    (1, " ", "subject"), (1, "two\nlines", "subject"), (1, "s" * 501, "subject"),
    (2, "", "text"), (2, "x" * 20_001, "text"),
])  # fmt: skip
def test_a_letter_that_cannot_be_sent_ends_nothing(slip, cleo, at, value, path):
    letter = [value if index == at else each for index, each in enumerate(LETTER)]
    with pytest.raises(BadInputError) as caught:
        send_back(cleo, slip.pk, 2, *letter)
    assert [each["path"] for each in caught.value.extra["errors"]] == [path]
    slip.refresh_from_db()
    assert slip.state == State.AT_DESK
    assert not Notice.objects.filter(event="returned").exists()


@pytest.mark.parametrize("act", [
    lambda actor, pk: send_back(actor, pk, 2, *LETTER),
    lambda actor, pk: discard(actor, pk, 2, "x"),
])  # fmt: skip
def test_what_may_stand_in_the_ledger_is_neither_returned_nor_discarded(slip, cleo, act):
    ledger = Connection.objects.get(name="main-books")
    slip.posting = Posting.objects.create(
        document=slip, ledger=ledger, state=PostingState.UNSURE, bill={}
    )
    slip.save()
    with pytest.raises(WrongStateError, match="may stand in the ledger"):
        act(cleo, slip.pk)


def test_a_resubmission_links_back_by_its_number(installation, slip, cleo):
    returned(cleo, slip)
    right = installation.checked(replace(bills.SALT_SLIP, gross_slip=0), "band")
    assert right.state == State.CLEARED
    assert right.resubmission_of == slip


def test_a_resubmission_under_another_number_links_back_by_the_answered_mail(
    installation, slip, cleo
):
    letter = returned(cleo, slip)
    new = installation.arrive(replace(bills.SALT_SLIP, gross_slip=0, number="SG/99"), "band")
    new.file.message = Message.objects.create(
        connection=Connection.objects.get(name="ap-inbox"), pipeline_version=installation.version,
        arrived_folder="INBOX", arrived_uidvalidity=1, arrived_uid=1, folder="INBOX",
        fingerprint="f", size=1, sha256="s", received_at=timezone.now(),
        headers={"references": f"<a@b.example> <{letter.message_id}>"},
    )  # fmt: skip
    new.file.save()
    advance(SYSTEM, new.pk)
    new.refresh_from_db()
    assert new.resubmission_of == slip


def test_another_vendors_number_is_no_resubmission(installation, slip, cleo):
    returned(cleo, slip)
    other = installation.checked(replace(bills.VET_VISIT, number="SG/10442"))
    assert other.resubmission_of is None


# -- corrections with their spots; back to earlier versions


def test_a_value_taken_from_the_page_keeps_its_spot(slip, cleo):
    spot = {"page": 1, "box": [10.0, 20.0, 60.0, 30.0], "text": "£1,421.28"}
    value = {"amount": "1421.28", "currency": "GBP"}
    after = correct(cleo, slip.pk, 2, {"fields": {"gross_total": {"value": value, **spot}}})
    field = after.readings.last().reading["fields"]["gross_total"]
    assert {name: field[name] for name in spot} == spot
    assert (field["value"], field["origin"]) == (value, "person")
    assert after.state == State.CLEARED
    assert after.touched


@pytest.mark.parametrize("spot", [
    {"page": 2, "box": [1, 2, 3, 4]}, {"page": 1, "box": [1, 2, 3]},
    {"page": 1, "box": [9, 2, 3, 4]},
    {"page": 1, "box": [1, 2, "x", 4]}, {"page": 1}, {"box": [1, 2, 3, 4]}, {"colour": "red"},
    {"page": 1, "box": [1, 2, 3, 99_999]}, {"page": 1, "box": [1, 2, 3, 4], "text": 5},
])  # fmt: skip
def test_a_spot_that_is_none_is_refused(slip, cleo, spot):
    with pytest.raises(BadInputError) as caught:
        correct(cleo, slip.pk, 2, {"fields": {"number": {"value": "X", **spot}}})
    assert {each["path"] for each in caught.value.extra["errors"]} == {"fields.number"}


def test_untouched_cells_of_corrected_lines_keep_their_evidence(slip, cleo):
    before = slip.readings.last().reading["lines"]
    lines = [{name: cell["value"] for name, cell in row.items()} for row in before]
    lines[0]["quantity"] = "31"
    lines[0]["was"], lines[1]["was"] = 1, 2
    after = correct(cleo, slip.pk, 2, {"lines": lines}).readings.last().reading["lines"]
    assert after[0]["quantity"]["origin"] == "person"
    assert after[0]["amount"] == before[0]["amount"]
    assert after[1] == before[1]
    changes = Entry.objects.filter(act="document.corrected").last().details["changes"]
    assert changes == {"lines[1].quantity": ["30", "31"]}


def test_tax_lines_are_corrected_like_lines(slip, cleo):
    rows = [{"rate": "20", "amount": {"amount": "236.88", "currency": "GBP"}, "category": "S"}]
    after = correct(cleo, slip.pk, 2, {"tax_lines": rows})
    assert after.readings.last().reading["tax_lines"][0]["category"]["value"] == "S"


@pytest.mark.parametrize(("changes", "path"), [
    ({"tax_lines": "x"}, "tax_lines"), ({"tax_lines": [{"rat": "20"}]}, "tax_lines[1].rat"),
    ({"lines": [{"was": 9, "quantity": "1"}]}, "lines[1].was"),
    ({"lines": [{"quantity": "one"}]}, "lines[1].quantity"), ({"pages": []}, "pages"),
])  # fmt: skip
def test_rows_that_cannot_be_used_are_named(slip, cleo, changes, path):
    with pytest.raises(BadInputError) as caught:
        correct(cleo, slip.pk, 2, changes)
    assert path in {each["path"] for each in caught.value.extra["errors"]}


def test_a_correction_is_undone_by_going_back(slip, cleo):
    first = slip.readings.get(number=1).reading
    changed = correct(cleo, slip.pk, 2, {"fields": {"number": "OTHER", "buyer.name": None}})
    back = restore(cleo, slip.pk, changed.version, 1)
    assert back.number == "SG/10442"
    assert back.readings.count() == 3
    assert back.readings.get(number=3).reading["fields"] == first["fields"]
    assert Entry.objects.filter(act="document.corrected").last().details["restored"] == 1


def test_going_back_to_what_is_or_never_was_is_refused(slip, cleo):
    with pytest.raises(BadInputError, match="says what the newest version says"):
        restore(cleo, slip.pk, 2, 1)
    with pytest.raises(NotThereError):
        restore(cleo, slip.pk, 2, 7)
    with pytest.raises(StaleError):
        restore(cleo, slip.pk, 1, 1)


def test_a_discarded_document_comes_back_to_where_it_belongs(slip, cleo):
    gone = discard(cleo, slip.pk, 2, "by mistake")
    back = reopen(cleo, slip.pk, gone.version)
    assert (back.state, back.end_reason, back.ended_at) == (State.AT_DESK, "", None)
    with pytest.raises(WrongStateError):
        reopen(cleo, slip.pk, back.version)


# -- what is offered


def test_only_what_may_be_done_is_offered(installation, slip, clerk, cleo, bo):
    work = {"read", "comment", "work"}
    assert set(may(slip, clerk, work)) == {
        "comment", "correct", "post", "return", "discard", "hold", "take", "process_again",
    }  # fmt: skip
    assert may(slip, clerk, {"read", "comment"}) == ["comment"]
    assert may(slip, clerk, {"read"}) == []
    slip = take(cleo, slip.pk)
    assert "release" in may(slip, clerk, work)
    assert may(slip, bo.person, work) == ["comment", "take_over"]
    kiosk = installation.checked(bills.KIOSK)
    assert "post" not in may(kiosk, clerk, work)  # its vendor is unknown: no reason helps
    posted = installation.checked(bills.KRILL)
    assert may(posted, clerk, work) == ["comment"]
    assert "reopen" in may(discard(cleo, kiosk.pk, 2, "x"), clerk, work)


def test_what_waits_is_counted_by_queue_reason_and_person(installation, slip, cleo):
    installation.checked(bills.KIOSK)
    take(cleo, slip.pk)
    found = waiting()
    assert [(q["queue"], q["count"], q["taken"]) for q in found["queues"]] == [("exceptions", 2, 1)]
    assert {r["code"]: r["count"] for r in found["reasons"]}["total.sum"] == 1
    assert [(h["person"], h["count"]) for h in found["holders"]] == [("cleo", 1)]
    assert [(a["currency"], a["count"]) for a in found["amounts"]] == [("GBP", 2)]


def test_a_letter_may_be_as_long_as_it_may_be(slip, cleo):
    send_back(cleo, slip.pk, 2, LETTER[0], "s" * 500, "x" * 20_000)
    assert Notice.objects.get(event="returned").text == "x" * 20_000


def test_what_was_discarded_was_touched_and_is_in_no_queue(slip, cleo):
    Document.objects.filter(pk=slip.pk).update(touched=False)
    after = discard(cleo, slip.pk, 2, "sent twice")
    after.refresh_from_db()
    assert (after.touched, after.queue, after.end_reason) == (True, "", "sent twice")
