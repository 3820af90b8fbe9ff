"""Store a mail with all its files and the jobs that read them, in one transaction."""

import hashlib
from dataclasses import dataclass
from datetime import datetime

from django.db import transaction

from veridox.core.readers import MailContent
from veridox.service.accounts.actors import Actor
from veridox.service.connections.models import Connection
from veridox.service.documents.actions.receive import add_file
from veridox.service.mail.actions.settle import settle
from veridox.service.mail.models import Message
from veridox.service.pipelines.models import PipelineVersion
from veridox.service.trail.record import record


@dataclass(frozen=True, kw_only=True, slots=True)
class Arrival:
    """Where and when a mail was found on the server."""

    folder: str
    uidvalidity: int
    uid: int
    received_at: datetime
    size: int
    sha256: str


@transaction.atomic
def store_message(
    actor: Actor,
    connection: Connection,
    version: PipelineVersion,
    arrival: Arrival,
    content: MailContent,
    hashes: tuple[str, ...],
) -> Message:
    """Store a mail; all bytes are in the file store already.

    The same mail a second time (same Message-ID and same content) is recorded
    as a repeat and brings nothing new. The same *place* a second time is refused
    by the database.

    Args:
        actor: the collecting part.
        connection: the mailbox.
        version: the pipeline version that takes it.
        arrival: where it lies.
        content: the mail taken apart.
        hashes: SHA-256 of each file of `content.files`.
    """
    fingerprint = _fingerprint(content, hashes)
    first = None
    if content.message_id:
        first = (
            Message.objects.filter(
                connection=connection, message_id=content.message_id, fingerprint=fingerprint
            )
            .order_by("pk")
            .first()
        )
    message = Message.objects.create(
        connection=connection,
        pipeline_version=version,
        arrived_folder=arrival.folder,
        arrived_uidvalidity=arrival.uidvalidity,
        arrived_uid=arrival.uid,
        folder=arrival.folder,
        uidvalidity=arrival.uidvalidity,
        uid=arrival.uid,
        message_id=content.message_id,
        fingerprint=fingerprint,
        repeat_of=first,
        sender_name=content.sender_name,
        sender_address=content.sender_address,
        recipients=list(content.recipients),
        subject=content.subject,
        text=content.text,
        headers=content.headers,
        defects=list(content.defects),
        sent_at=content.sent,
        received_at=arrival.received_at,
        size=arrival.size,
        sha256=arrival.sha256,
    )
    if first is None:
        for file, sha256 in zip(content.files, hashes, strict=True):
            add_file(
                version,
                name=file.name,
                declared_type=file.declared_type,
                media_type=file.media_type,
                sha256=sha256,
                size=len(file.content),
                position=file.position,
                inline=file.inline,
                message=message,
            )
    settle(message.pk)
    details = {
        "mailbox": connection.name,
        "folder": arrival.folder,
        "uid": arrival.uid,
        "sender": content.sender_address,
        "subject": content.subject,
        "files": [file.name for file in content.files],
        "repeat_of": first.pk if first else None,
    }
    record(actor, "mail.taken", "message", message.pk, details)
    return message


def _fingerprint(content: MailContent, hashes: tuple[str, ...]) -> str:
    parts = [content.sender_address, content.subject, content.text, *hashes]
    return hashlib.sha256("\0".join(parts).encode()).hexdigest()
