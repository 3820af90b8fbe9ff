"""How fast and how lean mails are taken in: for `bin/bench collect`, on the running demo."""

import os
import secrets
import smtplib
import statistics
import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from email.message import EmailMessage
from pathlib import Path

import psycopg

from demo.stack import POST, TEAM, Stack
from demo.supervisor import Supervisor
from veridox.client import Veridox
from veridox.core.pipeline import Wanted
from veridox.service.adapters.imap.mailbox import ImapMailbox
from veridox.service.adapters.imap.settings import MailboxSettings
from veridox.service.adapters.imap.signin import by_password

MANY = 100_000
BATCH = 2_000
COUNTED = "select count(*), min(taken_at), max(taken_at) from mail_message where subject = %s"
PIPELINE = """pipeline: {name}
title: To measure with
collect:
  - mailbox: post-room
    folder: {folder}
    only: {{with_files: true}}
post: {{ledger: main-books}}
"""


def _box(stack: Stack, user: str) -> ImapMailbox:
    known = MailboxSettings(
        host="127.0.0.1",
        port=stack.ports.imap,
        user=user,
        ca_file=str(stack.dovecot.ca_file),
    )
    return ImapMailbox(known, by_password(known, stack.secret(f"mail-{user}")))


def _mail(subject: str, attachment: bytes) -> EmailMessage:
    """A mail whose file is of no kind that is read: intake alone is measured."""
    mail = EmailMessage()
    mail["From"], mail["To"] = "bench@brinefold.example", "post@merrowmere.example"
    mail["Subject"] = subject
    mail["Message-ID"] = f"<{secrets.token_hex(8)}@brinefold.example>"
    mail.set_content("Figures are wanted.\n")
    mail.add_attachment(
        attachment, maintype="application", subtype="octet-stream", filename="data.bin"
    )
    return mail


@contextmanager
def _filled(stack: Stack, folder: str, mails: Iterator[EmailMessage]) -> Iterator[ImapMailbox]:
    with _box(stack, POST) as box:
        if not box.client.folder_exists(folder):
            box.client.create_folder(folder)
        for mail in mails:
            box.client.append(folder, mail.as_bytes())
        yield box


def intake(stack: Stack, vx: Veridox, count: int, size: int = 200_000) -> float:
    """Mails a second into database and store, marked on the server; their files are not read."""
    tag = secrets.token_hex(3)
    mails = (_mail(f"Bench {tag}", os.urandom(size)) for _ in range(count))
    with _filled(stack, f"Bench-{tag}", mails), _collecting_only(stack):
        vx.pipelines.publish(PIPELINE.format(name=f"bench-{tag}", folder=f"Bench-{tag}"))
        began = time.monotonic()
        with psycopg.connect(stack.postgres.url("veridox"), autocommit=True) as database:
            while True:
                # Asked of the database: the service has enough to do.
                stored, first, last = database.execute(COUNTED, [f"Bench {tag}"]).fetchone()
                if stored >= count:
                    return float((count - 1) / (last - first).total_seconds())
                if time.monotonic() - began > 300:
                    raise SystemExit(f"bench: only {stored} of {count} mails came in")
                time.sleep(1)


@contextmanager
def _collecting_only(stack: Stack) -> Iterator[None]:
    """A worker that only collects in the place of the one that does everything."""
    supervisor = Supervisor(stack)
    supervisor.halt("work")
    worker = subprocess.Popen(
        [Path(sys.executable).parent / "veridox", "work", "--queue", "collect"],
        env={**os.environ, **stack.environment()},
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
    )
    try:
        time.sleep(3)
        yield
    finally:
        worker.terminate()
        worker.wait(60)
        supervisor.start(["work"])


def noticed(stack: Stack, vx: Veridox, count: int) -> list[float]:
    """Seconds from the mail server's accept to the stored mail, one mail at a time."""
    found = []
    for _ in range(count):
        tag = f"Noticed {secrets.token_hex(4)}"
        mail = _mail(tag, b"x")
        with smtplib.SMTP("127.0.0.1", stack.ports.smtp) as server:
            server.send_message(mail)
        accepted = datetime.now(UTC)
        rows: list[dict[str, str]] = []
        while not rows:
            time.sleep(0.1)
            rows = list(vx.messages.list(subject=tag))
        found.append((datetime.fromisoformat(rows[0]["taken_at"]) - accepted).total_seconds())
        time.sleep(0.5)
    return found


