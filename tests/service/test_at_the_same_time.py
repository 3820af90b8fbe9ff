"""Several at once: threads with connections of their own, on real transactions."""

import json
import random
import threading
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from datetime import timedelta
from decimal import Decimal

import pytest
from django.db import connections, transaction
from django.test import Client
from django.utils import timezone

from demo import bills
from tests.service.conftest import SYSTEM, install
from tests.service.conftest import carry_through as post
from veridox.core.facts import MailFact
from veridox.core.posting import Refusal
from veridox.core.reading import Field, Reading
from veridox.service.accounts.actors import Actor
from veridox.service.desk.actions.correct import correct
from veridox.service.documents.models import Document, ReadingVersion, State
from veridox.service.documents.orders import order_record
from veridox.service.errors import StaleError, UnreachableError, VeridoxError
from veridox.service.flow.actions.advance import advance
from veridox.service.intake.actions.receive import upload
from veridox.service.intake.models import File
from veridox.service.ledgers.models import Posting, PostingState
from veridox.service.masterdata.models import Order
from veridox.service.notices.actions.end_run import end_run
from veridox.service.notices.models import Notice
from veridox.service.people.actions.people import create_person
from veridox.service.people.actions.tokens import create_token
from veridox.service.pipelines.actions.runs import begin_run, close_run, looked_through
from veridox.service.pipelines.models import PipelineRun
from veridox.service.pipelines.queries import definition_of
from veridox.service.ports.ledger import NoAnswerError
from veridox.service.storage import originals
from veridox.service.trail.models import Entry
from veridox.service.trail.record import record
from veridox.service.trail.verify import verify

pytestmark = pytest.mark.usefixtures("committed")


@pytest.fixture
def installation(committed, monkeypatch):
    return install(monkeypatch)


def together(count, act):
    """Run an act in several threads that begin at the same moment; results or errors."""
    barrier = threading.Barrier(count)

    def run(index):
        barrier.wait()
        try:
            return act(index)
        except VeridoxError as error:
            return error
        finally:
            connections.close_all()

    with ThreadPoolExecutor(count) as pool:
        return list(pool.map(run, range(count)))


def test_the_trail_stays_one_chain_under_many_writers():
    def act(index):
        for step in range(10):
            with transaction.atomic():
                record(Actor.system(f"w{index}"), "test.act", "thing", step)

    together(8, act)
    found = verify()
    assert (found.entries, found.problems) == (80, ())


def test_of_several_clerks_correcting_at_once_one_is_heard_and_the_others_are_told(installation):
    document = installation.checked(bills.SALT_SLIP, "band")
    clerks = [create_person(SYSTEM, f"clerk{n}", "a long enough word", "clerk") for n in range(4)]

    def act(index):
        changes = {"fields": {"due_date": f"2026-12-{10 + index}"}}
        return correct(Actor.of(clerks[index]), document.pk, document.version, changes)

    results = together(4, act)
    assert sum(isinstance(each, StaleError) for each in results) == 3
    assert ReadingVersion.objects.filter(document=document).count() == 2
    assert Entry.objects.filter(act="document.corrected").count() == 1


def test_a_posting_carried_by_two_workers_at_once_is_booked_once(installation):
    document = installation.checked(bills.KRILL)
    slow = threading.Event()
    installation.ledger.late_window = 0.2
    installation.ledger.misbehave = lambda reference: slow.wait(0.3)

    def act(index):
        if index:
            slow.wait(0.1 * index)
        return post(str(document.posting.pk))

    together(3, act)
    for _ in range(3):  # whoever was told to look again does
        slow.wait(0.25)
        try:
            post(str(document.posting.pk))
        except UnreachableError:
            continue
    document.refresh_from_db()
    assert document.state == State.POSTED
    assert len(installation.ledger.bills) == 1
    assert Notice.objects.count() == 1


def test_the_same_request_sent_twice_at_once_is_done_once(installation):
    document = installation.checked(bills.SALT_SLIP, "band")
    clerk = create_person(SYSTEM, "cleo", "a long enough word", "clerk")
    _, text = create_token(SYSTEM, clerk, "t", ["read", "work"], None)

    def act(index):
        del index
        return Client().post(
            f"/api/v1/documents/{document.pk}/discard", json.dumps({"reason": "twice"}),
            content_type="application/json",
            headers={"Authorization": f"Bearer {text}", "If-Match": '"2"', "Idempotency-Key": "k"},
        )  # fmt: skip

    answers = together(4, act)
    # Each got the first's answer, or was told that it still runs; nobody did it again.
    assert {answer.status_code for answer in answers} <= {200, 409}
    assert 200 in {answer.status_code for answer in answers}
    assert Entry.objects.filter(act="document.discarded").count() == 1


def test_documents_on_one_order_cleared_at_once_each_get_their_own_bill(installation):
    documents = [
        installation.arrive(
            replace(
                bills.VET_VISIT,
                number=f"QV-T{index}",
                issued=bills.VET_VISIT.issued - timedelta(days=7 * index),
            )
        )
        for index in range(6)
    ]
    together(6, lambda index: advance(SYSTEM, documents[index].pk))
    assert Document.objects.filter(state=State.CLEARED).count() == 6
    assert Posting.objects.count() == 6
    assert verify().problems == ()


