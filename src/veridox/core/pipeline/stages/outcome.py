"""What a stage answers."""

from collections.abc import Callable
from dataclasses import dataclass

from veridox.core.findings import Finding
from veridox.core.pipeline.case import Case
from veridox.core.pipeline.definition import Definition
from veridox.core.pipeline.effects import Effect
from veridox.core.pipeline.states import State


@dataclass(frozen=True, kw_only=True, slots=True)
class Stop:
    """The document goes no further: where it stands now, in which queue, and why."""

    state: State
    queue: str = ""
    reasons: tuple[str, ...] = ()


@dataclass(frozen=True, kw_only=True, slots=True)
class Outcome:
    """A stage lets through or stops.

    Attributes:
        stop: None when it lets through.
        effects: what is to be done outside.
        looked: what it looked at, for the trace.
        case: the case with what was learned here; None for nothing new.
        found: findings to add to those that stand.
    """

    stop: Stop | None = None
    effects: tuple[Effect, ...] = ()
    looked: tuple[str, ...] = ()
    case: Case | None = None
    found: tuple[Finding, ...] = ()


Stage = Callable[[Definition, Case], Outcome]
"""Pure: the same definition and case give the same outcome."""