def in_many(stack: Stack, count: int = MANY) -> dict[str, float]:
    """Seconds for a filter over many mails and the structure of its first 200 matches."""
    name = f"Many-{secrets.token_hex(3)}"
    found = {}
    with _box(stack, TEAM) as box:
        box.client.create_folder(name)
        for start in range(0, count, BATCH):
            box.client.multiappend(name, [_small(start + at) for at in range(BATCH)])
    wanted = Wanted(subject=("invoice",))
    for when in ("first look", "second look"):
        with _box(stack, TEAM) as box:
            began = time.monotonic()
            box.select(name, look=True)
            uids = box.search(wanted, datetime.now(UTC).date())
            found[f"{when}: opening and filter"] = time.monotonic() - began
            outlines = list(box.outlines(uids[:200]))
            found[f"{when}: and structure of 200"] = time.monotonic() - began
            if len(uids) != count // 50 or len(outlines) != 200:
                raise SystemExit(f"bench: {len(uids)} matches, {len(outlines)} outlines")
    with _box(stack, TEAM) as box:
        box.client.delete_folder(name)
    return found


def _small(number: int) -> bytes:
    """A mail with a file; one of fifty is an invoice."""
    subject = f"Invoice {number}" if number % 50 == 0 else f"Note {number}"
    return (
        f"From: Someone <s{number}@brinefold.example>\r\nTo: ap@merrowmere.example\r\n"
        f"Subject: {subject}\r\nMessage-ID: <m{number}@brinefold.example>\r\n"
        "MIME-Version: 1.0\r\nContent-Type: multipart/mixed; boundary=b\r\n\r\n"
        "--b\r\nContent-Type: text/plain\r\n\r\nHello\r\n--b\r\n"
        "Content-Type: application/pdf; name=i.pdf\r\n\r\n%PDF\r\n--b--\r\n"
    ).encode()


def _peak(pid: int) -> int:
    for line in Path(f"/proc/{pid}/status").read_text().splitlines():
        if line.startswith("VmHWM"):
            return int(line.split()[1]) * 1024
    return 0


def _family(pid: int) -> Iterator[int]:
    yield pid
    for task in Path(f"/proc/{pid}/task").iterdir():
        for child in (task / "children").read_text().split():
            yield from _family(int(child))


def huge(stack: Stack, vx: Veridox, size: int = 60_000_000) -> dict[str, float]:
    """Peak megabytes of the worker and its readers while a mail of 60 MB comes in; and seconds."""
    tag = secrets.token_hex(3)
    states = Supervisor(stack).states()
    worker = next(int(each["pid"]) for each in states if each["name"] == "work")
    everyone = list(_family(worker))
    for pid in everyone:
        Path(f"/proc/{pid}/clear_refs").write_text("5")  # forgets the peak so far
    encoded = size * 3 // 4
    with _filled(stack, f"Huge-{tag}", iter([_mail(f"Huge {tag}", os.urandom(encoded))])):
        began = time.monotonic()
        vx.pipelines.publish(PIPELINE.format(name=f"huge-{tag}", folder=f"Huge-{tag}"))
        while not list(vx.messages.list(subject=f"Huge {tag}")):
            time.sleep(0.2)
            if time.monotonic() - began > 120:
                raise SystemExit("bench: the huge mail did not come in")
        taken = time.monotonic() - began
    (row,) = vx.messages.list(subject=f"Huge {tag}")
    names = vx.messages.get(row["id"])
    if names["defects"] or len(names["files"]) != 1:
        raise SystemExit(f"bench: the huge mail was not taken apart: {names['defects']}")
    readers = [pid for pid in _family(worker) if pid != worker]
    return {
        "seconds until it is stored": taken,
        "worker's peak, MB": _peak(worker) / 1e6,
        "largest reader's peak, MB": max((_peak(pid) for pid in readers), default=0) / 1e6,
    }


def figures(stack: Stack, vx: Veridox, count: int) -> None:
    """Print all of them."""
    rate = intake(stack, vx, count * 10)
    print(f"intake alone, 200-kB attachments   {rate:.1f} mails a second")
    seconds = noticed(stack, vx, min(count, 15))
    print(
        f"noticed and stored (IDLE)          median {statistics.median(seconds):.2f} s, "
        f"worst {max(seconds):.2f} s, {len(seconds)} mails"
    )
    for name, value in in_many(stack).items():
        print(f"{MANY:,} mails, {name:<28} {value:.2f} s")
    for name, value in huge(stack, vx).items():
        print(f"60-MB mail, {name:<30} {value:.1f}")
