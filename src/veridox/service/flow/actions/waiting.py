"""What waits for something that comes by itself: called to the desk, let wait again, told of."""

from datetime import timedelta

from django.db import transaction
from django.utils import timezone

from veridox.core.findings.wording import counted
from veridox.core.pipeline import Said
from veridox.core.pipeline.states import STILL_WAITING
from veridox.service.accounts.actors import Actor
from veridox.service.documents.actions.common import locked, locked_for_edit
from veridox.service.documents.actions.say import no_longer, say
from veridox.service.documents.models import Document, State
from veridox.service.errors import BadInputError, WrongStateError
from veridox.service.flow.actions.advance import walk
from veridox.service.notices.actions.queue import queue_notices
from veridox.service.trail.record import record

CLOCK = Actor.system("clock")


@transaction.atomic
def call(actor: Actor, document_id: int, version: int, reason: str) -> Document:
    """Call a document that waits to the desk: it waits no more until somebody lets it wait again.

    Raises:
        BadInputError: no reason is given.
        WrongStateError and its like: it does not wait; see `locked_for_edit`.
    """
    if not reason.strip():
        raise BadInputError(
            "Say why it is not waited for any more.",
            errors=[{"path": "reason", "message": "is missing"}],
        )
    document = locked_for_edit(actor, document_id, version, State.WAITING)
    say(document, actor, Said.CALLED, reason=reason.strip())
    document.touched = True
    walk(actor, document, "document.called", {"reason": reason.strip()})
    return document


@transaction.atomic
def let_wait(actor: Actor, document_id: int, version: int) -> Document:
    """Let a document that was called to the desk wait again for what comes by itself.

    Raises:
        WrongStateError: nobody called it, or something stops it that does not come by itself.
    """
    document = locked_for_edit(actor, document_id, version, State.AT_DESK)
    if not document.statements.filter(what=Said.CALLED, ended_at=None).exists():
        raise WrongStateError(
            f"Nobody called document {document_id} to the desk: it waits by itself where all "
            "that stops it can be waited for.",
            state=document.state,
        )
    no_longer(document, actor, Said.CALLED)
    document.taken_by, document.taken_at = None, None
    walk(actor, document, "document.let_wait", {})
    if document.state == State.AT_DESK:
        raise WrongStateError(
            f"Document {document_id} is stopped by what does not come by itself: "
            + " ".join(document.reasons),
            state=document.state,
        )
    return document


@transaction.atomic
def end_waiting(document_id: int, days: int) -> None:
    """A document that has waited as long as its pipeline lets it goes to the desk."""
    document = locked(document_id)
    if _waited(document) < timedelta(days=days):
        return
    reason = f"it waited {counted(days, 'day')}, which is as long as its pipeline lets it"
    say(document, CLOCK, Said.CALLED, reason=reason)
    walk(CLOCK, document, "document.called", {"reason": reason})


@transaction.atomic
def remind(document_id: int, days: int) -> None:
    """Tell whom its pipeline names that a document still waits, once for each waiting."""
    document = locked(document_id)
    if _waited(document) < timedelta(days=days):
        return
    if document.reminded_at is not None and document.reminded_at >= document.state_at:
        return
    document.reminded_at = timezone.now()
    document.save(update_fields=["reminded_at"])
    queue_notices(document, STILL_WAITING)
    record(CLOCK, "document.still_waits", "document", document.pk, {"days": days})


def _waited(document: Document) -> timedelta:
    if document.state != State.WAITING:
        return timedelta(-1)
    return timezone.now() - document.state_at
