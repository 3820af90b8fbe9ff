"""Values that a field may have, each with all its places."""

import math
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass

from veridox.core.extract.tagging.tagged import Span
from veridox.core.pages.words import WordOrigin
from veridox.core.reading import Candidate, Field, Origin, Value

OTHERS = 4
"""Candidates that a field keeps beside the chosen one."""


@dataclass(frozen=True)
class Choice:
    """A value with all its places.

    Attributes:
        value: stated.
        span: the likeliest place.
        chance: that the value is the field's, all its places together.
    """

    value: Value
    span: Span
    chance: float


def merged(
    found: Iterable[tuple[Value, Span]], key: Callable[[Value], object] = lambda value: value
) -> list[Choice]:
    """The values, each once, the likeliest first."""
    places: dict[object, list[tuple[Value, Span]]] = {}
    for value, span in found:
        places.setdefault(key(value), []).append((value, span))
    choices = []
    for same in places.values():
        doubt = math.prod(1 - min(span.chance, 0.9999) for _, span in same)
        value, span = max(same, key=lambda each: each[1].chance)
        choices.append(Choice(value, span, 1 - doubt))
    return sorted(choices, key=lambda each: -each.chance)


def odds(chance: float) -> float:
    """How much likelier it is than not."""
    chance = min(max(chance, 0.0), 0.9999)
    return chance / (1 - chance)


def share_of(choice: Choice, every: Iterable[Choice]) -> float:
    """The chance of a choice of which at most one is right, or none: by the odds of all.

    Two that are as likely share it; one that is hardly more than possible takes next to nothing
    from one that is all but sure.
    """
    own = odds(choice.chance)
    rivals = sum(odds(each.chance) for each in every if each.value != choice.value)
    return own / (1 + own + rivals)


def as_field(choice: Choice, others: Sequence[Choice], chance: float | None = None) -> Field:
    """A choice as a field of a reading."""
    span = choice.span
    origin = (
        Origin.OCR
        if any(w.origin is WordOrigin.OCR for token in span.tokens for w in token.words)
        else Origin.TEXT
    )
    said = choice.chance if chance is None else chance
    return Field(
        value=choice.value,
        text=span.text,
        page=span.page,
        box=span.box,
        confidence=min(max(said, 0.0), 1.0),
        origin=origin,
        others=tuple(
            Candidate(
                value=each.value,
                confidence=round(each.chance, 4),
                page=each.span.page,
                box=each.span.box,
            )
            for each in others
            if each.value != choice.value
        )[:OTHERS],
    )
