"""The accounted-for report: what a server lists against what is stored and what became of it."""

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from django.utils import timezone

from veridox.core.pipeline import Collect, Wanted
from veridox.service import wiring
from veridox.service.connections.actions.manage import connection_named
from veridox.service.connections.models import Connection, ConnectionKind
from veridox.service.errors import AdapterError
from veridox.service.mail.models import Message
from veridox.service.mail.outcomes import outcome_of, said_of
from veridox.service.mail.ports import Mailbox, Outline
from veridox.service.mail.wanted import unmet_by
from veridox.service.pipelines.models import PipelineVersion
from veridox.service.pipelines.queries import sources
from veridox.service.storage import originals

GRACE = timedelta(minutes=10)
"""For so long a wanted mail may lie untaken before it is a difference."""
USUAL = timedelta(days=7)
TAKEN, NOT_WANTED, WAITING = "taken in", "not wanted", "not taken yet"
UNEXPLAINED, FOREIGN = "unexplained", "put there by somebody"
GONE, LOST = "gone from the mailbox", "lost"
STANDS = (TAKEN, NOT_WANTED, WAITING, UNEXPLAINED, FOREIGN, GONE, LOST)
DIFFERENCES = (UNEXPLAINED, LOST)


@dataclass(frozen=True, kw_only=True, slots=True)
class Row:
    """One mail, on the server or stored.

    Attributes:
        stands: one of `STANDS`; those of `DIFFERENCES` need somebody to look.
        why: the condition of a mail that is not wanted, or what became of the others.
        message: the stored mail, or None.
    """

    folder: str
    sender: str
    subject: str
    received_at: datetime
    stands: str
    outcome: str
    why: str
    message: int | None
    message_id: str


@dataclass(frozen=True, kw_only=True, slots=True)
class Accounted:
    """All mails of a mailbox and period."""

    mailbox: str
    since: date
    until: date
    counted_at: datetime
    totals: dict[str, int]
    rows: tuple[Row, ...]

    @property
    def good(self) -> bool:
        """Whether everything is accounted for."""
        return not any(self.totals[name] for name in DIFFERENCES)


def account(mailbox: str, since: date | None = None, until: date | None = None) -> Accounted:
    """Compare a mailbox with the records, by the day on which the server got each mail.

    Args:
        mailbox: name of the connection.
        since, until: first and last day (UTC); a week up to today when not given.

    Raises:
        NotThereError: no such mailbox.
        UnreachableError: the server does not answer.
    """
    connection = connection_named(mailbox, ConnectionKind.MAILBOX)
    now = timezone.now()
    until = until or now.date()
    since = since or until - USUAL
    mine = [(version, collect) for version, collect in sources() if collect.mailbox == mailbox]
    rows: list[Row] = []
    seen: set[int] = set()
    with wiring.open_mailbox(connection) as box:
        for version, collect in mine:
            rows += _of_folder(box, connection, version, collect, since, until, now, seen)
        kept = {
            name
            for _, collect in mine
            for name in (
                collect.afterwards.done, collect.afterwards.people, collect.afterwards.failed,
            )
        }  # fmt: skip
        for folder in sorted(kept - {collect.folder for _, collect in mine}):
            rows += _of_kept(box, connection, folder, since, until, seen)
    rows += _gone(connection, since, until, seen)
    counts = Counter(row.stands for row in rows)
    return Accounted(
        mailbox=mailbox,
        since=since,
        until=until,
        counted_at=now,
        totals={name: counts[name] for name in STANDS},
        rows=tuple(sorted(rows, key=lambda row: row.received_at, reverse=True)),
    )


def _listed(box: Mailbox, folder: str, since: date, until: date) -> tuple[int, list[Outline]]:
    uidvalidity = box.select(folder, look=True)
    period = Wanted(unread=False, with_files=False, since=since, before=until + timedelta(days=1))
    uids = box.search(period, until)
    inside = [
        outline
        for outline in box.outlines(uids)
        # The server's net is a day wider on each side.
        if since <= outline.received_at.date() <= until
    ]
    return uidvalidity, inside


