"""From how much speaks for a value to the chance that it is right.

Signs of a value are what the network says of it, how clearly it sees the whole document, and how
well its words hold together. Weighed, they order values; how often values of an order were right
on composed pages of productions and labels that the network never learned from makes it a chance.
Weights and maps are stored beside those of the network, as text: by group of values, a weight for
each sign and rising points (weighed signs, right).
"""

import json
from bisect import bisect_right
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cache
from importlib import resources

from veridox.core.extract.cells import line_holds
from veridox.core.extract.odds import chance_of, log_odds
from veridox.core.extract.thresholds import DOUBTED
from veridox.core.reading import Field, Origin, Row

Points = Sequence[tuple[float, float]]
"""Rising: what was said, and how often that was right."""
Signs = tuple[float, ...]
"""What speaks for a value, each in [0, 1]; the first is what was said of it."""
RISK = "document"
"""The group of whole documents: how likely any value to be posted is wrong."""


@dataclass(frozen=True)
class Maps:
    """What was learned of groups of values.

    Attributes:
        points: by group.
        weights: of signs, by group; where there are none the first sign counts alone.
    """

    points: Mapping[str, Points]
    weights: Mapping[str, Sequence[float]] = field(default_factory=dict)

    def said(self, group: str, signs: Signs) -> float:
        """Signs as one figure in [0, 1]."""
        weights = self.weights.get(group)
        if weights is None:
            return signs[0]
        weighed = sum(w * log_odds(sign) for w, sign in zip(weights, signs, strict=True))
        return chance_of(weighed)


@cache
def shipped_maps() -> Maps:
    """The maps that come with the package."""
    file = resources.files("veridox.core.extract.tagging").joinpath("confidence.json")
    stored = json.loads(file.read_text("utf-8"))
    points = {name: [(x, y) for x, y in each] for name, each in stored["points"].items()}
    return Maps(points, stored["weights"])


def chance(group: str, signs: Signs, maps: Maps | None = None) -> float:
    """The chance, in [0, 1], that a value is right.

    Args:
        group: of values; one that nothing was learned of keeps what was said.
        signs: what speaks for it.
        maps: those of the package where None.
    """
    maps = maps or shipped_maps()
    known, said = maps.points.get(group), maps.said(group, signs)
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
    return chance(RISK, (doubt,)) if doubt > 0 else 0.0


def group_of(name: str, field: Field, proved: frozenset[str]) -> str:
    """The group of a header field: what has a rival is its own, whatever vouches for it; and so is
    what an equation or a check digit vouches for."""
    if any(other.confidence >= DOUBTED for other in field.others):
        return f"{name}, doubted"
    if name in proved:
        return f"{name}, proved"
    if name.endswith(".tax_id") and str(field.value)[:2].isalpha():
        return f"{name}, not proved"  # its country has check digits, and they do not hold
    return name


def with_chances(
    fields: Mapping[str, Field],
    group: Callable[[str], str],
    signs: Callable[[str], Signs],
    maps: Maps | None = None,
) -> dict[str, Field]:
    """Header fields with what was said of them made chances; what is derived keeps its own.

    Args:
        fields: by name.
        group, signs: of a field, by its name.
        maps: those of the package where None.
    """
    return {
        name: field
        if field.origin is Origin.DERIVED
        else replace(field, confidence=round(chance(group(name), signs(name), maps), 5))
        for name, field in fields.items()
    }


FIGURES = frozenset({"quantity", "unit_price", "amount"})


@dataclass(frozen=True)
class Vouched:
    """What speaks for all lines of a document.

    Attributes:
        summed: together they make a total that is printed.
        headed: words above them name quantity and price: without, which is which is a guess.
    """

    summed: bool
    headed: bool


def line_group(line: Row, currency: str | None, by: Vouched) -> str:
    """The group of a line's figures: whether their product holds, and what speaks for all."""
    holds = {None: "without a product", True: "holds", False: "does not hold"}
    total = "with a total" if by.summed else "alone"
    head = "" if by.headed else ", without heads"
    made = line_holds(line, currency)
    return f"line, {holds[made]}, {total}{head}"


def line_signs(line: Row, clear: float) -> Signs:
    """What speaks for a line: its amount, the document as a whole, its least sure figure."""
    figures = [line[name].confidence for name in FIGURES if name in line]
    said = line["amount"].confidence if "amount" in line else 0.0
    return said, clear, min(figures, default=0.0)


def lines_with_chances(
    lines: Sequence[Row],
    currency: str | None,
    by: Vouched,
    clear: float,
    maps: Maps | None = None,
) -> tuple[Row, ...]:
    """Lines with the chance that all figures of each are right."""
    found = []
    for line in lines:
        right = chance(line_group(line, currency, by), line_signs(line, clear), maps)
        found.append(
            {
                name: replace(cell, confidence=round(right, 5)) if name in FIGURES else cell
                for name, cell in line.items()
            }
        )
    return tuple(found)
