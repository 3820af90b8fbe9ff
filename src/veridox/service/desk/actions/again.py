"""Process a document again from a stage, under the newest version of its pipeline if wanted."""

from django.db import transaction

from veridox.core.pipeline import Said, completed
from veridox.core.posting import PostingState
from veridox.core.reading import reading_to_json
from veridox.service.accounts.actors import Actor
from veridox.service.desk.actions.resume import resume
from veridox.service.documents.actions.common import locked, locked_for_edit, move_to
from veridox.service.documents.actions.new_reading import new_reading
from veridox.service.documents.actions.say import no_longer
from veridox.service.documents.columns import current_reading
from veridox.service.documents.models import Document, State
from veridox.service.errors import BadInputError, WrongStateError
from veridox.service.flow.actions.advance import walk
from veridox.service.intake.names import names_of_file
from veridox.service.pipelines.queries import definition_of, newest
from veridox.service.trail.record import record
from veridox.service.work import defer

STAGES = ("check", "read")
"""From where a document is processed again: its newest reading, or its file."""
FROM = (State.AT_DESK, State.WAITING, State.FAILED, State.DISCARDED, State.ASIDE)
MAY_BE_BOOKED = (PostingState.SENDING, PostingState.UNSURE, PostingState.POSTED)


@transaction.atomic
def again(
    actor: Actor, document_id: int, version: int, *, stage: str, newest_version: bool, reason: str
) -> Document:
    """Process a document again; what it was before is kept in its story.

    What people accepted, cleared or decided, and what the ledger said, was said of another
    result: it holds no more.

    Args:
        actor: who wants it.
        document_id: which document.
        version: the version that was looked at.
        stage: `check`, or `read` to have its file read anew; empty for a document that
            failed, which goes on where it stopped.
        newest_version: under the pipeline's newest version instead of its own.
        reason: why, for the trail.

    Raises:
        BadInputError: there is no such stage.
        WrongStateError: its bill is or may be booked, or its state allows nothing of the kind.
        StaleError, TakenError: see `locked_for_edit`.
    """
    if not stage:
        if newest_version:
            raise BadInputError("Say from where: `check` or `read`.")
        return resume(actor, document_id, version)
    if stage not in STAGES:
        raise BadInputError(f"A document is processed again from {' or '.join(STAGES)}.")
    _refuse_if_booked(locked(document_id))
    document = locked_for_edit(actor, document_id, version, *FROM)
    before, was = document.pipeline_version, document.state
    if newest_version:
        document.pipeline_version = newest(before.pipeline.name)
    no_longer(document, actor, *Said)
    document.end_reason, document.failed_at_state, document.reasons = "", "", []
    document.held_until, document.hold_reason = None, ""
    move_to(document, State.RECEIVED if stage == "read" else State.READ)
    document.save()
    details = {
        "from": stage,
        "was": was,
        "reason": reason,
        "pipeline_version": document.pipeline_version.number,
        "before": before.number,
    }
    if stage == "read":
        defer("read_again", document_id=document.pk)
        record(actor, "document.again", "document", document.pk, details)
        return document
    _complete(actor, document)
    walk(actor, document, "document.again", details)
    return document


def _refuse_if_booked(document: Document) -> None:
    posting = document.posting
    if posting is not None and posting.state in MAY_BE_BOOKED:
        where = f"as {posting.number}" if posting.number else f"(posting is {posting.state})"
        raise WrongStateError(
            f"Document {document.pk} stands in the ledger {where}, or may: it is not processed "
            "again. Nothing was changed.",
            state=document.state,
        )
    if document.state == State.CLEARED:
        raise WrongStateError(
            f"Document {document.pk} is on its way to the ledger: it is not processed again.",
            state=document.state,
        )


def _complete(actor: Actor, document: Document) -> None:
    """Fields that only the newer version declares come from the mail or by default."""
    reading = current_reading(document)
    declared = definition_of(document.pipeline_version).completing
    after = completed(reading, declared, names_of_file(document.file))
    if reading_to_json(after) != reading_to_json(reading):
        new_reading(actor, document, after, "fields that the pipeline declares now")
