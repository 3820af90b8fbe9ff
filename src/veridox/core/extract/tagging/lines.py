"""Lines: each hangs on an amount, or on a quantity where there are no amounts."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from decimal import Decimal

import numpy as np
from numpy.typing import NDArray

from veridox.core.extract.tagging.amounts import minus_beside
from veridox.core.extract.tagging.choices import Choice, as_field
from veridox.core.extract.tagging.factors import (
    NUMBERS,
    factors,
    heads_in_cents,
    holds,
    makes,
    number_of,
    other_factors,
    row_numbers,
)
from veridox.core.extract.tagging.tagged import Span, Tagged
from veridox.core.extract.tagging.tokens import Token
from veridox.core.extract.thresholds import ANCHOR, CELL, CHARGED, CLEAR, FAINT, REACH, WEAK
from veridox.core.locales.labels import lexicon, normalise
from veridox.core.money import Money, minor_unit
from veridox.core.reading import Field, Row

CELLS = {
    "line.quantity": "quantity",
    "line.unit_price": "unit_price",
    "line.price_base": "price_base",
    "line.tax_rate": "tax_rate",
}
LOOSE = ("text", "line.description", "line.group", "header.", "label.")
"""Beginnings of what a word at the edge of a description's cell may be that belongs to it."""
TEXTS = {
    "line.id": "id",
    "line.code": "item_code",
    "line.unit": "unit",
    "line.description": "description",
}


CARRIED = "not.carried"
"""The lexicon's name of what is carried from one page to the next."""


@dataclass
class _Line:
    anchor: int
    cells: dict[str, list[int]] = field(default_factory=dict)


def _amounts(tagged: Tagged) -> list[int]:
    """Tokens that are amounts of lines by their words."""
    tokens = tagged.tokens
    return [
        at
        for at in map(int, np.flatnonzero(tagged.of("line.amount") >= ANCHOR))
        if tokens[at].number is not None and not tokens[at].percent and tokens[at].day is None
        if not _carried(tagged, at)
    ]


def _carried(tagged: Tagged, at: int) -> bool:
    """Whether what stands before an amount in its row says that it is carried overleaf."""
    row: list[str] = []
    for token in reversed(tagged.tokens[:at]):
        if token.row != tagged.tokens[at].row or token.number is not None:
            break
        row[:0] = normalise(token.text)
    label = lexicon("header").match(tuple(row), 0, tagged.document.languages) if row else None
    return label is not None and label.field == CARRIED and len(label.words) == len(row)


def lines(tagged: Tagged, code: str) -> tuple[Row, ...]:
    """The lines of a document, in reading order."""
    anchors, likely = _amounts(tagged), tagged.of("line.amount")
    on_amounts = bool(anchors)
    if on_amounts:
        anchors += _under(tagged, anchors, likely)
        anchors += _made_in_row(tagged, anchors)
    else:
        likely = tagged.of("line.quantity")
        anchors = [
            at
            for at in map(int, np.flatnonzero(likely >= ANCHOR))
            if tagged.tokens[at].number is not None
        ]
    anchors = _one_a_row(tagged, anchors, likely)
    if not anchors:
        return ()
    made = [_Line(at) for at in anchors]
    _assign(tagged, made)
    rows = [row for line in made if (row := _row(tagged, line, code, on_amounts=on_amounts))]
    return tuple(row for at, row in enumerate(rows) if not _sums_up(row, rows[:at]))


def _under(tagged: Tagged, anchors: Sequence[int], likely: NDArray[np.float32]) -> list[int]:
    """Amounts that words are unsure of: in the column of surer ones, in a row with other cells."""
    tokens, best = tagged.tokens, tagged.best
    columns = [tokens[at] for at in anchors]
    taken = {token.row for token in columns}
    found = []
    for at in map(int, np.flatnonzero((likely >= FAINT) & (likely < ANCHOR))):
        token = tokens[at]
        if token.number is None or token.percent or token.row in taken:
            continue
        flush = any(
            token.page == other.page
            and token.places == other.places
            and min(abs(token.box.right - other.box.right), abs(token.box.left - other.box.left))
            < 2
            for other in columns
        )
        around = range(max(0, at - 12), min(len(tokens), at + 12))
        cells = sum(tokens[o].row == token.row and best[o] in CELLS for o in around if o != at)
        if flush and cells >= 2:
            found.append(at)
    return found


