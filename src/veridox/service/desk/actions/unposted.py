"""The guard of what ends a document without posting it."""

from veridox.core.pipeline import Said
from veridox.core.posting import PostingState
from veridox.service.accounts.actors import Actor
from veridox.service.documents.actions.common import locked_for_edit
from veridox.service.documents.models import Document, State
from veridox.service.errors import WrongStateError


def locked_unposted(actor: Actor, document_id: int, version: int, *states: State) -> Document:
    """The document, unless it may stand in the ledger. Raises WrongStateError and its like."""
    document = locked_for_edit(actor, document_id, version, *states)
    posting = document.posting
    open_states = {PostingState.SENDING, PostingState.UNSURE, PostingState.POSTED}
    if document.state == State.AT_DESK and _asked(document):
        # After `posting.unsure` a person has looked into the ledger; their reason says so.
        open_states.discard(PostingState.UNSURE)
    if posting is not None and posting.state in open_states:
        raise WrongStateError(
            f"Document {document_id} may stand in the ledger (posting is {posting.state}); "
            "settle that first."
        )
    return document


def _asked(document: Document) -> bool:
    told = document.statements.filter(what=Said.TOLD, ended_at=None)
    return any(each.finding["code"] == "posting.unsure" for each in told)
