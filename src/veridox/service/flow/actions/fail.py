"""Stop a document for a technical reason, visibly."""

from django.db import transaction

from veridox.core.pipeline.states import event_of
from veridox.service.accounts.actors import Actor
from veridox.service.documents.actions.common import locked, move_to
from veridox.service.documents.actions.settle import settle_mail_of
from veridox.service.documents.models import ENDED, Document, State
from veridox.service.notices.actions.queue import queue_notices
from veridox.service.trail.record import record


@transaction.atomic
def fail(actor: Actor, document_id: int, reason: str) -> None:
    """Mark a document failed at the state it is in, with the reason."""
    document = locked(document_id)
    if document.state != State.FAILED and document.state not in ENDED:
        stop(actor, document, reason)


def stop(actor: Actor, document: Document, reason: str) -> None:
    """Within the caller's transaction, for a document that it has locked."""
    document.failed_at_state = document.state
    document.reasons = [reason]
    move_to(document, State.FAILED)
    document.save()
    queue_notices(document, event_of(State.FAILED))
    settle_mail_of(document.file)
    record(actor, "document.failed", "document", document.pk, {"reason": reason})
