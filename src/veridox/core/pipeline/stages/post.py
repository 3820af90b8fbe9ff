"""The last gate: a bill that all others let through is posted, once."""

from veridox.core.findings import Finding, Weight
from veridox.core.pipeline.case import Case, PostingFact
from veridox.core.pipeline.definition import Definition
from veridox.core.pipeline.effects import PreparePosting
from veridox.core.pipeline.stages.outcome import Outcome, Stop
from veridox.core.pipeline.statements import Said
from veridox.core.pipeline.states import State

UNDER_WAY = ("prepared", "sending", "unsure", "posted")
"""States of a posting that may stand in the ledger, or will unless something stops it."""


def under_way(case: Case) -> bool:
    """Whether a posting is on its way, and nothing was told that a person must look at."""
    posting = case.posting
    if posting is None or posting.state not in UNDER_WAY or case.state is not State.CLEARED:
        return False
    return not any(each.finding for each in case.statements if each.what is Said.TOLD)


def post(definition: Definition, case: Case) -> Outcome:
    """Prepares a posting, waits for it, or ends the document as posted."""
    posting = case.posting
    if posting is not None and under_way(case):
        if not posting.complete:
            said = f"posting {posting.id} is {posting.state}"
            return Outcome(stop=Stop(state=State.CLEARED), looked=(said,))
        return _posted(definition, posting)
    if definition.post is None:
        return Outcome(looked=("nothing is posted by this pipeline",))
    said = f"to be posted to {definition.post.ledger} as {definition.post.kind}"
    effect = PreparePosting(
        ledger=definition.post.ledger, kind=definition.post.kind,
        coding=case.checked.coding if case.checked else (),
    )  # fmt: skip
    return Outcome(stop=Stop(state=State.CLEARED), effects=(effect,), looked=(said,))


def _posted(definition: Definition, posting: PostingFact) -> Outcome:
    """Booked, attached and read back."""
    looked = (f"stands in the ledger as {posting.number}",)
    stop = Stop(state=State.POSTED)
    if not posting.differences:
        return Outcome(stop=stop, looked=looked)
    message = f"Bill {posting.number} differs from what was sent: {'; '.join(posting.differences)}."
    differs = Finding(
        code="posting.differs",
        weight=definition.check.weights.get("posting.differs", Weight.WARN),
        message=message,
        hint="Look at the bill in the ledger.",
    )
    return Outcome(stop=stop, looked=(*looked, message), found=(differs,))
