"""What ends a document at the desk without posting it: one guard, one way to close."""

from django.db import transaction

from veridox.service.accounts.actors import Actor
from veridox.service.documents.actions.common import locked_for_edit, move_to
from veridox.service.documents.models import Document, State
from veridox.service.errors import WrongStateError
from veridox.service.ledgers.models import BillReservation, Posting, PostingState
from veridox.service.mail.actions.settle import settle


def locked_unposted(actor: Actor, document_id: int, version: int, *states: State) -> Document:
    """The document, unless it may stand in the ledger. Raises WrongStateError and its like."""
    document = locked_for_edit(actor, document_id, version, *states)
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
    return document


def end(document: Document, state: State, reason: str) -> None:
    """Within the caller's transaction: give the number free, store, settle the mail."""
    if not transaction.get_connection().in_atomic_block:
        raise RuntimeError("an end belongs in the transaction of its act")
    BillReservation.objects.filter(document=document).delete()
    document.end_reason = reason
    document.queue = ""
    document.touched = True
    move_to(document, state)
    document.save()
    if document.file.message_id:
        settle(document.file.message_id)
