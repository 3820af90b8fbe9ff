"""Odd mails on the real mail server: all are accounted for, and none keeps another waiting."""

import imaplib
import time

import pytest

from demo.stack import MAILBOX
from tests.awkward.mails import PDF, file, mixed
from tests.stack.running import until
from veridox.service.adapters.imap.mailbox import ImapMailbox
from veridox.service.adapters.imap.settings import MailboxSettings
from veridox.service.adapters.imap.signin import by_password

pytestmark = pytest.mark.stack


def plain(subject, content=b""):
    return mixed(file(PDF + content, "a.pdf"), subject=subject).as_bytes()


def with_headers(raw, *lines):
    return "\r\n".join(lines).encode() + b"\r\n" + raw


def parts(count):
    """A mail of very many parts: its structure is one very long line."""
    piece = '--b\r\nContent-Type: text/plain; name="{0}.txt"\r\n\r\nx\r\n'
    body = "".join(piece.format(f"part-with-a-long-name-{number:05d}") for number in range(count))
    head = (f"From: a@b.example\r\nSubject: Invoice of {count} parts\r\nMIME-Version: 1.0\r\n"
            "Content-Type: multipart/mixed; boundary=b\r\n\r\n")  # fmt: skip
    return (head + body + "--b--\r\n").encode()


def odd_mails():
    """By name: what once ended a round, or came close to it."""
    raw = plain("Invoice odd", b"1")
    bare = raw.split(b"\n", 1)[1]
    return {
        "a date of the year 9999": with_headers(
            raw.replace(b"Date:", b"X-Old:"), "Date: Fri, 31 Dec 9999 23:59:59 -1200"),
        "a date of the year 0": with_headers(
            raw.replace(b"Date:", b"X-Old:"), "Date: Sat, 01 Jan 0000 00:00:00 +0000"),
        "a date that is none": with_headers(raw.replace(b"Date:", b"X-Old:"), "Date: soon"),
        "ten thousand parts": parts(10_000),
        "a subject of a megabyte": with_headers(
            raw.replace(b"Subject:", b"X-Old:"), "Subject: Invoice " + "long " * 210_000),
        "a very long address": with_headers(
            raw.replace(b"From:", b"X-Old:"), "From: " + "a" * 70_000 + "@b.example"),
        "no header at all": b"\r\nInvoice without any header\r\n",
        "nothing but headers": b"Subject: Invoice of nothing\r\n\r\n",
        "a broken boundary": bare.replace(b"boundary=", b"boundary=\"\r\n\r\n", 1),
        "bytes that are no text": b"Subject: Invoice \xff\xfe\x00\r\n\r\n" + bytes(range(1, 256)),
    }  # fmt: skip


@pytest.fixture(scope="module")
def laid_down(running):
    """All of them in the inbox, and a good mail behind them."""
    names = {}
    with running.mailbox() as client:
        client.create("Odd")
        for name, raw in odd_mails().items():
            ok, answer = client.append("Odd", None, imaplib.Time2Internaldate(time.time()), raw)
            assert ok == "OK", (name, answer)
            names[len(names) + 1] = name
        ok, _ = client.append("Odd", None, imaplib.Time2Internaldate(time.time()),
                              plain("Invoice behind them", b"2"))  # fmt: skip
        assert ok == "OK"
    return names


@pytest.fixture
def box(running, laid_down):
    settings = MailboxSettings(
        host="127.0.0.1", port=running.stack.ports.imap, user=MAILBOX,
        ca_file=str(running.stack.dovecot.ca_file),
    )  # fmt: skip
    secret = running.stack.secret(f"mail-{MAILBOX}")
    with ImapMailbox(settings, by_password(settings, secret)) as there:
        there.select("Odd", look=True)
        yield there


def test_every_mail_has_an_outline_and_the_good_one_a_whole_one(box, laid_down):
    outlines = {outline.uid: outline for outline in box.outlines(range(1, len(laid_down) + 2))}
    assert sorted(outlines) == list(range(1, len(laid_down) + 2))
    good = outlines[len(laid_down) + 1]
    assert (good.subject, good.opaque) == ("Invoice behind them", "")
    opaque = {laid_down[uid] for uid, outline in outlines.items() if outline.opaque}
    assert "a date of the year 9999" in opaque
    assert all(outline.size > 0 for outline in outlines.values())


def test_the_line_still_works_after_an_odd_one(box):
    list(box.outlines([1]))
    assert b"Invoice behind them" in b"".join(box.fetch(11) or ())


def test_a_mailbox_full_of_odd_mails_is_collected_and_accounted_for(running, laid_down):
    """The same mails in the watched inbox, a good one behind them."""
    before = {row["id"] for row in running.vx.messages.list()}
    with running.mailbox() as client:
        for raw in odd_mails().values():
            client.append("INBOX", None, imaplib.Time2Internaldate(time.time()), raw)
        client.append("INBOX", None, imaplib.Time2Internaldate(time.time()),
                      plain("Invoice behind the odd ones", b"3"))  # fmt: skip
    until(
        lambda: list(running.vx.messages.list(search="Invoice behind the odd ones")),
        "the good mail behind the odd ones",
    )
    connection = running.vx.connections.get("ap-inbox")
    assert connection["last_problem"] == ""
    result = until(lambda: accounted(running), "all to be accounted for")
    assert result["totals"]["unexplained"] == result["totals"]["lost"] == 0
    taken = [row for row in running.vx.messages.list() if row["id"] not in before]
    assert len(taken) >= 3


def accounted(running):
    result = running.vx.run_report("accounted", mailbox="ap-inbox")["result"]
    return result if result["good"] and not result["totals"]["not taken yet"] else None
