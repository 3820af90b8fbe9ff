"""Several workers and watchers at once, some of them killed: everything exactly once."""

import os
import random
import signal

import httpx
import pytest

from demo import bills
from tests.conftest import mail_with
from tests.stack.running import until

pytestmark = pytest.mark.stack
MAILS = 12


@pytest.fixture
def crowd(running):
    """A second worker and a second watcher beside the usual ones."""
    for name in ("work", "watch"):
        running.programs[f"{name} 2"] = running.programs[name]
        running.start(f"{name} 2")
    yield running
    for name in ("work 2", "watch 2"):
        running.stop(name)


def numbers(prefix):
    return [f"{prefix}-{index:03d}" for index in range(MAILS)]


def send_all(running, names):
    for name in names:
        running.send(mail_with(bills.of_its_own(name)))


def all_posted(running, names):
    rows = running.vx.documents.list(search=names[0].rsplit("-", 1)[0], limit=200)
    return {row.number for row in rows if row.state == "posted"} >= set(names)


def assert_each_once(running, names):
    until(lambda: all_posted(running, names), "all to be posted", 90)
    headers = {"Authorization": f"Bearer {running.stack.secret('finance')}"}
    booked = httpx.get(f"{running.stack.finance_url}/v1/bills", headers=headers).json()["bills"]
    standing = sorted(bill["vendor_number"] for bill in booked if bill["vendor_number"] in names)
    assert standing == names
    prefix = names[0].rsplit("-", 1)[0]
    until(lambda: len(running.mails("Done", prefix)) == MAILS, "all in Done")
    assert running.mails("INBOX", prefix) == []
    until(lambda: len(running.confirmations(prefix)) >= MAILS, "all confirmations")
    assert len(running.confirmations(prefix)) == MAILS
    assert running.vx.run_report("trail")["result"]["good"]


def test_a_crowd_of_workers_and_watchers_does_everything_once(crowd):
    names = numbers("QV-CROWD")
    send_all(crowd, names)
    assert_each_once(crowd, names)


def test_a_worker_killed_in_the_middle_of_many_loses_and_doubles_nothing(crowd):
    names = numbers("QV-KILL")
    chance = random.Random(7)
    send_all(crowd, names[: MAILS // 2])
    until(lambda: crowd.document(names[0]), "the first to be read")
    victim = chance.choice(["work", "work 2"])
    os.kill(crowd.processes[victim].pid, signal.SIGKILL)
    crowd.processes[victim].wait()
    send_all(crowd, names[MAILS // 2 :])
    crowd.start(victim)
    assert_each_once(crowd, names)


def test_when_the_watcher_with_the_lease_dies_the_other_takes_over(crowd, fresh_bill):
    os.kill(crowd.processes["watch"].pid, signal.SIGKILL)
    crowd.processes["watch"].wait()
    try:
        crowd.send(mail_with(fresh_bill))
        crowd.posted(fresh_bill.number, 90)
        assert len(crowd.bills(fresh_bill.number)) == 1
    finally:
        crowd.start("watch")
