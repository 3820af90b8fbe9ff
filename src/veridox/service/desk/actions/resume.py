"""Let a document that failed go on where it stopped."""

from django.db import transaction

from veridox.service.accounts.actors import Actor
from veridox.service.documents.actions.common import locked_for_edit, move_to
from veridox.service.documents.actions.settle import settle_mail_of
from veridox.service.documents.models import Document, State
from veridox.service.trail.record import record
from veridox.service.work import defer


@transaction.atomic
def resume(actor: Actor, document_id: int, version: int) -> Document:
    """Go on at the stage that failed: with the posting that is on its way, else with the checks."""
    document = locked_for_edit(actor, document_id, version, State.FAILED)
    at = State(document.failed_at_state or State.READ)
    posting = document.posting if at is State.CLEARED else None
    document.failed_at_state, document.reasons = "", []
    move_to(document, at if posting else State.READ)
    document.save()
    if posting is not None and posting.completed_at is None:
        defer("post", posting_id=str(posting.pk))
    else:
        defer("advance", document_id=document.pk)
    settle_mail_of(document.file)
    record(actor, "document.resumed", "document", document.pk, {"at": at.value})
    return document
