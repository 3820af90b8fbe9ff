"""Collecting from the real Dovecot: sign-in by tokens, STARTTLS and who meddles with it,
folders, conditions on the server and here, numbers that change, huge mails."""

import contextlib
import shutil
import socket
import threading
from datetime import UTC, datetime, timedelta
from itertools import islice

import httpx
import pytest

from demo.load import connections
from demo.stack import POST, TEAM
from tests.awkward.mails import PDF, all_mails, file, head, mixed
from tests.stack.running import until
from veridox.client import ProblemError
from veridox.core.pipeline import Wanted
from veridox.service.adapters.imap.mailbox import ImapMailbox
from veridox.service.adapters.imap.settings import MailboxSettings
from veridox.service.adapters.imap.signin import by_password, try_mailbox
from veridox.service.errors import UnreachableError
from veridox.service.intake.wanted import unmet_by

pytestmark = pytest.mark.stack
TODAY = datetime.now(UTC).date()
ALL = Wanted(unread=False, with_files=False)
AWKWARD = all_mails()
PIPELINE = """pipeline: {name}
collect:
  - mailbox: post-room
    folder: {folder}
    only: {{with_files: false, subject: ["{words}"]}}
    afterwards: {{done: {folder}/Fertig, people: {folder}/Prüfen, failed: {folder}/Fehler}}
post: {{ledger: main-books}}
"""


def settings(running, **changes):
    usual = {
        "host": "127.0.0.1", "port": running.stack.ports.imap, "user": TEAM,
        "ca_file": str(running.stack.dovecot.ca_file),
    }  # fmt: skip
    return MailboxSettings(**{**usual, **changes})


def opened(running, **changes):
    known = settings(running, **changes)
    return ImapMailbox(known, by_password(known, running.stack.secret(f"mail-{known.user}")))


@contextlib.contextmanager
def folder(running, name, user=TEAM):
    """A folder of our own, with a way to put mails there."""
    with opened(running, user=user) as box:
        if not box.client.folder_exists(name):
            box.client.create_folder(name)

        def put(content, when=None, flags=()):
            box.client.append(name, content, flags, when)

        box.put = put
        box.select(name)
        yield box


# -- sign-in ----------------------------------------------------------------------------


def tokens(running, path, **data):
    url = f"http://127.0.0.1:{running.stack.ports.tokens}{path}"
    return httpx.post(url, data=data).raise_for_status().json()


def steps(running, name):
    answer = running.vx.connections.call("POST", f"{name}/test")
    return {each["name"]: each["good"] for each in answer["steps"]}, answer


def test_a_mailbox_is_signed_in_to_with_the_clients_own_credentials(running):
    good, answer = steps(running, "post-room")
    assert answer["good"], answer
    assert list(good)[:3] == ["find the server", "encryption", "sign in"]
    assert {"folder INBOX", "rights in INBOX", "move mails", "be told of news"} <= set(good)


def test_a_refresh_token_is_used_replaced_and_never_shown(running):
    secret = running.stack.secret("token-client")
    first = tokens(running, "/consent", client_id="veridox", client_secret=secret)
    shape = next(each for each in connections(running.stack) if each["name"] == "post-room")
    other = {**shape, "name": "post-refresh", "refresh_token": first["refresh_token"]}
    # Another scope, so that no token of the other connection is kept for it.
    other["settings"] = {
        **shape["settings"],
        "user": POST,
        "token_url": shape["settings"]["token_url"] + "?x",
    }
    told = running.vx.connections.create(other)
    assert "refresh_token" not in told
    assert first["refresh_token"] not in str(told)
    for _ in range(2):
        tokens(running, "/revoke-all")
        assert steps(running, "post-refresh")[1]["good"]


def test_a_wrong_client_secret_is_told_at_the_sign_in(running):
    shape = next(each for each in connections(running.stack) if each["name"] == "post-room")
    wrong = {**shape, "name": "post-wrong", "secret": "no"}
    wrong["settings"] = {**shape["settings"], "client_id": "stranger"}
    running.vx.connections.create(wrong)
    good, answer = steps(running, "post-wrong")
    assert good == {"find the server": True, "encryption": True, "sign in": False}
    assert "invalid_client" in answer["steps"][-1]["detail"]


def test_a_new_secret_is_set_and_all_are_encrypted_anew(running):
    vx = running.vx
    vx.connections.call("PUT", "ap-inbox/secret", {"secret": "wrong"})
    assert not steps(running, "ap-inbox")[1]["good"]
    word = running.stack.secret("mail-ap")
    told = vx.connections.call("PUT", "ap-inbox/secret", {"secret": word})
    assert word not in str(told)
    keys = running.stack.folder / "data" / "keys"
    before = keys.read_text()
    assert vx.connections.call("POST", "rotate", {"new_key": True})["connections"] >= 3
    assert keys.read_text().endswith(before)
    assert len(keys.read_text().splitlines()) == len(before.splitlines()) + 1
    assert keys.stat().st_mode & 0o077 == 0
    assert steps(running, "ap-inbox")[1]["good"]
    # The trail's seal is made with the oldest key, which stays.
    assert vx.run_report("trail")["result"]["good"]
    with pytest.raises(ProblemError):
        vx.connections.call("PUT", "ap-inbox/secret", {})


