"""A worker killed anywhere between fetching and moving, at every place once: nothing is lost and
nothing is doubled."""

import itertools
import threading
from concurrent.futures import ThreadPoolExecutor

import pytest
from django.db import connection as database
from django.utils import timezone

from tests.awkward.mails import PDF, file, mixed
from tests.service.conftest import PIPELINE, SYSTEM, install, jobs
from veridox.service.adapters.doubles.mailbox import MemoryMailbox
from veridox.service.connections.actions.manage import connection_named
from veridox.service.connections.models import Connection
from veridox.service.intake import collecting, hands, moving
from veridox.service.intake.actions.store_messages import store_messages
from veridox.service.intake.collecting import collect
from veridox.service.intake.models import File, FileState, Message
from veridox.service.intake.moving import move
from veridox.service.intake.taken import Arrival, take_apart, unopened
from veridox.service.pipelines.actions.publish import publish
from veridox.service.pipelines.queries import source
from veridox.service.storage import originals

SOURCE = ("supplier-invoices", "ap-inbox", "INBOX")
POINTS = {
    "after fetch": (MemoryMailbox, "fetch", "after"),
    "before the bytes are stored": (collecting, "take_apart", "before"),
    "before store": (collecting, "store_messages", "before"),
    "after store": (collecting, "store_messages", "after"),
    "before mark": (MemoryMailbox, "mark", "before"),
    "after mark": (MemoryMailbox, "mark", "after"),
    "before the mark is noted": (collecting, "note_marked", "before"),
    "before move": (MemoryMailbox, "move", "before"),
    "after move": (MemoryMailbox, "move", "after"),
    "before the move is noted": (moving, "note_moved", "before"),
}


class Killed(BaseException):
    """What nobody catches, as nobody catches the end of a process."""


class Reaper:
    """Kills once, at one of the times that a point is passed."""

    def __init__(self, monkeypatch, point, time):
        owner, name, when = POINTS[point]
        original = getattr(owner, name)
        self.left, self.struck = time, False

        def deadly(*args, **kwargs):
            if when == "before":
                self.strike()
            result = original(*args, **kwargs)
            if when == "after":
                self.strike()
            return result

        monkeypatch.setattr(owner, name, deadly)

    def strike(self):
        if self.left == 0 and not self.struck:
            self.struck = True
            raise Killed
        self.left -= 1


def mails(seed):
    """Some mails, one of them twice, one whose server numbers it anew."""
    for number in range(3):
        content = PDF + f"{seed} {number}".encode()
        yield mixed(file(content, "a.pdf"), subject=f"Invoice {seed}-{number}").as_bytes()


def work(box):
    """One life of a worker: a round, then the moves that are called for."""
    collect(*SOURCE)
    # What people and readers would do meanwhile: everything is set aside and settles.
    for message in Message.objects.filter(place="arrived", repeat_of=None):
        message.files.update(state=FileState.ASIDE)
        Message.objects.filter(pk=message.pk, moving_to="").update(moving_to="done")
    for pk in Message.objects.exclude(moving_to="").values_list("pk", flat=True):
        move(pk)
    del box


