"""State, trail entry and next job: all of an act, or nothing of it."""

import pytest

from demo import bills
from tests.service.conftest import PIPELINE, SYSTEM, jobs
from veridox.core.posting import Booked, Refusal
from veridox.service.accounts.actors import Actor
from veridox.service.desk.actions.again import again
from veridox.service.desk.actions.correct import correct
from veridox.service.desk.actions.discard import discard
from veridox.service.desk.actions.post import post
from veridox.service.documents.models import Document, ReadingVersion, State, Statement
from veridox.service.flow.actions.advance import advance
from veridox.service.flow.actions.fail import fail
from veridox.service.flow.models import Walk
from veridox.service.ledgers.actions import answers
from veridox.service.ledgers.models import BillReservation, Posting
from veridox.service.masterdata.models import Vendor
from veridox.service.notices.models import Notice
from veridox.service.pipelines.actions.publish import publish
from veridox.service.pipelines.models import PipelineVersion
from veridox.service.trail.models import Entry, Head


class PowerCutError(Exception):
    """The machine stops at the worst moment: when the trail entry is written."""


@pytest.fixture
def power_cut(monkeypatch):
    """From now on every act dies at its last step."""

    def cut():
        def die(*_, **__):
            raise PowerCutError

        monkeypatch.setattr(Head, "save", die)

    return cut


def snapshot():
    """Everything that an act may change."""
    return {
        "documents": list(Document.objects.order_by("pk").values()),
        "readings": ReadingVersion.objects.count(),
        "statements": list(Statement.objects.order_by("pk").values()),
        "walks": Walk.objects.count(),
        "postings": list(Posting.objects.order_by("pk").values()),
        "reservations": BillReservation.objects.count(),
        "notices": Notice.objects.count(),
        "entries": Entry.objects.count(),
        "versions": PipelineVersion.objects.count(),
        "jobs": [jobs(name) for name in ("read", "read_again", "advance", "post", "tell", "move")],
    }


def reference(document):
    return str(document.posting.pk)


def blocked_and_checked(document):
    Vendor.objects.filter(pk=document.vendor_id).update(blocked=True)
    advance(SYSTEM, document.pk)


SLIP_ACTS = {
    "correct": lambda actor, d: correct(actor, d.pk, d.version, {"fields": {"number": "N-1"}}),
    "correct and clear": lambda actor, d: correct(
        actor, d.pk, d.version, {"fields": {"gross_total": "1421.28"}}
    ),
    "post": lambda actor, d: post(actor, d.pk, d.version, "agreed"),
    "discard": lambda actor, d: discard(actor, d.pk, d.version, "twice"),
    "fail": lambda actor, d: fail(SYSTEM, d.pk, "broken"),
    "check again": lambda actor, d: blocked_and_checked(d),
    "process again": lambda actor, d: again(
        actor, d.pk, d.version, stage="check", newest_version=False, reason=""
    ),
    "read again": lambda actor, d: again(
        actor, d.pk, d.version, stage="read", newest_version=False, reason=""
    ),
}
CLEARED_ACTS = {
    "unsure": lambda d: answers.note_unsure(SYSTEM, reference(d), "no answer"),
    "booked": lambda d: answers.store_booked(
        SYSTEM, reference(d), Booked(ledger_id="1", number="BL-1", link="x")
    ),
    "refused": lambda d: answers.store_refusal(SYSTEM, reference(d), Refusal(reasons=("no",))),
}


@pytest.mark.parametrize("name", SLIP_ACTS)
def test_an_act_at_the_desk_that_is_cut_off_leaves_no_trace(installation, clerk, power_cut, name):
    document = installation.checked(bills.SALT_SLIP, "band")
    before = snapshot()
    power_cut()
    with pytest.raises(PowerCutError):
        SLIP_ACTS[name](Actor.of(clerk), document)
    assert snapshot() == before


@pytest.mark.parametrize("name", CLEARED_ACTS)
def test_an_answer_of_the_ledger_that_is_cut_off_leaves_no_trace(installation, power_cut, name):
    document = installation.checked(bills.KRILL)
    answers.begin_sending(reference(document), "prepared")
    before = snapshot()
    power_cut()
    with pytest.raises(PowerCutError):
        CLEARED_ACTS[name](document)
    assert snapshot() == before


def test_a_check_that_is_cut_off_reserves_and_queues_nothing(installation, power_cut):
    document = installation.arrive(bills.KRILL)
    before = snapshot()
    power_cut()
    with pytest.raises(PowerCutError):
        advance(SYSTEM, document.pk)
    assert snapshot() == before


def test_publishing_that_is_cut_off_publishes_nothing(installation, power_cut):
    before = snapshot()
    power_cut()
    with pytest.raises(PowerCutError):
        publish(SYSTEM, PIPELINE.replace("percent: 2,", "percent: 3,"))
    assert snapshot() == before


def test_a_document_is_handled_by_the_version_it_came_under(installation):
    old = installation.checked(bills.SALT_SLIP, "band")
    lenient = PIPELINE.replace(
        "  totals: {within", "  weights: {order.total: warn}\n  totals: {within"
    )
    installation.version = publish(SYSTEM, lenient.replace("risk > 10 %", "risk > 60 %"))
    advance(SYSTEM, old.pk)
    old.refresh_from_db()
    assert (old.state, old.pipeline_version.number) == (State.AT_DESK, 1)
    discard_free = installation.checked(bills.VET_VISIT, "band")
    assert (discard_free.state, discard_free.pipeline_version.number) == (State.CLEARED, 2)
