"""Let a document through although something was found, with a reason."""

from django.db import transaction

from veridox.core.findings import CODES
from veridox.core.findings.wording import counted
from veridox.service.accounts.actors import Actor
from veridox.service.documents.actions.check import apply
from veridox.service.documents.actions.common import locked_for_edit, move_to
from veridox.service.documents.models import Document, State
from veridox.service.errors import BadInputError, NotAllowedError, WrongStateError
from veridox.service.trail.record import record


@transaction.atomic
def post(actor: Actor, document_id: int, version: int, reason: str) -> Document:
    """Clear a document at the desk; it is posted next.

    Raises:
        WrongStateError: something must be put right first; says what.
        BadInputError: blocking findings are accepted only with a reason.
    """
    if actor.person is None:
        raise NotAllowedError("only a person can clear a document")
    document = locked_for_edit(actor, document_id, version, State.AT_DESK)
    blocking = [finding for finding in document.findings if finding["weight"] == "block"]
    hard = [finding for finding in blocking if not CODES[finding["code"]].accepted]
    if hard:
        raise WrongStateError(
            f"Document {document_id} cannot be posted before this is put right: "
            + " ".join(str(finding["message"]) for finding in hard),
            findings=hard,
        )
    if blocking and not reason.strip():
        raise BadInputError(
            f"{counted(len(blocking), 'blocking finding')} against posting; give a reason."
        )
    document.accepted = [
        {"code": finding["code"], "message": finding["message"], "by": actor.name, "reason": reason}
        for finding in blocking
    ]
    document.cleared_by, document.stopped_for = actor.person, []
    document.touched = True
    move_to(document, State.READ)
    details = {"accepted": [each["code"] for each in document.accepted], "reason": reason}
    record(actor, "document.cleared", "document", document.pk, details)
    apply(actor, document)
    return document
