"""A worker killed hard at every step: one bill, one confirmation, one moved mail."""

import sys

import pytest

from tests.conftest import mail_with
from tests.stack.crashing import POINTS
from tests.stack.running import until

pytestmark = pytest.mark.stack


@pytest.mark.parametrize("point", list(POINTS))
def test_a_worker_killed_at_this_point_loses_and_doubles_nothing(
    running, fresh_bill, tmp_path, point
):
    mark = tmp_path / "died"
    running.stop("work")
    running.start("work", [sys.executable, "-m", "tests.stack.crashing", point, str(mark)])
    try:
        running.send(mail_with(fresh_bill))
        process = running.processes["work"]
        until(lambda: process.poll() is not None, f"the worker to die {point}")
        assert mark.exists()
        assert process.returncode == -9
    finally:
        running.stop("work")
        running.start("work")
    running.posted(fresh_bill.number)
    running.settled(fresh_bill.number, "Done")
    until(lambda: running.confirmations(fresh_bill.number), "the confirmation")
    assert len(running.bills(fresh_bill.number)) == 1
    assert len(running.confirmations(fresh_bill.number)) == 1
    documents = list(running.vx.documents.list(search=fresh_bill.number))
    assert len(documents) == 1
