from email.message import EmailMessage

import pytest

from demo import bills
from demo.drawing import LAYOUTS, signature_picture
from tests.service.conftest import PIPELINE, SYSTEM, jobs
from veridox.service.errors import UnreachableError
from veridox.service.intake.collecting import collect
from veridox.service.intake.models import File, FileState, Message
from veridox.service.intake.moving import move
from veridox.service.pipelines.actions.publish import publish

SOURCE = ("supplier-invoices", "ap-inbox", "INBOX")


def mail(*files, subject="Invoice", message_id="<1@brinefold.example>", sender="a@b.example"):
    message = EmailMessage()
    message["From"], message["To"], message["Subject"] = sender, "ap@merrowmere.example", subject
    if message_id:
        message["Message-ID"] = message_id
    message.set_content("hello")
    for name, content in files:
        message.add_attachment(content, maintype="application", subtype="pdf", filename=name)
    return message.as_bytes()


PDF = ("krill.pdf", LAYOUTS["letterhead"](bills.KRILL))


def test_a_mail_is_stored_with_its_files_and_jobs_and_then_marked(installation):
    uid = installation.mailbox.put(mail(PDF, ("pic.png", signature_picture())))
    assert collect(*SOURCE) == 1
    message = Message.objects.get()
    assert [file.name for file in message.files.order_by("position")] == ["krill.pdf", "pic.png"]
    # Declared a PDF but being a picture, it is read all the same, so that somebody is told.
    assert set(message.files.values_list("state", flat=True)) == {FileState.RECEIVED}
    assert len(jobs("read")) == 2
    assert installation.mailbox.folders["INBOX"][uid].read
    assert message.marked_at is not None


def test_what_cannot_be_read_is_set_aside_with_the_reason(installation):
    message = EmailMessage()
    message["Subject"], message["Message-ID"] = "Invoice", "<2@x.example>"
    message.set_content("x")
    message.add_attachment(b"7z\xbc\xaf\x27\x1c", maintype="application", subtype="x-7z-compressed")
    installation.mailbox.put(message.as_bytes())
    collect(*SOURCE)
    file = File.objects.get()
    assert file.state == FileState.ASIDE
    assert "application/x-7z-compressed" in file.reason
    # Nothing in it could be read: a person should see the mail.
    assert Message.objects.get().moving_to == "people"


@pytest.mark.parametrize("unwanted", [
    mail(PDF, subject="Lunch on Friday"),
    mail(subject="Invoice without any file"),
])  # fmt: skip
def test_mail_that_does_not_meet_the_conditions_is_left_as_it_is(installation, unwanted):
    uid = installation.mailbox.put(unwanted)
    assert collect(*SOURCE) == 0
    assert not installation.mailbox.folders["INBOX"][uid].read
    assert not Message.objects.exists()


def test_subject_words_are_found_in_any_case(installation):
    installation.mailbox.put(mail(PDF, subject="RECHNUNG 4711"))
    assert collect(*SOURCE) == 1


def test_a_mail_stored_but_not_marked_is_marked_in_the_next_round_and_not_doubled(installation):
    uid = installation.mailbox.put(mail(PDF))
    installation.mailbox.breaks_at = {"mark", "reopen"}
    with pytest.raises(UnreachableError):
        collect(*SOURCE)
    assert Message.objects.count() == 1
    assert not installation.mailbox.folders["INBOX"][uid].read
    assert collect(*SOURCE) == 0
    assert installation.mailbox.folders["INBOX"][uid].read
    assert File.objects.count() == 1


def test_a_line_that_breaks_before_storing_loses_nothing(installation):
    uid = installation.mailbox.put(mail(PDF))
    installation.mailbox.breaks_at = {"fetch", "reopen"}
    with pytest.raises(UnreachableError):
        collect(*SOURCE)
    assert not installation.mailbox.folders["INBOX"][uid].read
    assert collect(*SOURCE) == 1


def test_the_same_mail_twice_changes_nothing_but_is_accounted_for(installation):
    installation.mailbox.put(mail(PDF))
    collect(*SOURCE)
    installation.mailbox.put(mail(PDF))
    collect(*SOURCE)
    first, second = Message.objects.order_by("pk")
    assert second.repeat_of == first
    assert File.objects.count() == 1
    assert second.moving_to == first.moving_to == ""  # it goes where the first one goes


def test_another_mail_under_the_same_message_id_is_not_lost(installation):
    installation.mailbox.put(mail(PDF))
    installation.mailbox.put(mail(("other.pdf", LAYOUTS["window"](bills.ROTOR))))
    assert collect(*SOURCE) == 2
    assert File.objects.count() == 2


def test_a_mail_without_message_id_is_taken(installation):
    installation.mailbox.put(mail(PDF, message_id=None))
    assert collect(*SOURCE) == 1


def test_one_mail_of_nonsense_does_not_stop_the_next(installation):
    installation.mailbox.put(
        b"Subject: invoice\r\nContent-Type: application/pdf; name=x.pdf\r\n\r\n\x00"
    )
    installation.mailbox.put(mail(PDF))
    assert collect(*SOURCE) == 2


def test_a_pipeline_that_no_longer_watches_the_folder_collects_nothing(installation):
    publish(SYSTEM, PIPELINE.replace("folder: INBOX", "folder: Other"))
    installation.mailbox.put(mail(PDF))
    assert collect(*SOURCE) == 0


def settled_message(installation, place="done"):
    installation.mailbox.put(mail(PDF))
    collect(*SOURCE)
    message = Message.objects.get()
    message.moving_to = place
    message.save()
    return message


def test_a_mail_is_moved_and_its_new_place_known(installation):
    message = settled_message(installation)
    move(message.pk)
    message.refresh_from_db()
    assert (message.place, message.folder, message.moving_to) == ("done", "Done", "")
    assert message.uid in installation.mailbox.folders["Done"]
    assert installation.mailbox.folders["INBOX"] == {}


def test_a_mail_moved_just_before_the_line_broke_is_found_and_not_moved_again(installation):
    message = settled_message(installation)
    installation.mailbox.breaks_at = {"answer to move"}
    with pytest.raises(UnreachableError):
        move(message.pk)
    move(message.pk)
    message.refresh_from_db()
    assert message.place == "done"
    assert len(installation.mailbox.folders["Done"]) == 1


def test_a_mail_that_a_person_took_away_is_still_accounted_for(installation):
    message = settled_message(installation, "people")
    installation.mailbox.folders["INBOX"].clear()
    move(message.pk)
    message.refresh_from_db()
    assert (message.place, message.uid) == ("people", None)
