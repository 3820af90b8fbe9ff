"""Take in what is new in a watched folder: stored before it is marked, one mail at a time."""

import logging

from django.db import IntegrityError

from veridox.core.pipeline import Collect
from veridox.core.readers import MailContent
from veridox.readerpool import ReaderStoppedError
from veridox.service import wiring
from veridox.service.accounts.actors import Actor
from veridox.service.connections.actions.manage import connection_named, note_health
from veridox.service.connections.models import Connection, ConnectionKind
from veridox.service.errors import AdapterError
from veridox.service.mail.actions.place import note_marked
from veridox.service.mail.actions.store_message import Arrival, store_message
from veridox.service.mail.models import Message
from veridox.service.mail.ports import Mailbox, Outline
from veridox.service.pipelines.models import PipelineVersion
from veridox.service.pipelines.queries import source
from veridox.service.storage import originals

log = logging.getLogger(__name__)
COLLECTOR = Actor.system("collect")
MAX_MAIL = 60 * 2**20
"""Bytes of the largest mail that is fetched."""


def collect(pipeline: str, mailbox: str, folder: str) -> int:
    """Take in new mails of one folder. Returns how many were stored."""
    found = source(pipeline, mailbox, folder)
    if found is None:
        return 0
    version, wanted = found
    connection = connection_named(mailbox, ConnectionKind.MAILBOX)
    try:
        with wiring.open_mailbox(connection) as box:
            count = _round(box, connection, version, wanted)
    except AdapterError as error:
        note_health(mailbox, str(error))
        raise
    note_health(mailbox, "")
    return count


def _round(box: Mailbox, connection: Connection, version: PipelineVersion, wanted: Collect) -> int:
    uidvalidity = box.select(wanted.folder)
    uids = box.search(unread=wanted.unread)
    known = dict(
        Message.objects.filter(
            connection=connection,
            arrived_folder=wanted.folder,
            arrived_uidvalidity=uidvalidity,
            arrived_uid__in=uids,
        ).values_list("arrived_uid", "pk")
    )
    for uid, message_id in known.items():
        # Stored in an earlier round that ended before the mark was set.
        box.mark_read(uid)
        note_marked(message_id)
    count = 0
    for outline in box.outlines([uid for uid in uids if uid not in known]):
        if wanted_by(wanted, outline):
            count += _take(box, connection, version, wanted.folder, uidvalidity, outline)
    return count


def wanted_by(wanted: Collect, outline: Outline) -> bool:
    """Whether a mail meets the pipeline's conditions; others are left as they are."""
    if wanted.with_files and not outline.has_files:
        return False
    subject = outline.subject.casefold()
    return not wanted.subject or any(word.casefold() in subject for word in wanted.subject)


def _take(
    box: Mailbox,
    connection: Connection,
    version: PipelineVersion,
    folder: str,
    uidvalidity: int,
    outline: Outline,
) -> int:
    content, sha256, hashes = _content(box, outline)
    if content is None:
        return 0
    arrival = Arrival(
        folder=folder,
        uidvalidity=uidvalidity,
        uid=outline.uid,
        received_at=outline.received_at,
        size=outline.size,
        sha256=sha256,
    )
    try:
        message = store_message(COLLECTOR, connection, version, arrival, content, hashes)
    except IntegrityError:
        return 0  # another worker stored it at the same time, and marks it
    log.info("mail taken in", extra={"mail": message.pk})
    box.mark_read(outline.uid)
    note_marked(message.pk)
    return 1


def _content(box: Mailbox, outline: Outline) -> tuple[MailContent | None, str, tuple[str, ...]]:
    """A mail's parts, stored; what cannot be taken apart is stored whole with the reason."""
    if outline.size > MAX_MAIL:
        reason = f"{outline.size:,} bytes; mails of {MAX_MAIL:,} are fetched at most"
        return _unopened(outline, reason), "", ()
    raw = box.fetch(outline.uid)
    if raw is None:
        return None, "", ()
    store = originals()
    sha256 = store.put(raw)
    try:
        content = wiring.reader_pool().mail(raw)
    except ReaderStoppedError as error:
        return _unopened(outline, str(error)), sha256, ()
    return content, sha256, tuple(store.put(file.content) for file in content.files)


def _unopened(outline: Outline, reason: str) -> MailContent:
    return MailContent(
        message_id="",
        sender_name="",
        sender_address="",
        recipients=(),
        subject=outline.subject,
        sent=None,
        text="",
        defects=(reason,),
    )
