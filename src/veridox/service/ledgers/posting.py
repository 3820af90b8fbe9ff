"""Carry a posting through, from wherever it stands. Network here, transactions in the actions."""

import logging
from collections.abc import Mapping
from datetime import datetime

from django.utils import timezone

from veridox.core.pipeline import Said
from veridox.core.posting import (
    AskPerson,
    Attach,
    Bill,
    Booked,
    Done,
    LookUp,
    PostingState,
    Promises,
    ReadBack,
    Rehearse,
    Send,
    Wait,
    Where,
    differences,
    next_step,
)
from veridox.service import wiring
from veridox.service.accounts.actors import Actor
from veridox.service.connections.actions.manage import note_health
from veridox.service.documents.models import State
from veridox.service.errors import UnreachableError
from veridox.service.ledgers.actions import answers
from veridox.service.ledgers.models import Posting
from veridox.service.ports.ledger import Ledger, NoAnswerError
from veridox.service.storage import originals

log = logging.getLogger(__name__)
POSTER = Actor.system("post")
NO_ANSWER_STORED = "the worker ended before the answer was stored"


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
        _Run(ledger, posting_id).carry_through()
    except UnreachableError as error:
        note_health(posting.ledger.name, str(error))
        answers.note_problem(posting_id, str(error))
        raise
    note_health(posting.ledger.name, "")


def _get(posting_id: str) -> Posting:
    return Posting.objects.select_related("document__file", "ledger").get(pk=posting_id)


class _Run:
    """One run of the machine: asks core what is next, does it, stores what came of it."""

    def __init__(self, ledger: Ledger, posting_id: str) -> None:
        self.ledger = ledger
        self.promises = Promises(
            repeats_safely=ledger.repeats_safely, late_window=ledger.late_window
        )
        self.id = posting_id
        self.posting = _get(posting_id)
        self.rehearsed = self.not_found = False

    def carry_through(self) -> None:
        """Until nothing is left to do. Raises UnreachableError to be tried again."""
        while self.posting.document.state == State.CLEARED and self._one_step():
            self.posting = _get(self.id)

    def where(self) -> Where:
        """Where the posting stands."""
        posting = self.posting
        return Where(
            state=PostingState(posting.state),
            sent_at=posting.sent_at,
            looked_up_at=_looked_up_at(posting),
            attached=posting.attached_at is not None,
            complete=posting.completed_at is not None,
            rehearsed=self.rehearsed,
            not_found=self.not_found,
        )

    def _one_step(self) -> bool:
        """Do the next thing; False when there is none, or when others have to act now."""
        match next_step(self.where(), self.promises, timezone.now()):
            case Rehearse():
                refusal = self.ledger.rehearse(self._bill())
                self.rehearsed = refusal is None
                if refusal is not None:
                    answers.store_refusal(POSTER, self.id, refusal)
                return self.rehearsed
            case Send():
                return self._send()
            case LookUp():
                return self._look_up()
            case Wait(seconds):
                answers.note_unsure(POSTER, self.id, NO_ANSWER_STORED)
                raise LookAgainError("the ledger may still book it", seconds)
            case AskPerson():
                answers.note_unsure(POSTER, self.id, NO_ANSWER_STORED)
                answers.ask_about(POSTER, self.id)
                return False
            case Attach():
                for sha256, name in self._files().items():
                    content = originals().get(sha256)
                    self.ledger.attach(self.posting.ledger_key, name, content, sha256)
                answers.note_attached(self.id)
                return True
            case ReadBack():
                standing = self.ledger.read_back(self.posting.ledger_key)
                answers.complete(self.id, differences(self._bill(), standing, self._files()))
                return False
            case Done():
                return False

    def _send(self) -> bool:
        """Stored as `sending` first, then one call, then its answer."""
        if answers.begin_sending(self.id, self.posting.state) is None:
            return False
        try:
            answer = self.ledger.post(self.id, self._bill())
        except NoAnswerError as error:
            answers.note_unsure(POSTER, self.id, str(error))
            raise LookAgainError(str(error), self.ledger.late_window) from error
        except UnreachableError as error:
            answers.note_not_sent(self.id, str(error))
            raise
        if isinstance(answer, Booked):
            answers.store_booked(POSTER, self.id, answer)
            return True
        answers.store_refusal(POSTER, self.id, answer)
        return False

    def _look_up(self) -> bool:
        """An earlier attempt ended without a stored answer."""
        booked = self.ledger.find(self.id)
        if booked is not None:
            log.info("posting found in the ledger", extra={"posting": self.id})
            answers.store_booked(POSTER, self.id, booked)
        self.not_found = booked is None
        return True

    def _bill(self) -> Bill:
        return Bill.from_json(self.posting.bill)

    def _files(self) -> Mapping[str, str]:
        """The original, then what came with it in the same mail: a delivery note, its XML."""
        file = self.posting.document.file
        return {each.sha256: each.name for each in (file, *file.supporting.order_by("position"))}


def _looked_up_at(posting: Posting) -> datetime | None:
    """When somebody last looked into the ledger and posted with a reason."""
    said = posting.document.statements.filter(
        what=Said.ACCEPTED, identity__code="posting.unsure", ended_at=None
    )
    return said.order_by("-pk").values_list("said_at", flat=True).first()