# -- a ledger that misbehaves in every order


class Weather:
    """What a ledger does at each booking, drawn by a seed: mostly something bad."""

    def __init__(self, ledger, seed):
        self.ledger = ledger
        self.chance = random.Random(seed)
        self.left = self.chance.randint(1, 6)

    def __call__(self, reference):
        if self.left <= 0:
            return
        self.left -= 1
        what = self.chance.choice(["refuse the line", "drop", "book and drop", "go on"])
        if what == "refuse the line":
            raise UnreachableError("no connection")
        if what == "drop":
            raise NoAnswerError("line broke before booking")
        if what == "book and drop":
            self.ledger.drops = 1


class WorkerDiedError(Exception):
    """Stands for SIGKILL: nothing after it runs, not even what stores an answer."""


def dying(function, chance, share):
    def maybe(*arguments, **named):
        if chance.random() < share:
            raise WorkerDiedError
        result = function(*arguments, **named)
        if chance.random() < share:
            raise WorkerDiedError
        return result

    return maybe


@pytest.mark.parametrize("seed", range(40))
def test_exactly_one_bill_stands_after_any_weather(installation, monkeypatch, seed):
    document = installation.checked(replace(bills.VET_VISIT, number=f"QV-W{seed}"))
    ledger, chance = installation.ledger, random.Random(seed * 7 + 1)
    ledger.misbehave = Weather(ledger, seed)
    for name in ("rehearse", "post", "find", "attach"):
        monkeypatch.setattr(ledger, name, dying(getattr(ledger, name), chance, 0.15))
    for _ in range(60):
        try:
            post(str(document.posting.pk))
        except (UnreachableError, WorkerDiedError):
            continue
        document.refresh_from_db()
        if document.state == State.POSTED:
            break
    document.posting.refresh_from_db()
    assert document.state == State.POSTED
    assert document.posting.state == PostingState.POSTED
    assert list(ledger.bills) == [str(document.posting.pk)]
    assert Notice.objects.filter(document=document, event="posted").count() == 1


def test_a_refusal_in_bad_weather_never_leaves_a_bill(installation):
    document = installation.checked(bills.KRILL)
    installation.ledger.post = lambda reference, bill: Refusal(reasons=("closed",))
    post(str(document.posting.pk))
    document.refresh_from_db()
    assert document.state == State.AT_DESK
    assert installation.ledger.bills == {}


@pytest.fixture
def slowly(monkeypatch):
    """Between looking at the order and deciding time goes by: others have seen it by then."""
    from veridox.service.flow.actions import advance as advancing

    compute = advancing.compute

    def late(*args):
        threading.Event().wait(0.3)
        return compute(*args)

    monkeypatch.setattr(advancing, "compute", late)


def test_two_bills_of_one_order_checked_at_once_do_not_both_fit(installation, slowly):
    order = Order.objects.get(number=bills.KRILL.order)
    documents = [
        installation.arrive(replace(bills.KRILL, number=f"BF-T{index}")) for index in range(3)
    ]
    together(3, lambda index: advance(SYSTEM, documents[index].pk))
    cleared = Document.objects.filter(state=State.CLEARED)
    assert cleared.count() >= 1
    limit = order.net_total * 102 / 100
    assert sum(document.net_total for document in cleared) <= limit
    stopped = Document.objects.filter(state=State.AT_DESK).first()
    assert "order.total" in [finding["code"] for finding in stopped.findings]


def test_two_bills_that_take_the_last_pieces_at_once_do_not_both_get_them(installation, slowly):
    block = replace(bills.KRILL.lines[0], quantity=Decimal(30))  # 40 were ordered
    documents = [
        installation.arrive(replace(bills.KRILL, number=f"BF-L{index}", lines=(block,)))
        for index in range(2)
    ]
    together(2, lambda index: advance(SYSTEM, documents[index].pk))
    assert sorted(Document.objects.values_list("state", flat=True)) == [
        State.AT_DESK, State.CLEARED,
    ]  # fmt: skip
    stopped = Document.objects.get(state=State.AT_DESK)
    assert "order.quantity" in [finding["code"] for finding in stopped.findings]


_BLOCK, _SQUID = bills.KRILL.lines[0], bills.on_order("PO-26-0104")[0]
OF_TWO = replace(
    bills.KRILL, number="BF-2", order="PO-26-0101, PO-26-0104",
    lines=(replace(_BLOCK, quantity=Decimal(10)), replace(_SQUID, quantity=Decimal(4))),
)  # fmt: skip


