"""Runs: begun by the clock, by somebody, by news; joined by what comes in; ended once settled."""

from datetime import timedelta

import pytest
from django.utils import timezone

from demo import bills
from tests.service.conftest import PIPELINE, SYSTEM, jobs
from tests.service.test_collect_in_full import bill
from veridox.service.accounts.actors import Actor
from veridox.service.documents.models import State
from veridox.service.documents.subject import subject_of_document
from veridox.service.errors import BadInputError, NotThereError, UnreachableError, WrongStateError
from veridox.service.flow.actions.advance import advance
from veridox.service.intake import watching
from veridox.service.intake.jobs import collect as collect_job
from veridox.service.intake.models import File, FileState
from veridox.service.notices.models import Notice
from veridox.service.pipelines.actions.pause import pause
from veridox.service.pipelines.actions.publish import publish
from veridox.service.pipelines.actions.runs import begin_run, looked_through
from veridox.service.pipelines.models import PipelineRun, PipelineVersion, RunHow
from veridox.service.pipelines.queries import newest, sources
from veridox.service.trail.models import Entry
from veridox.service.upkeep import runs

NAME = "supplier-invoices"
PLACE = ["mailbox", "ap-inbox", "INBOX"]
TELLS = """
  - on: end of run
    mail: {to: ap-team@merrowmere.example, template: run-summary}
"""


def with_run(section, text=PIPELINE):
    return text.replace("collect:\n", f"run:\n{section}\ncollect:\n", 1) + TELLS


def clock(moment):
    return runs.tend(moment)


def the_run():
    return PipelineRun.objects.order_by("-pk").first()


def test_what_comes_in_all_the_time_joins_the_run_of_the_day(installation):
    installation.version = publish(SYSTEM, PIPELINE + TELLS)
    installation.arrive(bills.KRILL)
    installation.arrive(bills.SALT_SLIP, "band")
    run = the_run()
    assert (PipelineRun.objects.count(), run.how) == (1, RunHow.NEWS)
    assert {file.run_id for file in File.objects.all()} == {run.pk}
    clock(timezone.now())
    run.refresh_from_db()
    assert (run.closed_at, run.ended_at) == (None, None)


def test_the_next_day_begins_another_run_and_the_old_one_ends_once_settled(installation):
    installation.version = publish(SYSTEM, PIPELINE + TELLS)
    document = installation.arrive(bills.SALT_SLIP, "band")
    first = the_run()
    PipelineRun.objects.update(begun_at=timezone.now() - timedelta(days=1))
    installation.arrive(bills.KRILL)
    assert the_run().pk != first.pk
    clock(timezone.now())
    first.refresh_from_db()
    assert (first.end_reason, first.ended_at) == ("the day was over", None)  # one is on its way
    advance(SYSTEM, document.pk)
    clock(timezone.now())
    first.refresh_from_db()
    assert first.ended_at is not None
    assert {k: v for k, v in first.counts.items() if v} == {
        "files": 1, "documents": 1, "with_people": 1,
    }  # fmt: skip
    (notice,) = Notice.objects.filter(event="end of run")
    assert notice.run_id == first.pk
    assert notice.subject == f"{NAME}: run {first.pk}, 1 documents, 0 posted"
    assert f"/documents?run={first.pk}" in notice.text
    clock(timezone.now())
    assert Notice.objects.filter(event="end of run").count() == 1
    assert Entry.objects.filter(act="run.ended").count() == 1


def test_a_closed_run_ends_after_a_day_whatever_is_still_on_its_way(installation):
    installation.version = publish(SYSTEM, PIPELINE + TELLS)
    installation.arrive(bills.SALT_SLIP, "band")
    PipelineRun.objects.update(begun_at=timezone.now() - timedelta(days=2))
    now = timezone.now()
    clock(now)
    assert the_run().ended_at is None
    clock(now + timedelta(hours=25))
    assert (the_run().ended_at is not None, the_run().counts["under_way"]) == (True, 1)


def test_a_run_that_ends_with_the_inbox(installation):
    installation.version = publish(SYSTEM, with_run("  ends: inbox empty"))
    document = installation.checked(bills.SALT_SLIP, "band")
    now = timezone.now()
    clock(now + timedelta(seconds=30))
    assert the_run().closed_at is None
    clock(now + timedelta(seconds=90))
    assert (the_run().end_reason, document.state) == ("the inbox was empty", State.AT_DESK)
    assert the_run().ended_at is not None
    installation.arrive(bills.KRILL)
    assert PipelineRun.objects.count() == 2


CLOCK = "  every: 15 minutes\n  parameters:\n    period: {type: text, default: November}"


def test_a_run_by_the_clock_looks_through_all_places_and_ends(installation):
    installation.version = publish(SYSTEM, with_run(CLOCK))
    published = installation.version.published_at
    assert not any(watching.all_the_time(version) for version, _ in sources())
    clock(published + timedelta(minutes=14))
    assert not PipelineRun.objects.exists()
    clock(published + timedelta(minutes=16))
    run = the_run()
    assert (run.how, run.pending, run.parameters) == (
        RunHow.CLOCK, [PLACE], {"period": "November"},
    )  # fmt: skip
    assert jobs("collect") == [{"pipeline": NAME, "mailbox": "ap-inbox", "folder": "INBOX"}]
    installation.mailbox.put(bill("Invoice"))
    collect_job.func(NAME, "ap-inbox", "INBOX")
    File.objects.update(state=FileState.FAILED)  # nobody reads it here
    clock(timezone.now())
    run.refresh_from_db()
    assert (run.pending, run.end_reason) == ([], "everything was looked through")
    assert (run.counts["mails"], run.counts["files"], run.ended_at is not None) == (1, 1, True)
    # What comes in between two runs of the clock belongs to none.
    document = installation.arrive(bills.KRILL)
    assert document.file.run is None


