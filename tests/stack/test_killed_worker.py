"""A worker killed hard at every step: one bill, one confirmation, one moved mail."""

import sys
from contextlib import contextmanager

import psycopg
import pytest

from demo import bills
from tests.conftest import mail_with
from tests.stack.crashing import POINTS
from tests.stack.running import until

pytestmark = pytest.mark.stack


@contextmanager
def dying_worker(running, point, mark):
    """A worker that dies at this point, once; afterwards a whole one is there again."""
    running.stop("work")
    running.start("work", [sys.executable, "-m", "tests.stack.crashing", point, str(mark)])
    process = running.processes["work"]

    def died():
        until(lambda: process.poll() is not None, f"the worker to die {point}")
        assert mark.exists()
        assert process.returncode == -9

    try:
        yield died
    finally:
        running.stop("work")
        running.start("work")


def test_mail_that_comes_after_the_worker_died_waits_for_nobody(running, fresh_bill, tmp_path):
    """The dead worker's round counts as running; the next one is queued behind it."""
    later = bills.of_its_own(f"{fresh_bill.number}-L")
    with dying_worker(running, "after fetch", tmp_path / "died") as died:
        running.send(mail_with(fresh_bill))
        died()
        running.send(mail_with(later))
        until(lambda: queued_rounds(running) == ["doing", "todo"], "the next round to be queued")
    running.posted(later.number)
    running.posted(fresh_bill.number)
    until(lambda: queued_rounds(running) == [], "the end of both rounds")


def queued_rounds(running):
    with psycopg.connect(running.stack.postgres.url("veridox")) as database:
        rows = database.execute(
            "select status from procrastinate_jobs where task_name = 'collect'"
            " and status in ('todo', 'doing') and args->>'pipeline' = 'supplier-invoices'"
            " order by id"
        )
        return [status for (status,) in rows]


@pytest.mark.parametrize("point", list(POINTS))
def test_a_worker_killed_at_this_point_loses_and_doubles_nothing(
    running, fresh_bill, tmp_path, point
):
    with dying_worker(running, point, tmp_path / "died") as died:
        running.send(mail_with(fresh_bill))
        died()
    running.posted(fresh_bill.number)
    running.settled(fresh_bill.number, "Done")
    until(lambda: running.confirmations(fresh_bill.number), "the confirmation")
    assert len(running.bills(fresh_bill.number)) == 1
    # A worker that dies while another of its jobs sends, sends again: the same mail, told by its id
    # (docs/decisions/0004). It never writes a second one.
    sent = running.confirmations(fresh_bill.number)
    assert len({mail["Message-ID"] for mail in sent}) == 1
    documents = list(running.vx.documents.list(search=fresh_bill.number))
    assert len(documents) == 1
