"""Letters to vendors: on their way, taken, refused, sent again; and what stands in them."""

import pytest

from demo import bills
from tests.service.conftest import SYSTEM, go_on, jobs
from tests.service.test_api import Caller
from tests.service.test_house_and_notices import Outbox, give_up
from veridox.service import wiring
from veridox.service.accounts.actors import Actor
from veridox.service.connections.models import Connection
from veridox.service.desk.actions.correct import correct
from veridox.service.desk.actions.send_back import send_back
from veridox.service.desk.actions.take import take
from veridox.service.documents.models import Document, State
from veridox.service.errors import AdapterError, BadInputError, UnreachableError, WrongStateError
from veridox.service.flow.actions.advance import advance
from veridox.service.masterdata.models import Vendor
from veridox.service.notices.actions.sent import send_again, store_failed
from veridox.service.notices.letter import NOTHING_SAID, draft
from veridox.service.notices.models import Notice, NoticeState
from veridox.service.notices.telling import tell
from veridox.service.trail.models import Entry
from veridox.service.upkeep.rescue import settle_given_up

TO = "billing@saltglass.example"
WORDS = (TO, "Please correct SG/10442", "The total is 60.00 too high.")


@pytest.fixture
def cleo(clerk):
    return Actor.of(clerk)


@pytest.fixture
def slip(installation):
    return installation.checked(bills.SALT_SLIP, "band")


@pytest.fixture
def letter(slip, cleo):
    send_back(cleo, slip.pk, slip.version, *WORDS)
    slip.refresh_from_db()
    return Notice.objects.get(event="returned")


def outbox(monkeypatch, error=None):
    there = Outbox(error)
    monkeypatch.setattr(wiring, "open_outbox", lambda connection: there)
    return there


def test_while_a_letter_travels_its_document_cannot_be_changed(slip, cleo, letter):
    assert (slip.state, slip.letter_out) == (State.AT_DESK, True)
    acts = [
        lambda: correct(cleo, slip.pk, slip.version, {"fields": {"note": "x"}}),
        lambda: take(cleo, slip.pk),
        lambda: send_back(cleo, slip.pk, slip.version, *WORDS),
    ]
    for act in acts:
        with pytest.raises(WrongStateError, match="on its way"):
            act()
    before = slip.version
    advance(SYSTEM, slip.pk)
    slip.refresh_from_db()
    assert slip.version == before


def test_a_document_is_returned_once_the_mail_server_took_its_letter(monkeypatch, slip, letter):
    there = outbox(monkeypatch)
    tell(letter.pk)
    go_on()
    slip.refresh_from_db()
    assert (slip.state, slip.letter_out) == (State.RETURNED, False)
    assert [mail.to for mail in there.sent] == [TO]


def test_a_refused_letter_brings_its_document_back_with_the_reason(
    monkeypatch, slip, letter, clerk
):
    outbox(monkeypatch, AdapterError("550 no such mailbox"))
    tell(letter.pk)
    go_on()
    slip.refresh_from_db()
    assert (slip.state, slip.letter_out) == (State.AT_DESK, False)
    assert "550 no such mailbox" in slip.reasons[0]
    letter.refresh_from_db()
    assert letter.state == NoticeState.FAILED
    assert "550" in Connection.objects.get(name="mail-out").last_problem
    reads = Caller(clerk, "read", "work")
    (shown,) = reads.get("/today").json()["notices"]
    assert (shown["id"], shown["recipient"]) == (letter.pk, TO)
    assert [row["id"] for row in reads.get("/notices", state="failed").json()["results"]] == [
        letter.pk
    ]


def test_a_refused_letter_is_sent_again_and_ends_its_document(monkeypatch, slip, letter, clerk):
    store_failed(SYSTEM, letter.pk, "refused")
    go_on()
    there = outbox(monkeypatch)
    works = Caller(clerk, "read", "work")
    answer = works.send("post", f"/notices/{letter.pk}/again")
    assert (answer.status_code, answer.json()["state"]) == (200, "prepared")
    slip.refresh_from_db()
    assert slip.letter_out
    assert jobs("tell")[-1] == {"notice_id": letter.pk}
    tell(letter.pk)
    go_on()
    slip.refresh_from_db()
    assert (slip.state, len(there.sent)) == (State.RETURNED, 1)


