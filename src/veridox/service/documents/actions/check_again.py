"""Check a waiting document again, because master data changed."""

from django.db import transaction
from django.utils import timezone

from veridox.core.findings import CODES, Finding
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
    if document.letter_out:
        return  # it is about to go back to its vendor
    held = document.held_until is not None and document.held_until > timezone.localdate()
    if held or document.taken_by_id is not None:
        return
    move_to(document, State.READ)
    # What the ledger said stands until a person decides: no check can find it anew.
    told = [Finding.from_json(each) for each in document.findings if CODES[each["code"]].ledgers]
    apply(actor, document, told)
