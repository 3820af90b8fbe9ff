import pytest
from django.db import connection

from demo import bills
from tests.service.conftest import PIPELINE, SYSTEM, jobs
from veridox.service import wiring
from veridox.service.accounts.actors import Actor
from veridox.service.desk.actions.discard import discard
from veridox.service.documents.models import State
from veridox.service.errors import AdapterError, UnreachableError, VeridoxError
from veridox.service.intake.models import File, FileState
from veridox.service.masterdata.models import Vendor
from veridox.service.notices.models import Notice, NoticeState
from veridox.service.notices.telling import tell
from veridox.service.pipelines.actions.publish import publish
from veridox.service.upkeep.rescue import purge_finished, settle_given_up
from veridox.service.work import LONGEST_WAIT, Patience

# -- jobs that were given up


def give_up(task):
    with connection.cursor() as cursor:
        cursor.execute(
            "update procrastinate_jobs set status = 'failed' where task_name = %s", [task]
        )
        return cursor.rowcount


def test_a_posting_that_was_given_up_shows_at_its_document(installation):
    document = installation.checked(bills.KRILL)
    posting = document.posting
    posting.problem = "the ledger was down for a week"
    posting.save()
    assert give_up("post") == 1
    assert settle_given_up() == 1
    document.refresh_from_db()
    assert (document.state, document.reasons) == (State.FAILED, [posting.problem])
    assert settle_given_up() == 0


def test_a_file_whose_reading_was_given_up_shows_it(installation):
    document = installation.arrive(bills.KRILL)
    File.objects.filter(pk=document.file_id).update(state=FileState.RECEIVED)
    give_up("read")
    settle_given_up()
    file = File.objects.get(pk=document.file_id)
    assert file.state == FileState.FAILED
    assert "several tries" in file.reason


def test_a_check_that_was_given_up_shows_at_its_document(installation):
    document = installation.arrive(bills.KRILL)
    give_up("advance")
    settle_given_up()
    document.refresh_from_db()
    assert (document.state, document.failed_at_state) == (State.FAILED, State.READ)


def test_finished_jobs_are_kept_for_some_days_only(installation):
    installation.checked(bills.KRILL)
    with connection.cursor() as cursor:
        cursor.execute("update procrastinate_jobs set status = 'succeeded'")
        purge_finished()
        cursor.execute("select count(*) from procrastinate_jobs")
        assert cursor.fetchone()[0] > 0
        cursor.execute("update procrastinate_events set at = at - interval '30 days'")
        purge_finished()
        cursor.execute("select count(*) from procrastinate_jobs")
        assert cursor.fetchone()[0] == 0


class Attempted:
    def __init__(self, attempts):
        self.attempts = attempts


@pytest.mark.parametrize(("error", "attempts", "again"), [
    (UnreachableError("down"), 0, True),
    (UnreachableError("down"), 98, True),
    (UnreachableError("down"), 99, False),
    (VeridoxError("wrong"), 0, False),
    (RuntimeError("bug"), 1, True),
    (RuntimeError("bug"), 2, False),
])  # fmt: skip
def test_what_may_pass_is_tried_again_and_what_will_not_is_not(error, attempts, again):
    decision = Patience(100).get_retry_decision(exception=error, job=Attempted(attempts))
    assert (decision is not None) is again


def test_pauses_between_tries_grow_to_a_limit():
    from procrastinate.utils import utcnow

    def pause(attempts):
        decision = Patience(1000).get_retry_decision(
            exception=UnreachableError("x"), job=Attempted(attempts)
        )
        return (decision.retry_at - utcnow()).total_seconds()

    assert pause(0) < pause(3) < pause(20) <= LONGEST_WAIT + 1


# -- notices

ALL_EVENTS = (
    PIPELINE
    + """
  - on: at the desk
    mail: {to: clerks@merrowmere.example, template: at-the-desk}
  - on: discarded
    mail: {to: clerks@merrowmere.example, template: discarded}
"""
)


