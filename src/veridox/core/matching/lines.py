"""Which line of an order each line of a bill speaks of, solved for all of them together."""

import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import TYPE_CHECKING, Final

from rapidfuzz import fuzz, process

from veridox.core.matching.items import ItemRecord
from veridox.core.reading import Origin, Row
from veridox.core.reading.reading import cell_number, cell_text

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

ENOUGH: Final = 60.0
"""Least score of a pair."""
STATED, CODE, WORDING, PRICE, QUANTITY, OTHER_CODE = 130.0, 100.0, 70.0, 25.0, 5.0, -30.0
"""What speaks for a pair: the stated line of the order, the same code, the same words, price and
quantity; and against it: a code that is stated and is another one."""
OF_ORDER, OF_OTHER = 30.0, -30.0
"""Of the order whose number was read at the line, and of others: headings are mistaken at times."""
SURE: Final = frozenset({Origin.PERSON, Origin.EMBEDDED, Origin.GIVEN})
"""Who says it as it is, where reading may be mistaken."""
AGAIN: Final = 6.0
"""What it takes off when an order line has taken another line already: part deliveries happen."""
FULL: Final = -3.0
"""Of a line of which everything is billed already; another one like it comes first."""
_OUT: Final = 10_000.0


@dataclass(frozen=True, kw_only=True, slots=True)
class OrderLineRecord:
    """A line of an order, with what other bills took of it.

    Attributes:
        position: its number on the order.
        item_code: ours or the vendor's, empty when none is kept.
        description: what was ordered.
        quantity, unit: how much of it; an empty unit says nothing.
        unit_price: in the order's currency, without tax.
        invoiced: how much of it other bills bill, in its unit.
        billed: what they ask for, without tax.
        needs_receipt: whether it is paid only once the goods are booked in; None where the order
            does not say.
        received: what came in of it, in its unit; None where nothing was ever booked in.
        returned: what of that went back.
        unclear: what came in or went back in a unit that nobody knows, each with it.
        item: what is known of the thing.
        gl_account, cost_centre, project: under which it is to be booked; empty for not said.
    """

    position: int
    item_code: str
    description: str
    unit_price: Decimal
    quantity: Decimal = Decimal(1)
    unit: str = ""
    invoiced: Decimal = Decimal(0)
    billed: Decimal = Decimal(0)
    needs_receipt: bool | None = None
    received: Decimal | None = None
    returned: Decimal = Decimal(0)
    unclear: tuple[tuple[Decimal, str], ...] = ()
    item: ItemRecord | None = None
    gl_account: str = ""
    cost_centre: str = ""
    project: str = ""

    @property
    def amount(self) -> Decimal:
        """What was ordered of it, without tax; not rounded."""
        return self.quantity * self.unit_price

    @property
    def open(self) -> Decimal:
        """What was ordered and nobody bills yet; below zero where more was billed."""
        return self.quantity - self.invoiced

    @property
    def receivable(self) -> Decimal | None:
        """What came in, did not go back, and nobody bills yet; None without goods receipts."""
        return None if self.received is None else self.received - self.returned - self.invoiced

    @property
    def codes(self) -> tuple[str, ...]:
        """All codes that the thing goes by."""
        every = (self.item_code, *(self.item.codes if self.item else ()))
        return tuple(dict.fromkeys(code for code in every if code))

    @property
    def by_amount(self) -> bool:
        """Whether one thing was ordered for a sum: a service, a blanket order, billed in parts."""
        return self.quantity == 1


