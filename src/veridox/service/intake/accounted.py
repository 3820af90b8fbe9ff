"""The accounted-for report: what a server lists against what is stored and what became of it."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta

from django.utils import timezone

from veridox.core.pipeline import Collect, Wanted
from veridox.service import wiring
from veridox.service.connections.actions.manage import connection_named
from veridox.service.connections.models import Connection, ConnectionKind
from veridox.service.errors import AdapterError
from veridox.service.intake.dropping import lying_still, part_of, root_for, shown
from veridox.service.intake.models import File, Message, Refusal, RefusedBefore
from veridox.service.intake.outcomes import outcome_of, outcome_of_file, said_of
from veridox.service.intake.wanted import conditions_key, unmet_by
from veridox.service.pipelines.models import PipelineVersion
from veridox.service.pipelines.queries import directories, sources
from veridox.service.ports.mailbox import Mailbox, Outline
from veridox.service.storage import originals

GRACE = timedelta(minutes=10)
"""For so long a wanted mail may lie untaken before it is a difference."""
USUAL = timedelta(days=7)
TAKEN, NOT_WANTED, WAITING = "taken in", "not wanted", "not taken yet"
UNEXPLAINED, FOREIGN = "unexplained", "put there by somebody"
GONE, LOST = "gone from the mailbox", "lost"
STANDS = (TAKEN, NOT_WANTED, WAITING, UNEXPLAINED, FOREIGN, GONE, LOST)
DIFFERENCES = (UNEXPLAINED, LOST)
HANDED_IN = "handed in"
NO_ORIGINAL = "its original is missing from the store"
STEP = 200
"""Mails between two signs of progress."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Row:
    """One mail or file, on the server, in a directory, or stored.

    Attributes:
        source: name of the mailbox, `directory NAME`, or `handed in`.
        stands: one of `STANDS`; those of `DIFFERENCES` need somebody to look.
        why: the condition of a mail that is not wanted, or what became of the others.
        message, file: the stored mail or file, or None.
    """

    source: str
    folder: str
    sender: str
    subject: str
    received_at: datetime
    stands: str
    outcome: str
    why: str
    message: int | None = None
    file: int | None = None
    message_id: str = ""


@dataclass(frozen=True, slots=True)
class Period:
    """First and last day (UTC), and when it is looked at."""

    since: date
    until: date
    now: datetime

    def holds(self, moment: datetime) -> bool:
        """Whether a moment is one of its days."""
        return self.since <= moment.date() <= self.until


@dataclass
class Progress:
    """How far a count is; `told` is called now and then with what is done, of how much."""

    told: Callable[[int, int], None] | None = None
    done: int = 0
    total: int = 0

    def more(self, total: int) -> None:
        """So much more is to be looked at."""
        self.total += total

    def step(self) -> None:
        """One more is looked at."""
        self.done += 1
        if self.told is not None and self.done % STEP == 0:
            self.told(self.done, self.total)


def period_of(since: date | None = None, until: date | None = None) -> Period:
    """A week up to today where nothing is said."""
    now = timezone.now()
    last = until or now.date()
    return Period(since or last - USUAL, last, now)


def rows_of_mailbox(mailbox: str, period: Period, progress: Progress) -> Iterator[Row]:
    """Compare a mailbox with the records, by the day on which the server got each mail.

    Raises:
        NotThereError: no such mailbox.
        UnreachableError: the server does not answer.
    """
    connection = connection_named(mailbox, ConnectionKind.MAILBOX)
    mine = [(version, collect) for version, collect in sources() if collect.mailbox == mailbox]
    seen: set[int] = set()
    with wiring.open_mailbox(connection) as box:
        look = Looking(box, connection, period, progress, seen)
        for version, collect in mine:
            yield from _of_folder(look, version, collect)
        kept = {
            name
            for _, collect in mine
            for name in (
                collect.afterwards.done, collect.afterwards.people, collect.afterwards.failed,
            )
        }  # fmt: skip
        for folder in sorted(kept - {collect.folder for _, collect in mine}):
            yield from _of_kept(look, folder)
    yield from _gone(connection, period, seen)


