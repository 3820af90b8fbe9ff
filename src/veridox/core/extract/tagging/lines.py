"""Lines: each hangs on an amount, or on a quantity where there are no amounts."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from decimal import Decimal
from itertools import permutations

import numpy as np
from numpy.typing import NDArray

from veridox.core.extract.tagging.amounts import minus_beside
from veridox.core.extract.tagging.header import Choice, as_field
from veridox.core.extract.tagging.tagged import Span, Tagged
from veridox.core.extract.tagging.tokens import Token
from veridox.core.money import Money, minor_unit
from veridox.core.reading import Field, Row

ANCHOR = 0.45
"""Chance from which an amount begins a line."""
CELL = 0.3
REACH = 3.4
"""How far from its amount a cell may stand, in letter heights."""
NUMBERS = ("line.quantity", "line.unit_price", "line.discount", "line.tax_rate")
TEXTS = {
    "line.id": "id",
    "line.code": "item_code",
    "line.unit": "unit",
    "line.description": "description",
}


@dataclass
class _Line:
    anchor: int
    cells: dict[str, list[int]] = field(default_factory=dict)


def lines(tagged: Tagged, code: str) -> tuple[Row, ...]:
    """The lines of a document, in reading order."""
    tokens = tagged.tokens
    likely = tagged.of("line.amount")
    anchors = [
        at
        for at, token in enumerate(tokens)
        if token.number is not None
        and not token.percent
        and token.day is None
        and float(likely[at]) >= ANCHOR
    ]
    on_amounts = bool(anchors)
    if not on_amounts:
        counts = tagged.of("line.quantity")
        anchors = [
            at
            for at, token in enumerate(tokens)
            if token.number is not None and float(counts[at]) >= ANCHOR
        ]
    anchors = _one_a_row(tagged, anchors, likely if on_amounts else tagged.of("line.quantity"))
    if not anchors:
        return ()
    made = [_Line(at) for at in anchors]
    _assign(tagged, made)
    return tuple(row for line in made if (row := _row(tagged, line, code, on_amounts=on_amounts)))


def _one_a_row(tagged: Tagged, anchors: Sequence[int], chances: NDArray[np.float32]) -> list[int]:
    best: dict[int, int] = {}
    for at in anchors:
        row = tagged.tokens[at].row
        if row not in best or float(chances[at]) > float(chances[best[row]]):
            best[row] = at
    return sorted(best.values())


def _assign(tagged: Tagged, made: Sequence[_Line]) -> None:
    """Give every cell to the line whose amount is nearest: in its row, else above or below."""
    tokens = tagged.tokens
    rows = {tokens[line.anchor].row: line for line in made}
    taken = {line.anchor for line in made}
    above_first = _names_above(tagged, made)
    for at, token in enumerate(tokens):
        if at in taken:
            continue
        name = tagged.best[at]
        if not name.startswith("line.") or name in (
            "line.amount",
            "line.gross",
            "line.group",
            "line.other",
        ):
            name = max((*NUMBERS, *TEXTS), key=lambda each: float(tagged.of(each)[at]))
            if float(tagged.of(name)[at]) < CELL:
                continue
        line = rows.get(token.row) or _nearest(tagged, token, made, above_first=above_first)
        if line is not None:
            line.cells.setdefault(name, []).append(at)


def _names_above(tagged: Tagged, made: Sequence[_Line]) -> bool:
    """Whether words of a line stand above the row of its amount rather than below: what stands
    before the first amount tells, where nothing stands behind the last."""
    tokens = tagged.tokens
    first, last = tokens[made[0].anchor], tokens[made[-1].anchor]
    described = tagged.of("line.description")
    before = [
        at
        for at, token in enumerate(tokens)
        if token.page == first.page
        and token.row < first.row
        and float(described[at]) > 0.5
        and _distance(tagged, token, first) < REACH
    ]
    behind = [
        at
        for at, token in enumerate(tokens)
        if token.page == last.page
        and token.row > last.row
        and float(described[at]) > 0.5
        and _distance(tagged, token, last) < REACH
    ]
    return bool(before) and not behind


def _distance(tagged: Tagged, one: Token, other: Token) -> float:
    return abs(one.box.middle[1] - other.box.middle[1]) / tagged.letter


def _nearest(
    tagged: Tagged, token: Token, made: Sequence[_Line], *, above_first: bool
) -> _Line | None:
    """The line a cell in a row of its own belongs to."""
    tokens = tagged.tokens
    before: _Line | None = None
    behind: _Line | None = None
    for line in made:
        anchor = tokens[line.anchor]
        if anchor.page != token.page:
            continue
        if anchor.row < token.row:
            before = line
        elif behind is None:
            behind = line
    order = (behind, before) if above_first else (before, behind)
    for reach, near in zip((REACH, 0.6 * REACH), order, strict=True):
        if near is not None and _distance(tagged, token, tokens[near.anchor]) <= reach:
            return near
    return None


def _number(token: Token) -> Decimal:
    return token.number if token.number is not None else Decimal(0)


def _row(tagged: Tagged, line: _Line, code: str, *, on_amounts: bool) -> Row:
    tokens = tagged.tokens
    cells: dict[str, Field] = {}

    def put(name: str, at: int, tag: str, value: Decimal | Money) -> None:
        chance = float(tagged.of(tag)[at])
        cells[name] = as_field(Choice(value, Span((at,), (tokens[at],), chance), chance), [])

    numbers = [
        at for name in NUMBERS for at in line.cells.get(name, []) if tokens[at].number is not None
    ]
    amount: Decimal | None = None
    if on_amounts:
        amount = _number(tokens[line.anchor])
        if minus_beside(tokens, line.anchor):
            amount = -abs(amount)
    chosen = _factors(tagged, numbers, amount)
    if not on_amounts:
        chosen = {"line.quantity": line.anchor}
    if amount is not None:
        shown = (
            amount.quantize(minor_unit(code))
            if -int(amount.as_tuple().exponent) < 2 and minor_unit(code) < 1
            else amount
        )
        put("amount", line.anchor, "line.amount", Money(amount=shown, currency=code))
    for name, at in chosen.items():
        cell = {
            "line.quantity": "quantity",
            "line.unit_price": "unit_price",
            "line.tax_rate": "tax_rate",
        }.get(name)
        if cell is not None:
            put(cell, at, name, _number(tokens[at]))
    for name, cell in TEXTS.items():
        own = [at for at in line.cells.get(name, []) if at not in chosen.values()]
        if name != "line.description":
            own = own[:1]
        if own:
            words = tuple(tokens[at] for at in own)
            chance = sum(float(tagged.of(name)[at]) for at in own) / len(own)
            span = Span(tuple(own), words, chance)
            text = " ".join(word.text for word in words).strip()
            cells[cell] = as_field(Choice(text, span, chance), [])
    return cells


def _factors(tagged: Tagged, numbers: Sequence[int], amount: Decimal | None) -> dict[str, int]:
    """Which numbers are quantity and price: the likeliest, or those whose product is the amount."""
    tokens = tagged.tokens
    chosen: dict[str, int] = {}
    for name in NUMBERS:
        best = max(numbers, key=lambda at: float(tagged.of(name)[at]), default=None)
        if (
            best is not None
            and float(tagged.of(name)[best]) >= CELL
            and best not in chosen.values()
        ):
            chosen[name] = best
    count, price = chosen.get("line.quantity"), chosen.get("line.unit_price")
    if amount is None or not amount or len(numbers) < 2:
        return chosen
    if count is not None and price is not None and _holds(tokens, count, price, amount):
        return chosen
    likely, rather = tagged.of("line.quantity"), tagged.of("line.unit_price")
    rivals = [
        (float(likely[one]) * float(rather[other]), one, other)
        for one, other in permutations(dict.fromkeys(numbers), 2)
        if _holds(tokens, one, other, amount)
    ]
    if rivals and max(rivals)[0] > 0.02:
        _, chosen["line.quantity"], chosen["line.unit_price"] = max(rivals)
    return chosen


def _holds(tokens: Sequence[Token], one: int, other: int, amount: Decimal) -> bool:
    return abs(abs(_number(tokens[one]) * _number(tokens[other])) - abs(amount)) <= Decimal(
        "0.0051"
    )
