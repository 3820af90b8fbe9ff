"""The whole running installation: processes that tests may kill and replace."""

import imaplib
import os
import ssl
import subprocess
import sys
import time
from collections.abc import Callable
from contextlib import contextmanager
from email import message_from_bytes
from email.message import EmailMessage
from pathlib import Path

import httpx

from demo.load import make_token, set_up
from demo.mails import send
from demo.stack import ADMIN, MAILBOX, ROOT, TEAM, Stack
from veridox.client import Document, Veridox

QUICK = {"DJANGO_SETTINGS_MODULE": "tests.stack.settings", "PYTHONPATH": str(ROOT)}
"""How the service's processes find the settings of the tests."""


def until(done: Callable[[], object], what: str, seconds: float = 40) -> object:
    """Wait for something; what it gave, once it is true."""
    began, pause = time.monotonic(), 0.05
    while True:
        found = done()
        if found:
            return found
        assert time.monotonic() < began + seconds, f"waited {seconds} s for: {what}"
        time.sleep(pause)
        # Asking costs those who are waited for; what takes long may take a little longer.
        pause = min(0.3, pause * 1.25)


class Running:
    """Starts the stack's programs and keeps hold of them. PostgreSQL is there already."""

    def __init__(self, stack: Stack) -> None:
        self.stack = stack
        self.processes: dict[str, subprocess.Popen[bytes]] = {}
        self.programs = stack.programs()

    def start(self, name: str, command: list[str] | None = None, **environment: str) -> None:
        program = self.programs[name]
        log = (self.stack.folder / "log" / f"{name}.log").open("ab")
        self.processes[name] = subprocess.Popen(
            command or program.command,
            env={**os.environ, **program.environment, **QUICK, **environment},
            cwd=program.folder,
            stdout=log,
            stderr=log,
        )

    def stop(self, name: str) -> None:
        process = self.processes.pop(name)
        if process.poll() is None:
            process.terminate()
        try:
            process.wait(40)
        except subprocess.TimeoutExpired:
            process.kill()
            process.wait()

    def log(self, name: str) -> str:
        return (self.stack.folder / "log" / f"{name}.log").read_text()

    def start_all(self) -> None:
        self.stack.dovecot.write()
        (self.stack.folder / "log").mkdir(exist_ok=True)
        for name in ("tokens", "dovecot", "mailroom", "finance", "chat"):
            self.start(name)
        self.stack.postgres.create_database("veridox")
        self.stack.secret("admin")
        subprocess.run(
            [str(Path(sys.executable).parent / "veridox"), "setup", "--admin", ADMIN,
             "--password-file", str(self.stack.folder / "secrets" / "admin")],
            env={**os.environ, **self.stack.environment(), **QUICK},
            check=True, stdout=subprocess.DEVNULL,
        )  # fmt: skip
        for name in ("serve", "work", "watch", "house"):
            self.start(name)
        self.stack.dovecot.wait()
        until(self._came_up, "the service", 120)
        self.token = make_token(self.stack)
        self.vx = Veridox(self.stack.url, token=self.token)
        set_up(self.stack, self.token)

    def _came_up(self) -> bool:
        """Whether the service answers yet. A program that ended says what it died of."""
        for name, process in self.processes.items():
            ended = process.poll()
            assert ended is None, f"{name} ended with {ended}:\n{self.log(name)[-4000:]}"
        return self._serves()

    def _serves(self) -> bool:
        try:
            return httpx.get(f"{self.stack.url}/api/v1/health", timeout=60).is_success
        except httpx.TransportError:
            return False

    def stop_all(self) -> None:
        if hasattr(self, "vx"):  # else the start failed, and its reason is what should be seen
            self.vx.close()
        for name in list(self.processes):
            self.stop(name)

    # -- the outside

    def send(self, message: EmailMessage) -> None:
        send(message, self.stack.ports.smtp)

    @contextmanager
    def mailbox(self, user: str = MAILBOX):
        context = ssl.create_default_context(cafile=str(self.stack.dovecot.ca_file))
        client = imaplib.IMAP4_SSL("127.0.0.1", self.stack.ports.imap, ssl_context=context)
        try:
            client.login(user, self.stack.secret(f"mail-{user}"))
            yield client
        finally:
            client.logout()

    def mails(self, folder: str, words: str = "", user: str = MAILBOX) -> list[object]:
        """Mails of a folder whose subject holds the words."""
        with self.mailbox(user) as client:
            if client.select(f'"{folder}"', readonly=True)[0] != "OK":
                return []
            _, data = client.search(None, "ALL")
            found = []
            for number in data[0].split():
                _, parts = client.fetch(number, "(BODY.PEEK[])")
                mail = message_from_bytes(parts[0][1])
                if words in str(mail["subject"]):
                    found.append(mail)
            return found

    def confirmations(self, words: str) -> list[object]:
        return self.mails("INBOX", words, TEAM)

    def bills(self, number: str) -> list[dict]:
        headers = {"Authorization": f"Bearer {self.stack.secret('finance')}"}
        answer = httpx.get(f"{self.stack.finance_url}/v1/bills", headers=headers)
        return [bill for bill in answer.json()["bills"] if bill["vendor_number"] == number]

    def fault(self, fault: str, times: int = -1, seconds: float = 1.0) -> None:
        wanted = {"fault": fault, "times": times, "seconds": seconds}
        httpx.put(f"{self.stack.finance_url}/faults", json=wanted).raise_for_status()

    def document(self, number: str) -> Document | None:
        found = [each for each in self.vx.documents.list(search=number) if each.number == number]
        return self.vx.documents.get(found[0].id) if found else None

    def posted(self, number: str, seconds: float = 60) -> Document:
        """The document, once it is posted."""

        def look() -> Document | None:
            document = self.document(number)
            return document if document and document.state == "posted" else None

        found = until(look, f"{number} to be posted", seconds)
        assert isinstance(found, Document)
        return found

    def settled(self, words: str, folder: str, seconds: float = 40) -> None:
        """Wait until exactly one mail of this subject lies in the folder and none elsewhere."""
        until(lambda: len(self.mails(folder, words)) == 1, f"{words} in {folder}", seconds)
        assert self.mails("INBOX", words) == []
