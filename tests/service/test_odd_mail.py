"""One mail never stops others: what cannot be described, fetched, marked or stored."""

import errno
import os
from datetime import date
from email.message import EmailMessage

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from tests.awkward.mails import PDF, file, mixed
from tests.service.conftest import PIPELINE, SYSTEM
from tests.service.test_api import Caller
from veridox.core.pipeline import Wanted
from veridox.service.adapters.folder import FolderStore
from veridox.service.connections.models import Connection, Trouble
from veridox.service.errors import NoRoomError
from veridox.service.intake import collecting
from veridox.service.intake.accounted import Progress, period_of, rows_of_mailbox
from veridox.service.intake.actions.place import forget_refusals
from veridox.service.intake.collecting import collect
from veridox.service.intake.dropping import gather, numbered
from veridox.service.intake.models import File, Message, Refusal, RefusedBefore
from veridox.service.intake.wanted import conditions_key
from veridox.service.pipelines.actions.publish import publish

NEW = PDF + os.urandom(8)
"""Bytes that no store holds yet: what it holds is not written again."""
SOURCE = ("supplier-invoices", "ap-inbox", "INBOX")


def bill(number):
    return mixed(file(PDF + str(number).encode(), "a.pdf"), subject=f"Invoice {number}").as_bytes()


def taken():
    return sorted(Message.objects.values_list("subject", flat=True))


def problem():
    return Connection.objects.get(name="ap-inbox").last_problem


# -- what the server cannot describe


def test_a_mail_that_cannot_be_described_is_read_from_its_own_bytes(installation):
    box = installation.mailbox
    box.garbled = {box.put(bill(1))}
    box.put(bill(2))
    assert collect(*SOURCE) == 2
    assert taken() == ["Invoice 1", "Invoice 2"]
    assert problem() == ""


def test_one_that_nobody_can_open_is_stored_whole_and_told(installation, monkeypatch):
    from veridox.readerpool import ReaderStoppedError
    from veridox.service import wiring

    pool = wiring.reader_pool()
    read = pool.mail

    def stumbling(raw):
        if b"Invoice 1" in raw:
            raise ReaderStoppedError("the reader was stopped")
        return read(raw)

    monkeypatch.setattr(pool, "mail", stumbling)
    box = installation.mailbox
    box.garbled = {box.put(bill(1))}
    box.put(bill(2))
    assert collect(*SOURCE) == 2
    stored = Message.objects.get(arrived_uid=1)
    assert "reader" in stored.defects[0]


def test_one_that_is_not_wanted_is_refused_by_its_own_bytes_and_looked_at_once(
    installation, monkeypatch
):
    box = installation.mailbox
    box.garbled = {box.put(mixed(subject="Newsletter").as_bytes())}
    assert collect(*SOURCE) == 0
    assert list(Refusal.objects.values_list("uid", "condition")) == [(1, "subject")]
    monkeypatch.setattr(box, "fetch", lambda uid: pytest.fail("it was fetched once more"))
    assert collect(*SOURCE) == 0


def test_the_accounted_for_report_holds_what_cannot_be_described(installation):
    box = installation.mailbox
    box.put(bill(1))
    collect(*SOURCE)
    box.garbled = {1, box.put(bill(2))}
    rows = list(rows_of_mailbox("ap-inbox", period_of(), Progress()))
    assert sorted((row.subject, row.stands) for row in rows) == [
        ("(mail 2, cannot be read)", "not taken yet"), ("Invoice 1", "taken in"),
    ]  # fmt: skip


# -- what breaks the line


@pytest.mark.parametrize("place", [0, 1, 2])
def test_a_mail_at_which_the_line_breaks_every_time_keeps_no_other(installation, place):
    box = installation.mailbox
    uids = [box.put(bill(number)) for number in range(3)]
    box.broken = {uids[place]}
    assert collect(*SOURCE) == 2
    assert len(taken()) == 2
    assert f"number {uids[place]} in the folder" in problem()
    box.broken = set()
    assert collect(*SOURCE) == 1
    assert problem() == ""


