"""The shipped model: every spot of a document with the chance that it states a field."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any

import numpy as np
from numpy.typing import NDArray

from veridox.core.extract.hints import Hints
from veridox.core.extract.scoring.describe import FIELDS, Surroundings, described
from veridox.core.extract.scoring.phrases import Phrases
from veridox.core.extract.scoring.spots import KINDS, Spot, spots
from veridox.core.extract.scoring.trees import Trees
from veridox.core.extract.sheet import Sheet
from veridox.core.pages import TextRow
from veridox.core.reading import Field, Row

LEAST = 0.02
"""Chances below this are not looked at any further."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Scored:
    """A spot and how likely it states a field."""

    spot: Spot
    chance: float


@dataclass(frozen=True, slots=True)
class Model:
    """Labels by `phrases`, one set of trees for each kind of spot."""

    phrases: Phrases
    trees: Mapping[str, Trees]

    def scored(self, around: Surroundings) -> dict[str, list[Scored]]:
        """By field, the spots that may state it, the likeliest first."""
        found: dict[str, list[Scored]] = {}
        for kind in KINDS:
            some = [spot for spot in around.spots if spot.kind == kind]
            if not some:
                continue
            rows = np.stack([described(around, spot) for spot in some])
            chances = self.trees[kind].chances(rows)
            for column, name in enumerate(FIELDS[kind], start=1):
                likely = [
                    Scored(spot=spot, chance=float(chance))
                    for spot, chance in zip(some, chances[:, column], strict=True)
                    if chance >= LEAST
                ]
                found[name] = sorted(likely, key=lambda each: -each.chance)
        return found


@cache
def shipped() -> Model:
    """The model that comes with the package."""
    file = resources.files(__package__).joinpath("weights.npz")
    with file.open("rb") as stream, np.load(stream, allow_pickle=False) as stored:
        return loaded(dict(stored))


def loaded(arrays: Mapping[str, NDArray[Any]]) -> Model:
    """A model from its arrays."""
    weights = arrays["phrases.weights"].astype(np.float32)
    phrases = Phrases(weights, arrays["phrases.start"].astype(np.float32))
    return Model(phrases, {kind: Trees.load(arrays, kind) for kind in KINDS})


def surroundings(
    sheet: Sheet, hints: Hints, currency: str | None, ruled: Mapping[str, Field],
    lines: Sequence[Row], headers: Sequence[TextRow], phrases: Phrases,
) -> Surroundings:  # fmt: skip
    """A document with all its spots, ready to be described."""
    inside = lines_rows(sheet, lines, headers)
    return Surroundings(
        sheet=sheet, hints=hints, ruled=ruled, lines=lines, phrases=phrases,
        spots=spots(sheet, currency, inside), lines_rows=inside,
    )  # fmt: skip


def lines_rows(
    sheet: Sheet, lines: Sequence[Row], headers: Sequence[TextRow]
) -> dict[int, tuple[float, float]]:
    """The rows from a page's first line to its last, and the headers above them; of each, from
    where to where the table reaches."""
    by_page: dict[int, list[int]] = {}
    boxes = [cell.box for line in lines for cell in line.values() if cell.box is not None]
    if not boxes:
        return {sheet.position(row): (row.box.left, row.box.right) for row in headers}
    left, right = min(box.left for box in boxes), max(box.right for box in boxes)
    for line in lines:
        for cell in line.values():
            if cell.box is None or cell.page is None:
                continue
            middle = cell.box.middle[1]
            for at, row in enumerate(sheet.rows):
                if row.page == cell.page and row.box.top <= middle <= row.box.bottom:
                    by_page.setdefault(cell.page, []).append(at)
    found = {at for rows in by_page.values() for at in range(min(rows), max(rows) + 1)}
    found |= {sheet.position(row) for row in headers}
    return dict.fromkeys(found, (left - 1, right + 1))
