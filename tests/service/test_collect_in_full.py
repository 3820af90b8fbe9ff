"""Collecting beyond the usual day: marks, numbers, kinds, archives, text, repeats, notices."""

from datetime import UTC, datetime, timedelta
from email.message import EmailMessage

import pytest

from demo.drawing import signature_picture
from tests.awkward.mails import PDF, all_mails, file, head, mixed, zipped
from tests.service.conftest import PIPELINE, SYSTEM, go_on, jobs
from veridox.core.readers.mail.content import MailKind
from veridox.service.connections.actions.manage import put_connection
from veridox.service.errors import AdapterError, WrongStateError
from veridox.service.intake.actions.receive import leave_out, take_in
from veridox.service.intake.actions.take_again import set_aside, take_again
from veridox.service.intake.collecting import collect
from veridox.service.intake.models import File, FileState, Message, Refusal
from veridox.service.intake.moving import move
from veridox.service.intake.outcomes import OUTCOMES, outcome_of, with_outcome
from veridox.service.notices.models import Notice
from veridox.service.pipelines.actions.publish import publish
from veridox.service.pipelines.checking import PipelineFileError
from veridox.service.trail.models import Entry

SOURCE = ("supplier-invoices", "ap-inbox", "INBOX")
ONLY = (
    "only: {unread: true, with_files: true, subject: [invoice, credit note, Rechnung, Gutschrift]}"
)
AWKWARD = all_mails()


def pipeline(only="only: {unread: true, with_files: false}", more=""):
    """The demo's pipeline with other conditions."""
    publish(SYSTEM, PIPELINE.replace(f"    {ONLY}\n", f"    {only}\n{more}"))


def put(installation, name, **how):
    return installation.mailbox.put(AWKWARD[name].content, **how)


def bill(subject="Invoice 1", name="a.pdf", content=PDF, **more):
    return mixed(file(content, name), subject=subject, **more).as_bytes()


def test_every_awkward_mail_is_stored_with_all_its_parts(installation):
    pipeline()
    for mail in AWKWARD.values():
        installation.mailbox.put(mail.content)
    assert collect(*SOURCE) == len(AWKWARD)
    stored = Message.objects.order_by("arrived_uid")
    for mail, message in zip(AWKWARD.values(), stored, strict=True):
        files = message.files.order_by("position")
        if message.repeat_of_id is None:
            assert {f.name for f in files} == {*mail.files, *mail.left}
            assert {f.name: f.left_out for f in files if f.left_out} == mail.left
        assert message.kind == mail.kind
        assert message.parts
    assert all(mail.read for mail in installation.mailbox.folders["INBOX"].values())


@pytest.mark.parametrize("name", ["out of office", "delivery report", "read report", "invitation"])
def test_what_is_no_letter_is_listed_with_the_reason_and_not_processed(installation, name):
    pipeline()
    put(installation, name)
    collect(*SOURCE)
    message = Message.objects.get()
    assert message.kind_reason
    assert outcome_of(message) == "set aside"
    assert jobs("read") == []
    assert message.moving_to == "done"


def test_a_mail_set_aside_can_be_taken_in_all_the_same(installation):
    pipeline()
    put(installation, "read report")
    collect(*SOURCE)
    message = take_again(SYSTEM, Message.objects.get().pk, "it holds a bill after all")
    assert message.files.get(name="rechnung-88.pdf").state == FileState.RECEIVED
    assert len(jobs("read")) == 1
    assert outcome_of(message) != "set aside"
    assert Entry.objects.filter(act="mail.again").exists()


def test_every_kind_of_file_of_a_mail_set_aside_is_taken_in_but_not_what_goes_with_it(installation):
    pipeline()
    scan = b"II*\x00" + bytes(60_000)
    parts = [
        file(scan, "rechnung.tif", "image/tiff"),
        file(b"a;b\n1;2\n3;4\n", "hours.csv", "text/csv"),
    ]
    mail = mixed(*parts, subject="Bill", Auto_Submitted="auto-replied")
    installation.mailbox.put(mail.as_bytes())
    collect(*SOURCE)
    assert jobs("read") == []
    take_again(SYSTEM, Message.objects.get().pk, "a bill all the same")
    states = {each.name: each.state for each in File.objects.all()}
    assert states == {"rechnung.tif": FileState.RECEIVED, "hours.csv": FileState.ASIDE}
    assert File.objects.get(name="hours.csv").goes_with.name == "rechnung.tif"
    # Once more brings nothing new.
    take_again(SYSTEM, Message.objects.get().pk, "once more")
    assert len(jobs("read")) == 1


