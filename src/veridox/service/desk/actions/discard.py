"""End a document without posting it, with a reason."""

from django.db import transaction

from veridox.service.accounts.actors import Actor
from veridox.service.desk.actions.ending import end, locked_unposted
from veridox.service.documents.models import Document, State
from veridox.service.errors import BadInputError
from veridox.service.notices.actions.queue import queue_notices
from veridox.service.trail.record import record


@transaction.atomic
def discard(actor: Actor, document_id: int, version: int, reason: str) -> Document:
    """Discard a document at the desk or one that failed."""
    if not reason.strip():
        raise BadInputError("Say why it is discarded.")
    document = locked_unposted(actor, document_id, version, State.AT_DESK, State.FAILED)
    end(document, State.DISCARDED, reason)
    queue_notices(document, "discarded")
    record(actor, "document.discarded", "document", document.pk, {"reason": reason})
    return document
