"""Where a mail should lie, by what became of its files."""

from datetime import UTC, datetime

import pytest

from tests.service.conftest import SYSTEM, jobs
from veridox.service.connections.models import Connection
from veridox.service.documents.actions.settle import settle, wanted_place
from veridox.service.documents.models import Document, State
from veridox.service.intake.actions.place import note_moved
from veridox.service.intake.models import File, Message, Place
from veridox.service.ports.mailbox import Location


@pytest.fixture
def message(installation):
    return Message.objects.create(
        connection=Connection.objects.get(name="ap-inbox"), pipeline_version=installation.version,
        arrived_folder="INBOX", arrived_uidvalidity=1, arrived_uid=1, folder="INBOX",
        uidvalidity=1, uid=1, fingerprint="x", received_at=datetime.now(UTC), size=1, sha256="x",
    )  # fmt: skip


def with_files(message, *states):
    """A file for each state; a state of documents makes a file that was read."""
    for position, state in enumerate(states, start=1):
        read = isinstance(state, State)
        file = File.objects.create(
            message=message, pipeline_version=message.pipeline_version, position=position,
            name="x.pdf", media_type="application/pdf", size=1, sha256="x",
            state="read" if read else state,
        )  # fmt: skip
        if read:
            Document.objects.create(
                file=file, pipeline_version=message.pipeline_version, state=state, kind="invoice"
            )


@pytest.mark.parametrize(("states", "place"), [
    ((State.POSTED,), "done"),
    ((State.POSTED, State.DISCARDED, State.ASIDE), "done"),
    ((State.POSTED, "aside"), "done"),
    ((State.POSTED, State.AT_DESK), "people"),
    ((State.WAITING,), "people"),
    ((State.AT_DESK, State.FAILED), "failed"),
    ((State.POSTED, "failed"), "failed"),
    (("aside",), "people"),
    ((), "people"),
    ((State.POSTED, State.CLEARED), None),
    ((State.AT_DESK, State.READ), None),
    ((State.AT_DESK, "received"), None),
])  # fmt: skip
def test_a_mail_lies_where_its_files_say(message, states, place):
    with_files(message, *states)
    assert wanted_place(message) == place


@pytest.mark.django_db
def test_a_move_is_queued_once_for_each_new_place(message):
    from django.db import transaction

    with_files(message, State.AT_DESK)
    for _ in range(2):
        with transaction.atomic():
            settle(message.pk)
    assert jobs("move") == [{"message_id": message.pk}]
    note_moved(
        SYSTEM, message.pk, Place.PEOPLE, Location(folder="With people", uidvalidity=2, uid=5)
    )
    Document.objects.update(state=State.POSTED)
    with transaction.atomic():
        settle(message.pk)
    message.refresh_from_db()
    assert (message.place, message.moving_to, message.uid) == ("people", "done", 5)
    assert len(jobs("move")) == 2


def test_a_place_noted_twice_is_one_act(message):
    from veridox.service.trail.models import Entry

    for _ in range(2):
        note_moved(SYSTEM, message.pk, Place.DONE, Location(folder="Done"))
    assert Entry.objects.filter(act="mail.moved").count() == 1


def test_a_move_that_was_overtaken_leaves_the_newer_wish(message):
    message.moving_to = "done"
    message.save()
    note_moved(SYSTEM, message.pk, Place.PEOPLE, Location(folder="With people"))
    message.refresh_from_db()
    assert (message.place, message.moving_to) == ("people", "done")
