"""What is decided for good: discarded by a person, or taken back by its vendor's mail server."""

from veridox.core.pipeline.case import Case
from veridox.core.pipeline.definition import Definition
from veridox.core.pipeline.effects import GiveFree
from veridox.core.pipeline.stages.outcome import Outcome, Stop
from veridox.core.pipeline.statements import Said
from veridox.core.pipeline.states import State


def end(definition: Definition, case: Case) -> Outcome:
    """`discarded` and `returned` end a document; nothing after them is looked at."""
    del definition
    discarded = case.last(Said.DISCARDED)
    if discarded is not None:
        said = f"discarded by {_person(discarded.by)}: {discarded.reason}"
        stop = Stop(state=State.DISCARDED, reasons=(discarded.reason,))
        return Outcome(stop=stop, effects=(GiveFree(),), looked=(said,))
    sent = case.last(Said.SENT_BACK)
    if sent is not None and case.letter is not None and case.letter.state == "sent":
        reason = f"returned to {case.letter.to}"
        stop = Stop(state=State.RETURNED, reasons=(reason,))
        return Outcome(stop=stop, effects=(GiveFree(),), looked=(f"{reason}: the letter went out",))
    return Outcome()


def _person(actor: str) -> str:
    return actor.partition(":")[2] or actor
