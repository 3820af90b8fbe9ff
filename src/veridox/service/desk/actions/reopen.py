"""Bring a discarded document back."""

from django.db import transaction

from veridox.core.pipeline import Said
from veridox.service.accounts.actors import Actor
from veridox.service.documents.actions.common import locked_for_edit, move_to
from veridox.service.documents.actions.say import no_longer
from veridox.service.documents.models import Document, State
from veridox.service.flow.actions.advance import walk


@transaction.atomic
def reopen(actor: Actor, document_id: int, version: int) -> Document:
    """Check a discarded document anew; it goes where the checks send it."""
    document = locked_for_edit(actor, document_id, version, State.DISCARDED)
    was = document.end_reason
    document.end_reason = ""
    no_longer(document, actor, *Said)  # it is looked at as if for the first time
    move_to(document, State.READ)
    walk(actor, document, "document.reopened", {"was": was})
    return document
