"""Say something about a document, for colleagues. The trail keeps it."""

from django.db import transaction

from veridox.service.accounts.actors import Actor
from veridox.service.documents.actions.common import locked
from veridox.service.errors import BadInputError
from veridox.service.trail.models import Entry
from veridox.service.trail.record import record

LONGEST = 4_000


@transaction.atomic
def comment(actor: Actor, document_id: int, text: str) -> Entry:
    """Add a comment, whatever the state; the version stays."""
    words = text.strip()
    if not 1 <= len(words) <= LONGEST:
        raise BadInputError(
            f"A comment has 1 to {LONGEST:,} characters.",
            errors=[{"path": "text", "message": f"has {len(words):,} characters"}],
        )
    document = locked(document_id)
    return record(actor, "document.commented", "document", document.pk, {"text": words})
