"""The IMAP adapter and the mailroom against the real Dovecot."""

import smtplib
import threading
import time
from datetime import UTC, datetime
from email.message import EmailMessage

import pytest

from demo.stack import TEAM
from tests.stack.running import until
from veridox.core.pipeline import Wanted
from veridox.service.adapters.imap.mailbox import ImapMailbox
from veridox.service.adapters.imap.settings import MailboxSettings
from veridox.service.adapters.imap.signin import by_password, try_mailbox
from veridox.service.adapters.smtp import OutboxSettings, SmtpOutbox
from veridox.service.errors import AdapterError, UnreachableError
from veridox.service.ports.mailbox import file_names
from veridox.service.ports.outgoing import OutgoingMail

pytestmark = pytest.mark.stack
ADDRESS = "ap-team@merrowmere.example"
TODAY = datetime.now(UTC).date()
ALL = Wanted(unread=False, with_files=False)
UNREAD = Wanted(with_files=False)
FOLDER = "Adapter/Prüfung"


def message(subject, *, message_id, file=None):
    mail = EmailMessage()
    mail["From"], mail["To"], mail["Subject"] = "a@b.example", ADDRESS, subject
    mail["Message-ID"] = f"<{message_id}>"
    mail.set_content("Guten Tag\n")
    if file is not None:
        mail.add_attachment(file, maintype="application", subtype="pdf", filename="x.pdf")
    return mail


@pytest.fixture
def settings_of_box(running):
    return MailboxSettings(
        host="127.0.0.1", port=running.stack.ports.imap, user=TEAM,
        ca_file=str(running.stack.dovecot.ca_file),
    )  # fmt: skip


@pytest.fixture
def box(running, settings_of_box):
    """The team's mailbox, opened on its inbox."""
    with ImapMailbox(
        settings_of_box, by_password(settings_of_box, running.stack.secret(f"mail-{TEAM}"))
    ) as opened:
        opened.select("INBOX")
        yield opened


def deliver(running, box, subject, **how):
    running.send(message(subject, **how))

    def look():
        box.select("INBOX")
        return [o for o in box.outlines(box.search(ALL, TODAY)) if o.subject == subject]

    (outline,) = until(look, subject)
    return outline


def test_an_outline_tells_subject_size_time_and_files(running, box):
    plain = deliver(running, box, "Grüße aus Sielhorn", message_id="o1@b.example")
    filed = deliver(running, box, "mit Datei", message_id="o2@b.example", file=b"%PDF-1.4")
    assert (file_names(plain), file_names(filed)) == ((), ("x.pdf",))
    assert plain.size > 100
    assert plain.received_at.tzinfo is not None


def test_fetching_leaves_the_read_mark_alone_and_marking_sets_it(running, box):
    uid = deliver(running, box, "to be marked", message_id="m1@b.example").uid
    assert b"to be marked" in b"".join(box.fetch(uid))
    assert uid in box.search(UNREAD, TODAY)
    box.mark([uid])
    assert uid not in box.search(UNREAD, TODAY)


def test_a_mail_larger_than_one_part_is_fetched_whole(running, box):
    content = bytes(range(256)) * 20_000
    uid = deliver(running, box, "large", message_id="l1@b.example", file=content).uid
    from veridox.core.readers.mail.read import read_mail

    (file,) = read_mail(b"".join(box.fetch(uid))).files
    assert file.content == content


def test_a_mail_that_is_gone_is_none(box):
    assert box.fetch(4_000_000) is None
    assert list(box.outlines([4_000_000])) == []


def test_a_moved_mail_is_known_at_its_new_place_in_a_folder_made_for_it(running, box):
    uid = deliver(running, box, "to be moved", message_id="mv@b.example").uid
    location = box.move(uid, FOLDER)
    assert location.folder == FOLDER
    assert box.select(FOLDER) == location.uidvalidity
    assert b"to be moved" in b"".join(box.fetch(location.uid))
    assert box.find(FOLDER, "mv@b.example").uid == location.uid
    assert box.find("INBOX", "mv@b.example") is None


