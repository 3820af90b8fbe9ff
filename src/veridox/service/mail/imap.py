"""Mailboxes by IMAP (RFC 3501, 2177 IDLE, 4315 UIDPLUS, 6851 MOVE)."""

import contextlib
import socket
import ssl
from collections.abc import Iterable, Iterator
from datetime import UTC, datetime
from email.header import decode_header, make_header
from typing import Any, Self

from imapclient import SEEN, IMAPClient
from imapclient.exceptions import IMAPClientError, LoginError

from veridox.core.findings.wording import counted
from veridox.service.connections.settings import MailboxSettings
from veridox.service.errors import UnreachableError
from veridox.service.mail.ports import Location, Mailbox, Outline, Step

TIMEOUT = 30.0
CHUNK = 2_000
"""UIDs in one request."""
PART = 4 * 2**20
"""Bytes of a mail fetched in one request."""
_LINE = (IMAPClientError, OSError, ssl.SSLError, socket.timeout)


def _context(settings: MailboxSettings) -> ssl.SSLContext:
    # Certificates are always checked; an own authority can be named, "no check" cannot.
    return ssl.create_default_context(cafile=settings.ca_file or None)


def _connect(settings: MailboxSettings) -> IMAPClient:
    client = IMAPClient(
        settings.host,
        port=settings.port,
        ssl=settings.security == "tls",
        ssl_context=_context(settings),
        timeout=TIMEOUT,
        use_uid=True,
    )
    if settings.security == "starttls":
        client.starttls(_context(settings))
    return client


class ImapMailbox(Mailbox):
    """One signed-in session. Errors of the line become UnreachableError."""

    def __init__(self, settings: MailboxSettings, password: str) -> None:
        self.settings = settings
        try:
            self.client = _connect(settings)
        except _LINE as error:
            raise UnreachableError(
                f"mail server {settings.host}:{settings.port} cannot be reached: {error}"
            ) from error
        try:
            self.client.login(settings.user, password)
        except LoginError as error:
            self._drop()
            raise UnreachableError(
                f"the mail server does not let {settings.user} in: {error}"
            ) from error
        except _LINE as error:
            self._drop()
            raise UnreachableError(f"the mail server broke off: {error}") from error

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_: object) -> None:
        with contextlib.suppress(*_LINE):
            self.client.logout()
        self._drop()

    def _drop(self) -> None:
        with contextlib.suppress(*_LINE):
            self.client.shutdown()

    @contextlib.contextmanager
    def _line(self) -> Iterator[None]:
        try:
            yield
        except _LINE as error:
            raise UnreachableError(f"the mail server broke off: {error}") from error

    def select(self, folder: str) -> int:
        """See the port."""
        with self._line():
            return int(self.client.select_folder(folder)[b"UIDVALIDITY"])

    def search(self, *, unread: bool) -> list[int]:
        """See the port."""
        with self._line():
            return sorted(self.client.search(["UNSEEN"] if unread else ["ALL"]))

    def outlines(self, uids: Iterable[int]) -> Iterator[Outline]:
        """See the port."""
        every = list(uids)
        for start in range(0, len(every), CHUNK):
            with self._line():
                answers = self.client.fetch(
                    every[start : start + CHUNK],
                    ["ENVELOPE", "RFC822.SIZE", "INTERNALDATE", "BODYSTRUCTURE"],
                )
            for uid in sorted(answers):
                yield _outline(uid, answers[uid])

    def fetch(self, uid: int) -> bytes | None:
        """See the port."""
        parts: list[bytes] = []
        while True:
            start = sum(map(len, parts))
            with self._line():
                # PEEK leaves the read mark alone; parts keep a huge mail from one huge answer.
                answer = self.client.fetch([uid], [f"BODY.PEEK[]<{start}.{PART}>"])
            if uid not in answer:
                return None
            part = next(
                (value for key, value in answer[uid].items() if key.startswith(b"BODY[]")), b""
            )
            parts.append(part or b"")
            if not part or len(part) < PART:
                return b"".join(parts)

    def mark_read(self, uid: int) -> None:
        """See the port."""
        with self._line():
            self.client.add_flags([uid], [SEEN], silent=True)

    def move(self, uid: int, folder: str) -> Location:
        """See the port."""
        with self._line():
            if not self.client.folder_exists(folder):
                self.client.create_folder(folder)
            if self.client.has_capability("MOVE"):
                response = self.client.move([uid], folder)
                text = response if isinstance(response, bytes) else b""
            else:
                text = self.client.copy([uid], folder) or b""
                self.client.delete_messages([uid], silent=True)
                self.client.uid_expunge([uid])
            uidvalidity, new_uid = _copied(text + self._untagged())
        return Location(folder=folder, uidvalidity=uidvalidity, uid=new_uid)

    def _untagged(self) -> bytes:
        # imaplib keeps response codes of untagged answers (COPYUID of MOVE) here.
        responses = getattr(self.client._imap, "untagged_responses", {})
        codes = responses.get("COPYUID") or [b""]
        return b"[COPYUID " + (codes[-1] or b"") + b"]"

    def find(self, folder: str, message_id: str) -> Location | None:
        """See the port."""
        with self._line():
            if not self.client.folder_exists(folder):
                return None
            uidvalidity = int(self.client.select_folder(folder)[b"UIDVALIDITY"])
            uids = self.client.search(["HEADER", "Message-ID", message_id])
        if not uids:
            return None
        return Location(folder=folder, uidvalidity=uidvalidity, uid=max(uids))

    def wait(self, seconds: float) -> bool:
        """See the port. Without IDLE it just waits: the caller polls."""
        with self._line():
            if not self.client.has_capability("IDLE"):
                import time

                time.sleep(seconds)
                return False
            # What arrived since the last command comes with the answer to NOOP.
            if _has_news(self.client.noop()[1]):
                return True
            self.client.idle()
            try:
                news = list(self.client.idle_check(timeout=seconds))
            finally:
                # News that came together with the greeting of IDLE lie in a buffer
                # that idle_check does not look into; they come with the end.
                late = self.client.idle_done()[1]
        return _has_news([*news, *late])


