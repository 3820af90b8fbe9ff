"""Words of a line below the head of another column: `NW-STD` below `Art. no.` is no description."""

from collections import defaultdict
from dataclasses import dataclass, replace

import numpy as np

from veridox.core.extract.tagging.tagged import AT, Tagged

DESCRIBES = "line.description"
COLUMNS = {
    "header.unit": ("line.unit", 2, (DESCRIBES,)),
    "header.code": ("line.code", 3, (DESCRIBES,)),
    "header.discount": ("line.discount", 1, ("line.unit_price", "line.other")),
}
"""Heads of columns, what stands below them, of how many words at most, and what it is taken for."""
OF_A_LINE = ("line.amount", "line.quantity")


@dataclass(frozen=True)
class _Head:
    tag: str
    left: float
    right: float

    def over(self, left: float, right: float) -> float:
        """Points that a cell and the head share."""
        return min(self.right, right) - max(self.left, left)


def by_heads(tagged: Tagged) -> Tagged:
    """The same, with what was taken for something else told by the head of its column."""
    if not any(tag in COLUMNS for tag in tagged.best):
        return tagged
    moved: dict[int, str] = {}
    heads: list[_Head] = []
    place = (0, -9)
    for row, cells in _rows(tagged).items():
        own = _heads_of(tagged, cells)
        if own:
            # Heads may stand in two rows; those of a new page or table replace them.
            heads = [*heads, *own] if (row[0], row[1] - 1) == place else own
            place = row
        elif row[0] == place[0] and _is_line(tagged, cells):
            for cell in cells:
                goal = _goal(tagged, cell, heads)
                moved.update(dict.fromkeys(cell, goal) if goal else {})
    if not moved:
        return tagged
    chances = tagged.chances.copy()
    for at, tag in moved.items():
        pair = [AT[tagged.best[at]], AT[tag]]
        chances[at, pair] = np.sort(chances[at, pair])
    return replace(tagged, chances=chances)


def _rows(tagged: Tagged) -> dict[tuple[int, int], list[tuple[int, ...]]]:
    rows: dict[tuple[int, int], list[tuple[int, ...]]] = defaultdict(list)
    for cell in tagged.cells:
        token = tagged.tokens[cell[0]]
        rows[token.page, token.row].append(cell)
    return rows


def _heads_of(tagged: Tagged, cells: list[tuple[int, ...]]) -> list[_Head]:
    found = []
    for cell in cells:
        for tag in dict.fromkeys(tagged.best[at] for at in cell):
            if tag.startswith("header."):
                boxes = [tagged.tokens[at].box for at in cell if tagged.best[at] == tag]
                found.append(_Head(tag, boxes[0].left, boxes[-1].right))
    return found


def _is_line(tagged: Tagged, cells: list[tuple[int, ...]]) -> bool:
    return any(tagged.best[at] in OF_A_LINE for cell in cells for at in cell)


def _goal(tagged: Tagged, cell: tuple[int, ...], heads: list[_Head]) -> str | None:
    """What a cell is by the head above it; None where that is right as it is."""
    left, right = tagged.tokens[cell[0]].box.left, tagged.tokens[cell[-1]].box.right
    over = sorted((head.over(left, right), head.tag) for head in heads)
    above = [tag for shared, tag in over if shared > 0]
    if not above or "header.description" in above or above[-1] not in COLUMNS:
        return None
    goal, longest, taken_for = COLUMNS[above[-1]]
    mistaken = all(tagged.best[at] in taken_for for at in cell)
    return goal if mistaken and len(cell) <= longest else None