# -- a man in the middle -----------------------------------------------------------------


class Meddler(threading.Thread):
    """Stands between us and the server, and takes STARTTLS out of what it says."""

    def __init__(self, port, answer=b"BAD unknown command"):
        super().__init__(daemon=True)
        self.target, self.answer, self.heard = port, answer, b""
        self.listener = socket.create_server(("127.0.0.1", 0))
        self.port = self.listener.getsockname()[1]

    def run(self):
        with contextlib.suppress(OSError):
            while True:
                client, _ = self.listener.accept()
                server = socket.create_connection(("127.0.0.1", self.target))
                down = threading.Thread(target=self.down, args=(server, client), daemon=True)
                down.start()
                self.up(client, server)

    def down(self, server, client):
        with contextlib.suppress(OSError):
            while data := server.recv(65_536):
                client.sendall(data.replace(b" STARTTLS", b""))

    def up(self, client, server):
        with contextlib.suppress(OSError):
            while data := client.recv(65_536):
                self.heard += data
                if b"STARTTLS" in data.upper():
                    client.sendall(data.split()[0] + b" " + self.answer + b"\r\n")
                else:
                    server.sendall(data)


@pytest.mark.parametrize("answer", [b"BAD unknown command", b"OK go on", b"NO not today"])
def test_with_starttls_taken_out_no_password_is_ever_said(running, answer):
    meddler = Meddler(running.stack.ports.starttls, answer)
    meddler.start()
    known = settings(running, port=meddler.port, security="starttls")
    word = running.stack.secret(f"mail-{TEAM}")
    with pytest.raises(UnreachableError):
        ImapMailbox(known, by_password(known, word))
    found = try_mailbox(known, by_password(known, word), ())
    assert [each.name for each in found if not each.good] in (["encryption"], ["reach the server"])
    meddler.listener.close()
    assert b"LOGIN" not in meddler.heard.upper()
    assert word.encode() not in meddler.heard


def test_a_certificate_of_nobody_we_know_is_refused(running):
    known = settings(running, ca_file="")
    (step,) = [each for each in try_mailbox(known, by_password(known, "x"), ()) if not each.good]
    assert step.name == "encryption"
    assert "certificate" in step.detail


# -- folders -------------------------------------------------------------------------------


def test_nested_folders_with_other_letters_are_watched_and_made(running):
    name = "Belege/Überwiesen"
    with folder(running, name, POST) as box:
        running.vx.pipelines.publish(PIPELINE.format(name="nested", folder=name, words="nested"))
        mail = mixed(file(PDF, "n.pdf"), subject="nested one", Auto_Submitted="auto-replied")
        box.put(mail.as_bytes())
        until(lambda: list(running.vx.messages.list(subject="nested one")), "taken in")

        def lies():
            (row,) = running.vx.messages.list(subject="nested one")
            return row["folder"] == f"{name}/Fertig" and row["outcome"] == "set aside"

        until(lies, "moved")
        box.select(f"{name}/Fertig")
        assert len(box.search(ALL, TODAY)) == 1
    good, answer = steps(running, "post-room")
    assert good[f"folder {name}"], answer


def test_a_peek_marks_nothing_as_read(running):
    name = "Peek"
    with folder(running, name, POST) as box:
        running.vx.pipelines.publish(
            PIPELINE.format(name="peeked", folder=name, words="never this")
        )
        for mail in islice(AWKWARD.values(), 10):
            box.put(mail.content)
        answer = running.vx.peek("post-room", folder=name)
        assert len(answer["mails"]) == 10
        assert {each["decides"] for each in answer["mails"]} == {"subject"}
        box.select(name)
        assert len(box.search(Wanted(with_files=False), TODAY)) == 10


# -- conditions --------------------------------------------------------------------------------

LONG_AGO = datetime.now(UTC) - timedelta(days=10)
CONDITIONS = {
    "unread": Wanted(with_files=False),
    "with files": Wanted(unread=False),
    "sender": Wanted(unread=False, with_files=False, senders=("bo@merrowmere",)),
    "sender's name": Wanted(unread=False, with_files=False, senders=("BRINEFOLD",)),
    "sender pattern": Wanted(unread=False, with_files=False, senders=("*@brinefold.example",)),
    "recipient": Wanted(unread=False, with_files=False, recipients=("ap@merrowmere",)),
    "subject": Wanted(unread=False, with_files=False, subject=("rechnung", "4711")),
    "subject with other letters": Wanted(unread=False, with_files=False, subject=("gebühr",)),
    "text": Wanted(unread=False, with_files=False, text=("attached",)),
    "text with other letters": Wanted(unread=False, with_files=False, text=("grüße",)),
    "keyword": Wanted(unread=False, with_files=False, keyword="ToPay"),
    "since": Wanted(unread=False, with_files=False, since=timedelta(days=3)),
    "before": Wanted(unread=False, with_files=False, before=TODAY - timedelta(days=3)),
    "file names": Wanted(unread=False, file_names=("*.zip", "rechnung*")),
    "several": Wanted(subject=("invoice",), senders=("bills",), text=("please",)),
}  # fmt: skip