def test_a_person_sets_a_mail_aside_with_the_reason(installation):
    pipeline()
    put(installation, "a link and no file")
    collect(*SOURCE)
    message = Message.objects.get()
    assert message.moving_to == "people"
    assert message.links == ["https://brinefold.example/bills/4711"]
    message = set_aside(SYSTEM, message.pk, "an advertisement")
    go_on()
    message.refresh_from_db()
    assert (outcome_of(message), message.moving_to) == ("set aside", "done")


def test_a_mail_with_work_under_way_cannot_be_set_aside(installation):
    pipeline()
    installation.mailbox.put(bill())
    collect(*SOURCE)
    with pytest.raises(WrongStateError, match="being read"):
        set_aside(SYSTEM, Message.objects.get().pk, "no")


def test_an_archive_with_a_password_waits_for_a_person_and_says_why(installation):
    pipeline()
    put(installation, "zip with a password")
    collect(*SOURCE)
    locked = File.objects.get()
    assert (locked.left_out, locked.reason) == ("locked", "the archive asks for a password")
    (finding,) = locked.findings
    assert (finding["code"], finding["weight"]) == ("file.password", "block")
    assert Message.objects.get().moving_to == "people"
    leave_out(SYSTEM, locked.pk, "sent again without")
    go_on()
    message = Message.objects.get()
    assert message.moving_to == "people"  # it holds nothing else: still for a person
    set_aside(SYSTEM, message.pk, "sent again without")
    go_on()
    assert Message.objects.get().moving_to == "done"


def test_a_picture_left_out_is_taken_in_by_one_act(installation):
    pipeline()
    put(installation, "logo in the signature")
    collect(*SOURCE)
    logo = File.objects.get(left_out="dress")
    assert "120 x 40 pixels" in logo.reason
    taken = take_in(SYSTEM, logo.pk)
    assert (taken.state, taken.left_out) == (FileState.RECEIVED, "")
    with pytest.raises(WrongStateError):
        take_in(SYSTEM, logo.pk)


def test_a_picture_that_comes_in_many_mails_dresses_them(installation):
    pipeline()

    def shown(number):
        # Only two signs by itself: inline, and not large in bytes.
        picture = file(signature_picture(), "mark.png", "image/png", "inline", f"c{number}")
        return mixed(file(PDF + bytes([number]), "b.pdf"), picture, subject=f"Invoice {number}")

    big = b"x" * 50_000
    for number in range(5):
        mail = shown(number).as_bytes()
        installation.mailbox.put(mail)
    del big
    collect(*SOURCE)
    pictures = list(File.objects.filter(name="mark.png").order_by("pk"))
    assert len(pictures) == 5
    assert all(each.left_out == "dress" for each in pictures[3:])


def test_a_forwarded_mail_speaks_for_its_inner_sender(installation):
    pipeline()
    put(installation, "forwarded as a file")
    collect(*SOURCE)
    message = Message.objects.get()
    assert message.sender_address == "bo@merrowmere.example"
    assert message.forwarded["sender_address"] == "faktura@korallan.example"
    from veridox.service.intake.names import names_of_file

    names = names_of_file(message.files.get())
    assert names["sender.address"] == "faktura@korallan.example"
    assert names["subject"] == "Rechnung 88"
    assert names["file.position"] == 1
    assert names['message.headers["from"]'] == "bo@merrowmere.example"


def test_files_that_support_a_bill_go_with_it(installation):
    pipeline()
    xml, note = (
        b"<?xml version='1.0'?><a/>",
        zipped(("word/document.xml", "x"), ("[Content_Types].xml", "y")),
    )
    installation.mailbox.put(
        mixed(
            file(PDF, "one.pdf"), file(PDF + b"2", "two.pdf"), file(xml, "one.xml", "text/xml"),
            file(note, "note.docx", "application/octet-stream"), subject="Invoice",
        ).as_bytes()
    )  # fmt: skip
    collect(*SOURCE)
    beside = {each.name: each.goes_with.name for each in File.objects.exclude(goes_with=None)}
    assert beside == {"one.xml": "one.pdf", "note.docx": "two.pdf"}
    assert File.objects.get(name="one.xml").reason == "the structured form of one.pdf"


