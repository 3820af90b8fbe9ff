"""Send a document back to its vendor, with a letter that says what is wrong."""

from django.core.exceptions import ValidationError
from django.core.validators import validate_email
from django.db import transaction

from veridox.core.pipeline import Said
from veridox.service.accounts.actors import Actor
from veridox.service.desk.actions.unposted import locked_unposted
from veridox.service.documents.actions.say import no_longer, say
from veridox.service.documents.models import Document, State
from veridox.service.errors import BadInputError
from veridox.service.notices.actions.queue import queue_letter
from veridox.service.notices.letter import NOTHING_SAID
from veridox.service.trail.record import record

LONGEST = 20_000


@transaction.atomic
def send_back(
    actor: Actor, document_id: int, version: int, to: str, subject: str, text: str
) -> Document:
    """Queue the letter; the document is returned once the mail server took it.

    Until then it stands at the desk, and nobody can change it.

    Args:
        actor: who sends it back.
        document_id: which document.
        version: the version that was looked at.
        to: the vendor's mail address.
        subject, text: of the letter, as the person left it.

    Raises:
        BadInputError: with the path of what cannot be used.
        StaleError, TakenError, WrongStateError: see `locked_unposted`.
    """
    _refuse_bad_letter(to, subject, text)
    document = locked_unposted(actor, document_id, version, State.AT_DESK)
    contact = document.vendor.email if document.vendor else ""
    document.letter_out, document.touched = True, True
    document.taken_by, document.taken_at = None, None
    document.held_until, document.hold_reason = None, ""
    document.version += 1
    document.save()
    no_longer(document, actor, Said.SENT_BACK)
    say(document, actor, Said.SENT_BACK, reason=to)
    queue_letter(document, to, subject, text)
    details = {
        "to": to,
        "address": "the vendor's contact" if to == contact else f"typed by {actor.name}",
        "subject": subject,
        "text": text,
    }
    record(actor, "document.letter_queued", "document", document.pk, details)
    return document


def _refuse_bad_letter(to: str, subject: str, text: str) -> None:
    errors = []
    try:
        validate_email(to)
    except ValidationError:
        errors.append({"path": "to", "message": f"{to!r} is no mail address"})
    if not subject.strip() or len(subject) > 500 or "\n" in subject or "\r" in subject:
        errors.append({"path": "subject", "message": "is one line of at most 500 characters"})
    if NOTHING_SAID in text:
        errors.append({"path": "text", "message": "does not say yet what is wrong"})
    if not text.strip() or len(text) > LONGEST:
        errors.append({"path": "text", "message": f"is at most {LONGEST:,} characters long"})
    if errors:
        raise BadInputError("The letter cannot be sent like this.", errors=errors)
