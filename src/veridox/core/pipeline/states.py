"""Where a document can stand, and the events that people may be told of."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from veridox.core.language import Scope
from veridox.core.language.names import END_OF_RUN


class State(StrEnum):
    """Where a document stands."""

    RECEIVED = "received"  # known, to be read (anew)
    READ = "read"  # read, to be checked
    CHECKED = "checked"  # checked, on its way through the gates
    AT_DESK = "at_desk"  # a person must look
    ASKED = "asked"  # somebody must answer
    WITH_APPROVER = "with_approver"  # somebody must take responsibility
    WAITING = "waiting"  # for a goods receipt, an order, a vendor or a date
    CLEARED = "cleared"  # to be posted
    FAILED = "failed"  # stopped for a technical reason
    POSTED = "posted"  # stands in the ledger
    KEPT = "kept"  # delivered, nothing to post
    RETURNED = "returned"  # back to the vendor
    DISCARDED = "discarded"  # ended with a reason
    ASIDE = "aside"  # kept with its mail, nothing to post


WITH_PEOPLE: Final = (State.AT_DESK, State.ASKED, State.WITH_APPROVER, State.WAITING)
ENDED: Final = (State.POSTED, State.KEPT, State.RETURNED, State.DISCARDED, State.ASIDE)


@dataclass(frozen=True, kw_only=True, slots=True)
class Event:
    """Something that a pipeline may tell people of.

    Attributes:
        template: name of the text that ships for it.
        scope: what is known then, for conditions and texts.
        state: the state of a document whose coming is the event; None for a mail's or a run's.
    """

    template: str
    scope: Scope
    state: State | None = None


STILL_WAITING: Final = "still waiting"
"""The event of a document that has waited so long that somebody is told."""
TAKEN_IN: Final = "taken in"
"""The event of a mail; all others but the end of a run are documents'."""

EVENTS: Final[dict[str, Event]] = {
    TAKEN_IN: Event(template="taken-in", scope=Scope.MAIL),
    "posted": Event(template="posted", scope=Scope.POSTED, state=State.POSTED),
    "at the desk": Event(template="at-the-desk", scope=Scope.STOPPED, state=State.AT_DESK),
    "waiting": Event(template="waiting", scope=Scope.STOPPED, state=State.WAITING),
    STILL_WAITING: Event(template="still-waiting", scope=Scope.STOPPED),
    "returned": Event(template="returned", scope=Scope.STOPPED, state=State.RETURNED),
    "discarded": Event(template="discarded", scope=Scope.STOPPED, state=State.DISCARDED),
    "failed": Event(template="failed", scope=Scope.STOPPED, state=State.FAILED),
    END_OF_RUN: Event(template="run-summary", scope=Scope.RUN),
}
"""Events by the name that a pipeline file calls them."""


def event_of(state: State) -> str:
    """The event that the coming of a state is; empty where nobody is told of it."""
    return next((name for name, event in EVENTS.items() if event.state is state), "")


TEMPLATES: Final = tuple(dict.fromkeys(event.template for event in EVENTS.values()))
"""Names of the texts that ship."""
