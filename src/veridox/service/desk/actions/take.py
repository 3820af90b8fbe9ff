"""Take a document to work on it alone, and give it free again."""

from django.db import transaction
from django.utils import timezone

from veridox.service.accounts.actors import Actor
from veridox.service.accounts.models import Person
from veridox.service.documents.actions.common import locked, refuse_if_taken
from veridox.service.documents.models import Document, State
from veridox.service.errors import BadInputError, NotAllowedError, WrongStateError
from veridox.service.trail.record import record
from veridox.service.work import defer


def _at_desk(document_id: int) -> Document:
    document = locked(document_id)
    if document.state != State.AT_DESK:
        raise WrongStateError(
            f"Document {document_id} is {document.state}; only what is at_desk can be taken.",
            state=document.state,
        )
    if document.letter_out:
        raise WrongStateError(
            f"A letter about document {document_id} is on its way to its vendor.",
            state=document.state,
        )
    return document


@transaction.atomic
def take(actor: Actor, document_id: int, *, person: str = "", over: bool = False) -> Document:
    """Take a document, or give it to a colleague. Its version stays: no value changes.

    Args:
        actor: who takes or gives it.
        document_id: which document.
        person: user name of a colleague; oneself when empty.
        over: also from somebody who has it.

    Raises:
        TakenError: somebody else has it and `over` is not said.
        BadInputError: nobody of this name works at the desk.
        WrongStateError: it is not at the desk.
    """
    if actor.person is None:
        raise NotAllowedError("only a person can take a document")
    holder = _worker(person) if person else actor.person
    document = _at_desk(document_id)
    before = document.taken_by
    if before is not None and before.pk == holder.pk:
        return document
    if not over:
        refuse_if_taken(actor, document)
    document.taken_by, document.taken_at = holder, timezone.now()
    document.save(update_fields=["taken_by", "taken_at"])
    details = {"by": holder.get_username(), "from": before.get_username() if before else None}
    record(actor, "document.taken", "document", document.pk, details)
    return document


def _worker(name: str) -> Person:
    from veridox.service.accounts.permissions import may_work

    person = Person.objects.filter(username=name, is_active=True).first()
    if person is None or not may_work(person):
        raise BadInputError(
            f"nobody named {name!r} works at the desk",
            errors=[{"path": "person", "message": "is the user name of a clerk or admin"}],
        )
    return person


@transaction.atomic
def release(actor: Actor, document_id: int) -> Document:
    """Give one's document free. What came up meanwhile is looked at now."""
    document = locked(document_id)
    refuse_if_taken(actor, document)
    if document.taken_by is None:
        return document
    document.taken_by, document.taken_at = None, None
    document.save(update_fields=["taken_by", "taken_at"])
    record(actor, "document.released", "document", document.pk)
    if document.state == State.AT_DESK:
        defer("advance", document_id=document.pk)
    return document