@pytest.fixture(scope="module")
def mixture(running):
    """All awkward mails in one folder, some read, old or flagged."""
    with folder(running, "Mixture") as box:
        for number, mail in enumerate(AWKWARD.values()):
            flags = [b"\\Seen"] if number % 3 == 0 else [b"ToPay"] if number % 5 == 0 else []
            box.put(mail.content, LONG_AGO if number % 4 == 0 else None, flags)
        box.select("Mixture", look=True)
        yield box


@pytest.mark.parametrize("name", CONDITIONS)
def test_what_the_server_spares_us_changes_no_answer(mixture, name):
    wanted = CONDITIONS[name]

    def meets(uids):
        return {
            each.uid for each in mixture.outlines(uids)
            if unmet_by(wanted, mixture, each, TODAY) is None
        }  # fmt: skip

    everything = mixture.search(ALL, TODAY)
    assert len(everything) == len(AWKWARD)
    here = meets(everything)
    assert meets(mixture.search(wanted, TODAY)) == here
    assert here, "a condition that nothing meets proves nothing"
    assert len(here) < len(everything)


def test_the_server_finds_where_it_can(mixture):
    narrowed = mixture.search(CONDITIONS["sender"], TODAY)
    assert 0 < len(narrowed) < len(AWKWARD) / 2


# -- numbers, marks, sizes --------------------------------------------------------------------


def test_a_folder_numbered_anew_under_us_brings_nothing_twice(running):
    name = "Renumbered"
    with folder(running, name, POST) as box:
        before = box.select(name)
        running.vx.pipelines.publish(
            PIPELINE.format(name="renumbered", folder=name, words="number")
        )
        box.put(mixed(file(PDF + b"r", "r.pdf"), subject="number one").as_bytes())
        (row,) = until(lambda: list(running.vx.messages.list(subject="number one")), "taken in")
    until(lambda: running.vx.messages.get(row["id"])["folder"] != name, "moved away")
    # Somebody moves it back, and the server loses its index: all numbers change.
    running.stop("watch")
    mail_folder = running.stack.dovecot.folder / "mail" / POST
    with opened(running, user=POST) as box:
        lies = running.vx.messages.get(row["id"])["folder"]
        box.select(lies)
        (uid,) = box.search(ALL, TODAY)
        box.move(uid, name)
    running.stop("dovecot")
    for path in mail_folder.rglob("dovecot*"):
        if path.is_file() and "subscriptions" not in path.name:
            path.unlink()
    running.start("dovecot")
    running.stack.dovecot.wait()
    running.start("watch")
    with opened(running, user=POST) as box:
        assert box.select(name, look=True) != before

    def settled():
        rows = list(running.vx.messages.list(subject="number one"))
        return rows if all(each["outcome"] != "under way" for each in rows) else None

    until(settled, "settled")
    files = [each for each in running.vx.files.list() if each.name == "r.pdf"]
    assert len(files) == 1


def test_a_new_mail_is_noticed_at_once_after_the_server_was_restarted_in_idle(running):
    running.stop("dovecot")
    running.start("dovecot")
    running.stack.dovecot.wait()
    name = "Inbox restart"

    def arrives(number):
        mail = mixed(subject=f"{name} {number}", Auto_Submitted="auto-replied")
        mail["X-Number"] = str(number)
        with folder(running, "Belege/Überwiesen", POST) as box:
            box.put(mail.as_bytes().replace(b"restart", b"restart nested"))
        return until(
            lambda: list(running.vx.messages.list(subject=f"nested {number}")), "noticed", 40
        )

    assert arrives(1)
    assert arrives(2)


def test_a_mail_of_sixty_megabytes_comes_in_parts(running):
    huge = PDF + bytes(range(256)) * 4096 * 42
    with folder(running, "Huge") as box:
        mail = head(mixed(file(huge, "huge.pdf"))).as_bytes()
        box.put(mail)
        (uid,) = box.search(ALL, TODAY)
        parts = list(box.fetch(uid))
        assert len(parts) > 10
        assert max(map(len, parts)) <= 4 * 2**20
        assert sum(map(len, parts)) >= len(mail)
        outline = next(box.outlines([uid]))
        assert [piece.name for piece in outline.pieces] == ["", "huge.pdf"]
    shutil.rmtree(running.stack.dovecot.folder / "mail" / TEAM / ".Huge", ignore_errors=True)
