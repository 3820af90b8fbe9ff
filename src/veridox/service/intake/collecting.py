"""Take in what is new in a watched folder: mails are stored before they are marked."""

import logging
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace
from datetime import date
from functools import cached_property, partial
from itertools import islice

from django.db import DatabaseError, IntegrityError, OperationalError
from django.db.models import QuerySet
from django.utils import timezone

from veridox.core.findings.wording import counted
from veridox.core.pipeline import Collect, Condition
from veridox.service import wiring
from veridox.service.accounts.actors import Actor
from veridox.service.connections.actions.manage import connection_named, note_health
from veridox.service.connections.models import Connection, ConnectionKind
from veridox.service.errors import (
    STUMBLES,
    AdapterError,
    NoRoomError,
    UnreachableError,
    VeridoxError,
)
from veridox.service.intake.actions.place import (
    drop_refusals,
    note_marked,
    note_refused,
    note_relocated,
)
from veridox.service.intake.actions.store_messages import store_messages
from veridox.service.intake.actions.take_again import take_again
from veridox.service.intake.hands import Done, Hands
from veridox.service.intake.models import Message, Refusal
from veridox.service.intake.taken import Arrival, Taken, take_apart, unopened
from veridox.service.intake.wanted import conditions_key, unmet_by, unmet_by_content
from veridox.service.pipelines.models import PipelineVersion
from veridox.service.pipelines.queries import source
from veridox.service.ports.mailbox import Mailbox, Outline
from veridox.service.storage import originals

log = logging.getLogger(__name__)
COLLECTOR = Actor.system("collect")
MAX_MAIL = 80 * 2**20
"""Bytes of the largest mail that is fetched; attachments of 60 MB are 80 when encoded."""
LOOKED_AT = 500
"""Unwanted mails after which it is noted that they were looked at."""
WRONG = (DatabaseError, ValueError, TypeError, LookupError, VeridoxError)
"""What may be wrong with one mail's content; the round goes on with the others."""


@dataclass(frozen=True)
class Round:
    """One look into one folder."""

    box: Mailbox
    connection: Connection
    version: PipelineVersion
    collect: Collect
    uidvalidity: int
    today: date

    @cached_property
    def was_numbered_anew(self) -> bool:
        """Whether stored mails of this folder have numbers that are worth nothing any more."""
        rows = Message.objects.filter(connection=self.connection, folder=self.collect.folder)
        return rows.exclude(uidvalidity=self.uidvalidity).exists()

    def known(self) -> dict[int, tuple[int, bool]]:
        """Stored mails that lie here by UID: record, and whether the read mark was set."""
        rows = Message.objects.filter(
            connection=self.connection,
            folder=self.collect.folder,
            uidvalidity=self.uidvalidity,
        )
        return {
            uid: (pk, marked is not None)
            for uid, pk, marked in rows.values_list("uid", "pk", "marked_at")
            if uid is not None
        }

    def refusals(self) -> QuerySet[Refusal]:
        """Mails that were looked at and do not meet these conditions for good."""
        return Refusal.objects.filter(
            connection=self.connection,
            folder=self.collect.folder,
            uidvalidity=self.uidvalidity,
            wanted=conditions_key(self.collect.only),
        )

    def note_refused(self, uids: list[tuple[int, str]]) -> None:
        """Remember them, each with the condition it fails."""
        key = conditions_key(self.collect.only)
        note_refused(self.connection.pk, self.collect.folder, self.uidvalidity, key, uids)


class NotWantedError(Exception):
    """A mail that had to be fetched to be understood does not meet a condition."""

    def __init__(self, condition: Condition) -> None:
        super().__init__(f"{condition.name}: {condition.said}")
        self.condition = condition