def test_the_pipeline_says_which_types_are_read(installation):
    pipeline(more="    files: [xml]\n")
    installation.mailbox.put(bill())
    collect(*SOURCE)
    assert File.objects.get().reason == "the pipeline reads xml only"


@pytest.mark.parametrize(("body", "name", "texts"), [
    ("never", "html only", 0),
    ("without files", "html only", 1),
    ("without files", "one file", 0),
    ("always", "one file", 1),
    ("without files", "zip with a password", 0),
    ("always", "out of office", 0),
])  # fmt: skip
def test_a_mails_own_text_is_a_document_where_the_pipeline_says_so(installation, body, name, texts):
    pipeline(more=f"    body: {body}\n")
    put(installation, name)
    collect(*SOURCE)
    assert File.objects.filter(is_body=True).count() == texts
    assert all(each.state == FileState.RECEIVED for each in File.objects.filter(is_body=True))


def test_a_mail_marked_unread_again_is_taken_again_but_nothing_is_doubled(installation):
    pipeline()
    uid = installation.mailbox.put(bill())
    collect(*SOURCE)
    before = len(jobs("read"))
    installation.mailbox.folders["INBOX"][uid].read = False
    assert collect(*SOURCE) == 0
    assert installation.mailbox.folders["INBOX"][uid].read
    assert len(jobs("read")) == before
    again = Entry.objects.get(act="mail.again")
    assert again.details["why"] == "marked as unread in the mailbox"


def test_a_keyword_set_on_an_old_mail_later_is_noticed(installation):
    pipeline("only: {unread: false, with_files: true, keyword: ToPay}")
    old = installation.mailbox.put(bill("old"))
    installation.mailbox.put(bill("newer"))
    assert collect(*SOURCE) == 0
    installation.mailbox.folders["INBOX"][old].keywords.add("ToPay")
    assert collect(*SOURCE) == 1
    assert Message.objects.get().subject == "old"
    assert collect(*SOURCE) == 0


def test_what_is_never_wanted_is_looked_at_once(installation, monkeypatch):
    pipeline("only: {unread: true, subject: [invoice]}")
    for number in range(5):
        installation.mailbox.put(bill(f"Newsletter {number}"))
    collect(*SOURCE)
    assert list(Refusal.objects.values_list("condition", flat=True)) == ["subject"] * 5
    looked = []
    outlines = installation.mailbox.outlines
    monkeypatch.setattr(
        installation.mailbox, "outlines", lambda uids: looked.append(list(uids)) or outlines([])
    )
    collect(*SOURCE)
    assert looked == [[]]


def test_another_version_of_the_pipeline_looks_anew(installation):
    pipeline("only: {unread: true, subject: [invoice]}")
    installation.mailbox.put(bill("Bill 7"))
    assert collect(*SOURCE) == 0
    pipeline("only: {unread: true, subject: [bill]}")
    assert collect(*SOURCE) == 1


def test_rounds_are_limited_and_all_are_taken(installation):
    pipeline("only: {unread: true, at_most: 2}")
    for number in range(5):
        installation.mailbox.put(bill(f"Invoice {number}", content=PDF + bytes([number])))
    assert collect(*SOURCE) == 5


def test_a_folder_that_is_numbered_anew_brings_nothing_twice(installation):
    pipeline()
    for number in range(3):
        installation.mailbox.put(bill(f"Invoice {number}", content=PDF + bytes([number])))
    collect(*SOURCE)
    for kept in installation.mailbox.folders["INBOX"].values():
        kept.read = False
    installation.mailbox.number_anew()
    assert collect(*SOURCE) == 0
    assert Message.objects.count() == 3
    assert set(Message.objects.values_list("uidvalidity", flat=True)) == {2}
    assert Entry.objects.filter(act="mail.renumbered").count() == 3
    assert all(kept.read for kept in installation.mailbox.folders["INBOX"].values())


def test_a_keyword_is_set_where_the_server_keeps_any(installation):
    publish(SYSTEM, PIPELINE.replace("failed: Failed}", "failed: Failed, keyword: Filed}", 1))
    first = installation.mailbox.put(bill())
    collect(*SOURCE)
    assert installation.mailbox.folders["INBOX"][first].keywords == {"Filed"}
    installation.mailbox.keeps_keywords = False
    second = installation.mailbox.put(bill("Invoice 2", content=PDF + b"2"))
    assert collect(*SOURCE) == 1
    assert installation.mailbox.folders["INBOX"][second].read


