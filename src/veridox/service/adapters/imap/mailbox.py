"""Mailboxes by IMAP (RFC 3501, 2177 IDLE, 4315 UIDPLUS, 6851 MOVE, 7628 and XOAUTH2 sign-in)."""

import contextlib
import logging
import socket
import ssl
import time
from collections.abc import Callable, Iterable, Iterator
from datetime import date
from typing import Any, Self

from imapclient import DELETED, SEEN, IMAPClient
from imapclient.exceptions import IMAPClientError, LoginError

from veridox.core.pipeline import Wanted
from veridox.service.adapters.imap.outline import ITEMS, decoded_piece, outline_of
from veridox.service.adapters.imap.search import criteria
from veridox.service.adapters.imap.settings import MailboxSettings
from veridox.service.errors import STUMBLES, AdapterError, UnreachableError
from veridox.service.ports.mailbox import Location, Mailbox, Outline, Piece, opaque_outline
from veridox.service.tls import tls_context

log = logging.getLogger(__name__)
TIMEOUT = 30.0
"""Seconds to reach the server and to sign in."""
PATIENCE = 120.0
"""Seconds for one answer afterwards: a server may have 100,000 headers to look through."""
CHUNK = 2_000
"""UIDs in one request."""
PART = 4 * 2**20
"""Bytes of a mail fetched in one request."""
TEXT_PART = 256 * 1024
"""Bytes of a text piece that conditions look at."""
LINE_ERRORS = (IMAPClientError, OSError, ssl.SSLError, socket.timeout)
GARBLED = (*STUMBLES, IMAPClientError)
"""What reading an answer about an odd mail may raise: the library parses it, and so do we."""

SignIn = Callable[[IMAPClient], None]
"""Signs in; raises LoginError when it is refused."""


def connect(settings: MailboxSettings) -> IMAPClient:
    """A connection that is encrypted before anything is said on it.

    Certificates are always checked: an own authority can be named, "no check"
    cannot. With `starttls` a server that does not offer it is not talked to, also
    when somebody between us and it took the offer out.
    """
    context = tls_context(settings.ca_file)
    client = IMAPClient(
        settings.host,
        port=settings.port,
        ssl=settings.security == "tls",
        ssl_context=context,
        timeout=TIMEOUT,
        use_uid=True,
    )
    if settings.security == "starttls":
        try:
            client.starttls(context)
        except BaseException:
            with contextlib.suppress(*LINE_ERRORS):
                client.shutdown()
            raise
    return client


