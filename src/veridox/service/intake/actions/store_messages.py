"""Store mails with all their files and the jobs that read them, in one transaction."""

import hashlib
from collections.abc import Sequence

from django.db import connection as database
from django.db import transaction

from veridox.core.pipeline import Collect
from veridox.core.pipeline.sorting import Plan, piece_of, plans_for
from veridox.core.pipeline.states import TAKEN_IN
from veridox.service.accounts.actors import Actor
from veridox.service.connections.models import Connection
from veridox.service.intake.actions.moves import queue_move, resting_place
from veridox.service.intake.actions.reading import defer_reading
from veridox.service.intake.actions.receive import letter_to_json, mail_file
from veridox.service.intake.logos import known_dress
from veridox.service.intake.models import File, FileState, Message
from veridox.service.intake.taken import Taken
from veridox.service.pipelines.actions.runs import joined
from veridox.service.pipelines.models import PipelineVersion
from veridox.service.pipelines.queries import definition_of
from veridox.service.trail.record import Act, record_all
from veridox.service.work import defer_all

MOST_HTML = 500_000
"""Characters of a mail's HTML that are kept; the original keeps all."""


@transaction.atomic
def store_messages(
    actor: Actor,
    connection: Connection | None,
    version: PipelineVersion,
    collect: Collect,
    mails: Sequence[Taken],
) -> list[Message]:
    """Store mails; all bytes are in the file store already. All of them, or none.

    The same mail a second time (same Message-ID and same content) is recorded
    as a repeat and brings nothing new.

    Args:
        actor: the collecting part, or who handed them in.
        connection: the mailbox; None for mails that were handed in as files.
        version: the pipeline version that takes them.
        collect: which of their files are read.
        mails: taken apart.

    Returns:
        Their records, in the same order.

    Raises:
        IntegrityError: what lies at one of these *places* is stored already.
    """
    run = joined(version)
    rows = [_row(actor, connection, version, mail) for mail in mails]
    for row in rows:
        row.run = run
    _find_firsts(connection, rows)
    dress = _dress(mails)
    files = [[] if row.repeat_of else _files(row, mail, collect, dress)
             for row, mail in zip(rows, mails, strict=True)]  # fmt: skip
    for row, its in zip(rows, files, strict=True):
        if connection is not None and row.repeat_of is None and not _read(its):
            # Nothing will become of it by itself; else its files settle it when they are read.
            row.moving_to = resting_place(row)
    # What others point at comes first: the first of two copies, the bill beside its XML.
    Message.objects.bulk_create([row for row in rows if row.repeat_of is None])
    Message.objects.bulk_create([row for row in rows if row.repeat_of is not None])
    every = [file for its in files for file in its]
    File.objects.bulk_create([file for file in every if file.goes_with is None])
    File.objects.bulk_create([file for file in every if file.goes_with is not None])
    defer_reading(_read(every))
    queue_move([row for row in rows if row.moving_to])
    repeats = [row for row in rows if row.repeat_of is not None]
    defer_all("settle", [{"message_id": row.pk} for row in repeats])
    if any(tell.on == TAKEN_IN for tell in definition_of(version).tell):
        firsts = [row for row in rows if row.repeat_of is None]
        defer_all("announce", [{"message_id": row.pk} for row in firsts])
    record_all(actor, [_act(row, mail) for row, mail in zip(rows, mails, strict=True)])
    return rows


