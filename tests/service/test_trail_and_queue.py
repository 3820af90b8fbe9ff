import pytest
from django.db import DatabaseError, connection, transaction

from tests.service.conftest import SYSTEM, jobs
from veridox.service.trail.models import Entry
from veridox.service.trail.record import record
from veridox.service.trail.verify import verify
from veridox.service.work import defer
from veridox.service.worker import worker_app

pytestmark = pytest.mark.usefixtures("committed")


def write(count):
    for number in range(count):
        with transaction.atomic():
            record(SYSTEM, "test.act", "thing", number, {"figure": "1.50", "ü": [1, None]})


def without_guard(statement):
    with connection.cursor() as cursor:
        cursor.execute("alter table trail_entry disable trigger trail_append_only")
        try:
            cursor.execute(statement)
        finally:
            cursor.execute("alter table trail_entry enable trigger trail_append_only")


def test_an_untouched_trail_holds():
    write(3)
    found = verify()
    assert (found.entries, found.problems) == (3, ())


@pytest.mark.parametrize("statement", [
    "update trail_entry set details = '{\"figure\": \"9.50\"}' where number = 2",
    "update trail_entry set actor = 'person:nobody' where number = 1",
    "update trail_entry set at = at + interval '1 second' where number = 3",
    "delete from trail_entry where number = 2",
    "delete from trail_entry where number = 3",
])  # fmt: skip
def test_any_change_behind_the_services_back_shows(statement):
    write(3)
    without_guard(statement)
    assert verify().problems


@pytest.mark.parametrize("statement", [
    "update trail_entry set actor = 'x'", "delete from trail_entry",
])  # fmt: skip
def test_the_database_refuses_to_change_an_entry(statement):
    write(1)
    with pytest.raises(DatabaseError, match="never changed"), connection.cursor() as cursor:
        cursor.execute(statement)


def test_an_entry_belongs_to_a_transaction():
    with pytest.raises(RuntimeError, match="one transaction"):
        record(SYSTEM, "test.act", "thing", 1)


def test_what_is_rolled_back_leaves_neither_entry_nor_job():
    def act():
        with transaction.atomic():
            defer("advance", document_id=1)
            record(SYSTEM, "test.act", "thing", 1)
            raise ZeroDivisionError

    with pytest.raises(ZeroDivisionError):
        act()
    assert jobs("advance") == []
    assert not Entry.objects.exists()


def test_a_job_deferred_while_a_worker_runs_is_still_in_its_transaction():
    worker_app()  # what a worker process builds before it runs jobs

    def act():
        with transaction.atomic():
            defer("advance", document_id=1)
            raise ZeroDivisionError

    with pytest.raises(ZeroDivisionError):
        act()
    assert jobs("advance") == []


def test_a_job_without_a_transaction_is_refused():
    with pytest.raises(RuntimeError, match="transaction"):
        defer("advance", document_id=1)
