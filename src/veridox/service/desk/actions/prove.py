"""Say how something was proven that only a second person may accept."""

from django.db import transaction

from veridox.core.checks import CODES
from veridox.core.language.typing import nearest
from veridox.core.pipeline import Identity, Said, identity_of
from veridox.service.accounts.actors import Actor
from veridox.service.documents.actions.common import locked_for_edit
from veridox.service.documents.actions.say import say
from veridox.service.documents.columns import current_reading, findings_of
from veridox.service.documents.models import Document, State, Statement
from veridox.service.errors import BadInputError, NotAllowedError, WrongStateError
from veridox.service.trail.record import record


@transaction.atomic
def prove(actor: Actor, document_id: int, version: int, code: str, how: str) -> Document:
    """Keep how a finding was proven to be harmless; another person then accepts it.

    Nothing moves by it: it stays at the desk for whoever accepts it.

    Args:
        actor: who made sure, and will not be the one who accepts it.
        document_id: which document.
        version: the version that was looked at.
        code: of the finding.
        how: what was done: whom one called, under which number, from where the number is.

    Raises:
        BadInputError: no such finding stands, or it does not say how.
        NotAllowedError: no person, or one who entered a value of the bill.
        WrongStateError: the finding is not accepted by two, or somebody said it already.
    """
    if actor.person is None:
        raise NotAllowedError("only a person can say how something was proven")
    if len(how.strip()) < 10:
        raise BadInputError(
            "Say how it was proven: whom you called, and where you had the number from."
        )
    document = locked_for_edit(actor, document_id, version, State.AT_DESK)
    standing = {each.code: each for each in findings_of(document)}
    finding = standing.get(code)
    if finding is None:
        hint = nearest(code, list(standing))
        raise BadInputError(f"No finding {code!r} stands here" + (f"; {hint}" if hint else "."))
    if not CODES[code].second:
        raise WrongStateError(f"{code} is accepted by one person, with a reason")
    entered(document, actor)
    identity = identity_of(finding, current_reading(document))
    if proven_by(document, identity) == actor.name:
        raise WrongStateError("you said already how it was proven; another person accepts it")
    say(document, actor, Said.PROVEN, identity=identity, finding=finding, reason=how.strip())
    document.touched = True
    document.taken_by, document.taken_at = None, None  # another one goes on with it
    document.version += 1
    document.save()
    details = {"code": code, "how": how.strip(), "message": finding.message}
    record(actor, "document.proven", "document", document.pk, details)
    return document


def entered(document: Document, actor: Actor) -> None:
    """Raises NotAllowedError for somebody who entered a value of the bill."""
    if document.readings.filter(made_by=actor.name).exists():
        raise NotAllowedError(
            "you entered a value of this bill: two people who did not prove and accept this"
        )


def proof_of(document: Document, identity: Identity) -> Statement | None:
    """What was said last of how exactly this finding was proven; None where nobody said it."""
    rows = document.statements.filter(what=Said.PROVEN, ended_at=None).order_by("-pk")
    for row in rows:
        if row.identity and Identity.from_json(row.identity) == identity:
            return row
    return None


def proven_by(document: Document, identity: Identity) -> str:
    """Who said it last; empty for nobody."""
    proof = proof_of(document, identity)
    return proof.by if proof is not None else ""
