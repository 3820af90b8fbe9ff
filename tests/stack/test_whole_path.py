"""From SMTP to the ledger and back, on the real parts."""

import hashlib
import time

import httpx
import pytest

from demo.drawing import LAYOUTS, delivery_note, signature_picture
from demo.mails import Attached
from tests.conftest import mail_with
from tests.stack.running import until
from veridox.client import ChangedMeanwhileError, ProblemError

pytestmark = pytest.mark.stack


def test_a_mail_becomes_a_bill_with_its_lines_and_the_original(running, fresh_bill):
    message = mail_with(fresh_bill)
    running.send(message)
    document = running.posted(fresh_bill.number)
    (bill,) = running.bills(fresh_bill.number)
    assert bill["gross_total"] == str(fresh_bill.gross)
    assert [line["amount"] for line in bill["lines"]] == [
        f"{line.quantity * line.price:.2f}" for line in fresh_bill.lines
    ]
    original = LAYOUTS["letterhead"](fresh_bill)
    assert [a["sha256"] for a in bill["attachments"]] == [hashlib.sha256(original).hexdigest()]
    assert document.posting.number == bill["number"]
    running.settled(fresh_bill.number, "Done")
    until(lambda: running.confirmations(fresh_bill.number), "the confirmation")
    (told,) = running.confirmations(fresh_bill.number)
    assert bill["number"] in told["subject"]
    assert bill["link"] in told.get_payload()
    screen = httpx.get(bill["link"]).text
    assert fresh_bill.number in screen
    assert "Monthly visit, penguins and otters" in screen


def test_files_of_one_mail_go_their_own_ways(running, fresh_bill):
    note = Attached(name="dn.pdf", content=lambda: delivery_note(fresh_bill, "DN-77"))
    picture = Attached(name="sig.png", content=signature_picture, kind=("image", "png"))
    broken = Attached(name="cut.pdf", content=lambda: LAYOUTS["band"](fresh_bill)[:500])
    empty = Attached(name="empty.pdf", content=lambda: b"")
    running.send(mail_with(fresh_bill, note, picture, broken, empty))
    running.posted(fresh_bill.number)
    running.settled(fresh_bill.number, "With people")
    (mail,) = running.vx.messages.list(search=fresh_bill.number)
    files = {f["name"]: f for f in running.vx.messages.get(mail["id"])["files"]}
    states = {}
    for name, file in files.items():
        found = running.vx.files.get(file["id"])
        states[name] = [d.state for d in found.documents] or found.state
    assert states.pop("sig.png") == "aside"
    assert states == {
        f"{fresh_bill.number.lower()}.pdf": ["posted"], "dn.pdf": ["aside"],
        "cut.pdf": ["at_desk"], "empty.pdf": ["at_desk"],
    }  # fmt: skip
    for file in ("cut.pdf", "empty.pdf"):
        (document,) = running.vx.files.get(files[file]["id"]).documents
        running.vx.documents.discard(document, "cannot be read")
    # When the last has ended, the mail goes on to where finished mails lie.
    running.settled(fresh_bill.number, "Done")


def test_a_wrong_sum_is_held_and_goes_on_when_corrected(running, fresh_bill):
    from dataclasses import replace
    from decimal import Decimal

    wrong = replace(fresh_bill, gross_slip=Decimal("60.00"))
    running.send(mail_with(wrong))
    until(lambda: running.document(wrong.number), "the document")
    document = until(
        lambda: (d := running.document(wrong.number)) and d.state == "at_desk" and d, "the desk"
    )
    assert [f.code for f in document.findings] == ["total.sum"]
    assert document.findings[0].difference == "+60.00"
    running.settled(wrong.number, "With people")
    assert running.bills(wrong.number) == []
    running.vx.documents.correct(
        document, {"fields": {"gross_total": str(fresh_bill.gross)}}, "slip"
    )
    with pytest.raises(ChangedMeanwhileError):
        running.vx.documents.correct(
            document, {"fields": {"gross_total": str(fresh_bill.gross + 60)}}
        )
    running.posted(wrong.number)
    (bill,) = running.bills(wrong.number)
    assert bill["gross_total"] == str(fresh_bill.gross)
    running.settled(wrong.number, "Done")