def test_a_copy_without_its_removal_is_not_copied_again(installation):
    installation.mailbox.in_one = False
    pipeline()
    put(installation, "out of office")
    collect(*SOURCE)
    message = Message.objects.get()
    installation.mailbox.breaks_at = {"between copy and removal"}
    with pytest.raises(AdapterError):
        move(message.pk)
    assert len(installation.mailbox.folders["Done"]) == 1
    move(message.pk)
    assert len(installation.mailbox.folders["Done"]) == 1
    assert installation.mailbox.folders["INBOX"] == {}


def test_a_folder_that_is_not_there_is_told_on_the_connection(installation):
    publish(SYSTEM, PIPELINE.replace("folder: INBOX", "folder: Bills/2026"))
    with pytest.raises(AdapterError, match="there is no folder 'Bills/2026'"):
        collect("supplier-invoices", "ap-inbox", "Bills/2026")
    from veridox.service.connections.models import Connection

    assert "Bills/2026" in Connection.objects.get(name="ap-inbox").last_problem


def test_our_own_notices_never_come_back_as_work(installation):
    pipeline()
    mail = EmailMessage()
    mail["From"], mail["Message-ID"] = "veridox@merrowmere.example", "<x1@veridox.invalid>"
    mail.set_content("BF-2026-0413 is posted")
    installation.mailbox.put(mail.as_bytes())
    collect(*SOURCE)
    assert Message.objects.get().kind == MailKind.OWN


def test_a_notice_goes_out_for_new_mail_that_meets_its_condition(installation):
    put_connection(SYSTEM, "ap-chat", "chat", {"url": "https://chat.example/x"}, None)
    publish(SYSTEM, PIPELINE[: PIPELINE.index("tell:")] + """tell:
  - on: taken in
    when: subject matches "*urgent*"
    mail: {to: ap-team@merrowmere.example, template: taken-in}
  - on: taken in
    when: message.headers["x-topic"] is not missing and message.headers["x-topic"] == "bills"
    chat:
      channel: ap
      text: >-
        {{ sender.address }}: {{ subject }}{% for f in files %} {{ f.name }}{% endfor %}
        {{ link }}
""")  # fmt: skip
    installation.mailbox.put(bill("Invoice, urgent"))
    installation.mailbox.put(bill("Invoice", X_Topic="bills", content=PDF + b"x"))
    installation.mailbox.put(bill("Invoice as usual", content=PDF + b"y"))
    collect(*SOURCE)
    go_on()
    mail, chat = Notice.objects.order_by("pk")
    assert mail.subject == "Mail from Brinefold Feeds: Invoice, urgent"
    assert "Please find our invoice attached." in mail.text
    assert "File: a.pdf" in mail.text
    assert chat.channel == "ap"
    assert chat.text.startswith("bills@brinefold.example: Invoice a.pdf http")


def test_a_slip_in_a_chat_text_is_told_before_it_runs(installation):
    put_connection(SYSTEM, "ap-chat", "chat", {"url": "https://chat.example/x"}, None)
    with pytest.raises(PipelineFileError, match=r"unknown name 'sendr\.name'"):
        publish(SYSTEM, PIPELINE[: PIPELINE.index("tell:")] + """tell:
  - on: taken in
    chat: {channel: ap, text: "{{ sendr.name }}"}
""")  # fmt: skip


@pytest.mark.parametrize("outcome", OUTCOMES)
def test_mails_are_found_by_what_became_of_them(installation, outcome):
    pipeline()
    for name in ("one file", "out of office", "zip with a password"):
        put(installation, name)
    installation.mailbox.put(AWKWARD["one file"].content)
    collect(*SOURCE)
    go_on()
    every = list(Message.objects.order_by("pk"))
    by_words = {each.pk for each in every if outcome_of(each) == outcome}
    assert {each.pk for each in with_outcome(Message.objects.all(), outcome)} == by_words


def test_a_mail_of_long_ago_keeps_its_own_time(installation):
    pipeline()
    then = datetime.now(UTC) - timedelta(days=40)
    installation.mailbox.put(head(mixed(file(PDF, "x.pdf"))).as_bytes(), received=then)
    collect(*SOURCE)
    assert Message.objects.get().received_at == then