def test_a_mail_that_cannot_be_marked_keeps_no_other_from_it(installation, monkeypatch):
    from veridox.service.errors import UnreachableError

    box = installation.mailbox
    uids = [box.put(bill(number)) for number in range(3)]
    mark = box.mark

    def picky(wanted, keyword=""):
        if uids[1] in wanted:
            raise UnreachableError("BAD something")
        mark(wanted, keyword)

    monkeypatch.setattr(box, "mark", picky)
    assert collect(*SOURCE) == 3
    assert [box.folders["INBOX"][uid].read for uid in uids] == [True, False, True]
    assert "BAD something" in problem()


def test_whatever_ends_a_round_shows_on_the_connection_in_today_and_in_health(
    installation, monkeypatch, clerk
):
    monkeypatch.setattr(collecting, "_round", lambda intake: 1 / 0)
    with pytest.raises(ZeroDivisionError):
        collect(*SOURCE)
    assert "ZeroDivisionError" in problem()
    reads = Caller(clerk, "read")
    (shown,) = reads.get("/today").json()["connections"]
    assert shown["name"] == "ap-inbox"
    health = reads.get("/health").json()
    assert (health["good"], health["parts"]["connections"]) == (False, "1 do not work")


@pytest.mark.parametrize("error", [ValueError("no such charset"), "the line broke"])
def test_a_text_that_cannot_be_looked_at_is_asked_of_the_mail_itself(
    installation, monkeypatch, error
):
    from veridox.service.errors import UnreachableError

    words = PIPELINE.replace("with_files: true,", "with_files: true, text: [quarter],")
    publish(SYSTEM, words)
    wanted = mixed(file(PDF, "a.pdf"), subject="Invoice 1", text="for the quarter").as_bytes()
    other = mixed(file(PDF + b"2", "a.pdf"), subject="Invoice 2", text="hello").as_bytes()
    for content in (wanted, other):
        installation.mailbox.put(content)

    def stumbling(*_):
        raise UnreachableError(error) if isinstance(error, str) else error

    monkeypatch.setattr(installation.mailbox, "texts", stumbling)
    assert collect(*SOURCE) == 1
    assert taken() == ["Invoice 1"]
    assert list(Refusal.objects.values_list("condition", flat=True)) == ["text"]


# -- refusals


def unwanted(installation, count):
    for number in range(count):
        installation.mailbox.put(mixed(subject=f"Newsletter {number}").as_bytes())


def test_refusals_are_stored_while_it_goes_and_wanted_mail_does_not_wait(installation, monkeypatch):
    monkeypatch.setattr(collecting, "LOOKED_AT", 10)
    unwanted(installation, 25)
    installation.mailbox.put(bill(1))
    unwanted(installation, 25)
    seen = []
    note = collecting.note_refused
    monkeypatch.setattr(collecting, "note_refused",
                        lambda *a: (seen.append(len(a[-1])), note(*a)))  # fmt: skip
    assert collect(*SOURCE) == 1
    assert Refusal.objects.count() == 50
    assert max(seen) <= 10


def test_a_new_version_with_the_same_conditions_looks_at_nothing_again(installation, monkeypatch):
    unwanted(installation, 3)
    collect(*SOURCE)
    publish(SYSTEM, PIPELINE.replace("percent: 2,", "percent: 3,"))
    outlines = installation.mailbox.outlines
    asked = []
    monkeypatch.setattr(
        installation.mailbox, "outlines", lambda uids: (asked.extend(uids), outlines(uids))[1]
    )
    collect(*SOURCE)
    assert asked == []
    publish(SYSTEM, PIPELINE.replace("subject: [invoice,", "subject: [letter, invoice,"))
    collect(*SOURCE)
    assert len(asked) == 3


def test_what_only_limits_a_round_is_no_condition():
    key = conditions_key(Wanted(subject=("a",)))
    assert key == conditions_key(Wanted(subject=("a",), at_most=3))
    assert key != conditions_key(Wanted(subject=("b",)))
    assert key != conditions_key(Wanted(subject=("a",), since=date(2026, 1, 1)))