def _made_in_row(tagged: Tagged, anchors: Sequence[int]) -> list[int]:
    """Amounts of rows in which words are sure of quantity and price only: what both make."""
    tokens = tagged.tokens
    taken, rather = {tokens[at].row for at in anchors}, tagged.of("line.unit_price")
    found = []
    for count in map(int, np.flatnonzero(tagged.of("line.quantity") >= CLEAR)):
        if tokens[count].row in taken or tokens[count].number is None:
            continue
        row = row_numbers(tagged, count, of_lines=False)
        prices = [at for at in row if rather[at] >= CLEAR]
        if len(prices) != 1:
            continue
        made = [
            at
            for at in row
            if at != prices[0] and holds(tokens, count, prices[0], number_of(tokens[at]))
        ]
        found += made if len(made) == 1 else []
    return found


def _flush(one: Token, other: Token) -> bool:
    """Whether two amounts of a page stand at one edge, with as many decimals."""
    apart = min(abs(one.box.right - other.box.right), abs(one.box.left - other.box.left))
    return one.page == other.page and one.places == other.places and apart < 2


def untitled(tagged: Tagged, fields: Mapping[str, Field]) -> tuple[Row, ...]:
    """Lines of a bill without a table, that were taken for what sums begin with.

    What was done and what came beside it stand right above the net total, which they make: they
    are lines, unless the first is clearly labelled as a sum.
    """
    names = ("lines_total", "charges", "net_total")
    stated = [fields[name] for name in names if name in fields]
    values = [each.value.amount for each in stated if isinstance(each.value, Money)]
    if len(values) != len(names) or values[0] + values[1] != values[2]:
        return ()
    parts = stated[:2]
    rows: list[Row] = []
    for name, part in zip(("lines_total", "charges"), parts, strict=True):
        words = before(tagged, part)
        label = [float(tagged.of(f"label.{name}")[at]) for at in words]
        if not label or (name == "lines_total" and sum(label) / len(label) >= WEAK):
            return ()
        rows.append(_told_by(tagged, words, part))
    return tuple(rows)


def _told_by(tagged: Tagged, words: Sequence[int], part: Field) -> Row:
    """A line of an amount, and the words before it as what it is for."""
    tokens = tuple(tagged.tokens[at] for at in words)
    span = Span(tuple(words), tokens, part.confidence)
    text = " ".join(token.text for token in tokens)
    described = as_field(Choice(text, span, part.confidence), [])
    return {"amount": replace(part, others=()), "description": described}


def unnamed_charge(tagged: Tagged, rows: Sequence[Row], fields: Mapping[str, Field]) -> Row | None:
    """What was taken for a charge and is the last line: no word of the lexicon calls it one, and
    with it the lines make the net total, or all of it where nothing is taxed."""
    charge = fields.get("charges")
    whole = fields.get("net_total") or fields.get("gross_total")
    if charge is None or whole is None or {"lines_total", "allowances"} & fields.keys():
        return None
    amounts = [row["amount"].value for row in rows if "amount" in row]
    made = [each.amount for each in (*amounts, charge.value) if isinstance(each, Money)]
    if len(amounts) < len(rows) or not isinstance(whole.value, Money):
        return None
    words = before(tagged, charge)
    if not words or _names_charge(tagged, words) or sum(made, Decimal(0)) != whole.value.amount:
        return None
    return _told_by(tagged, words, charge)


def _names_charge(tagged: Tagged, words: Sequence[int]) -> bool:
    """Whether words clearly name a charge, or the lexicon has some of them as its name."""
    if np.mean([tagged.of("label.charges")[at] for at in words]) >= CHARGED:
        return True
    said = tuple(part for at in words for part in normalise(tagged.tokens[at].text))
    labels = (
        lexicon("header").match(said, at, tagged.document.languages) for at in range(len(said))
    )
    return any(label is not None and label.field == "charges" for label in labels)