def times_of(point, group):
    """How often a point is passed: by each of three mails, or by each group of them."""
    by_group = "mark" in point or point in ("before store", "after store")
    return -(-3 // group) if by_group else 3


PLACES = [
    (point, group, time, in_one)
    # Stored and marked one by one, in pairs, or all at once.
    for point in sorted(POINTS)
    for group in (1, 2, hands.GROUP)
    for time in range(times_of(point, group))
    for in_one in (True, False)
]


@pytest.mark.parametrize(("point", "group", "time", "in_one"), PLACES)
def test_nothing_is_lost_or_doubled_wherever_the_worker_dies(
    db, monkeypatch, point, group, time, in_one
):
    there = install(monkeypatch)
    publish(SYSTEM, PIPELINE.replace("with_files: true", "with_files: false"))
    there.mailbox.in_one = in_one
    monkeypatch.setattr(hands, "GROUP", group)
    for mail in mails(f"{point} {group} {time} {in_one}"):
        there.mailbox.put(mail)
    with monkeypatch.context() as patch:
        reaper = Reaper(patch, point, time)
        for _ in range(2):
            try:
                work(there.mailbox)
            except Killed:
                break
        if (time + group) % 2:  # at every other place the server counts anew
            there.mailbox.number_anew()
    assert reaper.struck
    for _ in range(2):
        work(there.mailbox)
    assert Message.objects.count() == 3
    assert Message.objects.exclude(repeat_of=None).count() == 0
    assert File.objects.count() == 3
    assert len(jobs("read")) == 3
    assert there.mailbox.folders["INBOX"] == {}
    assert len(there.mailbox.folders["Done"]) == 3
    assert all(kept.read for kept in there.mailbox.folders["Done"].values())
    assert set(Message.objects.values_list("place", "moving_to")) == {("done", "")}


COPY = mixed(file(PDF, "a.pdf"), subject="Invoice 1").as_bytes()


@pytest.mark.usefixtures("db")
def test_copies_stored_in_one_go_bring_their_files_once(monkeypatch):
    there = install(monkeypatch)
    for _ in range(4):
        there.mailbox.put(COPY)
    assert collect(*SOURCE) == 4
    first = Message.objects.get(repeat_of=None)
    assert Message.objects.filter(repeat_of=first).count() == 3
    assert File.objects.count() == 1
    assert len(jobs("read")) == 1


@pytest.mark.usefixtures("committed")
def test_copies_stored_at_the_same_moment_bring_their_files_once(monkeypatch):
    """Two workers, each with two copies, in the opposite order."""
    install(monkeypatch)
    connection, (version, wanted) = connection_named("ap-inbox", "mailbox"), source(*SOURCE)
    other = mixed(file(PDF + b"2", "b.pdf"), subject="Invoice 2").as_bytes()
    uids = itertools.count(1)

    def taken(raw):
        arrival = Arrival(
            folder="INBOX", uidvalidity=1, uid=next(uids), received_at=timezone.now(),
            size=len(raw), sha256=originals().put(raw),
        )  # fmt: skip
        return take_apart(raw, arrival, wanted, unopened("lost"))

    meeting = threading.Barrier(2)
    mails = [[taken(COPY), taken(other)], [taken(other), taken(COPY)]]

    def store(group):
        try:
            meeting.wait(20)
            store_messages(SYSTEM, connection, version, wanted, group)
        finally:
            database.close()

    with ThreadPoolExecutor(2) as workers:
        for done in [workers.submit(store, group) for group in mails]:
            done.result(60)
    assert Message.objects.count() == 4
    assert Message.objects.filter(repeat_of=None).count() == 2
    assert File.objects.count() == 2


@pytest.mark.usefixtures("db")
def test_a_mail_that_cannot_be_stored_keeps_no_other_from_it(monkeypatch):
    there = install(monkeypatch)
    for number in range(4):
        there.mailbox.put(mixed(file(PDF, "a.pdf"), subject=f"Invoice {number}").as_bytes())
    original = collecting.store_messages

    def picky(actor, connection, version, wanted, mails):
        if any(mail.content.subject == "Invoice 1" for mail in mails):
            raise ValueError("no such mail")
        return original(actor, connection, version, wanted, mails)

    with monkeypatch.context() as patch:
        patch.setattr(collecting, "store_messages", picky)
        assert collect(*SOURCE) == 3
    assert [row.subject for row in Message.objects.order_by("arrived_uid")] == [
        "Invoice 0", "Invoice 2", "Invoice 3",
    ]  # fmt: skip
    assert [kept.read for kept in there.mailbox.folders["INBOX"].values()].count(True) == 3
    problem = Connection.objects.get(name="ap-inbox").last_problem
    assert problem == "1 mail cannot be stored; the first, number 2 in the folder: no such mail"
    assert collect(*SOURCE) == 1
    assert Connection.objects.get(name="ap-inbox").last_problem == ""
