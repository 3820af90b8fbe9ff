"""Peek, the accounted-for report, the log, drops, mails handed in: over the API and below it."""

import io
import json
import os
import sys
import time
import zipfile
from datetime import UTC, datetime, timedelta

import pytest

from tests.awkward.mails import PDF, all_mails, file, mixed
from tests.service.conftest import PIPELINE, SYSTEM, jobs
from tests.service.test_api import Caller
from veridox.service.documents.actions.store_reading import store_reading
from veridox.service.documents.models import Document
from veridox.service.intake.accounted import DIFFERENCES, Progress, period_of, rows_of_mailbox
from veridox.service.intake.actions.keep_account import keep_account
from veridox.service.intake.collecting import collect
from veridox.service.intake.dropping import gather, lying_still
from veridox.service.intake.models import Account, File, Message, Place
from veridox.service.intake.moving import move
from veridox.service.pipelines.actions.publish import publish
from veridox.service.reports.running import run
from veridox.service.storage import originals

SOURCE = ("supplier-invoices", "ap-inbox", "INBOX")
AWKWARD = all_mails()
DROPS = PIPELINE.replace("collect:\n", "collect:\n  - watch: uk/bills\n", 1)


@pytest.fixture
def works(installation, clerk):
    return Caller(clerk, "read", "work")


def bill(subject="Invoice 1", content=PDF, **more):
    return mixed(file(content, "a.pdf"), subject=subject, **more).as_bytes()


def test_a_peek_says_what_decides_and_changes_nothing(installation, works):
    box = installation.mailbox
    box.put(bill())
    collect(*SOURCE)
    box.put(bill("Lunch on Friday"))
    box.put(mixed(subject="Invoice without a file").as_bytes())
    box.put(bill("Invoice 2", content=PDF + b"2"))
    read_before = {uid: kept.read for uid, kept in box.folders["INBOX"].items()}
    answer = works.get("/mailboxes/ap-inbox/peek").json()
    assert (answer["folder"], answer["pipeline"]) == ("INBOX", "supplier-invoices")
    found = {each["subject"]: (each["stands"], each["decides"]) for each in answer["mails"]}
    assert found == {
        "Invoice 1": ("taken in", ""),
        "Lunch on Friday": ("left", "subject"),
        "Invoice without a file": ("left", "with_files"),
        "Invoice 2": ("would be taken", ""),
    }
    lunch = next(each for each in answer["mails"] if each["decides"] == "subject")
    assert [each["met"] for each in lunch["conditions"]] == [True, False]
    assert {uid: kept.read for uid, kept in box.folders["INBOX"].items()} == read_before
    assert Message.objects.count() == 1


@pytest.mark.parametrize(("path", "status", "said"), [
    ("/mailboxes/nobody/peek", 404, "no running pipeline collects"),
    ("/mailboxes/ap-inbox/peek?folder=Elsewhere", 404, "Elsewhere"),
    ("/mailboxes/ap-inbox/peek?limit=0", 400, "limit"),
    ("/reports/runs?kind=weekly", 400, "kind"),
    ("/reports/runs/99", 404, "99"),
    ("/reports/runs/99/rows", 404, "99"),
    ("/messages?outcome=lost", 400, "outcome"),
])  # fmt: skip
def test_a_question_that_makes_no_sense_is_told(works, path, status, said):
    answer = works.get(path)
    assert answer.status_code == status
    assert said in answer.json()["detail"]


@pytest.mark.parametrize(("wanted", "status", "said"), [
    ({"mailbox": "nobody"}, 404, "nobody"),
    ({"since": "2026-02-02", "until": "2026-01-01"}, 400, "after"),
    ({"since": "soon"}, 400, ""),
    ({"head": {"number": 1, "seal": "x", "mark": "y", "at": "x"}}, 400, "not for accounted"),
])  # fmt: skip
def test_a_report_that_makes_no_sense_is_not_begun(works, wanted, status, said):
    answer = works.send("post", "/reports/runs", {"kind": "accounted", **wanted})
    assert (answer.status_code, said in answer.json()["detail"]) == (status, True)
    assert jobs("report") == []


def everything(installation):
    """One mail of each fate."""
    box = installation.mailbox
    long_ago = datetime.now(UTC) - timedelta(hours=3)
    for number in range(3):
        box.put(bill(f"Invoice {number}", content=PDF + bytes([number])), received=long_ago)
    collect(*SOURCE)
    taken, gone, lost = Message.objects.order_by("pk")
    box.put(bill("Newsletter"), received=long_ago)
    box.put(bill("Invoice just now", content=PDF + b"n"))
    box.put(bill("Invoice overlooked", content=PDF + b"o"), received=long_ago)
    box.folders["Done"] = {}
    box.put(bill("Put there by Bo", content=PDF + b"b"), "Done", received=long_ago)
    del box.folders["INBOX"][gone.uid]
    originals()._path(lost.sha256).unlink()
    type(installation.version).objects.update(published_at=long_ago)
    return taken, gone, lost