class Intake:
    """Stores mails in groups and marks them; what cannot be stored keeps no other from it.

    Attributes:
        stored: how many were.
        failures: UIDs of mails that could not be stored, with the reason.
        passed_over: UIDs that were fetched and are not wanted.
    """

    def __init__(self, now: Round) -> None:
        self.now, self.stored = now, 0
        self.failures: dict[int, Exception] = {}
        self.passed_over: set[int] = set()

    def take(self, group: list[Done]) -> None:
        """Store and mark a group of mails that are taken apart or about to be."""
        mails: list[Taken] = []
        for uid, future in group:
            error = future.exception()
            if error is None:
                mails.append(future.result())
            elif isinstance(error, NotWantedError):
                self.passed_over.add(uid)
                if error.condition.lasting:
                    self.now.note_refused([(uid, error.condition.name)])
            elif isinstance(error, NoRoomError):
                raise error  # no other mail would fare better
            elif isinstance(error, Exception):
                self.failed(uid, error)
            else:
                raise error  # the process is to end
        rows = self._store(mails)
        self.stored += len(rows)
        self.mark({row.arrived_uid: row.pk for row in rows})

    def mark(self, mails: Mapping[int, int]) -> None:
        """Set the read mark of stored mails (UID to record); one that breaks the line stays."""
        if not mails:
            return
        try:
            self.now.box.mark(list(mails), self.now.collect.afterwards.keyword)
        except UnreachableError as error:
            log.warning("%s mails cannot be marked together: %s", len(mails), error)
            self.now.box.reopen()
            for uid, pk in mails.items():
                self._mark_alone(uid, pk)
            return
        note_marked(*mails.values())

    def _mark_alone(self, uid: int, message_id: int) -> None:
        try:
            self.now.box.mark([uid], self.now.collect.afterwards.keyword)
        except UnreachableError as error:
            self.now.box.reopen()
            self.failed(uid, error)
        else:
            note_marked(message_id)

    def _store(self, mails: list[Taken]) -> list[Message]:
        now = self.now
        if not mails:
            return []
        try:
            rows = store_messages(COLLECTOR, now.connection, now.version, now.collect, mails)
        except WRONG as error:
            if isinstance(error, OperationalError):
                raise  # the database is away: no other mail would fare better
            if len(mails) > 1:
                return [row for mail in mails for row in self._store([mail])]
            # Another worker may have stored it at the same time; that one marks it.
            if not isinstance(error, IntegrityError):
                self.failed(mails[0].arrival.uid, error)
            return []
        log.info("mails taken in", extra={"mails": [row.pk for row in rows]})
        return rows

    def problem(self) -> str:
        """What could not be stored, as a sentence; empty when all was."""
        for uid, error in self.failures.items():
            count = counted(len(self.failures), "mail")
            return f"{count} cannot be stored; the first, number {uid} in the folder: {error}"
        return ""

    def failed(self, uid: int, error: Exception) -> None:
        """A mail that the next round tries again; the others go on."""
        self.failures[uid] = error
        where = {"mailbox": self.now.connection.name, "uid": uid}
        log.error("a mail cannot be stored", extra=where, exc_info=error)


def collect(pipeline: str, mailbox: str, folder: str) -> int:
    """Take in new mails of one folder, round by round. Returns how many were stored.

    Mails that cannot be stored are told as the connection's health; all others are
    stored by then, and those are tried again in the next round. Whatever ends a round is
    told there, too.

    Raises:
        AdapterError: the mail server cannot be reached, or answers with a refusal.
        NoRoomError: the disk is full or cannot be written.
    """
    found = source(pipeline, mailbox, folder)
    if found is None:
        return 0
    version, wanted = found
    connection = connection_named(mailbox, ConnectionKind.MAILBOX)
    try:
        with wiring.open_mailbox(connection) as box:
            uidvalidity = box.select(wanted.folder)
            today = timezone.now().date()
            intake = Intake(Round(box, connection, version, wanted, uidvalidity, today))
            while _round(intake):
                continue
    except AdapterError as error:
        log.warning("collecting from %s: %s", mailbox, error)
        note_health(mailbox, str(error))
        raise
    except Exception as error:
        note_health(mailbox, f"collecting stopped: {type(error).__name__}: {error}")
        raise
    note_health(mailbox, intake.problem())
    return intake.stored


def _round(intake: Intake) -> bool:
    """Take in what is new. Returns whether more wait for the next round."""
    now = intake.now
    only = now.collect.only
    uids = now.box.search(only, now.today)
    known = now.known()
    _again(intake, {uid: known[uid] for uid in uids if uid in known})
    refused = set(now.refusals().values_list("uid", flat=True))
    _forget(now, refused - set(uids))
    passed_over = {*known, *refused, *intake.failures, *intake.passed_over}
    fetched = 0
    with Hands() as hands:
        for outline in _wanted(now, [uid for uid in uids if uid not in passed_over]):
            if fetched == only.at_most:
                break
            if outline is not None and not _moved_under_us(intake, outline):
                work = _to_take(intake, outline)
                if work is not None:
                    fetched += 1
                    hands.give(outline.uid, work)
            intake.take(hands.ready())
        for group in hands.rest():
            intake.take(group)
    return fetched == only.at_most


