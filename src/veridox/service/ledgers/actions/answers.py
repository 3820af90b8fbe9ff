"""Store what happened to a posting: about to be sent, booked, refused, unsure, complete."""

from django.db import transaction
from django.utils import timezone

from veridox.core.findings import Finding, Weight
from veridox.service.accounts.actors import Actor
from veridox.service.documents.actions.common import locked, move_to
from veridox.service.documents.models import Document, State
from veridox.service.ledgers.models import Posting, PostingState
from veridox.service.ledgers.ports import Booked, Refusal
from veridox.service.mail.actions.settle import settle
from veridox.service.notices.actions.queue import queue_notices
from veridox.service.trail.record import record


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
    # A person's word that the ledger does not hold it was for this sending alone.
    kept = [each for each in document.accepted if each["code"] != "posting.unsure"]
    if kept != document.accepted:
        document.accepted = kept
        document.save(update_fields=["accepted"])
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


def _to_desk(document: Document, finding: Finding) -> None:
    document.findings = [*document.findings, finding.to_json()]
    document.reasons = [finding.message]
    document.queue = "exceptions"
    document.cleared_by = None
    move_to(document, State.AT_DESK)
    document.save()
    queue_notices(document, "at the desk")
    if document.file.message_id:
        settle(document.file.message_id)


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
    _to_desk(document, finding)
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
    _to_desk(document, finding)
    record(actor, "posting.asked", "document", document.pk, {"reference": posting_id})


@transaction.atomic
def note_attached(posting_id: str) -> None:
    """The original is attached to the bill."""
    _, posting = _locked(posting_id)
    if posting.attached_at is None:
        posting.attached_at = timezone.now()
        posting.save(update_fields=["attached_at"])


@transaction.atomic
def complete(actor: Actor, posting_id: str, differences: tuple[str, ...]) -> None:
    """Booked, attached and read back: the document is posted, and people are told."""
    document, posting = _locked(posting_id)
    if document.state == State.POSTED or posting.state != PostingState.POSTED:
        return
    if differences:
        finding = Finding(
            code="posting.differs",
            weight=Weight.WARN,
            message=f"Bill {posting.number} differs from what was sent: {'; '.join(differences)}.",
            hint="Look at the bill in the ledger.",
        )
        document.findings = [*document.findings, finding.to_json()]
    document.queue, document.reasons = "", []
    move_to(document, State.POSTED)
    document.save()
    posting.problem = ""
    posting.save(update_fields=["problem"])
    queue_notices(document, "posted")
    if document.file.message_id:
        settle(document.file.message_id)
    details = {"number": posting.number, "differences": list(differences)}
    record(actor, "document.posted", "document", document.pk, details)