def test_refusals_of_mails_that_are_gone_are_deleted_and_still_counted(installation):
    unwanted(installation, 4)
    collect(*SOURCE)
    del installation.mailbox.folders["INBOX"][1], installation.mailbox.folders["INBOX"][2]
    collect(*SOURCE)
    assert sorted(Refusal.objects.values_list("uid", flat=True)) == [3, 4]
    before = RefusedBefore.objects.get()
    assert (before.condition, before.count) == ("subject", 2)


def test_refusals_of_conditions_that_nobody_has_any_more_are_forgotten(installation):
    from datetime import timedelta

    from django.utils import timezone

    unwanted(installation, 3)
    collect(*SOURCE)
    publish(SYSTEM, PIPELINE.replace("subject: [invoice,", "subject: [letter, invoice,"))
    assert forget_refusals() == 0  # it may be published again within a day
    Refusal.objects.update(noted_at=timezone.now() - timedelta(days=2))
    assert forget_refusals() == 3
    assert RefusedBefore.objects.get().count == 3


# -- directories


@pytest.fixture
def drops(installation, settings, tmp_path, monkeypatch):
    from dataclasses import replace

    settings.CONFIGURATION = replace(settings.CONFIGURATION, drops=tmp_path)
    monkeypatch.setattr("veridox.service.intake.dropping.STILL", -1.0)
    publish(SYSTEM, PIPELINE.replace("collect:\n", "collect:\n  - watch: uk/bills\n", 1))
    folder = tmp_path / "uk/bills"
    folder.mkdir(parents=True)
    return folder


LONG = "x" * 251 + ".pdf"


def test_a_name_of_255_bytes_comes_in_twice(drops):
    for content in (PDF + b"1", PDF + b"2"):
        (drops / LONG).write_bytes(content)
        (drops / f"b{content[-1]}.pdf").write_bytes(content + b"x")
        assert gather("supplier-invoices", "uk/bills") == 2
    assert File.objects.count() == 4
    names = sorted(path.name for path in (drops / "Done").iterdir() if path.name.startswith("x"))
    assert [len(name) for name in names] == [255, 255]
    assert not Trouble.objects.exists()


@pytest.mark.parametrize(("name", "number", "expected"), [
    ("bill.pdf", 2, "bill-2.pdf"), (LONG, 2, "x" * 249 + "-2.pdf"),
    ("ü" * 125 + ".pdf", 2, "ü" * 124 + "-2.pdf"), ("." + "y" * 254, 3, "." + "y" * 252 + "-3"),
])  # fmt: skip
def test_a_numbered_name_is_never_too_long_and_never_cut_within_a_letter(name, number, expected):
    assert numbered(name, number) == expected
    assert len(os.fsencode(numbered(name, number))) <= 255


def test_one_dropped_file_that_fails_keeps_no_other_and_is_told(drops, monkeypatch, clerk):
    from veridox.service.intake import dropping

    for name in ("a.pdf", "b.pdf", "c.pdf"):
        (drops / name).write_bytes(PDF + name.encode())
    upload = dropping.upload

    def picky(*args, name, **more):
        if name == "b.pdf":
            raise ValueError("no such luck")
        return upload(*args, name=name, **more)

    monkeypatch.setattr(dropping, "upload", picky)
    assert gather("supplier-invoices", "uk/bills") == 2
    trouble = Trouble.objects.get()
    assert "b.pdf: no such luck" in trouble.problem
    (shown,) = Caller(clerk, "read").get("/today").json()["troubles"]
    assert shown["part"] == "directory uk/bills"
    monkeypatch.undo()
    monkeypatch.setattr("veridox.service.intake.dropping.STILL", -1.0)
    assert gather("supplier-invoices", "uk/bills") == 1
    assert not Trouble.objects.exists()


# -- no room


@pytest.fixture(params=[errno.ENOSPC, errno.EROFS, errno.EDQUOT])
def no_room(request, monkeypatch):
    def full(*_):
        raise OSError(request.param, os.strerror(request.param))

    def begin():
        monkeypatch.setattr("veridox.service.adapters.folder.tempfile.mkstemp", lambda **_: full())

    return begin


