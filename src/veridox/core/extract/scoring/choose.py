"""From chances to fields: each field its likeliest value, each value at most one field."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from veridox.core.extract.header import as_field
from veridox.core.extract.scoring.describe import FIELDS
from veridox.core.extract.scoring.model import Scored
from veridox.core.reading import Candidate, Field, Value

LEAST = 0.4
"""Chance from which a value is stated; below, a person is asked and not told something wrong."""
NAMED = (*FIELDS["date"], *FIELDS["id"], *FIELDS["name"])
"""Fields that are chosen one by one; amounts are chosen together (totals)."""
OTHERS = 4


@dataclass(frozen=True, kw_only=True, slots=True)
class Likely:
    """A value of a field with all the places that state it.

    Attributes:
        best: the likeliest place.
        chance: that the value is the field's, all its places together.
    """

    best: Scored
    chance: float

    @property
    def value(self) -> Value:
        """What is stated."""
        return self.best.spot.found.value


def by_value(scored: Iterable[Scored]) -> list[Likely]:
    """The values of a field, the likeliest first."""
    places: dict[Value, list[Scored]] = {}
    for each in scored:
        places.setdefault(each.spot.found.value, []).append(each)
    found = []
    for same in places.values():
        doubt = 1.0
        for each in same:
            doubt *= 1 - each.chance
        found.append(Likely(best=max(same, key=lambda each: each.chance), chance=1 - doubt))
    return sorted(found, key=lambda each: -each.chance)


def chosen(
    scored: Mapping[str, Sequence[Scored]], names: Sequence[str] = NAMED
) -> dict[str, Field]:
    """The fields that are stated; a value may name two fields only where it stands twice."""
    likely = {name: by_value(scored.get(name, ())) for name in names}
    wishes = sorted(
        ((each.chance, name, each) for name, values in likely.items() for each in values),
        key=lambda wish: (-wish[0], wish[1]),
    )
    fields: dict[str, Field] = {}
    taken: set[tuple[object, ...]] = set()
    for chance, name, each in wishes:
        found = each.best.spot.found
        place = (found.page, found.box.left, found.box.top)
        if name in fields or chance < LEAST or place in taken:
            continue
        taken.add(place)
        # Values that are likely, too, share what there is.
        share = chance / max(1.0, sum(other.chance for other in likely[name]))
        fields[name] = as_field(found, share, _candidates(likely[name], each.value))
    return fields


def others_of(scored: Iterable[Scored], field: Field) -> tuple[Candidate, ...]:
    """The other values that were considered for a field, the model's before those it had."""
    found = _candidates(by_value(scored), field.value)
    known = {each.value for each in found}
    return (*found, *(each for each in field.others if each.value not in known))[:OTHERS]


def _candidates(likely: Iterable[Likely], chosen: Value) -> tuple[Candidate, ...]:
    return tuple(
        Candidate(
            value=other.value, confidence=round(other.chance, 4),
            page=other.best.spot.found.page, box=other.best.spot.found.box,
        )
        for other in likely
        if other.value != chosen
    )[:OTHERS]  # fmt: skip