class ImapMailbox(Mailbox):
    """One signed-in session. Errors of the line become UnreachableError."""

    def __init__(self, settings: MailboxSettings, sign_in: SignIn) -> None:
        self.settings = settings
        self._sign_in = sign_in
        self._separator: str | None = None
        self._lasting: tuple[bytes, ...] = ()
        self._selected: tuple[str, bool] | None = None
        self._connect()

    def _connect(self) -> None:
        settings, sign_in = self.settings, self._sign_in
        try:
            self.client = connect(settings)
        except LINE_ERRORS as error:
            raise UnreachableError(
                f"mail server {settings.host}:{settings.port} cannot be reached: {error}"
            ) from error
        try:
            sign_in(self.client)
        except LoginError as error:
            self._drop()
            raise UnreachableError(
                f"the mail server does not let {settings.user} in: {error}"
            ) from error
        except LINE_ERRORS as error:
            self._drop()
            raise UnreachableError(f"the mail server broke off: {error}") from error
        except AdapterError:
            self._drop()
            raise
        self.client.socket().settimeout(PATIENCE)

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_: object) -> None:
        with contextlib.suppress(*LINE_ERRORS):
            self.client.logout()
        self._drop()

    def _drop(self) -> None:
        with contextlib.suppress(*LINE_ERRORS):
            self.client.shutdown()

    @contextlib.contextmanager
    def _line(self) -> Iterator[None]:
        try:
            yield
        except LINE_ERRORS as error:
            raise UnreachableError(f"the mail server broke off: {error}") from error

    def _path(self, folder: str) -> str:
        """A folder's name with the server's own separator in place of `/`."""
        if self._separator is None:
            listed = self.client.list_folders("", "")
            raw = listed[0][1] if listed else None
            self._separator = raw.decode("ascii", "replace") if raw else "/"
        return folder.replace("/", self._separator)

    def select(self, folder: str, *, look: bool = False) -> int:
        """See the port."""
        with self._line():
            path = self._path(folder)
            try:
                answer = self.client.select_folder(path, readonly=look)
            except IMAPClientError as error:
                if not self.client.folder_exists(path):
                    raise AdapterError(f"there is no folder {folder!r} in the mailbox") from error
                raise
            self._lasting = tuple(answer.get(b"PERMANENTFLAGS", ()))
            self._selected = (folder, look)
            return int(answer[b"UIDVALIDITY"])

    def search(self, wanted: Wanted, today: date) -> list[int]:
        """See the port."""
        with self._line():
            return sorted(self.client.search(["UNDELETED", *criteria(wanted, today)]))

    def reopen(self) -> None:
        """See the port."""
        self._drop()
        self._connect()
        if self._selected is not None:
            folder, look = self._selected
            self.select(folder, look=look)

    def outlines(self, uids: Iterable[int]) -> Iterator[Outline]:
        """See the port."""
        every = list(uids)
        for start in range(0, len(every), CHUNK):
            yield from self._outlines(every[start : start + CHUNK])

    def _outlines(self, uids: list[int]) -> Iterator[Outline]:
        """Described together; where that fails in halves, down to the mail that is to blame."""
        try:
            answers = self.client.fetch(uids, ITEMS)
        except GARBLED as error:
            self.reopen()  # the rest of the answer may still lie in the line
            if len(uids) == 1:
                yield self._opaque(uids[0], error)
                return
            half = len(uids) // 2
            log.warning("%s mails cannot be described together: %s", len(uids), error)
            yield from self._outlines(uids[:half])
            yield from self._outlines(uids[half:])
            return
        for uid in sorted(answers):
            try:
                outline = outline_of(uid, answers[uid])
            except GARBLED as error:
                outline = self._opaque(uid, error)
            yield outline

    def _opaque(self, uid: int, error: Exception) -> Outline:
        """What can be known of a mail whose envelope or structure cannot be read."""
        said = str(error).strip().splitlines()
        why = f"{type(error).__name__}: {said[0][:200] if said else ''}"
        log.warning("mail %s cannot be described: %s", uid, why)
        for items in (["FLAGS", "RFC822.SIZE", "INTERNALDATE"], ["FLAGS", "RFC822.SIZE"]):
            try:
                answer = self.client.fetch([uid], items).get(uid, {})
            except GARBLED:
                self.reopen()
                continue
            known = outline_of(uid, answer)
            break
        else:
            known = outline_of(uid, {})
        return opaque_outline(
            uid, known.size, known.received_at, why, read=known.read, keywords=known.keywords
        )

    def fetch(self, uid: int) -> Iterator[bytes] | None:
        """See the port."""
        first = self._part(uid, "", 0, PART)
        return None if first is None else self._parts(uid, first)

    def _parts(self, uid: int, part: bytes) -> Iterator[bytes]:
        start = 0
        while part:
            yield part
            start += len(part)
            if len(part) < PART:
                return
            part = self._part(uid, "", start, PART) or b""

    def _part(self, uid: int, section: str, start: int, length: int) -> bytes | None:
        with self._line():
            # PEEK leaves the read mark alone; parts keep a huge mail from one huge answer.
            answer = self.client.fetch([uid], [f"BODY.PEEK[{section}]<{start}.{length}>"])
        if uid not in answer:
            return None
        found = (value for key, value in answer[uid].items() if key.startswith(b"BODY["))
        return next(found, b"") or b""

    def texts(self, uid: int, pieces: Iterable[Piece]) -> str:
        """See the port."""
        return "\n".join(
            decoded_piece(piece, self._part(uid, piece.number, 0, TEXT_PART) or b"")
            for piece in pieces
        )

    def mark(self, uids: list[int], keyword: str = "") -> None:
        """See the port."""
        with self._line():
            flags: list[bytes | str] = [SEEN]
            if keyword and (b"\\*" in self._lasting or keyword.encode() in self._lasting):
                flags.append(keyword)
            self.client.add_flags(uids, flags, silent=True)

    def move(self, uid: int, folder: str) -> Location:
        """See the port."""
        with self._line():
            path = self._path(folder)
            if not self.client.folder_exists(path):
                self.client.create_folder(path)
                with contextlib.suppress(IMAPClientError):
                    self.client.subscribe_folder(path)
            if self.client.has_capability("MOVE"):
                response = self.client.move([uid], path)
                text = response if isinstance(response, bytes) else b""
            else:
                text = self.client.copy([uid], path) or b""
                self._delete(uid)
            uidvalidity, new_uid = _copied(text + self._untagged())
        return Location(folder=folder, uidvalidity=uidvalidity, uid=new_uid)

    @property
    def moves_in_one(self) -> bool:
        """See the port."""
        with self._line():
            return bool(self.client.has_capability("MOVE"))

    def remove(self, uid: int) -> None:
        """See the port."""
        with self._line():
            self._delete(uid)

    def _delete(self, uid: int) -> None:
        self.client.add_flags([uid], [DELETED], silent=True)
        if self.client.has_capability("UIDPLUS"):
            self.client.uid_expunge([uid])
        # Without UIDPLUS an EXPUNGE would take with it what others marked: the mark is enough,
        # such mails are looked at no more.

    def _untagged(self) -> bytes:
        # imaplib keeps response codes of untagged answers (COPYUID of MOVE) here.
        responses = getattr(self.client._imap, "untagged_responses", {})
        codes = responses.get("COPYUID") or [b""]
        return b"[COPYUID " + (codes[-1] or b"") + b"]"

    def find(self, folder: str, message_id: str) -> Location | None:
        """See the port."""
        with self._line():
            path = self._path(folder)
            if not self.client.folder_exists(path):
                return None
            uidvalidity = int(self.client.select_folder(path, readonly=True)[b"UIDVALIDITY"])
            uids = self.client.search(["UNDELETED", "HEADER", "Message-ID", message_id])
        if not uids:
            return None
        return Location(folder=folder, uidvalidity=uidvalidity, uid=max(uids))

    def wait(self, seconds: float) -> bool:
        """See the port. Without IDLE it just waits: the caller polls.

        IDLE is begun anew each time, well within the half hour that servers allow (RFC 2177).
        """
        with self._line():
            if not self.client.has_capability("IDLE"):
                time.sleep(seconds)
                return has_news(self.client.noop()[1])
            # What arrived since the last command comes with the answer to NOOP.
            if has_news(self.client.noop()[1]):
                return True
            self.client.idle()
            try:
                news = list(self.client.idle_check(timeout=seconds))
            finally:
                # News that came together with the greeting of IDLE lie in a buffer
                # that idle_check does not look into; they come with the end.
                late = self.client.idle_done()[1]
        return has_news([*news, *late])


def has_news(responses: list[Any]) -> bool:
    """Whether a mail came, or the marks of one changed (read again, keyword set)."""
    return any(
        isinstance(each, tuple) and len(each) > 1 and each[1] in (b"EXISTS", b"RECENT", b"FETCH")
        for each in responses
    )


def _copied(text: bytes) -> tuple[int | None, int | None]:
    """UIDVALIDITY and new UID from `[COPYUID 38505 304 3956]` (RFC 4315)."""
    start = text.find(b"COPYUID ")
    if start < 0:
        return None, None
    words = text[start + 8 :].split(b"]")[0].split()
    if len(words) != 3 or not all(word.isdigit() for word in words):
        return None, None
    return int(words[0]), int(words[2])