def _row(
    actor: Actor, connection: Connection | None, version: PipelineVersion, mail: Taken
) -> Message:
    arrival, content = mail.arrival, mail.content
    return Message(
        connection=connection,
        handed_in_by="" if connection else actor.name,
        pipeline_version=version,
        arrived_folder=arrival.folder,
        arrived_uidvalidity=arrival.uidvalidity,
        arrived_uid=arrival.uid,
        folder=arrival.folder,
        uidvalidity=arrival.uidvalidity,
        uid=arrival.uid,
        message_id=content.message_id,
        fingerprint=_fingerprint(mail),
        kind=content.kind,
        kind_reason=content.kind_reason[:300],
        sender_name=content.sender_name,
        sender_address=content.sender_address,
        recipients=list(content.recipients),
        subject=content.subject,
        text=content.text.replace("\0", " "),
        html=content.html.replace("\0", " ")[:MOST_HTML],
        links=list(content.links),
        forwarded=letter_to_json(content.forwarded) if content.forwarded else None,
        parts=[
            {
                "path": part.path,
                "media_type": part.media_type[:255],
                "size": part.size,
                "became": part.became,
                "file": part.file,
            }
            for part in content.parts
        ],
        headers=content.headers,
        defects=list(content.defects),
        sent_at=content.sent,
        received_at=arrival.received_at,
        size=arrival.size,
        sha256=arrival.sha256,
    )


def _read(files: list[File]) -> list[File]:
    return [file for file in files if file.state == FileState.RECEIVED]


def _act(row: Message, mail: Taken) -> Act:
    details = {
        "mailbox": row.connection.name if row.connection else "",
        "folder": row.arrived_folder,
        "uid": row.arrived_uid,
        "sender": row.sender_address,
        "subject": row.subject,
        "kind": row.kind,
        "files": [file.name for file in mail.content.files],
        "repeat_of": row.repeat_of_id,
    }
    return Act("mail.taken", "message", row.pk, details)


def _find_firsts(connection: Connection | None, rows: list[Message]) -> None:
    """Set `repeat_of` where the same mail is stored already, or comes earlier among these."""
    names = sorted({row.message_id for row in rows if row.message_id})
    if not names:
        return
    with database.cursor() as cursor:
        # Two copies stored at the same moment would each take itself for the first. Always
        # in the same order, so that two workers never wait for each other.
        cursor.execute(
            "select pg_advisory_xact_lock(key) from (select hashtextextended(name, 0) as key"
            " from unnest(%s::text[]) as name order by 1) as keys",
            [[f"{connection.pk if connection else 0} {name}" for name in names]],
        )
    stored = Message.objects.filter(connection=connection, message_id__in=names, repeat_of=None)
    firsts = {(row.message_id, row.fingerprint): row for row in stored.order_by("-pk")}
    for row in rows:
        if row.message_id:
            first = firsts.setdefault((row.message_id, row.fingerprint), row)
            row.repeat_of = None if first is row else first


def _dress(mails: Sequence[Taken]) -> dict[str, str]:
    """Inline pictures that come again and again, with the reason."""
    pictures = {
        kept.sha256
        for mail in mails
        for file, kept in zip(mail.content.files, mail.kept, strict=True)
        if file.inline and not file.left_out and file.media_type.startswith("image/")
    }
    return known_dress(tuple(sorted(pictures))) if pictures else {}


def _files(message: Message, mail: Taken, collect: Collect, dress: dict[str, str]) -> list[File]:
    """The mail's files with what becomes of each, not stored yet."""
    pairs = list(zip(mail.content.files, mail.kept, strict=True))
    own_text = [pairs.pop()] if mail.reads_body else []
    pieces = [
        piece_of(
            file, kept.size, "dress" if kept.sha256 in dress else "", dress.get(kept.sha256, "")
        )
        for file, kept in pairs
    ]
    plans = plans_for(pieces, collect.files)
    rows = [
        mail_file(message, file, kept, plan, left_out=piece.left_out)
        for (file, kept), plan, piece in zip(pairs, plans, pieces, strict=True)
    ]
    for row, plan in zip(rows, plans, strict=True):
        if plan.goes_with is not None:
            row.goes_with = rows[plan.goes_with]
    for file, kept in own_text:
        rows.append(mail_file(message, file, kept, Plan(read=True), is_body=True))
    return rows


def _fingerprint(mail: Taken) -> str:
    content = mail.content
    hashes = [kept.sha256 for kept in mail.kept]
    parts = [content.sender_address, content.subject, content.text, *hashes]
    if not content.message_id:
        parts.append(mail.arrival.sha256)
    return hashlib.sha256("\0".join(parts).encode("utf-8", "replace")).hexdigest()
