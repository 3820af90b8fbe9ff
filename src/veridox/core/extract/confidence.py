"""From how much speaks for a value to the chance that it is right.

What rules and the model say orders values; how often values of an order were right on families
of layouts that no weight was made of (`tools/corpus/split.txt`: tuning) makes it a chance. The
map is stored with the model, as text: by group of values, rising points (said, right).
"""

import json
from bisect import bisect_right
from collections.abc import Mapping, Sequence
from dataclasses import replace
from functools import cache
from importlib import resources

from veridox.core.extract.cells import line_holds
from veridox.core.reading import Field, Row

Points = Sequence[tuple[float, float]]
"""Rising: what was said, and how often that was right."""
RISK = "document"
"""The group of whole documents: how likely any value to be posted is wrong."""


@cache
def shipped_points() -> Mapping[str, Points]:
    """The maps that come with the package; empty where none was made yet."""
    return _stored("veridox.core.extract.scoring")


@cache
def tagged_points() -> Mapping[str, Points]:
    """The same for values that only tagged words state."""
    return _stored("veridox.core.extract.tagging")


def _stored(package: str) -> Mapping[str, Points]:
    file = resources.files(package).joinpath("confidence.json")
    if not file.is_file():
        return {}
    stored = json.loads(file.read_text("utf-8"))
    return {name: [(x, y) for x, y in points] for name, points in stored.items()}


def chance(group: str, said: float, points: Mapping[str, Points] | None = None) -> float:
    """The chance, in [0, 1], that a value is right.

    Args:
        group: of values; one that nothing was learned of keeps what was said.
        said: in [0, 1].
        points: maps by group; those of the package where None.
    """
    known = (shipped_points() if points is None else points).get(group)
    if not known:
        return said
    at = bisect_right([x for x, _ in known], said)
    if at == 0:
        # Nothing that was said so low was ever tried: it is believed less.
        first, right = known[0]
        return right * said / first if first > 0 else right
    if at == len(known):
        return known[-1][1]
    (x0, y0), (x1, y1) = known[at - 1], known[at]
    return y0 + (y1 - y0) * (said - x0) / (x1 - x0)


def risk_of(doubt: float) -> float:
    """The chance that any value to be posted is wrong.

    Args:
        doubt: the same if values were wrong independently of each other; 0 where every value
            was entered by a person or is stated by a structured invoice.
    """
    return chance(RISK, doubt) if doubt > 0 else 0.0


def group_of(name: str, proved: frozenset[str]) -> str:
    """The group of a header field: those that an equation vouches for are their own."""
    return f"{name}, proved" if name in proved else name


def with_chances(
    fields: Mapping[str, Field], proved: frozenset[str],
    points: Mapping[str, Points] | None = None,
) -> dict[str, Field]:  # fmt: skip
    """Header fields with what was said of them made chances."""
    return {
        name: replace(
            field, confidence=round(chance(group_of(name, proved), field.confidence, points), 5)
        )
        for name, field in fields.items()
    }


FIGURES = frozenset({"quantity", "unit_price", "amount"})


def line_group(line: Row, currency: str | None, *, summed: bool) -> str:
    """The group of a line's figures: whether their product holds, and whether all lines together
    make a total that is printed."""
    holds = {None: "without a product", True: "holds", False: "does not hold"}
    total = "with a total" if summed else "alone"
    made = line_holds(line, currency)
    return f"line, {holds[made]}, {total}"


def lines_with_chances(
    lines: Sequence[Row], currency: str | None, *, summed: bool,
    points: Mapping[str, Points] | None = None,
) -> tuple[Row, ...]:  # fmt: skip
    """Lines with what was said of their figures made chances."""
    found = []
    for line in lines:
        group = line_group(line, currency, summed=summed)
        found.append({
            name: replace(cell, confidence=round(chance(group, cell.confidence, points), 5))
            if name in FIGURES else cell
            for name, cell in line.items()
        })  # fmt: skip
    return tuple(found)
