"""End a document without posting it, with a reason."""

from django.db import transaction

from veridox.core.pipeline import Said
from veridox.service.accounts.actors import Actor
from veridox.service.desk.actions.unposted import locked_unposted
from veridox.service.documents.actions.say import say
from veridox.service.documents.models import Document, State
from veridox.service.errors import BadInputError
from veridox.service.flow.actions.advance import walk


@transaction.atomic
def discard(actor: Actor, document_id: int, version: int, reason: str) -> Document:
    """Discard a document at the desk or one that failed."""
    if not reason.strip():
        raise BadInputError("Say why it is discarded.")
    document = locked_unposted(actor, document_id, version, State.AT_DESK, State.FAILED)
    document.touched = True
    say(document, actor, Said.DISCARDED, reason=reason)
    walk(actor, document, "document.discarded", {"reason": reason})
    return document
