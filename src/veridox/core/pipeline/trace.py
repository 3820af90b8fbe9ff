"""What a walk looked at: one entry per stage, each line a sentence with its values."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass


@dataclass(frozen=True, kw_only=True, slots=True)
class Step:
    """One stage of a walk.

    Attributes:
        stage: its name.
        looked: what it looked at, a sentence each.
        then: what followed: `on`, or where the document stopped.
    """

    stage: str
    looked: tuple[str, ...] = ()
    then: str = "on"


Trace = tuple[Step, ...]


def to_json(trace: Iterable[Step]) -> list[list[object]]:
    """Compact, as it is stored with each walk: `[stage, then, sentence, ...]`."""
    return [[step.stage, step.then, *step.looked] for step in trace]


def from_json(data: Iterable[Iterable[object]]) -> Trace:
    """Back from `to_json`."""
    found = []
    for row in data:
        stage, then, *looked = (str(each) for each in row)
        found.append(Step(stage=stage, then=then, looked=tuple(looked)))
    return tuple(found)


def shown(trace: Iterable[Step]) -> list[Mapping[str, object]]:
    """For people and programs: each step with what it looked at and what followed."""
    return [{"stage": step.stage, "looked": list(step.looked), "then": step.then} for step in trace]