def counted_rows(since=None, until=None):
    return list(rows_of_mailbox("ap-inbox", period_of(since, until), Progress()))


def ask_for(works, **wanted):
    """Ask for the report, and be the worker that runs it."""
    asked = works.send("post", "/reports/runs", {"kind": "accounted", **wanted})
    assert asked.status_code == 202, asked.content
    assert jobs("report") == [{"run_id": asked.json()["id"]}]
    run(asked.json()["id"])
    return works.get(f"/reports/runs/{asked.json()['id']}").json()


def accounted_for(works, **wanted):
    done = ask_for(works, **wanted)
    assert done["state"] == "done", done["problem"]
    rows = works.get(f"/reports/runs/{done['id']}/rows").json()["results"]
    return done["result"], rows


def test_every_mail_is_accounted_for_and_a_difference_is_told(installation, works):
    taken, gone, lost = everything(installation)
    report, rows = accounted_for(works, mailbox="ap-inbox")
    stands = {row["subject"]: row["stands"] for row in rows}
    assert stands == {
        taken.subject: "taken in",
        gone.subject: "gone from the mailbox",
        lost.subject: "lost",
        "Newsletter": "not wanted",
        "Invoice just now": "not taken yet",
        "Invoice overlooked": "unexplained",
        "Put there by Bo": "put there by somebody",
    }
    assert report["good"] is False
    assert report["totals"]["unexplained"] == report["totals"]["lost"] == 1
    why = {row["subject"]: row["why"] for row in rows}
    assert why["Newsletter"].startswith("subject: ")
    assert why[taken.subject] == "a.pdf: to be read"
    keep_account("ap-inbox", counted_rows())
    (alert,) = works.get("/today").json()["not_accounted"]
    assert [each["subject"] for each in alert["unexplained"]] == ["Invoice overlooked"]


def test_when_all_is_well_nothing_alarms(installation, works):
    installation.mailbox.put(bill())
    collect(*SOURCE)
    keep_account("ap-inbox", counted_rows())
    assert not {row.stands for row in counted_rows()} & set(DIFFERENCES)
    assert works.get("/today").json()["not_accounted"] == []
    assert Account.objects.get().taken == 1


def test_only_the_period_asked_for_is_counted(installation):
    now = datetime.now(UTC)
    for days in (0, 3, 30):
        received = now - timedelta(days=days)
        installation.mailbox.put(bill(f"Invoice {days}", PDF + bytes([days])), received=received)
    collect(*SOURCE)
    day = (now - timedelta(days=3)).date()
    assert [row.subject for row in counted_rows(day, day)] == ["Invoice 3"]
    assert len(counted_rows()) == 2


def test_a_moved_mail_whose_new_number_nobody_told_is_still_taken_in(installation):
    installation.mailbox.put(bill())
    collect(*SOURCE)
    Message.objects.update(moving_to="people")
    move(Message.objects.get().pk)
    Message.objects.update(uid=None, uidvalidity=None)
    assert Message.objects.get().place == Place.PEOPLE
    assert [row.stands for row in counted_rows()] == ["taken in"]


def test_the_report_and_the_log_come_as_tables_without_live_formulas(installation, works):
    installation.mailbox.put(bill("=HYPERLINK(1) Invoice", sender="+1@x.example"))
    collect(*SOURCE)
    run_id = ask_for(works, mailbox="ap-inbox")["id"]
    for path in ("/messages/export", f"/reports/runs/{run_id}/export"):
        given = {"mailbox": "ap-inbox"}
        csv = b"".join(works.get(path, **given).streaming_content).decode("utf-8-sig")
        assert "'=HYPERLINK(1) Invoice" in csv
        answer = works.get(path, **given, **{"as": "xlsx"})
        with zipfile.ZipFile(io.BytesIO(b"".join(answer.streaming_content))) as book:
            sheet = book.read("xl/worksheets/sheet1.xml").decode()
        assert "'=HYPERLINK(1) Invoice" in sheet
        assert "<f>" not in sheet


