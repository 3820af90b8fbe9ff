"""Let a document through although something was found, with a reason."""

from django.db import transaction

from veridox.core.checks import CODES
from veridox.core.findings import Finding
from veridox.core.findings.wording import counted
from veridox.core.pipeline import Identity, Said, identity_of
from veridox.service.accounts.actors import Actor
from veridox.service.desk.actions.prove import entered, proven_by
from veridox.service.documents.actions.common import locked_for_edit
from veridox.service.documents.actions.say import ANSWERED, no_longer, say
from veridox.service.documents.columns import current_reading, findings_of
from veridox.service.documents.models import Document, State
from veridox.service.errors import BadInputError, NotAllowedError, WrongStateError
from veridox.service.flow.actions.advance import walk
from veridox.service.flow.walks import conditions_seen


def _is_the_second(document: Document, actor: Actor, finding: Finding, identity: Identity) -> None:
    """Raises unless somebody else said how it was proven, and neither entered a value."""
    by = proven_by(document, identity)
    if not by:
        raise WrongStateError(
            f"This takes two people: {finding.message} First one says how it was proven, then "
            "another one accepts it.",
            findings=[finding.to_json()],
        )
    if by == actor.name:
        raise NotAllowedError(
            f"you said how it was proven; another person accepts it: {finding.message}"
        )
    entered(document, actor)


@transaction.atomic
def post(actor: Actor, document_id: int, version: int, reason: str) -> Document:
    """Clear a document at the desk: it goes on to the next gate, and is posted if none stops it.

    What is accepted are these very findings, with their figures, and the conditions as they
    stood; anything else that comes up stops it again.

    Raises:
        WrongStateError: something must be put right first; says what.
        BadInputError: blocking findings are accepted only with a reason.
    """
    if actor.person is None:
        raise NotAllowedError("only a person can clear a document")
    document = locked_for_edit(actor, document_id, version, State.AT_DESK)
    blocking = [finding for finding in findings_of(document) if finding.blocks]
    hard = [finding for finding in blocking if not CODES[finding.code].accepted]
    if hard:
        raise WrongStateError(
            f"Document {document_id} cannot be posted before this is put right: "
            + " ".join(finding.message for finding in hard),
            findings=[finding.to_json() for finding in hard],
        )
    reading, seen = current_reading(document), conditions_seen(document)
    for finding in blocking:
        if CODES[finding.code].second:
            _is_the_second(document, actor, finding, identity_of(finding, reading))
    if blocking and not reason.strip():
        raise BadInputError(
            f"{counted(len(blocking), 'blocking finding')} against posting; give a reason."
        )
    no_longer(document, actor, *ANSWERED, Said.CALLED)
    for finding in blocking:
        identity = identity_of(finding, reading)
        say(document, actor, Said.ACCEPTED, identity=identity, finding=finding, reason=reason)
    say(document, actor, Said.CLEARED, looked=seen, reason=reason)
    document.touched = True
    details = {"accepted": [finding.code for finding in blocking], "reason": reason}
    walk(actor, document, "document.cleared", details)
    return document