def before(tagged: Tagged, field: Field) -> list[int]:
    """The words that stand before a field in its row."""
    box = field.box
    if box is None:
        return []
    pages, rights, levels = tagged.places
    near = (pages == field.page) & (rights <= box.left + 1)
    return np.flatnonzero(near & (abs(levels - box.middle[1]) < 0.5 * box.height)).tolist()


def _sums_up(row: Row, before: Sequence[Row]) -> bool:
    """Whether a row without words is what those before it make together."""
    if len(before) < 2 or any(name in row for name in TEXTS.values()):
        return False
    amounts = [each["amount"].value for each in (*before, row) if "amount" in each]
    *parts, whole = [each.amount for each in amounts if isinstance(each, Money)] or [Decimal(0)]
    return len(parts) == len(before) and sum(parts, Decimal(0)) == whole


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
    names = (*NUMBERS, *TEXTS)
    chances = np.stack([tagged.of(name) for name in names], axis=1)
    likely = chances.max(axis=1) >= CELL
    for at, token in enumerate(tokens):
        if at in taken:
            continue
        name = tagged.best[at]
        if name not in names:
            if not likely[at]:
                continue
            name = names[int(chances[at].argmax())]
        line = rows.get(token.row) or _nearest(tagged, token, made, above_first=above_first)
        if line is not None:
            line.cells.setdefault(name, []).append(at)


def _names_above(tagged: Tagged, made: Sequence[_Line]) -> bool:
    """Whether words of a line stand above the row of its amount rather than below: what stands
    before the first amount tells, where nothing stands behind the last."""
    tokens = tagged.tokens
    first, last = tokens[made[0].anchor], tokens[made[-1].anchor]
    # The name of the first line may be taken for the heading of a group.
    named = tagged.of("line.description") + tagged.of("line.group")
    words = [tokens[at] for at in np.flatnonzero(named > CELL)]
    before = any(
        word.page == first.page and word.row < first.row and _distance(tagged, word, first) < REACH
        for word in words
    )
    behind = any(
        word.page == last.page and word.row > last.row and _distance(tagged, word, last) < REACH
        for word in words
    )
    return before and not behind


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


def _row(tagged: Tagged, line: _Line, code: str, *, on_amounts: bool) -> Row:
    tokens = tagged.tokens
    amount = _amount(tagged, line.anchor, code) if on_amounts else None
    chosen = {"line.quantity": line.anchor}
    numbers = [
        at for name in NUMBERS for at in line.cells.get(name, []) if tokens[at].number is not None
    ]
    head = None
    if amount is not None:
        chosen = factors(tagged, numbers, amount.amount)
        if not makes(tagged, chosen, amount.amount):
            other, head = other_factors(tagged, line.anchor, numbers, amount.amount)
            chosen |= other
    cells = {
        CELLS[name]: _cell(tagged, at, name, number_of(tokens[at]))
        for name, at in chosen.items()
        if name in CELLS
    }
    if head is not None:
        cells["price_base"] = replace(head, confidence=cells["unit_price"].confidence)
    if amount is not None:
        cells = {"amount": _cell(tagged, line.anchor, "line.amount", amount), **cells}
        _with_amount(tagged, line, chosen, cells, amount, numbers)
    return {**cells, **_texts(tagged, line, set(chosen.values()))}


def _with_amount(
    tagged: Tagged,
    line: _Line,
    chosen: dict[str, int],
    cells: dict[str, Field],
    amount: Money,
    numbers: Sequence[int],
) -> None:
    """Put to the cells what follows from the amount: prices in cents, a discount."""
    if _in_cents(tagged, cells, amount):
        price = number_of(tagged.tokens[chosen["line.unit_price"]]) / 100
        cells["unit_price"] = replace(cells["unit_price"], value=price)
    if "line.discount" not in chosen:
        spare = row_numbers(tagged, line.anchor, of_lines=False)
        chosen |= _unnamed_discount(tagged, cells, amount, {*numbers, *spare} - {*chosen.values()})
    if "line.discount" in chosen:
        taken = _taken_off(tagged, chosen, cells, amount.currency)
        if taken is not None:
            cells["discount"] = _cell(tagged, chosen["line.discount"], "line.discount", taken)


