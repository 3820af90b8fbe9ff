"""Keep a document out of the desk's list until a day."""

from datetime import date

from django.db import transaction
from django.utils import timezone

from veridox.service.accounts.actors import Actor
from veridox.service.documents.actions.common import locked_for_edit
from veridox.service.documents.models import Document, State
from veridox.service.errors import BadInputError
from veridox.service.trail.record import record

LONGEST_DAYS = 366


@transaction.atomic
def hold(actor: Actor, document_id: int, version: int, until: date | None, reason: str) -> Document:
    """Hold a document at the desk; it is back on the day itself.

    Args:
        actor: who holds it.
        document_id: which document.
        version: the version that was looked at.
        until: the day it comes back; None ends a hold at once.
        reason: what is waited for.

    Raises:
        BadInputError: the day is not after today, or no reason is given.
        StaleError, TakenError, WrongStateError: see `locked_for_edit`.
    """
    today = timezone.localdate()
    if until is not None:
        errors = []
        if not 1 <= (until - today).days <= LONGEST_DAYS:
            message = f"is a day after {today}, at most {LONGEST_DAYS} days ahead"
            errors.append({"path": "until", "message": message})
        if not reason.strip():
            errors.append({"path": "reason", "message": "says what is waited for"})
        if errors:
            raise BadInputError("It cannot be held like this.", errors=errors)
    document = locked_for_edit(actor, document_id, version, State.AT_DESK)
    document.held_until = until
    document.hold_reason = reason if until else ""
    document.taken_by, document.taken_at = None, None
    document.touched = True
    document.version += 1
    document.save()
    act = "document.held" if until else "document.hold_ended"
    details = {"until": until, "reason": reason} if until else {"reason": reason}
    record(actor, act, "document", document.pk, details)
    return document
