"""Store what a reader gave: documents with the first version of their readings."""

from collections.abc import Mapping, Sequence
from typing import Any

from django.db import transaction

from veridox.core.pipeline import as_wanted
from veridox.core.reading import Reading, Source, reading_to_json
from veridox.readerpool import ReadAnswer
from veridox.service.accounts.actors import Actor
from veridox.service.documents.actions.settle import settle_mail_of
from veridox.service.documents.columns import fill_columns
from veridox.service.documents.models import Document, ReadingVersion, State
from veridox.service.intake.models import File, FileState
from veridox.service.intake.names import names_of_file
from veridox.service.pipelines.queries import definition_of
from veridox.service.trail.record import record
from veridox.service.work import defer

MOST_TEXT = 400_000
"""Characters kept for searching: PostgreSQL indexes at most a megabyte of one text."""


def text_of(pages: Sequence[Mapping[str, Any]]) -> str:
    """The pages' text for searching, without what PostgreSQL cannot hold."""
    text = "\n\n".join(str(page.get("text", "")) for page in pages)
    return text.replace("\0", " ")[:MOST_TEXT]


@transaction.atomic
def store_reading(actor: Actor, file_id: int, answer: ReadAnswer) -> None:
    """One document for each reading; a file without any still gets one, for a person."""
    file = File.objects.select_for_update().get(pk=file_id)
    if file.state != FileState.RECEIVED:
        return  # another worker was faster, or this one was rescued after the commit
    file.state = FileState.READ
    file.pages = [
        {name: page[name] for name in ("number", "width", "height")} for page in answer.pages
    ]
    file.text = text_of(answer.pages)
    file.findings = [finding.to_json() for finding in answer.findings]
    file.save(update_fields=["state", "pages", "text", "findings"])
    declared, mail = definition_of(file.pipeline_version).completing, names_of_file(file)
    found = [
        as_wanted(each, declared, mail, file.known) for each in answer.readings or (_empty(file),)
    ]
    readings = [reading_to_json(reading) for reading in found]
    stretches = _stretches(found, len(answer.pages))
    for position, (reading, stretch) in enumerate(zip(readings, stretches, strict=True), start=1):
        document = Document(
            file=file,
            position=position,
            first_page=stretch[0],
            last_page=stretch[1],
            pipeline_version=file.pipeline_version,
            state=State.READ,
            picture=_look(answer, stretch[0] or 1),
        )
        fill_columns(document, reading)
        document.save()
        ReadingVersion.objects.create(
            document=document, number=1, reading=reading, made_by=actor.name
        )
        defer("advance", document_id=document.pk)
        codes = [finding["code"] for finding in file.findings]
        details = {"file": file.pk, "kind": document.kind, "findings": codes}
        record(actor, "document.read", "document", document.pk, details)


def _look(answer: ReadAnswer, page: int) -> int | None:
    """How a document's first page looks, where it was read from its picture."""
    return next((each.get("look") for each in answer.pages if each["number"] == page), None)


def _stretches(readings: Sequence[Reading], pages: int) -> list[tuple[int | None, int | None]]:
    """First and last page of each document; what was left aside goes with the one before it."""
    if len(readings) < 2:
        return [(None, None)] * len(readings)
    starts = [1, *(min(reading.source.pages) for reading in readings[1:])]
    return list(zip(starts, [*(start - 1 for start in starts[1:]), pages], strict=True))


@transaction.atomic
def fail_file(actor: Actor, file_id: int, reason: str) -> None:
    """Reading failed for a technical reason, after all retries."""
    file = File.objects.select_for_update().get(pk=file_id)
    if file.state != FileState.RECEIVED:
        return
    file.state, file.reason = FileState.FAILED, reason
    file.save(update_fields=["state", "reason"])
    settle_mail_of(file)
    record(actor, "file.failed", "file", file.pk, {"reason": reason})


def _empty(file: File) -> Reading:
    return Reading(source=Source(sha256=file.sha256, name=file.name, media_type=file.media_type))
