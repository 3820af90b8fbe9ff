"""Store what a reader gave: documents with the first version of their readings."""

from typing import Any

from django.db import transaction

from veridox.core.reading import reading_to_json
from veridox.readerpool import ReadAnswer
from veridox.service.accounts.actors import Actor
from veridox.service.documents import jobs
from veridox.service.documents.columns import fill_columns
from veridox.service.documents.models import Document, File, FileState, ReadingVersion, State
from veridox.service.mail.actions.settle import settle
from veridox.service.trail.record import record
from veridox.service.work import defer


@transaction.atomic
def store_reading(actor: Actor, file_id: int, answer: ReadAnswer) -> None:
    """One document for each reading; a file without any still gets one, for a person."""
    file = File.objects.select_for_update().get(pk=file_id)
    if file.state != FileState.RECEIVED:
        return  # another worker was faster, or this one was rescued after the commit
    file.state = FileState.READ
    file.pages = list(answer.pages)
    file.findings = [finding.to_json() for finding in answer.findings]
    file.save(update_fields=["state", "pages", "findings"])
    readings: list[dict[str, Any]] = [reading_to_json(reading) for reading in answer.readings]
    for position, reading in enumerate(readings or [_empty(file)], start=1):
        document = Document(
            file=file,
            position=position,
            pipeline_version=file.pipeline_version,
            state=State.READ,
        )
        fill_columns(document, reading)
        document.save()
        ReadingVersion.objects.create(
            document=document, number=1, reading=reading, made_by=actor.name
        )
        defer(jobs.check, document_id=document.pk)
        found = [finding["code"] for finding in file.findings]
        details = {"file": file.pk, "kind": document.kind, "findings": found}
        record(actor, "document.read", "document", document.pk, details)


@transaction.atomic
def fail_file(actor: Actor, file_id: int, reason: str) -> None:
    """Reading failed for a technical reason, after all retries."""
    file = File.objects.select_for_update().get(pk=file_id)
    if file.state != FileState.RECEIVED:
        return
    file.state, file.reason = FileState.FAILED, reason
    file.save(update_fields=["state", "reason"])
    if file.message_id:
        settle(file.message_id)
    record(actor, "file.failed", "file", file.pk, {"reason": reason})


def _empty(file: File) -> dict[str, Any]:
    from veridox.core.reading import Reading, Source

    source = Source(sha256=file.sha256, name=file.name, media_type=file.media_type)
    return reading_to_json(Reading(source=source))