@dataclass(frozen=True)
class Looking:
    """What goes with a look into one mailbox; `seen` are stored mails that were found there."""

    box: Mailbox
    connection: Connection
    period: Period
    progress: Progress
    seen: set[int]

    def listed(self, folder: str) -> tuple[int, Iterator[Outline]]:
        """UIDVALIDITY of a folder, and its mails of the period."""
        uidvalidity = self.box.select(folder, look=True)
        first, last = self.period.since, self.period.until
        net = Wanted(unread=False, with_files=False, since=first, before=last + timedelta(days=1))
        uids = self.box.search(net, last)
        self.progress.more(len(uids))
        return uidvalidity, self._inside(uids)

    def _inside(self, uids: list[int]) -> Iterator[Outline]:
        for outline in self.box.outlines(uids):
            self.progress.step()
            # The server's net is a day wider on each side.
            if self.period.holds(outline.received_at):
                yield outline

    def stored(self, folder: str, uidvalidity: int) -> dict[int, Message]:
        """Stored mails of the period that lie there, by UID."""
        # A clock of another machine may be off: a day more on each side costs little.
        rows = Message.objects.filter(
            connection=self.connection, folder=folder, uidvalidity=uidvalidity,
            received_at__date__gte=self.period.since - timedelta(days=1),
            received_at__date__lte=self.period.until + timedelta(days=1),
        ).defer("text", "html", "headers", "parts")  # fmt: skip
        return {row.uid: row for row in rows.prefetch_related("files__documents") if row.uid}

    def row(
        self, folder: str, outline: Outline, stands: str, why: str, message: Message | None = None
    ) -> Row:
        """A mail that the server lists."""
        subject = outline.subject
        if outline.opaque:
            subject = message.subject if message else f"(mail {outline.uid}, cannot be read)"
        return Row(
            source=self.connection.name,
            folder=folder,
            sender=next((address for _, address in outline.senders), "")
            or (message.sender_address if message else ""),
            subject=subject,
            received_at=outline.received_at,
            stands=stands,
            outcome=outcome_of(message) if message else "",
            why=why,
            message=message.pk if message else None,
            message_id=outline.message_id,
        )


def _of_folder(look: Looking, version: PipelineVersion, collect: Collect) -> Iterator[Row]:
    folder = collect.folder
    uidvalidity, outlines = look.listed(folder)
    stored = look.stored(folder, uidvalidity)
    refused = dict(
        Refusal.objects.filter(
            connection=look.connection, folder=folder, uidvalidity=uidvalidity,
            wanted=conditions_key(collect.only),
        ).values_list("uid", "condition")
    )  # fmt: skip
    now = look.period.now
    for outline in outlines:
        message = stored.get(outline.uid)
        if message is not None:
            look.seen.add(message.pk)
            yield _taken(look, folder, outline, message)
            continue
        why = _not_wanted(look, collect, outline, refused)
        if why:
            yield look.row(folder, outline, NOT_WANTED, why)
        elif max(outline.received_at, version.published_at) > now - GRACE:
            yield look.row(folder, outline, WAITING, "the next round takes it")
        else:
            since_when = f"wanted since {outline.received_at:%Y-%m-%d %H:%M} UTC, and not taken in"
            yield look.row(folder, outline, UNEXPLAINED, since_when)


def _not_wanted(look: Looking, collect: Collect, outline: Outline, refused: dict[int, str]) -> str:
    """The condition that keeps a mail out, as a sentence; empty when it is wanted."""
    # To look at a text again each time would ask the server for every mail's text.
    if refused.get(outline.uid) == "text" or (outline.opaque and outline.uid in refused):
        return f"{refused[outline.uid]}: not met when it was first looked at"
    if outline.opaque:
        return ""
    failed = unmet_by(collect.only, look.box, outline, look.period.now.date())
    return f"{failed.name}: {failed.said}" if failed else ""


def _of_kept(look: Looking, folder: str) -> Iterator[Row]:
    try:
        uidvalidity, outlines = look.listed(folder)
    except AdapterError:
        return  # it is made when the first mail is moved into it
    stored = look.stored(folder, uidvalidity)
    by_id = {message.message_id: message for message in stored.values() if message.message_id}
    for outline in outlines:
        message = stored.get(outline.uid) or by_id.get(outline.message_id)
        if message is None and outline.message_id:
            # Moved, and the server did not tell where to; or a move whose answer was lost.
            message = Message.objects.filter(
                connection=look.connection, message_id=outline.message_id
            ).first()
        if message is None:
            why = "it was never in a watched folder when we looked"
            yield look.row(folder, outline, FOREIGN, why)
        elif message.pk not in look.seen:
            look.seen.add(message.pk)
            yield _taken(look, folder, outline, message)