def test_people_are_told_of_each_event_they_asked_for(installation, clerk):
    installation.version = publish(SYSTEM, ALL_EVENTS)
    document = installation.checked(bills.SALT_SLIP, "band")
    discard(Actor.of(clerk), document.pk, document.version, "wrong")
    told = list(Notice.objects.order_by("pk").values_list("event", "recipient"))
    assert told == [("at the desk", "clerks@merrowmere.example"),
                    ("discarded", "clerks@merrowmere.example")]  # fmt: skip
    assert "60.00 GBP too high" in Notice.objects.first().text
    assert len(jobs("tell")) == 2


def test_who_is_told_may_be_what_the_master_data_says(installation, clerk):
    to = (
        PIPELINE[: PIPELINE.index("tell:")]
        + """tell:
  - on: at the desk
    when: gross_total > 1 GBP
    mail:
      to: =vendor.contact
      subject: "{{ number }} waits"
      text: "{{ gross_total }} {{ queue }}"
  - on: at the desk
    when: buyer_reference == "x"
    mail: {to: clerks@merrowmere.example, template: at-the-desk}
"""
    )
    installation.version = publish(SYSTEM, to)
    document = installation.checked(bills.SALT_SLIP, "band")
    sent, not_evaluated = Notice.objects.order_by("pk")
    assert (sent.recipient, sent.state) == (document.vendor.email, NoticeState.PREPARED)
    assert sent.subject == f"{document.number} waits"
    assert sent.text.endswith("GBP exceptions")
    # A condition that cannot be evaluated is no silence: it is listed among what failed.
    assert not_evaluated.state == NoticeState.FAILED
    assert "buyer_reference" in not_evaluated.problem
    assert len(jobs("tell")) == 1


def test_without_a_contact_nobody_is_written_to_and_it_is_listed(installation, clerk):
    to = (
        PIPELINE[: PIPELINE.index("tell:")]
        + """tell:
  - on: at the desk
    mail: {to: =vendor.contact, template: at-the-desk}
"""
    )
    installation.version = publish(SYSTEM, to)
    Vendor.objects.update(email="")
    installation.checked(bills.SALT_SLIP, "band")
    notice = Notice.objects.get()
    assert (notice.state, notice.recipient) == (NoticeState.FAILED, "")
    assert notice.problem == "nobody to send it to: vendor.contact is missing"
    assert not jobs("tell")


class Outbox:
    def __init__(self, error=None):
        self.error, self.sent = error, []

    def send(self, mail):
        if self.error:
            raise self.error
        self.sent.append(mail)


@pytest.fixture
def notice(installation, clerk):
    installation.version = publish(SYSTEM, ALL_EVENTS)
    installation.checked(bills.SALT_SLIP, "band")
    return Notice.objects.get()


def test_a_notice_is_sent_once(notice, monkeypatch):
    outbox = Outbox()
    monkeypatch.setattr(wiring, "open_outbox", lambda connection: outbox)
    tell(notice.pk)
    tell(notice.pk)
    assert [mail.message_id for mail in outbox.sent] == [notice.message_id]
    notice.refresh_from_db()
    assert notice.state == NoticeState.SENT


def test_a_mail_server_that_is_down_leaves_the_notice_to_be_sent(notice, monkeypatch):
    monkeypatch.setattr(wiring, "open_outbox", lambda connection: Outbox(UnreachableError("down")))
    with pytest.raises(UnreachableError):
        tell(notice.pk)
    notice.refresh_from_db()
    assert notice.state == NoticeState.PREPARED


def test_an_address_refused_for_good_ends_the_notice_and_not_the_document(notice, monkeypatch):
    monkeypatch.setattr(wiring, "open_outbox", lambda connection: Outbox(AdapterError("no such")))
    tell(notice.pk)
    notice.refresh_from_db()
    assert (notice.state, notice.problem) == (NoticeState.FAILED, "no such")
    assert notice.document.state == State.AT_DESK