def test_moments_that_were_missed_begin_one_run(installation):
    installation.version = publish(SYSTEM, with_run("  at: [daily 07:30]"))
    PipelineVersion.objects.update(published_at=timezone.now() - timedelta(days=5))
    clock(timezone.now())
    clock(timezone.now())
    assert PipelineRun.objects.count() == 1


def test_a_place_that_cannot_be_looked_through_is_told(installation, monkeypatch):
    publish(SYSTEM, with_run(CLOCK))
    run = begin_run(SYSTEM, NAME)

    def away(*_):
        raise UnreachableError("the server is away")

    monkeypatch.setattr("veridox.service.intake.jobs.collecting.collect", away)
    collect_job.func(NAME, "ap-inbox", "INBOX")
    run.refresh_from_db()
    assert (run.pending, run.problems) == ([], ["ap-inbox INBOX: the server is away"])


def test_a_run_that_hangs_is_closed_and_says_so(installation):
    publish(SYSTEM, with_run(CLOCK))
    begin_run(SYSTEM, NAME)
    clock(timezone.now() + timedelta(hours=7))
    assert the_run().end_reason == "not everything could be looked through"


def test_somebody_asks_for_a_run_with_what_is_said_for_it(installation, clerk):
    may = "queue: unsure}\n  - {when: run.period == 'May', queue: may}"
    publish(SYSTEM, with_run(CLOCK, PIPELINE.replace("queue: unsure}", may)))
    run = begin_run(Actor.of(clerk), NAME, {"period": "May"})
    assert Entry.objects.get(act="run.begun").details["parameters"] == {"period": "May"}
    with pytest.raises(WrongStateError, match="is under way"):
        begin_run(Actor.of(clerk), NAME, {"period": "June"})
    installation.version = newest(NAME)
    document = installation.checked(bills.KRILL)
    assert (document.file.run_id, document.queue) == (run.pk, "may")
    names = subject_of_document(document).around
    assert (names["run.period"], names["run.number"]) == ("May", run.pk)
    looked_through(NAME, PLACE)
    assert begin_run(Actor.of(clerk), NAME).parameters == {"period": "November"}


@pytest.mark.parametrize(("said", "wrong"), [
    ({"perod": "x"}, "did you mean period"), ({"period": ""}, "one line"),
])  # fmt: skip
def test_what_cannot_be_said_begins_no_run(installation, said, wrong):
    publish(SYSTEM, with_run(CLOCK))
    with pytest.raises(BadInputError, match=wrong):
        begin_run(SYSTEM, NAME, said)
    assert not PipelineRun.objects.exists()
    assert jobs("collect") == []


def test_a_paused_or_unknown_pipeline_runs_not(installation):
    pause(SYSTEM, NAME)
    with pytest.raises(WrongStateError, match="is paused"):
        begin_run(SYSTEM, NAME)
    with pytest.raises(NotThereError):
        begin_run(SYSTEM, "nobody")


def test_a_run_now_of_one_that_collects_all_the_time_closes_the_days(installation):
    installation.arrive(bills.KRILL)
    day = the_run()
    asked = begin_run(SYSTEM, NAME)
    day.refresh_from_db()
    assert (day.end_reason, asked.how) == ("another run began", RunHow.ASKED)
    assert installation.arrive(bills.SALT_SLIP, "band").file.run_id == asked.pk


def test_no_more_are_read_at_once_than_the_pipeline_says(installation):
    from procrastinate.contrib.django.models import ProcrastinateJob

    installation.version = publish(SYSTEM, with_run("  at_once: 2"))
    for number in range(4):
        installation.arrive_bytes(b"%%PDF-1.4 %d" % number)
    locks = ProcrastinateJob.objects.filter(task_name="read").values_list("lock", flat=True)
    assert sorted(set(locks)) == [f"read {NAME} 1", f"read {NAME} 2"]


def test_runs_by_rest(works, installation):
    publish(SYSTEM, with_run(CLOCK))
    answer = works.send("post", f"/pipelines/{NAME}/runs", {"parameters": {"period": "May"}})
    assert answer.status_code == 201
    run = answer.json()
    assert (run["pending"], run["parameters"]) == (["ap-inbox INBOX"], {"period": "May"})
    installation.version = newest(NAME)
    installation.checked(bills.KRILL)
    (row,) = works.get(f"/pipelines/{NAME}/runs").json()["results"]
    assert (row["counts"]["documents"], row["counts"]["under_way"]) == (1, 1)
    assert works.get(f"/pipelines/{NAME}/runs/{run['id']}").json()["id"] == run["id"]
    assert works.get(f"/pipelines/{NAME}/runs/999").status_code == 404
    found = works.get("/documents", run=run["id"]).json()["results"]
    assert [each["number"] for each in found] == [bills.KRILL.number]
    wrong = works.send("post", f"/pipelines/{NAME}/runs", {"parameters": {"perid": "x"}})
    assert (wrong.status_code, "did you mean period" in wrong.json()["detail"]) == (400, True)
