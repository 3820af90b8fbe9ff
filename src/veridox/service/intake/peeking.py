"""Look into a folder without touching it: which mails would be taken, and what decides."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime
from itertools import islice

from django.utils import timezone

from veridox.core.pipeline import Collect, Condition, Wanted
from veridox.service import wiring
from veridox.service.connections.actions.manage import connection_named
from veridox.service.connections.models import ConnectionKind
from veridox.service.errors import NotThereError
from veridox.service.intake.models import Message
from veridox.service.intake.wanted import looked_at
from veridox.service.pipelines.models import PipelineVersion
from veridox.service.pipelines.queries import sources
from veridox.service.ports.mailbox import Mailbox, Outline, file_names

MOST = 500


@dataclass(frozen=True, kw_only=True, slots=True)
class Look:
    """What would become of one mail.

    Attributes:
        stands: `would be taken`, `taken in`, or `left`.
        decides: the condition that decides, empty when all hold.
        conditions: all that were looked at, up to the one that decides.
        message: the stored mail, or None.
    """

    uid: int
    sender: str
    subject: str
    received_at: datetime
    size: int
    files: tuple[str, ...]
    stands: str
    decides: str
    said: str
    conditions: tuple[Condition, ...]
    message: int | None


def source_of(mailbox: str, folder: str, pipeline: str) -> tuple[PipelineVersion, Collect]:
    """The pipeline that watches a folder. Raises NotThereError."""
    found = [
        (version, collect)
        for version, collect in sources()
        if collect.mailbox == mailbox
        and (not folder or collect.folder == folder)
        and (not pipeline or version.pipeline.name == pipeline)
    ]
    if not found:
        where = f"folder {folder!r} of {mailbox!r}" if folder else repr(mailbox)
        by = f" for {pipeline!r}" if pipeline else ""
        raise NotThereError(f"no running pipeline collects from {where}{by}")
    return found[0]


def peek(mailbox: str, folder: str = "", pipeline: str = "", most: int = 50) -> list[Look]:
    """The newest mails of a watched folder, newest first.

    Raises:
        NotThereError: no such mailbox, or no pipeline collects from it.
        UnreachableError: the server does not answer.
    """
    connection = connection_named(mailbox, ConnectionKind.MAILBOX)
    _, collect = source_of(mailbox, folder, pipeline)
    with wiring.open_mailbox(connection) as box:
        uidvalidity = box.select(collect.folder, look=True)
        everything = Wanted(unread=False, with_files=False)
        uids = box.search(everything, timezone.now().date())[-min(most, MOST) :]
        stored = dict(
            Message.objects.filter(
                connection=connection, folder=collect.folder, uidvalidity=uidvalidity, uid__in=uids
            ).values_list("uid", "pk")
        )
        looks = [_look(box, collect, each, stored.get(each.uid)) for each in box.outlines(uids)]
    return looks[::-1]


def until_unmet(conditions: Iterator[Condition]) -> tuple[Condition, ...]:
    """Conditions up to the first that does not hold."""
    found: list[Condition] = []
    for each in conditions:
        found.append(each)
        if not each.met:
            break
    return tuple(found)


def _look(box: Mailbox, collect: Collect, outline: Outline, stored: int | None) -> Look:
    conditions = until_unmet(looked_at(collect.only, box, outline, timezone.now().date()))
    last = next(islice(reversed(conditions), 1), None)
    failed = last if last is not None and not last.met else None
    stands = "taken in" if stored else "left" if failed else "would be taken"
    return Look(
        uid=outline.uid,
        sender=next((address for _, address in outline.senders), ""),
        subject=outline.subject,
        received_at=outline.received_at,
        size=outline.size,
        files=tuple(name or "unnamed" for name in file_names(outline)),
        stands=stands,
        decides="" if stored or failed is None else failed.name,
        said=f"as mail {stored}" if stored else failed.said if failed else "",
        conditions=conditions,
        message=stored,
    )