def pair_lines(
    lines: Sequence[Row], ordered: Sequence[OrderLineRecord], numbers: Sequence[str] = ()
) -> tuple[int | None, ...]:
    """For each line of a bill which of the ordered lines it speaks of, by place; None where none
    fits.

    Args:
        lines: of the bill.
        ordered: of one order, or of all orders that the bill names.
        numbers: of the order of each ordered line, where there are several.

    All are assigned at once, so that the pairs together score highest (minimum cost). An order line
    may take several lines. Takes 10 ms for 100 lines on both sides, under a second for 500.
    """
    if not lines or not ordered:
        return (None,) * len(lines)
    from scipy.optimize import linear_sum_assignment  # slow to import, and not always needed

    scores = _scores(lines, ordered)
    if numbers:
        _of_orders(scores, lines, numbers)
    columns = _columns(scores)
    costs = _costs(scores, columns)
    rows, taken = linear_sum_assignment(costs)
    found: list[int | None] = [None] * len(lines)
    for row, column in zip(rows, taken, strict=True):
        if column < len(columns) and scores[row, columns[column][0]] >= ENOUGH:
            found[row] = columns[column][0]
    return tuple(found)


def _scores(lines: Sequence[Row], ordered: Sequence[OrderLineRecord]) -> "NDArray[np.float64]":
    """For each line and each of the order's how much speaks for the pair."""
    import numpy as np

    ours = [(cell_text(row, "description") or "").lower() for row in lines]
    theirs = [line.description.lower() for line in ordered]
    scores = np.asarray(process.cdist(ours, theirs, scorer=fuzz.token_set_ratio), np.float64)
    scores *= WORDING / 100
    wanted = [frozenset(bare_key(code) for code in line.codes) for line in ordered]
    positions = [str(line.position) for line in ordered]
    for at, row in enumerate(lines):
        code, stated = (
            bare_key(cell_text(row, "item_code") or ""),
            cell_text(row, "order_line") or "",
        )
        price, quantity = cell_number(row, "unit_price"), cell_number(row, "quantity")
        for there, line in enumerate(ordered):
            if code and wanted[there]:
                scores[at, there] += CODE if code in wanted[there] else OTHER_CODE
            if stated and stated.lstrip("0") == positions[there]:
                scores[at, there] += STATED
            if price is not None and price == line.unit_price:
                scores[at, there] += PRICE
            if quantity is not None and quantity == line.quantity - line.invoiced:
                scores[at, there] += QUANTITY
            if line.invoiced >= line.quantity:
                scores[at, there] += FULL
        # Price and quantity alone say nothing: many things cost as much.
        if not ours[at] and not code and not stated:
            scores[at, :] = 0
    return scores


def _of_orders(scores: "NDArray[np.float64]", lines: Sequence[Row], numbers: Sequence[str]) -> None:
    """Count in which order a line says it is of."""
    keys = [bare_key(number) for number in numbers]
    for at, row in enumerate(lines):
        said = row.get("order_number")
        own = [key.endswith(bare_key(str(said.value))) for key in keys] if said is not None else []
        if said is None or not any(own):
            continue
        for there, is_own in enumerate(own):
            if said.origin in SURE and not is_own:
                scores[at, there] = 0
            elif scores[at, there] > 0:
                scores[at, there] += OF_ORDER if is_own else OF_OTHER


def _columns(scores: "NDArray[np.float64]") -> list[tuple[int, int]]:
    """Each line of the order once, and once more for each further line that fits it best."""
    best = Counter(int(row.argmax()) for row in scores if row.max() >= ENOUGH)
    return [(line, time) for line in range(scores.shape[1]) for time in range(max(1, best[line]))]


def _costs(scores: "NDArray[np.float64]", columns: list[tuple[int, int]]) -> "NDArray[np.float64]":
    import numpy as np

    count = scores.shape[0]
    lines = np.array([line for line, _ in columns])
    times = np.array([time for _, time in columns], np.float64)
    costs = -scores[:, lines] + times * AGAIN
    # Of pairs that are equal otherwise those in the order's own order.
    away = np.abs(np.arange(count)[:, None] - lines[None, :])
    costs += away * (0.5 / max(1, int(away.max())))
    costs[scores[:, lines] < ENOUGH] = _OUT
    # A line that fits none is left out rather than forced into a pair.
    return np.hstack([costs, np.full((count, count), _OUT / 2)])


def bare_key(code: str) -> str:
    """A code or a number without blanks and separators, upper case."""
    return re.sub(r"[^A-Z0-9]", "", code.upper())