@pytest.mark.parametrize(("query", "count"), [
    ({"search": "second.pdf"}, 1), ({"search": "find our invoice"}, 2), ({"sender": "ostrel"}, 1),
    ({"subject": "rechnung"}, 1), ({"mailbox": "ap-inbox"}, 2), ({"mailbox": "other"}, 0),
    ({"received_from": "2100-01-01"}, 0), ({"received_to": "2100-01-01"}, 2),
    ({"outcome": "under way"}, 2), ({"outcome": "failed"}, 0),
])  # fmt: skip
def test_the_log_is_searched(installation, works, query, count):
    installation.mailbox.put(bill())
    other = mixed(file(PDF + b"2", "second.pdf"), subject="Rechnung", sender="a@ostrel.example")
    installation.mailbox.put(other.as_bytes())
    collect(*SOURCE)
    rows = works.get("/messages", **query).json()["results"]
    assert len(rows) == count


def test_a_mails_html_is_shown_without_scripts_pictures_or_the_network(installation, works):
    publish(SYSTEM, PIPELINE.replace("with_files: true, subject", "with_files: false, subject"))
    html = (
        "<p onclick='x()'>Total</p><script>bad()</script><img src=https://spy.example/1.gif>"
        "<style>p{background:url(https://spy.example/2)}</style><table bgcolor='red'><tr><td>"
        "10,00</td></tr></table><a href='javascript:x()'>a</a><iframe src=//spy.example></iframe>"
        "<form action=//spy.example><input></form>"
    )
    from email.mime.text import MIMEText

    from tests.awkward.mails import head

    installation.mailbox.put(head(MIMEText(html, "html")).as_bytes())
    collect(*SOURCE)
    answer = works.get(f"/messages/{Message.objects.get().pk}/html")
    shown = answer.content.decode()
    assert "10,00" in shown
    for bad in ("script", "onclick", "spy.example", "javascript:", "<form", "<iframe", "<img"):
        assert bad not in shown
    assert answer["Content-Security-Policy"].startswith("sandbox; default-src 'none'")
    assert answer["X-Frame-Options"] == "SAMEORIGIN"


def test_the_original_of_a_mail_is_what_came(installation, works):
    sent = bill()
    installation.mailbox.put(sent)
    collect(*SOURCE)
    answer = works.get(f"/messages/{Message.objects.get().pk}/original")
    assert answer.content == sent
    assert "attachment" in answer["Content-Disposition"]


# -- handed in -------------------------------------------------------------------------


@pytest.mark.parametrize("name", ["forwarded as a file", "zip", "msg file"])
def test_a_mail_is_handed_in_with_all_its_files(works, name):
    mail = AWKWARD[name]
    answer = works.upload("/messages", mail.content, "m.eml", pipeline="supplier-invoices")
    assert answer.status_code == 201
    told = answer.json()
    assert [each["name"] for each in told["files"]] == list(mail.files)
    assert (told["mailbox"], told["handed_in_by"]) == (None, "person:cleo")
    assert len(jobs("read")) == len(mail.files)
    again = works.upload("/messages", mail.content, "m.eml", pipeline="supplier-invoices")
    assert again.json()["repeat_of"] == told["id"]
    assert len(jobs("read")) == len(mail.files)


def test_what_is_no_mail_is_not_taken_as_one_and_the_other_way_round(works):
    answer = works.upload("/messages", PDF, "a.eml", pipeline="supplier-invoices")
    assert (answer.status_code, "is no mail" in answer.json()["detail"]) == (400, True)
    answer = works.upload("/files", bill(), "a.pdf", pipeline="supplier-invoices")
    assert (answer.status_code, "that is a mail" in answer.json()["detail"]) == (400, True)


def test_values_known_beforehand_count_as_given(installation, works):
    from tests.service.conftest import answer_of

    known = json.dumps({"order_number": "PO-26-0101", "gross_total": "12.50", "currency": "GBP"})
    answer = works.upload("/files", PDF, "a.pdf", pipeline="supplier-invoices", known=known)
    assert answer.status_code == 201
    row = File.objects.get()
    store_reading(SYSTEM, row.pk, answer_of(PDF))
    fields = Document.objects.get().readings.get().reading["fields"]
    assert fields["order_number"]["value"] == "PO-26-0101"
    assert fields["order_number"]["origin"] == "given"
    assert fields["gross_total"]["value"] == {"amount": "12.50", "currency": "GBP"}


@pytest.mark.parametrize("known", ['{"no_such": 1}', '{"issue_date": "soon"}', "[1]", "{"])
def test_values_that_cannot_be_used_are_refused_before_anything_is_stored(works, known):
    answer = works.upload("/files", PDF, "a.pdf", pipeline="supplier-invoices", known=known)
    assert answer.status_code == 400
    assert File.objects.count() == 0