def test_bills_of_two_orders_named_the_other_way_round_do_not_wait_for_each_other(installation):
    one = installation.arrive(OF_TWO)
    other = installation.arrive(replace(
        OF_TWO, number="BF-3", order="PO-26-0104, PO-26-0101",
        lines=(replace(_SQUID, quantity=Decimal(3)), replace(_BLOCK, quantity=Decimal(9))),
    ))  # fmt: skip
    documents = [one, other]
    together(2, lambda index: advance(SYSTEM, documents[index].pk))
    assert Document.objects.filter(state=State.CLEARED).count() == 2
    left = [order_record(Order.objects.get(number=number)).lines[0].open
            for number in ("PO-26-0101", "PO-26-0104")]  # fmt: skip
    assert left == [21, 13]


def test_two_bills_do_not_both_get_the_last_of_the_second_order(installation):
    half = replace(OF_TWO, lines=(OF_TWO.lines[0], replace(_SQUID, quantity=Decimal(15))))
    documents = [installation.arrive(replace(half, number=f"BF-L{at}")) for at in range(2)]
    together(2, lambda index: advance(SYSTEM, documents[index].pk))
    assert sorted(Document.objects.values_list("state", flat=True)) == [
        State.AT_DESK, State.CLEARED,
    ]  # fmt: skip


def test_two_copies_of_one_bill_checked_at_once_are_posted_once(installation):
    documents = [installation.arrive(bills.VET_VISIT) for _ in range(4)]
    together(4, lambda index: advance(SYSTEM, documents[index].pk))
    assert Document.objects.filter(state=State.CLEARED).count() == 1
    assert Posting.objects.count() == 1


def test_a_correction_and_a_check_of_one_order_do_not_wait_for_each_other(
    installation, clerk, monkeypatch
):
    """Both lock the order and the trail's head: everybody takes the head last."""
    from veridox.service.flow.actions import advance as advancing

    wrong = installation.checked(replace(bills.KRILL, number="BF-T1", gross_slip=60))
    other = installation.arrive(replace(bills.KRILL, number="BF-T2"))
    assert (wrong.state, wrong.order.number) == (State.AT_DESK, bills.KRILL.order)
    compute = advancing.compute

    def slowly(*args):
        threading.Event().wait(0.3)  # the other has what this one wants next
        return compute(*args)

    monkeypatch.setattr(advancing, "compute", slowly)
    change = {"fields": {"due_date": "2026-12-31"}}
    acts = [
        lambda: correct(Actor.of(clerk), wrong.pk, wrong.version, change),
        lambda: advance(SYSTEM, other.pk),
    ]
    together(2, lambda index: acts[index]())
    wrong.refresh_from_db()
    assert wrong.readings.count() == 2
    told = Entry.objects.filter(subject_id=str(wrong.pk)).order_by("number")
    assert [each.act for each in told][-2:] == ["document.corrected", "document.checked"]


def test_files_that_come_in_at_midnight_join_one_new_run(installation):
    content = b"%PDF-1.4 night"
    originals().put(content)

    def act(index):
        return upload(
            SYSTEM, installation.version, name=f"{index}.pdf", declared_type="application/pdf",
            media_type="application/pdf", sha256=f"{index:064}", size=len(content),
        ).run_id  # fmt: skip

    (first,) = set(together(1, act))
    for _ in range(3):
        PipelineRun.objects.filter(closed_at=None).update(
            begun_at=timezone.now() - timedelta(days=1)
        )
        (joined,) = set(together(6, act))
        assert joined != first
        first = joined
    assert PipelineRun.objects.filter(closed_at=None).count() == 1


def test_a_run_that_is_closed_while_files_come_in_counts_them_all(installation):
    def act(index):
        if index == 0:
            return end_when_closed()
        return upload(
            SYSTEM, installation.version, name=f"{index}.xyz", declared_type="x",
            media_type="application/x-unknown", sha256=f"{index:064}", size=1,
        ).run_id  # fmt: skip

    def end_when_closed():
        run = begin_run(SYSTEM, "supplier-invoices")
        looked_through("supplier-invoices", ["mailbox", "ap-inbox", "INBOX"])
        close_run(run.pk, "everything was looked through")
        end_run(run.pk)
        return run.pk

    for _ in range(3):
        together(5, act)
    for run in PipelineRun.objects.exclude(ended_at=None):
        assert run.counts["files"] == File.objects.filter(run=run).count()


def test_how_alike_names_must_be_holds_without_a_transaction_around(installation, monkeypatch):
    from veridox.service.flow import known as knowing
    from veridox.service.flow import lookups

    document = installation.arrive(bills.KRILL)
    seen = []

    asked = lookups._asked

    def looked(statement, parameters):
        if "similarity" not in statement:
            return asked(statement, parameters)
        seen.append(connections["default"].in_atomic_block)
        with connections["default"].cursor() as cursor:
            cursor.execute("show pg_trgm.word_similarity_threshold")
            seen.append(float(cursor.fetchone()[0]))
        return []

    monkeypatch.setattr(lookups, "_asked", looked)
    known = knowing.KnownHere(document, definition_of(document.pipeline_version), locking=False)
    read = Reading(fields={"seller.name": Field(value="Brxnefold Feeds Limited")})
    known.vendors_like(read, MailFact())
    assert seen[:2] == [True, lookups.WORD_FROM]
    assert not connections["default"].in_atomic_block