def test_an_upload_without_room_is_answered_so_and_nothing_is_stored(installation, clerk, no_room):
    no_room()
    works = Caller(clerk, "read", "work")
    answer = works.upload("/files", NEW, "a.pdf", pipeline="supplier-invoices")
    assert answer.status_code == 507
    assert "nothing was lost" in answer.json()["detail"]
    assert not File.objects.exists()


def test_collecting_without_room_says_so_and_loses_nothing(installation, no_room):
    uid = installation.mailbox.put(bill(NEW))
    no_room()
    with pytest.raises(NoRoomError):
        collect(*SOURCE)
    assert "nothing can be stored" in problem()
    assert not installation.mailbox.folders["INBOX"][uid].read


def test_a_directory_without_room_says_so(drops, no_room):
    (drops / "a.pdf").write_bytes(NEW)
    no_room()
    with pytest.raises(NoRoomError):
        gather("supplier-invoices", "uk/bills")
    assert "nothing can be taken in" in Trouble.objects.get().problem
    assert (drops / "a.pdf").exists()


def test_a_full_disk_is_told_wherever_it_shows():
    from django.db import OperationalError

    from veridox.service.web.problems import handle

    error = OperationalError("could not extend file")
    error.__cause__ = type("DiskFull", (Exception,), {"sqlstate": "53100"})()
    assert handle(error, {}).status_code == 507
    assert handle(OSError(errno.ENOSPC, "x"), {}).status_code == 507
    assert handle(OSError(errno.ECONNRESET, "x"), {}).status_code == 500


def test_what_cannot_be_stored_is_never_half_there(tmp_path, monkeypatch):
    store = FolderStore(tmp_path)

    def broken(handle):
        raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr("veridox.service.adapters.folder.os.fsync", broken)
    with pytest.raises(NoRoomError):
        store.put(b"content")
    assert [path for path in tmp_path.rglob("*") if path.is_file()] == []


def test_mails_of_a_mailbox_that_nobody_collects_from_any_more_are_accounted_for(
    installation, clerk, monkeypatch
):
    from tests.service.test_looking_at_mail import accounted_for
    from veridox.service import wiring
    from veridox.service.pipelines.models import Pipeline

    installation.mailbox.put(bill(1))
    collect(*SOURCE)
    Pipeline.objects.update(paused=True)
    monkeypatch.setattr(wiring, "open_mailbox", lambda connection: pytest.fail("it was opened"))
    result, rows = accounted_for(Caller(clerk, "read", "work"))
    assert [(row["source"], row["stands"]) for row in rows] == [("ap-inbox", "taken in")]
    assert result["good"]


def test_drops_and_uploads_are_accounted_for(drops, clerk):
    from tests.service.test_looking_at_mail import accounted_for

    works = Caller(clerk, "read", "work")
    (drops / "a.pdf").write_bytes(PDF)
    gather("supplier-invoices", "uk/bills")
    (drops / "b.pdf").write_bytes(PDF + b"b")
    works.upload("/files", PDF + b"c", "c.pdf", pipeline="supplier-invoices")
    mail = EmailMessage()
    mail["Subject"], mail["From"] = "Invoice by hand", "a@b.example"
    mail.set_content("x")
    works.client.post("/api/v1/messages", {"pipeline": "supplier-invoices",
        "file": SimpleUploadedFile("m.eml", mail.as_bytes())})  # fmt: skip
    lost = File.objects.get(name="c.pdf")
    from veridox.service.storage import originals

    originals()._path(lost.sha256).unlink()
    result, rows = accounted_for(works)
    assert {(row["subject"], row["source"], row["stands"]) for row in rows} == {
        ("a.pdf", "directory uk/bills", "taken in"),
        ("b.pdf", "directory uk/bills", "not taken yet"),
        ("c.pdf", "handed in", "lost"),
        ("Invoice by hand", "handed in", "taken in"),
    }
    assert result["good"] is False