def test_files_are_taken_in_and_left_out_over_the_api(installation, works):
    publish(SYSTEM, PIPELINE.replace("subject: [invoice, credit note, Rechnung, Gutschrift]", ""))
    installation.mailbox.put(AWKWARD["logo in the signature"].content)
    collect(*SOURCE)
    logo = File.objects.get(left_out="dress")
    answer = works.send("post", f"/files/{logo.pk}/leave", {"reason": "only a logo"})
    assert answer.json()["reason"] == "only a logo (cleo)"
    assert works.send("post", f"/files/{logo.pk}/take").json()["state"] == "received"
    assert works.send("post", f"/files/{logo.pk}/take").status_code == 409
    assert works.send("post", "/files/99/take").status_code == 404
    assert works.send("post", f"/messages/{logo.message_id}/aside", {}).status_code == 400


# -- watched directories -----------------------------------------------------------------


@pytest.fixture
def drops(installation, settings, tmp_path):
    from dataclasses import replace

    settings.CONFIGURATION = replace(settings.CONFIGURATION, drops=tmp_path)
    publish(SYSTEM, DROPS)
    folder = tmp_path / "uk" / "bills"
    folder.mkdir(parents=True)

    def drop(name, content=PDF, age=10.0):
        path = folder / name
        path.write_bytes(content)
        then = time.time() - age
        os.utime(path, (then, then))
        return path

    drop.folder = folder
    return drop


@pytest.fixture
def still(monkeypatch):
    monkeypatch.setattr("veridox.service.intake.dropping.STILL", -1.0)


@pytest.mark.usefixtures("still")
def test_a_dropped_file_is_stored_and_then_moved(drops):
    path = drops("Rechnung März.pdf")
    assert gather("supplier-invoices", "uk/bills") == 1
    assert File.objects.get().name == "Rechnung März.pdf"
    assert not path.exists()
    assert (drops.folder / "Done" / path.name).read_bytes() == PDF
    assert len(jobs("read")) == 1


def test_a_file_that_is_still_written_to_is_left(drops):
    drops("half.pdf", age=0)
    assert lying_still(drops.folder) == []
    assert gather("supplier-invoices", "uk/bills") == 0
    assert File.objects.count() == 0


@pytest.mark.usefixtures("still")
def test_links_pipes_and_hidden_files_are_never_followed(drops, tmp_path):
    secret = tmp_path / "secret"
    secret.write_bytes(PDF)
    (drops.folder / "link.pdf").symlink_to(secret)
    os.mkfifo(drops.folder / "pipe.pdf")
    (drops.folder / ".hidden.pdf").write_bytes(PDF)
    (drops.folder / "folder.pdf").mkdir()
    assert gather("supplier-invoices", "uk/bills") == 0
    assert File.objects.count() == 0


@pytest.mark.usefixtures("still")
def test_a_worker_that_ends_before_the_move_takes_nothing_twice(drops, monkeypatch):
    path = drops("a.pdf")
    monkeypatch.setattr("veridox.service.intake.dropping._move", lambda *_: sys.exit(1))
    with pytest.raises(SystemExit):
        gather("supplier-invoices", "uk/bills")
    monkeypatch.undo()
    monkeypatch.setattr("veridox.service.intake.dropping.STILL", -1.0)
    assert gather("supplier-invoices", "uk/bills") == 1
    assert (File.objects.count(), path.exists()) == (1, False)


@pytest.mark.usefixtures("still")
def test_a_name_that_lies_in_done_already_is_never_written_over(drops):
    for number in range(3):
        drops("same.pdf", PDF + bytes([number]))
        gather("supplier-invoices", "uk/bills")
    kept = sorted(path.name for path in (drops.folder / "Done").iterdir())
    assert kept == ["same-2.pdf", "same-3.pdf", "same.pdf"]
    assert File.objects.count() == 3


@pytest.mark.usefixtures("still")
def test_a_dropped_mail_brings_its_files(drops):
    drops("m.eml", AWKWARD["forwarded as a file"].content)
    drops("m.msg", bill("Invoice 9", content=PDF + b"9"))
    assert gather("supplier-invoices", "uk/bills") == 2
    assert Message.objects.count() == 2
    assert len(jobs("read")) == 2


@pytest.mark.usefixtures("still")
def test_a_file_over_the_limit_goes_to_failed(drops, monkeypatch):
    monkeypatch.setattr("veridox.service.intake.dropping.MAX_FILE", 10)
    drops("big.pdf")
    assert gather("supplier-invoices", "uk/bills") == 1
    assert (drops.folder / "Failed" / "big.pdf").exists()
