"""Which numbers of a document are made of which others, as figures of each token.

Money is counted in ten-thousandths, so that products and sums are compared as whole numbers.
"""

from collections import defaultdict
from collections.abc import Sequence
from decimal import Decimal
from itertools import combinations, product

import numpy as np
from numpy.typing import NDArray

from veridox.core.extract.tagging.tokens import Token

SUMS = (
    "product",
    "factor",
    "trivial product",
    "product over rows",
    "factor over rows",
    "percent product",
    "column sum",
    "column addend",
    "whole of two",
    "larger part",
    "smaller part",
    "is a rate of another",
    "has a rate",
    "whole with its tax",
    "sum of products",
    "greatest",
    "rate said",
    "repeats",
    "addend of products",
    "price base",
)
"""Names of the figures."""
UNIT = 10_000
MOST = 44
"""Amounts that take part in the search for two that make a third: the last, where sums stand."""
BASES = frozenset(UNIT * base for base in (10, 100, 1000))
"""Counts that a price may be for."""
LONG = 14
"""Numbers of a row beyond which products are not looked for."""
_AT = {name: at for at, name in enumerate(SUMS)}


def _whole(value: Decimal) -> int:
    return int(value * UNIT)


def summed(tokens: Sequence[Token]) -> NDArray[np.float32]:
    """(len(tokens), len(SUMS)) figures between 0 and 1."""
    found = np.zeros((len(tokens), len(SUMS)), dtype=np.float32)
    rows: dict[int, list[int]] = defaultdict(list)
    for at, token in enumerate(tokens):
        if token.number is not None and token.day is None and abs(token.number) < 10**10:
            rows[token.row].append(at)
    bare = _bare(tokens, rows)
    amounts = [
        at for row in rows.values() for at in row if tokens[at].number and _amount(tokens[at], bare)
    ]
    made = _products(tokens, rows, found)
    _columns(tokens, rows, found, bare=bare)
    _parts(tokens, amounts, found)
    _rates(tokens, rows, amounts, found)
    _total(tokens, amounts, made, found)
    return found


def _total(
    tokens: Sequence[Token],
    amounts: Sequence[int],
    made: dict[int, int],
    found: NDArray[np.float32],
) -> None:
    """Mark what all products make together, and the greatest amount."""
    sizes = {at: abs(tokens[at].number or Decimal(0)) for at in amounts}
    most, total = max(sizes.values(), default=None), sum(made.values())
    for at, size in sizes.items():
        found[at, _AT["greatest"]] = size == most
        if len(made) > 1 and _whole(size) == total:
            found[at, _AT["sum of products"]] = 1
            for each in made:
                found[each, _AT["addend of products"]] = 1


FEW = 2
"""Numbers with two decimals up to which a document may print amounts without them."""


def _bare(tokens: Sequence[Token], rows: dict[int, list[int]]) -> bool:
    """Whether a document prints amounts as they come: 627, 338.4. Hardly a number has cents."""
    places = [tokens[at].places for row in rows.values() for at in row if not tokens[at].percent]
    return places.count(2) <= FEW


def _amount(token: Token, bare: bool) -> bool:
    """Whether a number may be an amount by its decimals."""
    if token.percent or token.number is None:
        return False
    if token.places == 2:
        return True
    return bare and token.places in (0, 1) and token.text[:1] != "0" and abs(token.number) < MUCH


MUCH = 10**7
"""A number without decimals that is no amount of money."""


def _close(product: int, amount: int) -> bool:
    """Whether a product, in UNIT * UNIT, is an amount rounded to two decimals."""
    return abs(product - amount * UNIT) <= 51 * UNIT


def _products(
    tokens: Sequence[Token], rows: dict[int, list[int]], found: NDArray[np.float32]
) -> dict[int, int]:
    """Mark products of a row, then of a row and the next. Returns amounts by token."""
    made: dict[int, int] = {}
    numbers = sorted(rows)
    for row in numbers:
        _of_row(tokens, rows[row], rows[row], found, made, ("product", "factor", "trivial product"))
    for row in numbers:
        below = rows.get(row + 1)
        if below is None or tokens[below[0]].page != tokens[rows[row][0]].page:
            continue
        names = ("product over rows", "factor over rows", "product over rows")
        if not any(at in made for at in rows[row]) and len(rows[row]) <= 3:
            _of_row(tokens, rows[row], below, found, made, names)
        if not any(at in made for at in below) and len(below) <= 3:
            _of_row(tokens, below, rows[row], found, made, names)
    return made


def _of_row(
    tokens: Sequence[Token],
    goals: Sequence[int],
    parts: Sequence[int],
    found: NDArray[np.float32],
    made: dict[int, int],
    names: tuple[str, str, str],
) -> None:
    """Mark goals that are products of two parts, less a percentage that a third may be."""
    if len(parts) > LONG or len(goals) > LONG:
        return
    values = {at: abs(_whole(tokens[at].number or Decimal(0))) for at in {*goals, *parts}}
    usable = [at for at in parts if values[at] and not tokens[at].percent]
    for goal in filter(lambda at: _may_be_product(tokens[at], values[at]), goals):
        # Nothing that is taken off makes a product larger.
        least = (values[goal] - 51) * UNIT
        for pair in combinations([at for at in usable if at != goal], 2):
            if values[pair[0]] * values[pair[1]] >= least:
                _mark_product(values, goal, pair, parts, found, made, names)