def _has_news(responses: list[Any]) -> bool:
    return any(
        isinstance(each, tuple) and len(each) > 1 and each[1] in (b"EXISTS", b"RECENT")
        for each in responses
    )


def _copied(text: bytes) -> tuple[int | None, int | None]:
    """UIDVALIDITY and new UID from `[COPYUID 38505 304 3956]` (RFC 4315)."""
    import re

    match = re.search(rb"COPYUID (\d+) \S+ (\d+)", text)
    return (int(match[1]), int(match[2])) if match else (None, None)


def _outline(uid: int, answer: dict[bytes, Any]) -> Outline:
    envelope = answer.get(b"ENVELOPE")
    received = answer.get(b"INTERNALDATE")
    if not isinstance(received, datetime):
        received = datetime.now(UTC)
    return Outline(
        uid=uid,
        size=int(answer.get(b"RFC822.SIZE", 0)),
        # IMAPClient gives local time without a zone.
        received_at=received.astimezone(UTC),
        subject=_decoded(envelope.subject if envelope else b""),
        has_files=_has_files(answer.get(b"BODYSTRUCTURE")),
    )


def _decoded(raw: bytes | None) -> str:
    text = (raw or b"").decode("utf-8", "replace")
    try:
        return str(make_header(decode_header(text)))
    except (LookupError, UnicodeError, ValueError):
        return text


def _has_files(structure: Any) -> bool:
    """Whether a body structure holds anything but text that is shown as the mail itself."""
    if not isinstance(structure, tuple) or not structure:
        return False
    if isinstance(structure[0], list):  # multipart: the parts come first, in a list
        return any(_has_files(part) for part in structure[0])
    kind = structure[0]
    if not isinstance(kind, bytes):
        return False
    if kind.lower() not in (b"text", b"multipart"):
        return True
    flat = repr(structure).lower()
    return "'attachment'" in flat or "b'attachment'" in flat or "filename" in flat


def try_mailbox(settings: MailboxSettings, password: str) -> list[Step]:
    """Step by step: name, encryption, sign-in, folders, moving. Never raises."""
    steps: list[Step] = []

    def step(name: str, good: bool, detail: str) -> None:
        steps.append(Step(name=name, good=good, detail=detail))

    try:
        socket.getaddrinfo(settings.host, settings.port)
        step("find the server", True, settings.host)
        client = _connect(settings)
    except ssl.SSLError as error:
        step("encryption", False, f"the certificate does not pass: {error}")
        return steps
    except _LINE as error:
        step("reach the server", False, f"{settings.host}:{settings.port}: {error}")
        return steps
    step("encryption", True, f"{settings.security}, certificate checked")
    try:
        client.login(settings.user, password)
        step("sign in", True, settings.user)
        folders = client.list_folders()
        step("list folders", True, counted(len(folders), "folder"))
        client.select_folder("INBOX")
        step("open INBOX", True, "for reading and marking")
        moves = "MOVE" if client.has_capability("MOVE") else "copy and delete"
        step("move mails", True, moves)
        idle = client.has_capability("IDLE")
        step("be told of news", True, "IDLE" if idle else "no IDLE: asked regularly instead")
    except LoginError as error:
        step("sign in", False, str(error))
    except _LINE as error:
        step("use the mailbox", False, str(error))
    finally:
        with contextlib.suppress(*_LINE):
            client.logout()
    return steps
