"""Take in what is new in a watched folder: mails are stored before they are marked."""

import logging
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date
from functools import cached_property, partial
from itertools import islice

from django.db import DatabaseError, IntegrityError, OperationalError
from django.utils import timezone

from veridox.core.findings.wording import counted
from veridox.core.pipeline import Collect
from veridox.service import wiring
from veridox.service.accounts.actors import Actor
from veridox.service.connections.actions.manage import connection_named, note_health
from veridox.service.connections.models import Connection, ConnectionKind
from veridox.service.errors import AdapterError, VeridoxError
from veridox.service.mail.actions.place import note_marked, note_refused, note_relocated
from veridox.service.mail.actions.store_messages import store_messages
from veridox.service.mail.actions.take_again import take_again
from veridox.service.mail.hands import Done, Hands
from veridox.service.mail.models import Message, Refusal
from veridox.service.mail.ports import Mailbox, Outline
from veridox.service.mail.taken import Arrival, Taken, take_apart, unopened
from veridox.service.mail.wanted import unmet_by
from veridox.service.pipelines.models import PipelineVersion
from veridox.service.pipelines.queries import source
from veridox.service.storage import originals

log = logging.getLogger(__name__)
COLLECTOR = Actor.system("collect")
MAX_MAIL = 80 * 2**20
"""Bytes of the largest mail that is fetched; attachments of 60 MB are 80 when encoded."""
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

    def refused(self) -> set[int]:
        """UIDs that this version of the pipeline looked at and will never take."""
        rows = Refusal.objects.filter(
            connection=self.connection,
            folder=self.collect.folder,
            uidvalidity=self.uidvalidity,
            pipeline_version=self.version,
        )
        return set(rows.values_list("uid", flat=True))


class Intake:
    """Stores mails in groups and marks them; what cannot be stored keeps no other from it.

    Attributes:
        stored: how many were.
        failures: UIDs of mails that could not be stored, with the reason.
    """

    def __init__(self, now: Round) -> None:
        self.now, self.stored = now, 0
        self.failures: dict[int, Exception] = {}

    def take(self, group: list[Done]) -> None:
        """Store and mark a group of mails that are taken apart or about to be."""
        mails: list[Taken] = []
        for uid, future in group:
            error = future.exception()
            if error is None:
                mails.append(future.result())
            elif isinstance(error, Exception):
                self._failed(uid, error)
            else:
                raise error  # the process is to end
        rows = self._store(mails)
        if rows:
            self.stored += len(rows)
            self.now.box.mark(
                [row.arrived_uid for row in rows], self.now.collect.afterwards.keyword
            )
            note_marked(*(row.pk for row in rows))

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
                self._failed(mails[0].arrival.uid, error)
            return []
        log.info("mails taken in", extra={"mails": [row.pk for row in rows]})
        return rows

    def problem(self) -> str:
        """What could not be stored, as a sentence; empty when all was."""
        for uid, error in self.failures.items():
            count = counted(len(self.failures), "mail")
            return f"{count} cannot be stored; the first, number {uid} in the folder: {error}"
        return ""

    def _failed(self, uid: int, error: Exception) -> None:
        self.failures[uid] = error
        where = {"mailbox": self.now.connection.name, "uid": uid}
        log.error("a mail cannot be stored", extra=where, exc_info=error)


def collect(pipeline: str, mailbox: str, folder: str) -> int:
    """Take in new mails of one folder, round by round. Returns how many were stored.

    Mails that cannot be stored are told as the connection's health; all others are
    stored by then, and those are tried again in the next round.

    Raises:
        AdapterError: the mail server cannot be reached, or answers with a refusal.
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
    note_health(mailbox, intake.problem())
    return intake.stored


def _round(intake: Intake) -> bool:
    """Take in what is new. Returns whether more wait for the next round."""
    now = intake.now
    only = now.collect.only
    uids = now.box.search(only, now.today)
    known = now.known()
    for uid in uids:
        if uid in known:
            _again(now, uid, *known[uid])
    passed_over = {*known, *now.refused(), *intake.failures}
    fetched = 0
    with Hands() as hands:
        for outline in _wanted(now, [uid for uid in uids if uid not in passed_over]):
            if fetched == only.at_most:
                break
            if _moved_under_us(now, outline):
                continue
            sha256 = _fetched(now.box, outline)
            if sha256 is not None:
                fetched += 1
                hands.give(outline.uid, partial(_taken, now, outline, sha256))
                intake.take(hands.ready())
        for group in hands.rest():
            intake.take(group)
    return fetched == only.at_most


def _again(now: Round, uid: int, message_id: int, marked: bool) -> None:
    """A stored mail comes up: never marked, or marked unread again by somebody."""
    if marked and now.collect.only.unread:
        take_again(COLLECTOR, message_id, "marked as unread in the mailbox")
    if not marked or now.collect.only.unread:
        now.box.mark([uid], now.collect.afterwards.keyword)
        note_marked(message_id)


def _wanted(now: Round, uids: list[int]) -> Iterator[Outline]:
    """Mails that meet all conditions; what never will is remembered and looked at no more."""
    refusals: list[tuple[int, str]] = []
    try:
        for outline in now.box.outlines(uids):
            failed = unmet_by(now.collect.only, now.box, outline, now.today)
            if failed is None:
                yield outline
            elif failed.lasting:
                refusals.append((outline.uid, failed.name))
    finally:
        where = (now.connection.pk, now.collect.folder, now.uidvalidity)
        note_refused(*where, now.version.pk, refusals)


def _moved_under_us(now: Round, outline: Outline) -> bool:
    """The server numbered the folder anew (UIDVALIDITY, RFC 3501, 2.3.1.1): the same mail."""
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
        now.box.mark([outline.uid], now.collect.afterwards.keyword)
        note_marked(message.pk)
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
    return take_apart(originals().get(sha256), arrival, now.collect, instead)
