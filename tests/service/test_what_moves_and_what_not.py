"""Who is moved by the flow and who is left where it stands; and jobs of it that were given up."""

from datetime import timedelta

import pytest
from django.utils import timezone

from demo import bills
from tests.service.conftest import PIPELINE, SYSTEM, go_on, jobs
from tests.service.test_house_and_notices import give_up
from tests.service.test_settling import message, with_files  # noqa: F401 - a fixture
from veridox.core.pipeline import Said, State
from veridox.service.accounts.actors import Actor
from veridox.service.connections.actions.manage import put_connection
from veridox.service.connections.models import Trouble
from veridox.service.desk.actions.hold import hold
from veridox.service.desk.actions.send_back import send_back
from veridox.service.desk.actions.take import release, take
from veridox.service.documents.actions.say import ANSWERED, no_longer, say
from veridox.service.documents.models import ENDED, Document
from veridox.service.flow.actions.advance import advance
from veridox.service.masterdata.models import Vendor
from veridox.service.notices.actions.queue import announce
from veridox.service.notices.models import Notice
from veridox.service.pipelines.actions.publish import publish
from veridox.service.upkeep.rescue import settle_given_up
from veridox.service.work import defer


@pytest.fixture
def slip(installation):
    """At the desk, and by now its vendor is blocked: whoever looks again finds more."""
    document = installation.checked(bills.SALT_SLIP, "band")
    Vendor.objects.filter(pk=document.vendor_id).update(blocked=True)
    return document


@pytest.fixture
def cleo(clerk):
    return Actor.of(clerk)


def found(document):
    advance(SYSTEM, document.pk)
    document.refresh_from_db()
    return {finding["code"] for finding in document.findings}


def test_what_waits_is_looked_at_anew(slip):
    assert found(slip) == {"total.sum", "vendor.blocked"}


@pytest.mark.parametrize("state", [*ENDED, State.FAILED, State.RECEIVED])
def test_what_ended_failed_or_is_being_read_is_left_alone(slip, state):
    Document.objects.filter(pk=slip.pk).update(state=state)
    assert found(slip) == {"total.sum"}
    assert slip.state == state


def test_what_somebody_works_on_is_left_alone_until_they_give_it_free(slip, cleo):
    take(cleo, slip.pk)
    assert found(slip) == {"total.sum"}
    release(cleo, slip.pk)
    assert found(slip) == {"total.sum", "vendor.blocked"}


def test_what_is_held_is_left_alone_until_its_day(slip, cleo):
    hold(cleo, slip.pk, slip.version, timezone.localdate() + timedelta(days=1), "soon")
    assert found(slip) == {"total.sum"}
    Document.objects.filter(pk=slip.pk).update(held_until=timezone.localdate())
    assert found(slip) == {"total.sum", "vendor.blocked"}


def test_what_has_a_letter_on_its_way_is_left_alone(slip, cleo):
    send_back(cleo, slip.pk, slip.version, "a@b.example", "Please", "The total is wrong.")
    assert found(slip) == {"total.sum"}
    slip.refresh_from_db()
    assert slip.letter_out


# -- statements


@pytest.mark.parametrize("what", list(Said))
def test_a_decision_answers_what_stopped_it_and_leaves_what_was_accepted(slip, cleo, what):
    said = say(slip, SYSTEM, what, reason="x")
    no_longer(slip, cleo, *ANSWERED)
    said.refresh_from_db()
    stays = (Said.ACCEPTED, Said.PROVEN, Said.DISCARDED, Said.CALLED)
    assert (said.ended_at is not None) == (what not in stays)
    assert said.ended_by == ("person:cleo" if said.ended_at else "")


def test_what_ended_once_is_not_ended_again(slip, cleo):
    said = say(slip, SYSTEM, Said.TOLD)
    no_longer(slip, cleo, Said.TOLD)
    no_longer(slip, SYSTEM, Said.TOLD)
    said.refresh_from_db()
    assert said.ended_by == "person:cleo"


# -- jobs that were given up


@pytest.mark.parametrize(("task", "part"), [("settle", "mail {}"), ("announce", "mail {}")])
def test_what_was_given_up_of_a_mail_is_a_trouble_until_it_succeeds(
    message, task, part  # noqa: F811
):  # fmt: skip
    with_files(message, State.AT_DESK)
    defer(task, message_id=message.pk)
    assert give_up(task) == 1
    settle_given_up()
    trouble = Trouble.objects.get()
    assert trouble.part == part.format(message.pk)
    assert "did not succeed" in trouble.problem
    defer(task, message_id=message.pk)
    go_on()
    assert not Trouble.objects.exists()


def test_a_recheck_that_was_given_up_is_a_trouble_until_the_next_succeeds(installation):
    defer("recheck", what="vendors")
    give_up("recheck")
    settle_given_up()
    assert Trouble.objects.get().part == "recheck after an import of vendors"
    defer("recheck", what="vendors")
    go_on()
    assert not Trouble.objects.exists()


def test_reading_anew_that_was_given_up_shows_at_its_document(slip):
    Document.objects.filter(pk=slip.pk).update(state=State.RECEIVED)
    defer("read_again", document_id=slip.pk)
    give_up("read_again")
    settle_given_up()
    slip.refresh_from_db()
    assert (slip.state, slip.failed_at_state) == (State.FAILED, State.RECEIVED)


# -- news of a mail


def test_a_new_mail_is_announced_once_through_the_chat_that_is_named(message):  # noqa: F811
    put_connection(SYSTEM, "ap-chat", "chat", {"url": "https://chat.example/a"}, None)
    put_connection(SYSTEM, "other-chat", "chat", {"url": "https://chat.example/b"}, None)
    told = 'tell:\n  - on: taken in\n    chat: {channel: ap, text: "{{ sender.address }}"}\n'
    text = PIPELINE[: PIPELINE.index("tell:")] + told + "through: {chat: other-chat}\n"
    message.pipeline_version = publish(SYSTEM, text)
    message.save()
    announce(message.pk)
    announce(message.pk)  # a rescued job
    (notice,) = Notice.objects.all()
    assert (notice.connection.name, notice.channel) == ("other-chat", "ap")
    assert jobs("tell") == [{"notice_id": notice.pk}]
