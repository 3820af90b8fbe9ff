"""Which line of an order each line of an invoice speaks of."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

from rapidfuzz import fuzz

from veridox.core.reading import Row
from veridox.core.reading.reading import cell_number, cell_text

ENOUGH = 60.0
"""Least score of a pair. A stated code gives 100, the same words up to 70, the same price 25."""


@dataclass(frozen=True, kw_only=True, slots=True)
class OrderLineRecord:
    """A line of an order as the pairing knows it.

    Attributes:
        position: its number on the order.
        item_code: ours or the vendor's, empty when none is kept.
        description: what was ordered.
        unit_price: in the order's currency.
    """

    position: int
    item_code: str
    description: str
    unit_price: Decimal


def pair_lines(lines: Sequence[Row], ordered: Sequence[OrderLineRecord]) -> tuple[int | None, ...]:
    """For each line of a reading the position of its line on the order, None where none fits.

    Several lines may speak of one order line (part deliveries); two order
    lines that fit equally well give None, for a person to see.
    """
    return tuple(_best(row, ordered) for row in lines)


def _best(row: Row, ordered: Sequence[OrderLineRecord]) -> int | None:
    ranked = sorted(((_score(row, line), line.position) for line in ordered), reverse=True)
    if not ranked or ranked[0][0] < ENOUGH:
        return None
    if len(ranked) > 1 and ranked[0][0] == ranked[1][0]:
        return None
    return ranked[0][1]


def _score(row: Row, line: OrderLineRecord) -> float:
    code, wanted = _key(cell_text(row, "item_code") or ""), _key(line.item_code)
    score = 100.0 if wanted and code == wanted else 0.0
    description = cell_text(row, "description") or ""
    if description and line.description:
        score += 0.7 * fuzz.token_set_ratio(description.lower(), line.description.lower())
    price = cell_number(row, "unit_price")
    if price is not None and price == line.unit_price:
        score += 25.0
    # A code that is stated and is another one speaks against the pair.
    if wanted and code and code != wanted:
        score -= 30.0
    return score


def _key(code: str) -> str:
    return re.sub(r"[^A-Z0-9]", "", code.upper())
