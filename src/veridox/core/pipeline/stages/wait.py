"""Waiting: what comes by itself is waited for, and nobody has to look meanwhile."""

from veridox.core.pipeline.case import Case
from veridox.core.pipeline.definition import Definition
from veridox.core.pipeline.stages.desk import desk
from veridox.core.pipeline.stages.outcome import Outcome, Stop
from veridox.core.pipeline.statements import Said
from veridox.core.pipeline.states import State


def wait(definition: Definition, case: Case) -> Outcome:
    """Stops a document that nothing else keeps from going on; else lets through to the desk.

    All that stops it must be of codes that wait (a goods receipt, the approval of an order), and
    the desk must have no reason of its own. It is looked at anew when something arrives that may
    help, and goes on by itself. Whoever called it to the desk, or the pipeline because it has
    waited long enough, ends the waiting.
    """
    checked, codes = case.checked, definition.wait.codes
    if checked is None or not checked.open or not codes:
        return Outcome()
    called = case.last(Said.CALLED)
    if called is not None:
        return Outcome(looked=(f"does not wait any more: {called.reason}",))
    others = sorted({each.code for each in checked.open} - codes)
    if others:
        return Outcome()
    stop = desk(definition, case).stop
    waited = {each.message for each in checked.open}
    if stop is None or not set(stop.reasons) <= waited:
        return Outcome(looked=("the desk has a reason of its own",))
    return Outcome(
        stop=Stop(state=State.WAITING, reasons=stop.reasons),
        looked=tuple(f"waits: {reason}" for reason in stop.reasons),
    )
