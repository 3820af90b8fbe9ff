"""A database restored elsewhere is held; jobs of dead workers; lanes of a worker."""

import pytest
from asgiref.sync import async_to_sync
from django.db import connection
from procrastinate.contrib.django import app

from demo import bills
from tests.service.conftest import SYSTEM
from tests.service.test_api import Caller
from tests.service.test_house_and_notices import give_up
from veridox.service.accounts.actors import Actor
from veridox.service.documents.models import State
from veridox.service.errors import WrongStateError
from veridox.service.house.actions.held import held, let_go_on, look
from veridox.service.house.models import Installation, Rescue
from veridox.service.trail.models import Entry
from veridox.service.upkeep.rescue import RESCUES, rescue_stalled, settle_given_up
from veridox.service.worker import lanes


def test_the_first_look_remembers_and_the_next_finds_it_as_it_was(db):
    assert look().held_at is None
    assert look().held_at is None
    assert held() is None


@pytest.mark.parametrize(("change", "said"), [
    ({"system": "42"}, "another PostgreSQL cluster"), ({"timeline": 77}, "another timeline"),
])  # fmt: skip
def test_a_copy_restored_elsewhere_is_held_until_somebody_lets_it_go(db, admin, change, said):
    look()
    Installation.objects.update(**change)
    row = look()
    assert said in row.held_reason
    assert held() is not None
    assert Entry.objects.filter(act="installation.held").count() == 1
    look()
    assert Entry.objects.filter(act="installation.held").count() == 1
    rules = Caller(admin, "read", "admin")
    assert rules.get("/health").json()["parts"]["outside"].startswith("held")
    assert rules.get("/today").json()["held"]["reason"] == row.held_reason
    assert rules.send("post", "/service/go-on", {}).status_code == 400
    answer = rules.send("post", "/service/go-on", {"reason": "the old one is off"})
    assert answer.json()["held_since"] is None
    assert look().held_at is None
    assert rules.get("/health").json()["parts"]["outside"] == "good"


def test_who_sets_nothing_up_lets_nothing_go_on(db, clerk):
    look()
    Installation.objects.update(system="42")
    look()
    answer = Caller(clerk, "read", "work").send("post", "/service/go-on", {"reason": "x"})
    assert answer.status_code == 403
    assert held() is not None


def test_what_is_not_held_cannot_be_let_go(db, admin):
    look()
    with pytest.raises(WrongStateError, match="not held"):
        let_go_on(Actor.of(admin), "x")


# -- jobs


def stall(task):
    """As a worker leaves a job that is killed while it runs."""
    with connection.cursor() as cursor:
        cursor.execute("insert into procrastinate_workers (last_heartbeat) "
                       "values (now() - interval '1 hour') returning id")  # fmt: skip
        (worker,) = cursor.fetchone()
        cursor.execute(
            "update procrastinate_jobs set status = 'doing', worker_id = %s where task_name = %s"
            " returning id, attempts", [worker, task])  # fmt: skip
        return cursor.fetchone()


def status(job):
    with connection.cursor() as cursor:
        cursor.execute("select status from procrastinate_jobs where id = %s", [job])
        row = cursor.fetchone()
    return row[0] if row else None


def test_ordinary_retries_do_not_count_as_deaths(installation):
    installation.checked(bills.KRILL)
    with connection.cursor() as cursor:  # after an outage of the ledger
        cursor.execute("update procrastinate_jobs set attempts = 57 where task_name = 'post'")
    job, _ = stall("post")
    async_to_sync(rescue_stalled)(app)
    assert status(job) == "todo"
    assert Rescue.objects.get(job_id=job).count == 1


def test_a_job_that_kills_its_workers_is_given_up(installation):
    document = installation.checked(bills.KRILL)
    for _ in range(RESCUES):
        job, _ = stall("post")
        async_to_sync(rescue_stalled)(app)
        assert status(job) == "todo"
    stall("post")
    async_to_sync(rescue_stalled)(app)
    assert status(job) == "failed"
    settle_given_up()
    document.refresh_from_db()
    assert document.state == State.FAILED


def test_one_job_that_cannot_be_settled_does_not_stop_the_others(installation):
    document = installation.checked(bills.KRILL)
    with connection.cursor() as cursor:
        cursor.execute("insert into procrastinate_jobs (queue_name, task_name, priority, args,"
                       " status) values ('check', 'advance', 0, '{\"document_id\": 999999}',"
                       " 'failed'), ('read', 'read', 0, '{}', 'failed')")  # fmt: skip
    give_up("post")
    assert settle_given_up() == 1
    document.refresh_from_db()
    assert document.state == State.FAILED


@pytest.mark.parametrize(("queues", "jobs", "expected"), [
    (["collect", "read", "check"], 6, [(["read"], 2), (["collect", "check"], 4)]),
    (["collect", "read"], 2, [(["read"], 1), (["collect"], 1)]),
    (["read"], 6, [(["read"], 6)]),
    (["house"], 1, [(["house"], 1)]),
])  # fmt: skip
def test_reading_never_takes_all_places_of_a_worker(queues, jobs, expected):
    assert lanes(queues, jobs) == expected


def test_a_run_that_was_given_up_says_so(installation, clerk):
    reads = Caller(clerk, "read", "work")
    asked = reads.send("post", "/reports/runs", {"kind": "trail"}).json()
    give_up("report")
    settle_given_up()
    found = reads.get(f"/reports/runs/{asked['id']}").json()
    assert (found["state"], found["result"]) == ("failed", None)
    assert found["problem"]


def test_a_pipeline_that_does_not_pass_any_more_keeps_no_other_from_collecting(installation, clerk):
    from veridox.service.pipelines.models import Pipeline, PipelineVersion
    from veridox.service.pipelines.queries import _loaded, sources

    old = Pipeline.objects.create(name="of-before")
    text = installation.version.text.replace("check:", "check:\n  weights: {total.sum: warn}")
    version = PipelineVersion.objects.create(pipeline=old, number=1, text=text, sha256="x")
    _loaded.cache_clear()
    assert [found.pipeline.name for found, _ in sources()] == ["supplier-invoices"]
    (trouble,) = Caller(clerk, "read").get("/today").json()["troubles"]
    assert trouble["part"] == "pipeline of-before"
    assert "total.sum is never lowered" in trouble["problem"]
    assert version.number == 1


def test_a_system_part_is_named(db):
    assert SYSTEM.name == "system:test"
