"""Store what happened to a posting: about to be sent, booked, refused, unsure, complete."""

from django.db import transaction
from django.utils import timezone

from veridox.core.findings import Finding, Weight
from veridox.core.pipeline import Said
from veridox.core.pipeline.statements import Identity
from veridox.core.posting import Booked, PostingState, Refusal
from veridox.service.accounts.actors import Actor
from veridox.service.documents.actions.common import locked
from veridox.service.documents.actions.say import say
from veridox.service.documents.models import Document, State
from veridox.service.ledgers.models import Posting
from veridox.service.trail.record import record
from veridox.service.work import defer


def _locked(posting_id: str) -> tuple[Document, Posting]:
    # Always the document first, so that two acts never wait for each other.
    document_id = Posting.objects.values_list("document_id", flat=True).get(pk=posting_id)
    document = locked(document_id)
    return document, Posting.objects.select_for_update().get(pk=posting_id)


@transaction.atomic
def begin_sending(posting_id: str, expected: str) -> Posting | None:
    """Store that the bill is about to be sent. None when it stands elsewhere by now."""
    document, posting = _locked(posting_id)
    if posting.state != expected or document.state != State.CLEARED:
        return None
    posting.state = PostingState.SENDING
    posting.attempts += 1
    posting.sent_at = timezone.now()
    posting.save()
    return posting


@transaction.atomic
def note_not_sent(posting_id: str, problem: str) -> None:
    """The ledger could not be reached: certainly nothing was booked by this attempt."""
    _, posting = _locked(posting_id)
    if posting.state == PostingState.SENDING and posting.attempts == 1:
        posting.state = PostingState.PREPARED
    elif posting.state == PostingState.SENDING:
        # An earlier attempt had no answer; that one may still be booked.
        posting.state = PostingState.UNSURE
    posting.problem = problem
    posting.save()


def note_problem(posting_id: str, problem: str) -> None:
    """Why it has not come further yet, for whoever looks; no act of the trail."""
    waiting = Posting.objects.filter(pk=posting_id).exclude(state=PostingState.REFUSED)
    waiting.filter(document__state=State.CLEARED).update(problem=problem)


@transaction.atomic
def note_unsure(actor: Actor, posting_id: str, problem: str) -> None:
    """The ledger gave no answer."""
    document, posting = _locked(posting_id)
    if posting.state != PostingState.SENDING:
        return
    posting.state = PostingState.UNSURE
    posting.problem = problem
    posting.save()
    record(actor, "posting.unsure", "document", document.pk, {"problem": problem})


@transaction.atomic
def store_booked(actor: Actor, posting_id: str, booked: Booked) -> None:
    """The bill stands in the ledger."""
    document, posting = _locked(posting_id)
    if posting.state == PostingState.POSTED:
        return
    posting.state = PostingState.POSTED
    posting.number, posting.link = booked.number, booked.link
    posting.ledger_key, posting.posted_at = booked.ledger_id, timezone.now()
    posting.problem = ""
    posting.save()
    details = {
        "number": booked.number,
        "reference": posting_id,
        "ledger": posting.ledger.name,
        "attempts": posting.attempts,
    }
    record(actor, "posting.booked", "document", document.pk, details)


def _tell(actor: Actor, document: Document, posting: Posting, finding: Finding) -> None:
    """What the ledger says stands until a person decides. Each time is another one."""
    values = (str(posting.pk), str(posting.attempts))
    identity = Identity(code=finding.code, figures=(finding.found or "",), values=values)
    say(document, actor, Said.TOLD, identity=identity, finding=finding)
    defer("advance", document_id=document.pk)


@transaction.atomic
def store_refusal(actor: Actor, posting_id: str, refusal: Refusal) -> None:
    """The ledger says no: back to the desk with its reasons."""
    document, posting = _locked(posting_id)
    if posting.state not in (PostingState.PREPARED, PostingState.SENDING, PostingState.UNSURE):
        return
    reasons = "; ".join(refusal.reasons)
    posting.state, posting.problem = PostingState.REFUSED, reasons
    posting.save()
    if refusal.in_ledger:
        code = "duplicate.in_ledger"
        message = f"The ledger already has this vendor's number as {refusal.in_ledger}."
    else:
        code, message = "ledger.refused", f"The ledger refuses the bill: {reasons}."
    finding = Finding(
        code=code,
        weight=Weight.BLOCK,
        message=message,
        found=refusal.in_ledger or None,
        hint="Put right what the ledger names, or discard the document.",
    )
    _tell(actor, document, posting, finding)
    record(actor, "posting.refused", "document", document.pk, {"reasons": refusal.reasons})


@transaction.atomic
def ask_about(actor: Actor, posting_id: str) -> None:
    """Neither booked nor certainly not: stop and ask a person rather than send twice."""
    document, posting = _locked(posting_id)
    if posting.state != PostingState.UNSURE or document.state != State.CLEARED:
        return
    finding = Finding(
        code="posting.unsure",
        weight=Weight.BLOCK,
        message=f"The ledger did not answer ({posting.problem}), and the bill with our reference "
        f"{posting_id} was not found there since.",
        hint="Look into the ledger; then post with a reason, or discard.",
    )
    _tell(actor, document, posting, finding)
    record(actor, "posting.asked", "document", document.pk, {"reference": posting_id})


@transaction.atomic
def note_attached(posting_id: str) -> None:
    """The original is attached to the bill."""
    _, posting = _locked(posting_id)
    if posting.attached_at is None:
        posting.attached_at = timezone.now()
        posting.save(update_fields=["attached_at"])


@transaction.atomic
def complete(posting_id: str, differences: tuple[str, ...]) -> None:
    """Booked, attached and read back: the document goes on to its end."""
    document, posting = _locked(posting_id)
    if posting.completed_at is not None or posting.state != PostingState.POSTED:
        return
    posting.completed_at, posting.differences = timezone.now(), list(differences)
    posting.problem = ""
    posting.save(update_fields=["completed_at", "differences", "problem"])
    defer("advance", document_id=document.pk)