def _taken(look: Looking, folder: str, outline: Outline, message: Message) -> Row:
    if message.sha256 and not originals().holds(message.sha256):
        return look.row(folder, outline, LOST, NO_ORIGINAL, message)
    return look.row(folder, outline, TAKEN, said_of(message), message)


def _gone(connection: Connection, period: Period, seen: set[int]) -> Iterator[Row]:
    """Stored mails that no folder lists any more: somebody took them away; ours is kept."""
    rows = Message.objects.filter(
        connection=connection,
        received_at__date__gte=period.since,
        received_at__date__lte=period.until,
    ).exclude(pk__in=seen)
    for message in rows.prefetch_related("files__documents"):
        yield _stored_mail(connection.name, message, GONE)


def _stored_mail(source: str, message: Message, stands: str) -> Row:
    held = not message.sha256 or originals().holds(message.sha256)
    return Row(
        source=source,
        folder=message.folder,
        sender=message.sender_address,
        subject=message.subject,
        received_at=message.received_at,
        stands=stands if held else LOST,
        outcome=outcome_of(message),
        why=said_of(message) if held else NO_ORIGINAL,
        message=message.pk,
        message_id=message.message_id,
    )


def rows_of_former_mailboxes(
    period: Period, watched: Sequence[str], progress: Progress
) -> Iterator[Row]:
    """Stored mails of mailboxes that no running pipeline collects from any more."""
    mails = Message.objects.filter(
        connection__isnull=False,
        received_at__date__gte=period.since,
        received_at__date__lte=period.until,
    ).exclude(connection__name__in=watched)
    progress.more(mails.count())
    rows = mails.select_related("connection").prefetch_related("files__documents")
    for message in rows.iterator(chunk_size=1_000):
        progress.step()
        yield _stored_mail(message.connection.name, message, TAKEN)


def rows_of_drops(period: Period, progress: Progress) -> Iterator[Row]:
    """Files that lie in watched directories now and are not stored."""
    for version, collect in directories():
        folder = root_for(collect.watch)
        files = list(lying_still(folder)) if folder.is_dir() else []
        progress.more(len(files))
        for seen in files:
            progress.step()
            arrived = datetime.fromtimestamp(seen.path.lstat().st_ctime, UTC)
            if File.objects.filter(dropped_as=seen.key(collect.watch)).exists():
                continue  # stored, and about to be moved: listed among the stored ones
            fresh = max(arrived, version.published_at) > period.now - GRACE
            yield Row(
                source=part_of(collect.watch),
                folder=collect.watch,
                sender="",
                subject=shown(seen.path),
                received_at=arrived,
                stands=WAITING if fresh else UNEXPLAINED,
                outcome="",
                why="the next round takes it"
                if fresh
                else f"lies there since {arrived:%Y-%m-%d %H:%M} UTC, and is not taken in",
            )


def rows_of_handed_in(period: Period, progress: Progress) -> Iterator[Row]:
    """Files and mails that came by directory, API, client, command line or console."""
    files = File.objects.filter(
        message=None,
        received_at__date__gte=period.since,
        received_at__date__lte=period.until,
    ).defer("text", "words")
    mails = Message.objects.filter(
        connection=None,
        received_at__date__gte=period.since,
        received_at__date__lte=period.until,
    ).defer("text", "html", "headers", "parts")
    progress.more(files.count() + mails.count())
    for file in files.prefetch_related("documents").iterator(chunk_size=1_000):
        progress.step()
        held = originals().holds(file.sha256)
        dropped = file.dropped_as is not None
        yield Row(
            source=part_of(str(file.dropped_as).split(":")[0]) if dropped else HANDED_IN,
            folder="",
            sender=file.uploaded_by,
            subject=file.name,
            received_at=file.received_at,
            stands=TAKEN if held else LOST,
            outcome=outcome_of_file(file),
            why=(file.reason or outcome_of_file(file)) if held else NO_ORIGINAL,
            file=file.pk,
        )
    for message in mails.prefetch_related("files__documents").iterator(chunk_size=1_000):
        progress.step()
        yield _stored_mail(HANDED_IN, message, TAKEN)


def refused_before(mailbox: str | None = None) -> list[dict[str, object]]:
    """Unwanted mails that lie there no longer, counted by condition."""
    rows = RefusedBefore.objects.select_related("connection").order_by("folder", "condition")
    if mailbox:
        rows = rows.filter(connection__name=mailbox)
    return [
        {
            "mailbox": row.connection.name,
            "folder": row.folder,
            "condition": row.condition,
            "count": row.count,
        }
        for row in rows
    ]
