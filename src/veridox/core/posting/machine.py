"""Posting as a machine without I/O: from where a posting stands to the one thing to do next.

What keeps it exactly once: a bill is stored as `sending` before the call; what had no answer is
looked up before anything else, waited for as long as the ledger may still book it, and sent again
only where the ledger promises to book once, or where a person looked into it since.
"""

from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum


class PostingState(StrEnum):
    """Where a posting stands."""

    PREPARED = "prepared"  # to be sent
    SENDING = "sending"  # sent, no answer stored yet
    DRAFTED = "drafted"  # stands in the ledger as a draft
    POSTED = "posted"  # booked
    REFUSED = "refused"  # the ledger said no; nothing was booked
    UNSURE = "unsure"  # no answer: it may be booked or not
    CANCELLED = "cancelled"  # taken back in the ledger


@dataclass(frozen=True, kw_only=True, slots=True)
class Where:
    """Where a posting stands.

    Attributes:
        state: as it is stored.
        sent_at: when it was sent last; None before.
        looked_up_at: when a person last said that the ledger does not hold it; None for never.
        attached: its files are attached.
        complete: it was read back.
        rehearsed: in this run the ledger had nothing against it.
        not_found: in this run the ledger was asked for it and did not hold it.
    """

    state: PostingState
    sent_at: datetime | None = None
    looked_up_at: datetime | None = None
    attached: bool = False
    complete: bool = False
    rehearsed: bool = False
    not_found: bool = False


@dataclass(frozen=True, kw_only=True, slots=True)
class Promises:
    """What a ledger promises.

    Attributes:
        repeats_safely: a request with the same key books once.
        late_window: seconds within which it may still book what it did not answer.
    """

    repeats_safely: bool
    late_window: float


@dataclass(frozen=True, slots=True)
class Rehearse:
    """Ask the ledger for all of its own checks; nothing is written."""


@dataclass(frozen=True, slots=True)
class Send:
    """Store that it is being sent, then send."""


@dataclass(frozen=True, slots=True)
class LookUp:
    """Ask the ledger for the bill with our reference."""


@dataclass(frozen=True, slots=True)
class Wait:
    """The ledger may still book it: look again after `seconds`."""

    seconds: float


@dataclass(frozen=True, slots=True)
class AskPerson:
    """Neither booked nor certainly not, and no promise: a person looks into the ledger."""


@dataclass(frozen=True, slots=True)
class Attach:
    """Attach the original and what came with it."""


@dataclass(frozen=True, slots=True)
class ReadBack:
    """Read the bill back and compare."""


@dataclass(frozen=True, slots=True)
class Done:
    """Nothing is to be done (any more)."""


Step = Rehearse | Send | LookUp | Wait | AskPerson | Attach | ReadBack | Done


def next_step(where: Where, promises: Promises, now: datetime) -> Step:
    """The one thing to do next; see the module."""
    match where.state:
        case PostingState.PREPARED | PostingState.REFUSED:
            return Send() if where.rehearsed else Rehearse()
        case PostingState.SENDING | PostingState.UNSURE:
            return _find_out(where, promises, now)
        case PostingState.POSTED if not where.complete:
            return ReadBack() if where.attached else Attach()
        case _:
            return Done()


def _find_out(where: Where, promises: Promises, now: datetime) -> Step:
    if not where.not_found:
        return LookUp()
    sent_at = where.sent_at or now
    left = sent_at + timedelta(seconds=promises.late_window) - now
    if left > timedelta(0):
        return Wait(left.total_seconds())
    # A person's word that the ledger does not hold it is good for one sending.
    by_person = where.looked_up_at is not None and where.looked_up_at >= sent_at
    return Send() if promises.repeats_safely or by_person else AskPerson()
