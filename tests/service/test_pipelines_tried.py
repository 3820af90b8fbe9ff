"""A pipeline tried with the facts of the service: nothing is stored, sent, moved or posted."""

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from demo import bills
from demo.mails import MAILS
from tests.service.caller import V1
from tests.service.conftest import PIPELINE, drawn
from veridox.core.posting import Refusal
from veridox.readerpool import ReaderPool
from veridox.service import wiring
from veridox.service.documents.models import Document
from veridox.service.flow.models import Walk
from veridox.service.intake.models import File, Message
from veridox.service.ledgers.models import Posting
from veridox.service.notices.models import Notice
from veridox.service.trail.models import Entry

TABLES = (Document, File, Message, Posting, Notice, Walk, Entry)


@pytest.fixture(scope="module")
def pool():
    with ReaderPool(size=1) as made:
        yield made


@pytest.fixture(autouse=True)
def _one_pool(pool, monkeypatch):
    monkeypatch.setattr(wiring, "trial_pool", lambda: pool)


def tried(caller, content=b"", name="a.pdf", status=200, **data):
    before = [table.objects.count() for table in TABLES]
    if content:
        data["file"] = SimpleUploadedFile(name, content)
    answer = caller.client.post(f"{V1}/pipelines/try", data)
    assert answer.status_code == status, answer.content
    assert [table.objects.count() for table in TABLES] == before
    return answer.json()


def mail(name):
    return next(each for each in MAILS if each.name == name).message().as_bytes()


def test_a_mail_goes_stage_by_stage(works):
    found = tried(works, mail("clean, English"), "a.eml", pipeline="supplier-invoices")
    assert found["mail"]["subject"] == "Invoice BF-2026-0413"
    (source,) = found["collect"]
    assert (source["source"], source["taken"]) == ("ap-inbox INBOX", True)
    (document,) = found["documents"]
    assert (document["state"], document["bill"]["vendor"]) == ("cleared", "V1001")
    assert [step["stage"] for step in document["steps"]] == ["end", "check", "wait", "desk", "post"]
    (sent,) = document["sent"]
    assert (sent["to"], sent["goes"]) == ("ap-team@merrowmere.example", True)
    assert document["reading"]["fields"]["gross_total"]["box"]


def test_a_text_that_was_never_published_can_be_tried(works):
    text = PIPELINE.replace("risk > 10 %", "gross_total > 1 GBP").replace(
        "queue: unsure", "queue: x"
    )
    (document,) = tried(works, drawn("letterhead", bills.KRILL), text=text)["documents"]
    assert (document["state"], document["queue"], document["bill"]) == ("at_desk", "x", None)
    wrong = tried(works, b"%PDF-1.4", text=text.replace("queue: x", "queu: x"), status=422)
    assert wrong["errors"][0]["hint"] == "did you mean queue?"


def test_files_that_are_not_read_say_why(works):
    found = tried(works, mail("with delivery note and signature"), "a.eml",
                  pipeline="supplier-invoices")  # fmt: skip
    assert {each["name"]: each["read"] for each in found["files"]}["signature.png"] is False
    assert all(each["reason"] for each in found["files"] if not each["read"])


def test_a_duplicate_of_what_is_stored_is_found(works, installation):
    installation.checked(bills.KRILL)
    (document,) = tried(
        works, drawn("letterhead", bills.KRILL), pipeline="supplier-invoices"
    )["documents"]  # fmt: skip
    assert document["state"] == "at_desk"
    assert any("duplicate" in each["code"] for each in document["reading"]["findings"])


def test_a_stored_document_is_tried_as_if_it_came_today(works, installation):
    slip = installation.checked(bills.SALT_SLIP, "band")
    (document,) = tried(works, pipeline="supplier-invoices", document=slip.pk)["documents"]
    assert (document["state"], document["queue"]) == ("at_desk", "exceptions")
    slip.refresh_from_db()
    assert slip.walks.count() == 1


def test_a_mail_on_a_server_is_only_looked_at(works, installation):
    installation.mailbox.put(mail("clean, English"))
    found = tried(works, pipeline="supplier-invoices", mailbox="ap-inbox", folder="INBOX", uid=1)
    assert found["documents"][0]["state"] == "cleared"
    assert [each.read for each in installation.mailbox.outlines([1])] == [False]
    assert "there is no mail 9" in tried(
        works, pipeline="supplier-invoices", mailbox="ap-inbox", uid=9, status=404
    )["detail"]  # fmt: skip


@pytest.mark.parametrize(("refusal", "said"), [
    (None, "main-books would book it"),
    (Refusal(reasons=("period closed",)), "main-books would refuse it: period closed"),
])  # fmt: skip
def test_a_ledger_says_whether_it_would_book(works, installation, monkeypatch, refusal, said):
    monkeypatch.setattr(installation.ledger, "rehearse", lambda bill: refusal)
    (document,) = tried(works, drawn("letterhead", bills.KRILL), pipeline="supplier-invoices",
                        rehearse="true")["documents"]  # fmt: skip
    assert document["rehearsal"] == said


@pytest.mark.parametrize(("data", "said"), [
    ({}, "say which pipeline"), ({"pipeline": "supplier-invoices"}, "try it on one of"),
    ({"pipeline": "supplier-invoices", "mailbox": "ap-inbox"}, "uid says which mail"),
    ({"pipeline": "supplier-invoices", "document": 1, "until": "nowhere"}, "cannot be used"),
    ({"text": PIPELINE, "document": 1, "parts": "["}, "cannot be used"),
    ({"text": PIPELINE, "document": 1, "parts": "[]"}, "parts is an object"),
])  # fmt: skip
def test_what_cannot_be_tried_is_told(works, data, said):
    assert said in tried(works, status=400, **data)["detail"]


def test_whoever_may_only_look_does_not_try(reads):
    tried(reads, b"%PDF", pipeline="supplier-invoices", status=403)


def test_it_ends_after_a_stage(works):
    (document,) = tried(works, drawn("letterhead", bills.KRILL), pipeline="supplier-invoices",
                        until="check")["documents"]  # fmt: skip
    assert [step["stage"] for step in document["steps"]] == ["end", "check"]
    assert (document["state"], document["bill"]) == ("", None)


def test_editors_get_schema_and_names(works):
    assert works.get("/pipelines/schema").json()["$defs"]["desk"]["required"] == ["when"]
    language = works.get("/pipelines/language").json()
    names = {each["name"]: each for each in language["names"]}
    assert names["vendor.contact"]["ours"] is True
    assert names["sender.address"]["ours"] is False
    assert any(each["name"] == "part" for each in language["functions"])
