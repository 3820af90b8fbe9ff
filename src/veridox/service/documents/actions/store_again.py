"""Store what a file gave when it was read once more for one of its documents."""

from django.db import transaction

from veridox.core.findings.wording import counted
from veridox.core.pipeline import as_wanted
from veridox.core.reading import Reading
from veridox.readerpool import ReadAnswer
from veridox.service.accounts.actors import Actor
from veridox.service.documents.actions.common import locked, move_to
from veridox.service.documents.actions.new_reading import new_reading
from veridox.service.documents.models import Document, State
from veridox.service.intake.names import names_of_file
from veridox.service.pipelines.queries import definition_of
from veridox.service.trail.record import record
from veridox.service.work import defer


@transaction.atomic
def store_again(actor: Actor, document_id: int, answer: ReadAnswer) -> None:
    """A new version of the document's reading, then the checks.

    Where the file is taken for another number of documents now, nothing is guessed: the
    document keeps what it was, and its story says so.
    """
    document = locked(document_id)
    if document.state != State.RECEIVED:
        return  # another worker was faster, or this one was rescued after the commit
    found = _of(document, answer)
    if found is None:
        before = counted(document.file.documents.count(), "document")
        now = counted(len(answer.readings), "document")
        kept = f"the file is taken for {now} now, for {before} before: the reading stays"
        details = {"kept": kept}
    else:
        declared = definition_of(document.pipeline_version).completing
        reading = as_wanted(found, declared, names_of_file(document.file), document.file.known)
        version = new_reading(actor, document, reading, "read again")
        details = {"version": version.number, "kind": document.kind}
    move_to(document, State.READ)
    document.save()
    record(actor, "document.read_again", "document", document.pk, details)
    defer("advance", document_id=document.pk)


def _of(document: Document, answer: ReadAnswer) -> Reading | None:
    """The document's own reading among those of its file."""
    if len(answer.readings) != document.file.documents.count():
        return None
    return answer.readings[document.position - 1]