def test_a_server_without_move_is_served_by_copy_and_delete(running, box, monkeypatch):
    uid = deliver(running, box, "no move here", message_id="nm@b.example").uid
    known = box.client.has_capability
    monkeypatch.setattr(box.client, "has_capability", lambda name: name != "MOVE" and known(name))
    box.move(uid, FOLDER)
    assert box.find(FOLDER, "nm@b.example") is not None
    assert box.find("INBOX", "nm@b.example") is None


def test_looking_for_a_mail_in_a_folder_that_is_not_there_finds_nothing(box):
    assert box.find("No such folder", "x@b.example") is None


def test_news_end_the_waiting(running, box):
    running.send(message("news", message_id="n1@b.example"))
    assert box.wait(5.0)
    assert not box.wait(0.3)


def test_news_that_come_while_waiting_end_it_soon(running, box):
    began = time.monotonic()
    timer = threading.Timer(1.0, running.send, [message("later", message_id="n2@b.example")])
    timer.start()
    assert box.wait(15.0)
    assert time.monotonic() - began < 5
    timer.join()


def test_a_wrong_password_is_told(settings_of_box):
    with pytest.raises(UnreachableError, match="does not let ap-team in"):
        ImapMailbox(settings_of_box, by_password(settings_of_box, "wrong"))


def test_a_server_that_is_not_there_is_told_with_its_address(settings_of_box):
    from dataclasses import replace

    with pytest.raises(UnreachableError, match=r"127\.0\.0\.1:9"):
        ImapMailbox(replace(settings_of_box, port=9), by_password(settings_of_box, "x"))


def test_a_certificate_of_nobody_we_trust_is_refused(settings_of_box):
    from dataclasses import replace

    strange = replace(settings_of_box, ca_file="")
    with pytest.raises(UnreachableError, match="certificate"):
        ImapMailbox(strange, by_password(strange, "x"))
    assert [step.good for step in try_mailbox(strange, by_password(strange, "x"), ())] == [
        True,
        False,
    ]


@pytest.fixture
def outbox(running):
    return SmtpOutbox(
        OutboxSettings(host="127.0.0.1", port=running.stack.ports.smtp, security="none",
                       sender="veridox@merrowmere.example"), "",
    )  # fmt: skip


def test_a_notice_arrives_and_says_that_a_machine_sent_it(running, outbox):
    outbox.send(OutgoingMail(to=ADDRESS, subject="Grüße", text="Text ä", message_id="s1@v.invalid"))
    (mail,) = until(lambda: [m for m in running.mails("INBOX", "", TEAM)
                             if m["message-id"] == "<s1@v.invalid>"], "the notice")  # fmt: skip
    assert mail["Auto-Submitted"] == "auto-generated"


def test_an_address_that_is_refused_for_good_is_not_tried_again(outbox):
    mail = OutgoingMail(to="x@elsewhere.invalid", subject="s", text="t", message_id="s2@v.invalid")
    with pytest.raises(AdapterError, match="refuses x@elsewhere") as refused:
        outbox.send(mail)
    assert not isinstance(refused.value, UnreachableError)


def test_a_mail_server_that_is_not_there_is_tried_again(running):
    settings = OutboxSettings(host="127.0.0.1", port=9, security="none", sender="v@m.example")
    mail = OutgoingMail(to=ADDRESS, subject="s", text="t", message_id="s3@v.invalid")
    with pytest.raises(UnreachableError):
        SmtpOutbox(settings, "").send(mail)
    assert not SmtpOutbox(settings, "").test()[0].good


def test_the_mailroom_accepts_nothing_that_it_cannot_deliver(running):
    running.stop("dovecot")
    try:
        with pytest.raises(smtplib.SMTPResponseException) as refused:
            running.send(message("lost?", message_id="x1@b.example"))
        assert refused.value.smtp_code == 451
    finally:
        running.start("dovecot")
        running.stack.dovecot.wait()
