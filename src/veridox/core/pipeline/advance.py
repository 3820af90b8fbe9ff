"""The road a document takes, as a pure program: the same case gives the same answer."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Final

from veridox.core.findings import Finding
from veridox.core.pipeline.case import Case, Checked
from veridox.core.pipeline.definition import Definition
from veridox.core.pipeline.effects import Effect, Notify, SettleMail
from veridox.core.pipeline.stages.outcome import Outcome, Stop
from veridox.core.pipeline.stages.post import under_way
from veridox.core.pipeline.stages.road import ROAD, Place
from veridox.core.pipeline.states import State, event_of
from veridox.core.pipeline.trace import Step, Trace


@dataclass(frozen=True, kw_only=True, slots=True)
class Advance:
    """Where a document stands now, what is to be done, and why.

    Attributes:
        state, queue, reasons: where it stands; the reasons are sentences for people.
        effects: what is to be done outside, in this order.
        trace: what was looked at, stage by stage.
        checked: what the checks said; None when they were not asked.
        found: findings that were added to those that stood.
    """

    state: State
    queue: str = ""
    reasons: tuple[str, ...] = ()
    effects: tuple[Effect, ...] = ()
    trace: Trace = ()
    checked: Checked | None = None
    found: tuple[Finding, ...] = ()


_NOWHERE: Final = Stop(
    state=State.AT_DESK,
    queue="exceptions",
    reasons=("This pipeline posts nothing; a person says what becomes of it.",),
)
"""Where a document stands that every gate let through and nothing is to be done with."""


def advance(definition: Definition, case: Case, road: Iterable[Place] = ROAD) -> Advance:
    """Walk the stages until one stops the document or the outside has to act. Never raises.

    Args:
        definition: of the pipeline version that handles the document.
        case: all that is known of it.
        road: places to walk, in order.

    A document whose posting is on its way is looked at only where postings are: what changed
    meanwhile does not stop a bill that may be booked already. A stage that fails by a mistake
    in it stops the document as `failed` with the reason.
    """
    on_its_way = under_way(case)
    steps: list[Step] = []
    effects: list[Effect] = []
    found: tuple[Finding, ...] = ()
    stop: Stop | None = None
    for place in road:
        if place.stage is None or (on_its_way and not place.under_way):
            continue
        try:
            outcome = _looked_at(place, definition, case)
        except StageError as failure:
            outcome = Outcome(stop=Stop(state=State.FAILED, reasons=(str(failure),)))
        case = outcome.case or case
        effects += outcome.effects
        found += outcome.found
        stop = outcome.stop
        steps.append(_step(place, outcome))
        if stop is not None:
            break
    stop = stop or _NOWHERE
    return Advance(
        state=stop.state,
        queue=stop.queue,
        reasons=stop.reasons,
        effects=(*effects, *_usual(case, stop)),
        trace=tuple(steps),
        checked=case.checked,
        found=found,
    )


class StageError(Exception):
    """A stage failed, by a mistake in it."""

    def __init__(self, place: str, error: Exception) -> None:
        super().__init__(f"Stopped at {place}: {str(error) or type(error).__name__}")
        self.place = place


def _looked_at(place: Place, definition: Definition, case: Case) -> Outcome:
    assert place.stage is not None  # noqa: S101 - the caller looked
    try:
        return place.stage(definition, case)
    except Exception as error:
        raise StageError(place.name, error) from error


def _step(place: Place, outcome: Outcome) -> Step:
    if outcome.stop is None:
        return Step(stage=place.name, looked=outcome.looked)
    where = outcome.stop.state.value.replace("_", " ")
    if outcome.stop.queue:
        where += f", queue {outcome.stop.queue}"
    return Step(stage=place.name, looked=outcome.looked, then=where)


def _usual(case: Case, stop: Stop) -> tuple[Effect, ...]:
    """Tell of its coming, once: not again of what stands where it stood; have its mail moved."""
    moved = (stop.state, stop.queue) != (case.state, case.queue)
    event = event_of(stop.state)
    told: tuple[Effect, ...] = (Notify(event=event),) if moved and event else ()
    return (*told, SettleMail()) if stop.state is not case.state else told
