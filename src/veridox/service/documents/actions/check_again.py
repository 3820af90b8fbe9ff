"""Check a waiting document again, because master data changed."""

from django.db import transaction
from django.utils import timezone

from veridox.service.accounts.actors import Actor
from veridox.service.documents.actions.check import apply
from veridox.service.documents.actions.common import locked, move_to
from veridox.service.documents.models import State


@transaction.atomic
def check_again(actor: Actor, document_id: int) -> None:
    """As `check`, for a document at the desk that nobody has cleared.

    What a person works on or holds is not moved under their hands.
    """
    document = locked(document_id)
    if document.state != State.AT_DESK or document.cleared_by_id is not None:
        return
    held = document.held_until is not None and document.held_until > timezone.localdate()
    if held or document.taken_by_id is not None:
        return
    move_to(document, State.READ)
    apply(actor, document)
