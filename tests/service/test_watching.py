"""Watching a folder: news defer a round, one watcher at a time, a broken line is told."""

import threading
import time

import pytest

from tests.cluster import STACK
from tests.service.conftest import install, jobs
from tests.stack.running import until
from veridox.service import wiring
from veridox.service.adapters.doubles.mailbox import MemoryMailbox
from veridox.service.connections.models import Connection
from veridox.service.errors import UnreachableError
from veridox.service.intake.watching import FolderWatch, _lock_number

KEY = ("supplier-invoices", "ap-inbox", "INBOX")


class Noisy(MemoryMailbox):
    """A mailbox that tells of news when the test says so."""

    def __init__(self):
        super().__init__()
        self.news = threading.Event()
        self.opened = 0

    def __enter__(self):
        self.opened += 1
        return self

    def wait(self, seconds):
        heard = self.news.wait(min(seconds, 0.1))
        if heard:  # news that come just after the wait ended are kept for the next
            self.news.clear()
        return heard


@pytest.fixture
def there(committed, monkeypatch):
    STACK.postgres.create_database("veridox")  # where leases are taken
    there = install(monkeypatch)
    there.mailbox = Noisy()
    return there


@pytest.fixture
def watch(there):
    watches = []

    def start(key=KEY):
        watches.append(FolderWatch(key, threading.Event()))
        watches[-1].start()
        return watches[-1]

    yield start
    for each in watches:
        each.ended.set()
    for each in watches:
        each.join(10)


def drop_jobs():
    from django.db import connection

    with connection.cursor() as cursor:
        cursor.execute("truncate procrastinate_jobs cascade")


def test_a_round_is_queued_at_once_and_at_news_and_never_twice(there, watch):
    watch()
    until(lambda: len(jobs("collect")) == 1, "the first round")
    there.mailbox.news.set()
    time.sleep(0.4)
    assert len(jobs("collect")) == 1  # one that waits is enough
    drop_jobs()
    there.mailbox.news.set()
    until(lambda: len(jobs("collect")) == 1, "a round after news")
    assert jobs("collect")[0] == {
        "pipeline": KEY[0], "mailbox": KEY[1], "folder": KEY[2],
    }  # fmt: skip


def test_two_watchers_of_one_folder_take_turns(there, watch):
    first = watch()
    until(lambda: there.mailbox.opened == 1, "the first")
    watch()
    time.sleep(1.0)
    assert there.mailbox.opened == 1
    first.ended.set()
    until(lambda: there.mailbox.opened == 2, "the second to take over", 15)


def test_a_mailbox_that_cannot_be_reached_is_told_and_tried_again(there, watch, monkeypatch):
    answers = [UnreachableError("mail server is away"), there.mailbox]

    def open_mailbox(connection):
        answer = answers.pop(0) if len(answers) > 1 else answers[0]
        if isinstance(answer, Exception):
            raise answer
        return answer

    monkeypatch.setattr(wiring, "open_mailbox", open_mailbox)
    watch()
    until(
        lambda: "away" in Connection.objects.get(name="ap-inbox").last_problem, "the problem shown"
    )
    until(lambda: there.mailbox.opened == 1, "another try", 15)


def test_each_folder_has_a_lease_of_its_own():
    numbers = {_lock_number(("p", "m", folder)) for folder in ("INBOX", "Other", "Third")}
    assert len(numbers) == 3
    assert _lock_number(KEY) == _lock_number(KEY)
    assert all(-(2**63) <= number < 2**63 for number in numbers)