def test_a_letter_is_not_sent_again_when_its_document_went_another_way(slip, cleo, letter):
    store_failed(SYSTEM, letter.pk, "refused")
    go_on()
    Document.objects.filter(pk=slip.pk).update(state=State.DISCARDED)
    with pytest.raises(WrongStateError, match="discarded"):
        send_again(cleo, letter.pk)


def test_what_did_not_fail_is_not_sent_again(cleo, letter):
    with pytest.raises(WrongStateError, match="prepared"):
        send_again(cleo, letter.pk)


def test_a_mail_server_that_is_down_keeps_the_letter_on_its_way(monkeypatch, slip, letter):
    outbox(monkeypatch, UnreachableError("nobody answers"))
    with pytest.raises(UnreachableError):
        tell(letter.pk)
    go_on()
    slip.refresh_from_db()
    letter.refresh_from_db()
    assert (slip.letter_out, letter.state) == (True, NoticeState.PREPARED)
    assert letter.problem == "nobody answers"


def test_a_letter_that_was_given_up_comes_back_with_its_last_problem(monkeypatch, slip, letter):
    outbox(monkeypatch, UnreachableError("nobody answers"))
    with pytest.raises(UnreachableError):
        tell(letter.pk)
    give_up("tell")
    settle_given_up()
    go_on()
    slip.refresh_from_db()
    assert not slip.letter_out
    assert "nobody answers" in slip.reasons[0]


def test_a_failed_chat_message_is_sent_again_from_the_same_list(installation, cleo):
    document = installation.checked(bills.SALT_SLIP, "band")
    notice = Notice.objects.create(
        document=document, event="at the desk", channel="ap", subject="", text="Look",
        message_id="m@x", state=NoticeState.FAILED, problem="404",
    )  # fmt: skip
    assert send_again(cleo, notice.pk).state == NoticeState.PREPARED
    assert Entry.objects.filter(act="notice.again").exists()


def test_without_a_reason_nothing_is_sent(installation, cleo):
    document = installation.checked(bills.KIOSK)
    text = draft(document).text
    assert NOTHING_SAID in text
    with pytest.raises(BadInputError) as refused:
        send_back(cleo, document.pk, document.version, "a@b.example", "s", text)
    assert refused.value.extra["errors"][0]["path"] == "text"
    assert not Notice.objects.filter(event="returned").exists()


def test_it_goes_to_the_vendors_contact_and_never_to_the_sender(slip):
    assert draft(slip).to == slip.vendor.email
    Vendor.objects.filter(pk=slip.vendor_id).update(email="")
    slip.vendor.refresh_from_db()
    assert draft(slip).to == ""


def test_an_address_that_somebody_typed_is_told_by_the_trail(slip, cleo):
    send_back(cleo, slip.pk, slip.version, "somebody@else.example", "s", "t")
    details = Entry.objects.get(act="document.letter_queued").details
    assert details["address"] == "typed by person:cleo"


def test_a_letter_tells_no_limit_tolerance_confidence_or_code(installation):
    from dataclasses import replace
    from decimal import Decimal

    big = replace(
        bills.KRILL,
        lines=tuple(replace(line, quantity=line.quantity * 4) for line in bills.KRILL.lines),
    )
    document = installation.checked(big)
    assert "order.total" in [each["code"] for each in document.findings]
    text = draft(document).text
    finding = next(each for each in document.findings if each["code"] == "order.total")
    assert "limit" in finding["message"]
    assert "more than was ordered" in text
    assert "limit" not in text
    limit = f"{Decimal(finding['expected']):,.2f}"
    assert limit not in text
    for each in document.findings:
        assert each["code"] not in text
    assert document.vendor.code not in text
