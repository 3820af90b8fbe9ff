"""Orders as the checks know them, and which of them a bill names."""

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum
from typing import Final

from veridox.core.locales.languages import AND
from veridox.core.matching.lines import SURE, OrderLineRecord, bare_key, pair_lines
from veridox.core.money import Money
from veridox.core.reading import Reading, Row
from veridox.core.reading.reading import cell_text

MOST_NAMED: Final = 100
"""Orders that one bill may name; further numbers are told as unknown."""


@dataclass(frozen=True, kw_only=True, slots=True)
class OrderRecord:
    """An order of the master data with what was billed on it so far.

    Attributes:
        number: as in the finance system.
        vendor: code of the vendor it was placed with.
        net_total: ordered amount without tax.
        invoiced: net total of other bills on it, posted or on their way, less their charges.
        closed: nothing more may be billed.
        approved: whoever answers for the money has agreed to it.
        gone: the finance system does not list it any more.
        entity: code of the ordering entity.
        ordered_on: the day of the order; None when not known.
        lines: what was ordered; empty where only the total is known.
    """

    number: str
    vendor: str
    net_total: Money
    invoiced: Money
    closed: bool = False
    approved: bool = True
    gone: bool = False
    entity: str = ""
    ordered_on: date | None = None
    lines: tuple[OrderLineRecord, ...] = ()


class Raised(StrEnum):
    """When an order was raised, seen from the bill: the control that orders come first."""

    BEFORE = "before"
    SAME_DAY = "same day"
    AFTERWARDS = "raised afterwards"
    NONE = "no order raised"


def order_key(number: str) -> str:
    """An order number without blanks and separators, upper case."""
    return bare_key(number)


# -- which orders a bill names

_BETWEEN: Final = re.compile(rf"\s*[,;&+|\n]\s*|\s+/\s+|\s+(?:{'|'.join(AND)})\s+", re.IGNORECASE)
"""What stands between two numbers."""
_HAS_DIGIT: Final = re.compile(r"\d")
_TAIL: Final = re.compile(r"[-/ ]?(\d{2,6})")
"""The end of a number alone, as in `PO-26-0117/0118`: the rest is the one's before it."""


def order_numbers(reading: Reading, *, surely: bool = False) -> tuple[str, ...]:
    """What a bill states as numbers of orders: of the whole, then of its lines, each once.

    Args:
        reading: of the bill.
        surely: leave out what was only read within its table, where a vendor's own numbers stand,
            too.
    """
    cells = (row.get("order_number") for row in reading.lines)
    of_lines = (str(cell.value) for cell in cells
                if cell is not None and not (surely and cell.origin not in SURE))  # fmt: skip
    texts = (reading.text("order_number"), *of_lines)
    return tuple(dict.fromkeys(text for text in texts if text))


def candidates(text: str) -> tuple[str, ...]:
    """Every number that a text may name: all of it, each of its parts, a part with the beginning
    of the one before it."""
    found = [text]
    for part, before in _parts(text):
        found += [part, *_completed(part, before), *_pieces(part)]
    return tuple(dict.fromkeys(each for each in found if order_key(each)))


@dataclass(frozen=True, kw_only=True, slots=True)
class NamedOrders:
    """The orders that a bill names: those that are known, and numbers that are not."""

    known: tuple[OrderRecord, ...] = ()
    unknown: tuple[str, ...] = ()


def named_orders(texts: Iterable[str], known: Mapping[str, OrderRecord]) -> NamedOrders:
    """Which orders are meant by what a bill states (`order_numbers`).

    Args:
        texts: each names one order, or several: `PO-26-0117, PO-26-0118`, `PO-26-0117/0118`.
        known: by key (`order_key`), at least those of `candidates` that there are.

    A text that is an order's number as a whole is that order, whatever signs it has in it.
    """
    found: dict[str, OrderRecord] = {}
    unknown: list[str] = []
    for text in texts:
        for names in _meanings(text, known):
            keys = [order_key(each) for each in names]
            if all(key in known for key in keys):
                found.update({key: known[key] for key in keys})
            else:
                unknown += names
    if found:
        # `NA`, `several` or a name beside numbers that are known says nothing.
        unknown = [each for each in unknown if _HAS_DIGIT.search(each)]
    kept = list(found.values())
    over = [each.number for each in kept[MOST_NAMED:]]
    return NamedOrders(
        known=tuple(kept[:MOST_NAMED]), unknown=tuple(dict.fromkeys([*unknown, *over]))
    )


def _meanings(text: str, known: Mapping[str, OrderRecord]) -> list[tuple[str, ...]]:
    """A text as the numbers that it names, each by itself, or several that are known together."""
    if order_key(text) in known:
        return [(text,)]
    found = [_meaning(part, before, known) for part, before in _parts(text)]
    # Where no part is an order of ours, it is one number that is not known, with words about it.
    meant = any(order_key(each) in known for names in found for each in names)
    return found if meant else [(text,)]


def _pieces(text: str) -> list[str]:
    """What may be a number each where nothing but a blank or a slash stands between them."""
    return [each for each in re.split(r"[\s/]+", text) if each]


def _meaning(part: str, before: str, known: Mapping[str, OrderRecord]) -> tuple[str, ...]:
    if order_key(part) in known:
        return (part,)
    for each in _completed(part, before):
        if order_key(each) in known:
            return (each,)
    pieces = _pieces(part)
    several = len(pieces) > 1 and all(order_key(each) in known for each in pieces)
    return tuple(pieces) if several else (part,)


def _parts(text: str) -> list[tuple[str, str]]:
    """Parts that may be a number each, with the one before; a slash or a dash alone may belong to a
    number, so it is told by what stands behind it: a few digits are the end of another number."""
    parts = [each for each in _BETWEEN.split(text.strip()) if _HAS_DIGIT.search(each)]
    found: list[tuple[str, str]] = []
    for part in parts:
        head, *tails = part.split("/")
        before = found[-1][0] if found else ""
        if (
            tails
            and all(_TAIL.fullmatch(each) for each in tails)
            and len(order_key(head)) > max(len(each) for each in tails)
        ):
            found.append((head, before))
            found += [(each, head) for each in tails]
        else:
            found.append((part, before))
    return found


def _completed(part: str, before: str) -> tuple[str, ...]:
    """The end of a number, with the beginning of the one before it."""
    tail = _TAIL.fullmatch(part)
    if tail is None or len(tail[1]) >= len(before):
        return ()
    return (before[: -len(tail[1])] + tail[1],)


def order_of_row(row: Row, orders: Sequence[OrderRecord]) -> str:
    """The number of the order that a line says it is of, by its end at least; empty for none of
    those that its bill names."""
    key = order_key(cell_text(row, "order_number") or "")
    fitting = [each.number for each in orders if key and order_key(each.number).endswith(key)]
    return fitting[0] if len(fitting) == 1 else ""


@dataclass(frozen=True, kw_only=True, slots=True)
class OrderedLine:
    """A line of an order that a line of a bill speaks of."""

    order: OrderRecord
    line: OrderLineRecord


def pair_with_orders(
    lines: Sequence[Row], orders: Sequence[OrderRecord]
) -> tuple[OrderedLine | None, ...]:
    """For each line of a bill the line of an order that it speaks of (`pair_lines`), over all
    lines of all orders that the bill names."""
    every = [OrderedLine(order=order, line=line) for order in orders for line in order.lines]
    numbers = [each.order.number for each in every] if len(orders) > 1 else ()
    found = pair_lines(lines, [each.line for each in every], numbers)
    return tuple(every[at] if at is not None else None for at in found)
