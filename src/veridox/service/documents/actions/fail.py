"""Stop a document for a technical reason, and let it go on from there."""

from django.db import transaction

from veridox.service.accounts.actors import Actor
from veridox.service.documents.actions.common import locked, locked_for_edit, move_to
from veridox.service.documents.models import ENDED, Document, State
from veridox.service.mail.actions.settle import settle
from veridox.service.notices.actions.queue import queue_notices
from veridox.service.trail.record import record
from veridox.service.work import defer


@transaction.atomic
def fail(actor: Actor, document_id: int, reason: str) -> None:
    """Mark a document failed at the state it is in, visibly and with the reason."""
    document = locked(document_id)
    if document.state == State.FAILED or document.state in ENDED:
        return
    document.failed_at_state = document.state
    document.reasons = [reason]
    move_to(document, State.FAILED)
    document.save()
    queue_notices(document, "failed")
    if document.file.message_id:
        settle(document.file.message_id)
    record(actor, "document.failed", "document", document.pk, {"reason": reason})


@transaction.atomic
def resume(actor: Actor, document_id: int, version: int) -> Document:
    """Go on at the stage that failed."""
    document = locked_for_edit(actor, document_id, version, State.FAILED)
    state = State(document.failed_at_state or State.READ)
    document.failed_at_state, document.reasons = "", []
    move_to(document, state)
    document.save()
    posting = getattr(document, "posting", None)
    if state == State.CLEARED and posting is not None:
        defer("post", posting_id=str(posting.pk))
    else:
        defer("check", document_id=document.pk)
    if document.file.message_id:
        settle(document.file.message_id)
    record(actor, "document.resumed", "document", document.pk, {"at": state.value})
    return document
