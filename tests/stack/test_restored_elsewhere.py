"""A database that was restored elsewhere: nothing goes out until somebody says so."""

import time

import psycopg
import pytest

from tests.conftest import mail_with
from tests.stack.running import until

pytestmark = pytest.mark.stack


@pytest.fixture
def restored(running):
    """The row of another cluster, as a copy of its database carries it."""
    for name in ("work", "watch"):
        running.stop(name)
    with psycopg.connect(running.stack.postgres.url("veridox"), autocommit=True) as database:
        database.execute("update house_installation set system = '7000000000000000042'")
    for name in ("work", "watch"):
        running.start(name)
    yield running
    if running.vx.service()["held_since"]:
        running.vx.let_go_on("the test is over")
    for name in ("work", "watch"):
        if running.processes[name].poll() is not None:
            running.processes.pop(name)
            running.start(name)


def test_a_copy_restored_elsewhere_neither_collects_nor_posts_until_told(restored, fresh_bill):
    running = restored
    held = until(lambda: running.vx.service()["held_since"], "the installation to be held")
    assert held
    assert running.vx.health()["good"] is False
    running.send(mail_with(fresh_bill))
    upload = running.vx.files.upload(b"no bill at all", pipeline="supplier-invoices", name="x.txt")
    # What changes nothing outside goes on: the file is read.
    until(lambda: running.vx.files.get(upload.id).state != "received", "the file to be read")
    time.sleep(2)
    assert running.document(fresh_bill.number) is None
    assert running.bills(fresh_bill.number) == []
    running.vx.let_go_on("the old machine is switched off")
    process = running.processes["work"]
    until(lambda: process.poll() is not None, "the worker to end and start anew")
    assert process.returncode == 0
    running.processes.pop("work")
    running.start("work")  # as its supervisor does
    running.posted(fresh_bill.number)
    assert len(running.bills(fresh_bill.number)) == 1