def test_an_invoice_sent_twice_is_booked_once(running, fresh_bill):
    running.send(mail_with(fresh_bill))
    running.posted(fresh_bill.number)
    running.send(mail_with(fresh_bill, subject=f"Copy of {fresh_bill.number}, invoice"))
    running.settled(f"Copy of {fresh_bill.number}", "With people")
    assert len(running.bills(fresh_bill.number)) == 1


def test_the_very_same_mail_twice_changes_nothing(running, fresh_bill):
    message = mail_with(fresh_bill)
    running.send(message)
    running.posted(fresh_bill.number)
    running.send(message)
    until(lambda: len(running.mails("Done", fresh_bill.number)) == 2, "both in Done")
    found = list(running.vx.documents.list(search=fresh_bill.number))
    assert len(found) == 1
    assert len(running.confirmations(fresh_bill.number)) == 1


def test_an_upload_by_the_client_library_goes_the_same_way(running, fresh_bill, tmp_path):
    path = tmp_path / "invoice.pdf"
    path.write_bytes(LAYOUTS["band"](fresh_bill))
    vx = running.vx
    file = vx.files.upload(path, pipeline="supplier-invoices")
    (document,) = vx.files.wait(file.id).documents
    assert document.reading.number.value == fresh_bill.number
    assert str(document.reading.gross_total.value) == f"{fresh_bill.gross} GBP"
    assert document.state == "posted"
    assert vx.files.content(file.id) == path.read_bytes()
    assert vx.documents.page(document.id).startswith(b"\x89PNG")
    acts = [event["act"] for event in vx.documents.history(document.id)["events"]]
    assert acts[0] == "file.uploaded"
    assert "document.posted" in acts


def test_an_upload_for_a_pipeline_that_is_not_there_says_which_are(running):
    with pytest.raises(ProblemError, match="published are: supplier-invoices"):
        running.vx.files.upload(b"%PDF", pipeline="nope")


# -- a ledger that misbehaves


@pytest.fixture
def ledger(running):
    yield running
    running.fault("none")


@pytest.mark.parametrize(("fault", "times"), [
    ("slow", 1), ("error", 1), ("drop", 1), ("late", 1),
])  # fmt: skip
def test_one_bill_stands_whatever_the_ledger_does(ledger, fresh_bill, fault, times):
    ledger.fault(fault, times, seconds=1.5)
    ledger.send(mail_with(fresh_bill))
    document = ledger.posted(fresh_bill.number)
    (bill,) = ledger.bills(fresh_bill.number)
    assert bill["external_reference"] == document.posting.id
    ledger.settled(fresh_bill.number, "Done")
    until(lambda: ledger.confirmations(fresh_bill.number), "the confirmation")
    assert len(ledger.confirmations(fresh_bill.number)) == 1


def test_while_the_ledger_is_down_others_go_on_and_all_is_posted_when_it_is_back(
    ledger, fresh_bill
):
    ledger.fault("down")
    ledger.send(mail_with(fresh_bill))
    until(lambda: (d := ledger.document(fresh_bill.number)) and d.state == "cleared", "cleared")

    def problem():
        rows = {row["name"]: row for row in ledger.vx.connections.list()}
        return "ledger" in rows["main-books"]["last_problem"]

    until(problem, "the connection's problem to be shown")
    assert not ledger.vx.connections.call("POST", "main-books/test")["good"]
    ledger.fault("none")
    ledger.posted(fresh_bill.number)
    assert len(ledger.bills(fresh_bill.number)) == 1


# -- processes that end


def test_a_restart_of_everything_ours_loses_nothing(running, fresh_bill):
    for name in ("watch", "work", "serve"):
        running.stop(name)
    running.send(mail_with(fresh_bill))
    time.sleep(0.5)
    for name in ("serve", "work", "watch"):
        running.start(name)
    until(running._serves, "the service")
    running.posted(fresh_bill.number)
    running.settled(fresh_bill.number, "Done")


def test_the_trail_of_all_this_holds(running):
    assert running.vx.run_report("trail")["result"]["good"]
