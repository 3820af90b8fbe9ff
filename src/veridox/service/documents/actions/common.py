"""What every act on a document does: lock, check, change, settle its mail."""

from django.utils import timezone

from veridox.service.accounts.actors import Actor
from veridox.service.documents.models import ENDED, Document, State
from veridox.service.documents.queries import documents_to_check
from veridox.service.errors import NotThereError, StaleError, TakenError, WrongStateError

STAYS_WITH_ITS_CLERK = (State.AT_DESK, State.READ)
"""A correction passes through `read`; its clerk keeps the document if it comes back."""


def locked(document_id: int) -> Document:
    """The document, its row locked until the transaction ends. Raises NotThereError."""
    rows = documents_to_check().select_for_update(of=("self",)).select_related("taken_by")
    document = rows.filter(pk=document_id).first()
    if document is None:
        raise NotThereError(f"there is no document {document_id}")
    return document


def locked_for_edit(actor: Actor, document_id: int, version: int, *states: State) -> Document:
    """The document as a person saw it.

    Raises:
        TakenError: somebody else works on it (409).
        StaleError: somebody changed it since (412).
        WrongStateError: it stands where this cannot be done (409).
    """
    document = locked(document_id)
    refuse_if_taken(actor, document)
    if document.letter_out:
        raise WrongStateError(
            f"A letter about document {document_id} is on its way to its vendor; it cannot be "
            "changed until the mail server has taken or refused it.",
            state=document.state,
        )
    if document.version != version:
        raise StaleError(
            f"Document {document_id} was changed since you looked: it is at version "
            f"{document.version}, you sent {version}. Look again; nothing was changed.",
            current_version=document.version,
        )
    if document.state not in states:
        wanted = " or ".join(state.value for state in states)
        raise WrongStateError(
            f"Document {document_id} is {document.state}; this can be done only {wanted}.",
            state=document.state,
        )
    return document


def refuse_if_taken(actor: Actor, document: Document) -> None:
    """Two people never work on one document. Raises TakenError."""
    holder = document.taken_by
    if holder is not None and (actor.person is None or holder.pk != actor.person.pk):
        since = document.taken_at.isoformat(timespec="seconds") if document.taken_at else None
        raise TakenError(
            f"{holder.get_username()} works on document {document.pk}. "
            "Ask them, or take it over; nothing was changed.",
            taken_by=holder.get_username(),
            taken_at=since,
        )


def move_to(document: Document, state: State) -> None:
    """Change the state and count the version; the caller saves."""
    if state not in STAYS_WITH_ITS_CLERK:
        document.taken_by, document.taken_at = None, None
        document.held_until, document.hold_reason = None, ""
    document.version += 1
    if state == document.state:
        return  # it has stood there since it came
    document.state = state
    document.state_at = timezone.now()
    document.ended_at = document.state_at if state in ENDED else None
