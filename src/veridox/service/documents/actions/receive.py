"""Take in a file: stored already, now known, and to be read or set aside."""

from django.db import transaction

from veridox.service.accounts.actors import Actor
from veridox.service.documents import jobs
from veridox.service.documents.models import File, FileState
from veridox.service.mail.models import Message
from veridox.service.pipelines.models import PipelineVersion
from veridox.service.trail.record import record
from veridox.service.work import defer

PDF = "application/pdf"


def readable(name: str, declared_type: str, media_type: str) -> bool:
    """Whether a file is read: a PDF by content, or one that claims to be one.

    A broken or empty PDF is read too, so that a person is told what is wrong.
    """
    return PDF in (media_type, declared_type.lower()) or name.lower().endswith(".pdf")


def add_file(
    version: PipelineVersion,
    *,
    name: str,
    declared_type: str,
    media_type: str,
    sha256: str,
    size: int,
    position: int = 1,
    inline: bool = False,
    message: Message | None = None,
    uploaded_by: str = "",
) -> File:
    """A file's record, within the caller's transaction, with its job when it is to be read."""
    taken = readable(name, declared_type, media_type)
    file = File.objects.create(
        message=message,
        uploaded_by=uploaded_by,
        pipeline_version=version,
        position=position,
        name=name,
        declared_type=declared_type,
        media_type=media_type,
        inline=inline,
        size=size,
        sha256=sha256,
        state=FileState.RECEIVED if taken else FileState.ASIDE,
        reason="" if taken else f"not a PDF ({media_type}); only PDF files are read so far",
    )
    if taken:
        defer(jobs.read, file_id=file.pk)
    return file


@transaction.atomic
def upload(
    actor: Actor,
    version: PipelineVersion,
    *,
    name: str,
    declared_type: str,
    media_type: str,
    sha256: str,
    size: int,
) -> File:
    """A file handed in by a person or program; its bytes are stored already."""
    file = add_file(
        version,
        name=name,
        declared_type=declared_type,
        media_type=media_type,
        sha256=sha256,
        size=size,
        uploaded_by=actor.name,
    )
    details = {"name": name, "sha256": sha256, "size": size, "state": file.state}
    record(actor, "file.uploaded", "file", file.pk, details)
    return file