def _mark_product(
    values: dict[int, int],
    goal: int,
    pair: tuple[int, int],
    parts: Sequence[int],
    found: NDArray[np.float32],
    made: dict[int, int],
    names: tuple[str, str, str],
) -> None:
    """Mark a goal that two parts make, or would without what a third takes off or is for."""
    goal_at, factor, trivial = (_AT[name] for name in names)
    one, other = pair
    whole, wanted = values[one] * values[other], values[goal]
    if _close(whole, wanted):
        plain = UNIT in (values[one], values[other])
        found[goal, trivial if plain else goal_at] = 1
        found[one, factor] = found[other, factor] = 0.5 if plain else 1
        made.setdefault(goal, wanted)
        return
    for off in parts:
        if off in (one, other, goal):
            continue
        if values[off] in BASES and _close(whole * UNIT // values[off], wanted):
            name = "price base"
        elif _less(whole, values[off], wanted):
            name = "percent product"
        else:
            continue
        found[goal, goal_at] = found[one, factor] = found[other, factor] = 1
        found[off, _AT[name]] = 1
        made.setdefault(goal, wanted)


def _may_be_product(token: Token, value: int) -> bool:
    money = token.places in (1, 2) or (token.places == 0 and value >= UNIT)
    return money and bool(value) and not token.percent


def _less(whole: int, share: int, amount: int) -> bool:
    """Whether a product less a percentage is an amount."""
    left = 100 * UNIT - share
    return 0 < share < 100 * UNIT and _close(whole * left // (100 * UNIT), amount)


def _columns(
    tokens: Sequence[Token],
    rows: dict[int, list[int]],
    found: NDArray[np.float32],
    *,
    bare: bool,
) -> None:
    """Mark amounts that are the sum of those right above them in their column."""
    columns: dict[tuple[int, int], list[int]] = defaultdict(list)
    for row in sorted(rows):
        for at in rows[row]:
            token = tokens[at]
            if _amount(token, bare):
                columns[token.page, round(token.box.right / 4)].append(at)
    for (page, edge), own in list(columns.items()):
        column = sorted([*own, *columns.get((page, edge + 1), ())])
        values = [_whole(tokens[at].number or Decimal(0)) for at in column]
        for end in range(2, len(column)):
            total = 0
            for start in range(end - 1, max(-1, end - 60), -1):
                total += values[start]
                if end - start >= 2 and abs(total) == abs(values[end]) and total:
                    found[column[end], _AT["column sum"]] = 1
                    for each in column[start:end]:
                        found[each, _AT["column addend"]] = 1
                    break


def _parts(tokens: Sequence[Token], amounts: Sequence[int], found: NDArray[np.float32]) -> None:
    """Mark amounts of which two make a third."""
    places: dict[int, list[int]] = defaultdict(list)
    for at in amounts:
        places[abs(_whole(tokens[at].number or Decimal(0)))].append(at)
    for value, own in places.items():
        for at in own:
            found[at, _AT["repeats"]] = min(len(own) - 1, 3) / 3
        del value
    values = sorted(list(places)[-MOST:])
    known = set(values)
    for i, small in enumerate(values):
        for large in values[i:]:
            if small + large in known:
                for name, value in (
                    ("whole of two", small + large),
                    ("larger part", large),
                    ("smaller part", small),
                ):
                    for at in places[value]:
                        found[at, _AT[name]] = min(1.0, found[at, _AT[name]] + 0.5)


def _size(token: Token) -> int:
    return abs(_whole(token.number or Decimal(0)))


def _said_rates(tokens: Sequence[Token], rows: dict[int, list[int]]) -> dict[int, int]:
    """Percentages that taxes may be of, and where they stand."""
    percents = [at for row in rows.values() for at in row if tokens[at].percent]
    rates = {_size(tokens[at]): at for at in percents}
    return {rate: at for rate, at in rates.items() if 0 < rate < 50 * UNIT}


def _rates(
    tokens: Sequence[Token],
    rows: dict[int, list[int]],
    amounts: Sequence[int],
    found: NDArray[np.float32],
) -> None:
    """Mark taxes, what they are of, and both together, by the percentages that stand somewhere."""
    rates = _said_rates(tokens, rows)
    if not rates:
        return
    places: dict[int, list[int]] = defaultdict(list)
    for at in amounts:
        places[_size(tokens[at])].append(at)
    values = list(places)[-MOST:]
    known = set(values)
    for base, (rate, said) in product(values, rates.items()):
        exact = base * rate // (100 * UNIT)
        for tax in (exact // 100 * 100, exact // 100 * 100 + 100):
            if tax in known and tax and abs(tax - exact) <= 51:
                found[said, _AT["rate said"]] = 1
                _mark_tax(base, tax, places, found, whole=base + tax in known)


def _mark_tax(
    base: int, tax: int, places: dict[int, list[int]], found: NDArray[np.float32], *, whole: bool
) -> None:
    """Mark a tax and what it is of, the surer where both together stand there, too."""
    for name, value in (("is a rate of another", tax), ("has a rate", base)):
        for at in places[value]:
            found[at, _AT[name]] = max(found[at, _AT[name]], 1.0 if whole else 0.5)
    if whole:
        for at in places[base + tax]:
            found[at, _AT["whole with its tax"]] = 1