def _in_cents(tagged: Tagged, cells: dict[str, Field], amount: Money) -> bool:
    """Whether prices are in cents: the head of their column says so, and only so they multiply."""
    goods = _goods(cells)
    if goods is None or "price_base" in cells:
        return False
    if abs(abs(goods) / 100 - abs(amount.amount)) > minor_unit(amount.currency):
        return False
    return bool(heads_in_cents(tagged))


def _cell(tagged: Tagged, at: int, tag: str, value: Decimal | Money) -> Field:
    chance = float(tagged.of(tag)[at])
    return as_field(Choice(value, Span((at,), (tagged.tokens[at],), chance), chance), [])


def _amount(tagged: Tagged, at: int, code: str) -> Money:
    amount = number_of(tagged.tokens[at])
    if minus_beside(tagged, at, "line.amount"):
        amount = -abs(amount)
    if -int(amount.as_tuple().exponent) < 2 and minor_unit(code) < 1:
        amount = amount.quantize(minor_unit(code))
    return Money(amount=amount, currency=code)


def _texts(tagged: Tagged, line: _Line, taken: set[int]) -> dict[str, Field]:
    """The cells that are words."""
    cells = {}
    for name, cell in TEXTS.items():
        own = [at for at in line.cells.get(name, []) if at not in taken]
        own = own[:1] if name != "line.description" else _whole(tagged, own, taken)
        if own:
            words = tuple(tagged.tokens[at] for at in own)
            chance = sum(float(tagged.of(name)[at]) for at in own) / len(own)
            span = Span(tuple(own), words, chance)
            text = " ".join(word.text for word in words).strip()
            cells[cell] = as_field(Choice(text, span, chance), [])
    return cells


def _whole(tagged: Tagged, own: Sequence[int], taken: set[int]) -> list[int]:
    """Words of a description with the others of their cells: `Pipe 25 mm x 200, grey`."""
    found = set(own)
    for number in sorted({tagged.cell_of[at] for at in own}):
        cell = tagged.cells[number]
        here = [at for at in cell if at in found]
        for at in cell:
            inside = here[0] < at < here[-1]
            if at not in taken and (inside or tagged.best[at].startswith(LOOSE)):
                found.add(at)
    return sorted(found)


def _taken_off(tagged: Tagged, chosen: dict[str, int], cells: Row, code: str) -> Money | None:
    """What a discount takes off, as money; one in percent is worked out from quantity and price.

    None where it takes nothing off what quantity and price make: then the price has it.
    """
    token = tagged.tokens[chosen["line.discount"]]
    share = abs(number_of(token))
    goods = _goods(cells)
    amount = cells["amount"].value
    if goods is None or not isinstance(amount, Money):
        return None if token.percent else Money(amount=share, currency=code)
    goods, shown = abs(goods), abs(amount.amount)
    off = (goods * share / 100).quantize(minor_unit(code))
    for money in (off, share):
        if abs(goods - money - shown) <= minor_unit(code) and 0 <= money < goods:
            return Money(amount=money, currency=code)
    if abs(goods - shown) <= minor_unit(code):
        return None
    return Money(amount=off if token.percent else share, currency=code)


def _unnamed_discount(tagged: Tagged, cells: Row, amount: Money, free: set[int]) -> dict[str, int]:
    """The number that quantity and price are more than the amount by, in money or percent."""
    goods, unit = _goods(cells), minor_unit(amount.currency)
    if goods is None or abs(goods) - abs(amount.amount) <= unit:
        return {}
    for at in sorted(free):
        share = abs(number_of(tagged.tokens[at]))
        left = (abs(goods) - share, abs(goods) * (100 - share) / 100)
        if share and any(abs(each - abs(amount.amount)) <= unit for each in left):
            return {"line.discount": at}
    return {}


def _goods(cells: Row) -> Decimal | None:
    """Quantity x price / base."""
    found = [cells[name].value for name in ("quantity", "unit_price") if name in cells]
    base = cells["price_base"].value if "price_base" in cells else Decimal(1)
    if len(found) != 2 or not isinstance(base, Decimal) or not base:
        return None
    quantity, price = found
    if not isinstance(quantity, Decimal) or not isinstance(price, Decimal):
        return None
    return quantity * price / base