def _again(intake: Intake, mails: Mapping[int, tuple[int, bool]]) -> None:
    """Stored mails come up: never marked, or marked unread again by somebody."""
    unread = intake.now.collect.only.unread
    for uid, (message_id, marked) in mails.items():
        if marked and unread:
            try:
                take_again(COLLECTOR, message_id, "marked as unread in the mailbox")
            except VeridoxError as error:
                intake.failed(uid, error)
    intake.mark({uid: pk for uid, (pk, marked) in mails.items() if unread or not marked})


def _forget(now: Round, gone: set[int]) -> None:
    """Refused mails that the search does not find any more: somebody read or moved them."""
    if gone:
        drop_refusals(now.refusals().filter(uid__in=sorted(gone)[:LOOKED_AT]))


def _wanted(now: Round, uids: list[int]) -> Iterator[Outline | None]:
    """Mails that meet all conditions; what never will is remembered and looked at no more.

    None comes now and then, so that the caller can store what is ready while many
    unwanted mails are looked at.
    """
    refusals: list[tuple[int, str]] = []
    try:
        for count, outline in enumerate(now.box.outlines(uids), start=1):
            try:
                failed = None if outline.opaque else _unmet(now, outline)
            except (UnreachableError, *STUMBLES) as error:
                # Its text broke the line or cannot be understood: its own bytes are asked.
                now.box.reopen()
                outline, failed = replace(outline, opaque=str(error) or "no text"), None
            if failed is None:
                yield outline
            elif failed.lasting:
                refusals.append((outline.uid, failed.name))
            if count % LOOKED_AT == 0:
                now.note_refused(refusals)
                refusals = []
                yield None
    finally:
        now.note_refused(refusals)


def _unmet(now: Round, outline: Outline) -> Condition | None:
    return unmet_by(now.collect.only, now.box, outline, now.today)


def _to_take(intake: Intake, outline: Outline) -> Callable[[], Taken] | None:
    """The work of taking a mail apart, its bytes stored; None when it is gone or cannot be had."""
    now = intake.now
    for last in (False, True):
        try:
            sha256 = _fetched(now.box, outline)
        except UnreachableError as error:
            now.box.reopen()
            if last:
                intake.failed(outline.uid, error)
        else:
            return None if sha256 is None else partial(_taken, now, outline, sha256)
    return None


def _moved_under_us(intake: Intake, outline: Outline) -> bool:
    """The server numbered the folder anew (UIDVALIDITY, RFC 3501, 2.3.1.1): the same mail."""
    now = intake.now
    if not outline.message_id or not now.was_numbered_anew:
        return False
    stored = Message.objects.filter(
        connection=now.connection,
        folder=now.collect.folder,
        message_id=outline.message_id,
        size=outline.size,
    ).exclude(uidvalidity=now.uidvalidity)
    message = next(islice(stored.order_by("pk"), 1), None)
    if message is None:
        return False
    note_relocated(COLLECTOR, message.pk, now.uidvalidity, outline.uid)
    if message.marked_at is None or not outline.read:
        intake.mark({outline.uid: message.pk})
    return True


def _fetched(box: Mailbox, outline: Outline) -> str | None:
    """The SHA-256 of a mail that is in our store now; empty when too large, None when gone."""
    if outline.size > MAX_MAIL:
        return ""
    parts = box.fetch(outline.uid)
    return None if parts is None else originals().put_parts(parts)


def _taken(now: Round, outline: Outline, sha256: str) -> Taken:
    """A fetched mail taken apart; what cannot be is stored whole with the reason."""
    arrival = Arrival(
        folder=now.collect.folder,
        uidvalidity=now.uidvalidity,
        uid=outline.uid,
        received_at=outline.received_at,
        size=outline.size,
        sha256=sha256,
    )
    if not sha256:
        reason = f"{outline.size:,} bytes; mails of {MAX_MAIL:,} are fetched at most"
        return Taken(arrival=arrival, content=unopened(outline.subject, outline.senders, reason))
    instead = unopened(outline.subject, outline.senders)
    taken = take_apart(originals().get(sha256), arrival, now.collect, instead)
    if outline.opaque:
        failed = unmet_by_content(now.collect.only, taken.content, outline, now.today)
        # What no reader can open either is kept and shown: nothing says that it is not wanted.
        if failed is not None and not taken.unreadable:
            raise NotWantedError(failed)
    return taken
