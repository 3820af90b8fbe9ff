"""Which numbers of a line are quantity and price: by what words are told as, and by products."""

import re
from collections.abc import Mapping, Sequence
from decimal import ROUND_HALF_UP, Decimal
from itertools import permutations

import numpy as np
from numpy.typing import NDArray

from veridox.core.extract.tagging.choices import Choice, as_field
from veridox.core.extract.tagging.tagged import Span, Tagged
from veridox.core.extract.tagging.tokens import Token
from veridox.core.extract.thresholds import ASIDE, CELL, CLEAR, SPARE, TOGETHER
from veridox.core.reading import Field

NUMBERS = (
    "line.quantity",
    "line.unit_price",
    "line.price_base",
    "line.discount",
    "line.tax_rate",
)


def number_of(token: Token) -> Decimal:
    """What a token reads as, 0 for no number."""
    return token.number if token.number is not None else Decimal(0)


def row_numbers(tagged: Tagged, at: int, *, of_lines: bool) -> list[int]:
    """Other numbers of a token's row, all or those that words take for cells of a line."""
    tokens = tagged.tokens
    return [
        other
        for other in range(max(0, at - ASIDE), min(len(tokens), at + ASIDE))
        if tokens[other].row == tokens[at].row
        and tokens[other].number
        and not tokens[other].percent
        and other != at
        and (not of_lines or tagged.best[other].startswith("line."))
    ]


def factors(tagged: Tagged, numbers: Sequence[int], amount: Decimal | None) -> dict[str, int]:
    """Which numbers are quantity and price: the likeliest, or those whose product is the amount."""
    chosen = _likeliest(tagged, numbers)
    count, price = chosen.get("line.quantity"), chosen.get("line.unit_price")
    if not amount or len(numbers) < 2:
        return chosen
    if count is not None and price is not None:
        if _with_base(tagged, chosen, count, price, amount):
            return chosen
        factors = ((count, "line.quantity"), (price, "line.unit_price"))
        clear = min(float(tagged.of(name)[at]) for at, name in factors)
        if clear >= CLEAR or holds(tagged.tokens, count, price, amount):
            return chosen
    likely, rather = tagged.of("line.quantity"), tagged.of("line.unit_price")
    rivals = [
        (float(likely[one]) * float(rather[other]), one, other)
        for one, other in permutations(dict.fromkeys(numbers), 2)
        if holds(tagged.tokens, one, other, amount)
    ]
    if rivals and max(rivals)[0] > TOGETHER:
        _, chosen["line.quantity"], chosen["line.unit_price"] = max(rivals)
    return chosen


def _likeliest(tagged: Tagged, numbers: Sequence[int]) -> dict[str, int]:
    """Each number of a line by what it most likely is."""
    chosen: dict[str, int] = {}
    for name in NUMBERS:
        chances = tagged.of(name)
        best = max(numbers, key=lambda at: float(chances[at]), default=None)
        likely = best is not None and float(chances[best]) >= CELL
        if best is not None and likely and best not in chosen.values():
            chosen[name] = best
    return chosen


def _with_base(
    tagged: Tagged, chosen: dict[str, int], count: int, price: int, amount: Decimal
) -> bool:
    """Whether quantity and price make the amount with the count that the price is for; that count
    is none where they make it alone."""
    base = chosen.get("line.price_base")
    if base is None or not (per := number_of(tagged.tokens[base])):
        return False
    if _made(tagged.tokens, count, price, per) == abs(amount):
        return True
    if holds(tagged.tokens, count, price, amount):
        del chosen["line.price_base"]
    return False


def makes(tagged: Tagged, chosen: Mapping[str, int], amount: Decimal) -> bool:
    """Whether the numbers that were chosen make the amount, or need no others to."""
    count, price = chosen.get("line.quantity"), chosen.get("line.unit_price")
    if not amount or (price is None and count is None):
        return True
    if {"line.price_base", "line.discount"} & chosen.keys():
        return True
    if price is None:
        return False
    return count is not None and holds(tagged.tokens, count, price, amount)


