"""End a document without posting it, with a reason."""

from django.db import transaction

from veridox.service.accounts.actors import Actor
from veridox.service.documents.actions.common import locked_for_edit, move_to
from veridox.service.documents.models import Document, State
from veridox.service.errors import BadInputError, WrongStateError
from veridox.service.ledgers.models import BillReservation, Posting, PostingState
from veridox.service.mail.actions.settle import settle
from veridox.service.notices.actions.queue import queue_notices
from veridox.service.trail.record import record


@transaction.atomic
def discard(actor: Actor, document_id: int, version: int, reason: str) -> Document:
    """Discard a document at the desk or one that failed."""
    if not reason.strip():
        raise BadInputError("Say why it is discarded.")
    document = locked_for_edit(document_id, version, State.AT_DESK, State.FAILED)
    posting = Posting.objects.filter(document=document).first()
    # After `posting.unsure` a person has looked into the ledger; their reason says so.
    asked = any(finding["code"] == "posting.unsure" for finding in document.findings)
    open_states = {PostingState.SENDING, PostingState.UNSURE, PostingState.POSTED}
    if asked and document.state == State.AT_DESK:
        open_states.discard(PostingState.UNSURE)
    if posting is not None and posting.state in open_states:
        raise WrongStateError(
            f"Document {document_id} may stand in the ledger (posting is {posting.state}); "
            "settle that first."
        )
    BillReservation.objects.filter(document=document).delete()
    document.end_reason = reason
    document.queue = ""
    move_to(document, State.DISCARDED)
    document.save()
    queue_notices(document, "discarded")
    if document.file.message_id:
        settle(document.file.message_id)
    record(actor, "document.discarded", "document", document.pk, {"reason": reason})
    return document
