"""Carry a posting through, from wherever it stands. Network here, transactions in the actions."""

import logging
from datetime import timedelta

from django.utils import timezone

from veridox.service import wiring
from veridox.service.accounts.actors import Actor
from veridox.service.connections.actions.manage import note_health
from veridox.service.documents.models import File, State
from veridox.service.errors import UnreachableError
from veridox.service.ledgers.actions import answers
from veridox.service.ledgers.models import Posting, PostingState
from veridox.service.ledgers.ports import Booked, Ledger, NoAnswerError, Standing
from veridox.service.storage import originals

log = logging.getLogger(__name__)
POSTER = Actor.system("post")


class LookAgainError(UnreachableError):
    """The ledger may still book what it did not answer; look again after its window."""

    def __init__(self, message: str, seconds: float) -> None:
        super().__init__(message)
        self.retry_after = seconds


def post(posting_id: str) -> None:
    """Advance until the bill is booked, attached and read back, refused, or a person is asked.

    Raises:
        UnreachableError: to be tried again; everything done so far is stored.
    """
    posting = _get(posting_id)
    if posting.document.state != State.CLEARED:
        return
    ledger = wiring.open_ledger(posting.ledger)
    try:
        if posting.state in (PostingState.SENDING, PostingState.UNSURE):
            _find_out(ledger, posting)
        elif posting.state in (PostingState.PREPARED, PostingState.REFUSED):
            _rehearse_and_send(ledger, posting)
        _finish(ledger, _get(posting_id))
    except UnreachableError as error:
        note_health(posting.ledger.name, str(error))
        answers.note_problem(posting_id, str(error))
        raise
    note_health(posting.ledger.name, "")


def _get(posting_id: str) -> Posting:
    return Posting.objects.select_related("document__file", "ledger").get(pk=posting_id)


def _rehearse_and_send(ledger: Ledger, posting: Posting) -> None:
    refusal = ledger.rehearse(posting.bill)
    if refusal is not None:
        answers.store_refusal(POSTER, str(posting.pk), refusal)
        return
    _send(ledger, posting)


def _send(ledger: Ledger, posting: Posting) -> None:
    """Stored as `sending` first, then one call, then its answer."""
    reference = str(posting.pk)
    if answers.begin_sending(reference, posting.state) is None:
        return
    try:
        answer = ledger.post(reference, posting.bill)
    except NoAnswerError as error:
        answers.note_unsure(POSTER, reference, str(error))
        raise LookAgainError(str(error), ledger.late_window) from error
    except UnreachableError as error:
        answers.note_not_sent(reference, str(error))
        raise
    if isinstance(answer, Booked):
        answers.store_booked(POSTER, reference, answer)
    else:
        answers.store_refusal(POSTER, reference, answer)


def _find_out(ledger: Ledger, posting: Posting) -> None:
    """An earlier attempt ended without a stored answer: look, wait, look, only then act."""
    reference = str(posting.pk)
    booked = ledger.find(reference)
    if booked is not None:
        log.info("posting found in the ledger", extra={"posting": reference})
        answers.store_booked(POSTER, reference, booked)
        return
    sent_at = posting.sent_at or timezone.now()
    left = sent_at + timedelta(seconds=ledger.late_window) - timezone.now()
    if left > timedelta(0):
        answers.note_unsure(POSTER, reference, "the worker ended before the answer was stored")
        raise LookAgainError("the ledger may still book it", left.total_seconds())
    if ledger.repeats_safely or _was_looked_up_by_a_person(posting):
        _send(ledger, _get(reference))
        return
    answers.note_unsure(POSTER, reference, "the worker ended before the answer was stored")
    answers.ask_about(POSTER, reference)


def _was_looked_up_by_a_person(posting: Posting) -> bool:
    """Somebody looked into the ledger and posted with a reason; good for one sending."""
    return any(each["code"] == "posting.unsure" for each in posting.document.accepted)


def _finish(ledger: Ledger, posting: Posting) -> None:
    if posting.state != PostingState.POSTED:
        return
    reference = str(posting.pk)
    if posting.attached_at is None:
        for each in _to_attach(posting):
            content = originals().get(each.sha256)
            ledger.attach(posting.ledger_key, each.name, content, each.sha256)
        answers.note_attached(reference)
    standing = ledger.read_back(posting.ledger_key)
    answers.complete(POSTER, reference, tuple(_differences(posting, standing)))


def _to_attach(posting: Posting) -> list[File]:
    """The original, then what came with it in the same mail: a delivery note, its XML."""
    file = posting.document.file
    return [file, *file.supporting.order_by("position")]


def _differences(posting: Posting, standing: Standing) -> list[str]:
    bill, said = posting.bill, []
    if standing.gross_total != bill["gross_total"]:
        said.append(f"total {standing.gross_total} instead of {bill['gross_total']}")
    sent = [line["amount"] for line in bill["lines"]]
    if list(standing.lines) != sent:
        said.append(f"line amounts {', '.join(standing.lines)} instead of {', '.join(sent)}")
    missing = [each.name for each in _to_attach(posting) if each.sha256 not in standing.attachments]
    if missing:
        said.append(f"not attached: {', '.join(missing)}")
    return said