def _clearly_named(
    numbers: Sequence[int], likely: NDArray[np.float32], rather: NDArray[np.float32]
) -> tuple[int, ...]:
    """The numbers that are quantity and price by their words, where both are clear; else none."""
    if not numbers:
        return ()
    count = max(numbers, key=lambda at: float(likely[at]))
    price = max(numbers, key=lambda at: float(rather[at]))
    return (count, price) if likely[count] >= CLEAR and rather[price] >= CLEAR else ()


def other_factors(
    tagged: Tagged, anchor: int, numbers: Sequence[int], amount: Decimal
) -> tuple[dict[str, int], Field | None]:
    """Two numbers of the amount's row that make it, and for how many units the head of the column
    says that prices are: `EUR/100 kg`. Nothing where the numbers make no amount in this way."""
    tokens = tagged.tokens
    row = row_numbers(tagged, anchor, of_lines=True)
    likely, rather = tagged.of("line.quantity"), tagged.of("line.unit_price")
    bases: list[tuple[Decimal, Field | None]] = [(Decimal(1), None), *_bases_above(tagged)]
    in_cents = heads_in_cents(tagged)
    if in_cents and all(base != 100 for base, _ in bases):
        # A head that says so itself is told as a base; cents are only divided by.
        bases.append((Decimal(100), None))
    sure = _clearly_named(numbers, likely, rather)
    found = [
        (
            # What stands below `ct/kWh` is the price, whatever words say of it.
            any(_below(head, tokens[other]) for head in in_cents),
            float(likely[one]) + float(rather[other]),
            one,
            other,
            base,
        )
        for one, other in permutations(dict.fromkeys((*numbers, *row)), 2)
        for base, _ in bases
        # Who is named clearly is believed, unless the head of the column says more.
        if (base != 1 or not sure or (one, other) == sure)
        and max(float(likely[one]), float(rather[other])) >= SPARE
        and _made(tokens, one, other, base) == abs(amount)
        and (abs(number_of(tokens[one])) != 1 or float(likely[one]) >= CLEAR)
    ]
    if not found:
        return {}, None
    _, _, one, other, base = max(found)
    return {"line.quantity": one, "line.unit_price": other}, dict(bases)[base]


CENTS = re.compile(r"(?:ct|cent|cents|c|p|øre|öre|gr|hal)(?:\.?/.*|\.)?", re.IGNORECASE)
"""How a column says that its prices are in the hundredth of the currency: `ct/kWh`, `p/kWh`."""


def heads_in_cents(tagged: Tagged) -> list[Token]:
    """Heads of columns, or what stands in their place, that say so."""
    return [
        token
        for at, token in enumerate(tagged.tokens)
        if tagged.best[at].startswith(("header.", "line.unit", "line.other"))
        and CENTS.fullmatch(token.text.strip("()[]"))
    ]


def _below(head: Token, token: Token) -> bool:
    shared = min(head.box.right, token.box.right) - max(head.box.left, token.box.left)
    return shared > 0 and head.page == token.page and head.row < token.row


UNITS_AHEAD = re.compile(r"(?<!\d)(100?0?)(?!\d)")


def _bases_above(tagged: Tagged) -> list[tuple[Decimal, Field | None]]:
    """For how many units the head of the column of prices says that they are."""
    heads = tagged.of("header.unit_price")
    found: dict[Decimal, Field | None] = {}
    for at, token in enumerate(tagged.tokens):
        base = UNITS_AHEAD.search(token.text) if float(heads[at]) >= SPARE else None
        if base is not None:
            value = Decimal(base[1])
            chosen = Choice(value, Span((at,), (token,), float(heads[at])), float(heads[at]))
            found[value] = as_field(chosen, [])
    return list(found.items())


def _made(tokens: Sequence[Token], one: int, other: int, base: Decimal) -> Decimal:
    """A product for so many units, in cents."""
    whole = abs(number_of(tokens[one]) * number_of(tokens[other])) / base
    return whole.quantize(Decimal("0.01"), ROUND_HALF_UP)


def holds(tokens: Sequence[Token], one: int, other: int, amount: Decimal) -> bool:
    """Whether two numbers make an amount, rounded to two decimals."""
    made = abs(number_of(tokens[one]) * number_of(tokens[other]))
    return abs(made - abs(amount)) <= ROUNDED


ROUNDED = Decimal("0.0051")
"""What rounding to two decimals may take off."""