def _stored(connection: Connection, folder: str, uidvalidity: int) -> dict[int, Message]:
    rows = Message.objects.filter(connection=connection, folder=folder, uidvalidity=uidvalidity)
    return {row.uid: row for row in rows.prefetch_related("files__documents") if row.uid}


def _of_folder(
    box: Mailbox, connection: Connection, version: PipelineVersion, collect: Collect,
    since: date, until: date, now: datetime, seen: set[int],
) -> Iterator[Row]:  # fmt: skip
    uidvalidity, outlines = _listed(box, collect.folder, since, until)
    stored = _stored(connection, collect.folder, uidvalidity)
    for outline in outlines:
        message = stored.get(outline.uid)
        if message is not None:
            seen.add(message.pk)
            yield _taken(collect.folder, outline, message)
            continue
        failed = unmet_by(collect.only, box, outline, now.date())
        if failed is not None:
            why = f"{failed.name}: {failed.said}"
            yield _row(collect.folder, outline, NOT_WANTED, why)
        elif max(outline.received_at, version.published_at) > now - GRACE:
            yield _row(collect.folder, outline, WAITING, "the next round takes it")
        else:
            since_when = f"wanted since {outline.received_at:%Y-%m-%d %H:%M} UTC, and not taken in"
            yield _row(collect.folder, outline, UNEXPLAINED, since_when)


def _of_kept(
    box: Mailbox, connection: Connection, folder: str, since: date, until: date, seen: set[int]
) -> Iterator[Row]:
    try:
        uidvalidity, outlines = _listed(box, folder, since, until)
    except AdapterError:
        return  # it is made when the first mail is moved into it
    stored = _stored(connection, folder, uidvalidity)
    by_id = {message.message_id: message for message in stored.values() if message.message_id}
    for outline in outlines:
        message = stored.get(outline.uid) or by_id.get(outline.message_id)
        if message is None and outline.message_id:
            # Moved, and the server did not tell where to; or a move whose answer was lost.
            message = Message.objects.filter(
                connection=connection, message_id=outline.message_id
            ).first()
        if message is None:
            yield _row(folder, outline, FOREIGN, "it was never in a watched folder when we looked")
        elif message.pk not in seen:
            seen.add(message.pk)
            yield _taken(folder, outline, message)


def _taken(folder: str, outline: Outline, message: Message) -> Row:
    if message.sha256 and not originals().holds(message.sha256):
        return _row(folder, outline, LOST, "its original is missing from the store", message)
    return _row(folder, outline, TAKEN, said_of(message), message)


def _gone(connection: Connection, since: date, until: date, seen: set[int]) -> Iterator[Row]:
    """Stored mails that no folder lists any more: somebody took them away; ours is kept."""
    rows = Message.objects.filter(
        connection=connection,
        received_at__date__gte=since,
        received_at__date__lte=until,
    ).exclude(pk__in=seen)
    for message in rows.prefetch_related("files__documents"):
        held = not message.sha256 or originals().holds(message.sha256)
        yield Row(
            folder=message.folder,
            sender=message.sender_address,
            subject=message.subject,
            received_at=message.received_at,
            stands=GONE if held else LOST,
            outcome=outcome_of(message),
            why=said_of(message) if held else "its original is missing from the store",
            message=message.pk,
            message_id=message.message_id,
        )


def _row(
    folder: str, outline: Outline, stands: str, why: str, message: Message | None = None
) -> Row:
    return Row(
        folder=folder,
        sender=next((address for _, address in outline.senders), ""),
        subject=outline.subject,
        received_at=outline.received_at,
        stands=stands,
        outcome=outcome_of(message) if message else "",
        why=why,
        message=message.pk if message else None,
        message_id=outline.message_id,
    )
