"""What every act on a document does: lock, check, change, settle its mail."""

from django.utils import timezone

from veridox.service.documents.models import ENDED, Document, State
from veridox.service.errors import NotThereError, StaleError, WrongStateError


def locked(document_id: int) -> Document:
    """The document, its row locked until the transaction ends. Raises NotThereError."""
    document = (
        Document.objects.select_for_update(of=("self",))
        .select_related("file", "pipeline_version")
        .filter(pk=document_id)
        .first()
    )
    if document is None:
        raise NotThereError(f"there is no document {document_id}")
    return document


def locked_for_edit(document_id: int, version: int, *states: State) -> Document:
    """The document as a person saw it.

    Raises:
        StaleError: somebody changed it since (412).
        WrongStateError: it stands where this cannot be done (409).
    """
    document = locked(document_id)
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


def move_to(document: Document, state: State) -> None:
    """Change the state and count the version; the caller saves."""
    document.state = state
    document.version += 1
    document.state_at = timezone.now()
    document.ended_at = document.state_at if state in ENDED else None
