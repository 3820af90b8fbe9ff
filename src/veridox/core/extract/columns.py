"""Columns of a line table: where they begin and end, and what each holds.

Headers say what a column is called, not how far it reaches: amounts stand right of their header's
middle, descriptions far beyond its end. Where one column ends is told by the gap that runs down
between two headers; which number is which, by quantity x price = amount where headers do not
say it or say it wrongly.
"""

from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from itertools import pairwise, permutations

from veridox.core.extract.sheet import LabelHit, label_hits
from veridox.core.extract.values import numbers
from veridox.core.locales.currencies import SHARED_SIGNS, currency_of
from veridox.core.locales.labels import lexicon
from veridox.core.locales.numbers import NumberFormat
from veridox.core.pages import Box, Segment, TextRow, Word

NUMERIC = ("quantity", "unit_price", "price_base", "discount", "tax_rate", "amount")
SINGLE = frozenset({"unit_price", "tax_rate", "amount", "id"})
"""Columns whose cells hold one number each."""
MANY = 3
"""Lines that must contradict headers that name quantity, price and amount."""
OPEN = frozenset(["", "unit"])
"""Names of columns that may be another's after all, when most of their cells are numbers."""
TRUSTED = 0.5
"""Share of lines whose product must hold before columns are named anew by arithmetic."""


Clump = tuple[Word, ...]
"""Words that are one number, or a single word."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Column:
    """A column of a table.

    Attributes:
        name: of the cell that it holds; empty when its header is not known.
        left, right: of its header, in points.
        percent: its header says that numbers are percent.
        guessed: no lexicon has its header; a model of labels named it.
    """

    name: str
    left: float
    right: float
    percent: bool = False
    guessed: bool = False


@dataclass(frozen=True, kw_only=True, slots=True)
class Grid:
    """Columns from left to right, and where each but the last ends.

    Attributes:
        columns: at least two.
        ends: positions in points, one fewer than columns.
    """

    columns: tuple[Column, ...]
    ends: tuple[float, ...] = ()

    def cells(self, clumps: Iterable[Clump]) -> dict[int, list[Word]]:
        """Words by the index of their column."""
        found: dict[int, list[Word]] = {}
        for clump in clumps:
            middle = (clump[0].box.left + clump[-1].box.right) / 2
            found.setdefault(sum(middle > end for end in self.ends), []).extend(clump)
        return found


def clumps(words: tuple[Word, ...], style: NumberFormat) -> list[Clump]:
    """Words of a row, those that are groups of one number together."""
    grouped = {id(word): found.words for found in numbers(words, style) for word in found.words}
    result: list[Clump] = []
    for word in words:
        clump = grouped.get(id(word), (word,))
        if clump[0] is not word:
            continue
        last = result[-1] if result else None
        near = last is not None and word.box.left - last[-1].box.right < word.box.height
        if last is not None and near and (_is_sign(clump) or _is_sign(last)):
            result[-1] = (*last, *clump)  # "46.00 GBP", "€ 18,00", "20 %"
        else:
            result.append(clump)
    return result


def _is_sign(clump: Clump) -> bool:
    text = clump[0].text
    return len(clump) == 1 and (
        text == "%" or currency_of(text) is not None or text in SHARED_SIGNS
    )


def two_rows(one: TextRow, other: TextRow) -> Iterator[tuple[TextRow, tuple[Segment, ...]]]:
    """Two rows of a header as one: what stands in the second belongs to what is above it.

    Given twice: by cells, and by words, since narrow columns stand as close as words do.
    """
    for upper in (one.segments(), tuple(Segment(words=(w,), box=w.box) for w in one.words)):
        cells = [list(piece.words) for piece in upper]
        for word in other.words:
            shared = [
                min(word.box.right, piece.box.right) - max(word.box.left, piece.box.left)
                for piece in upper
            ]
            best = max(range(len(upper)), key=lambda at: shared[at])
            if shared[best] > 0:
                cells[best].append(word)
            else:
                cells.append([word])
        cells.sort(key=lambda cell: min(word.box.left for word in cell))
        words = tuple(word for cell in cells for word in cell)
        box = Box.around(word.box for word in words)
        yield (
            TextRow(page=one.page, index=one.index, words=words, box=box),
            tuple(
                Segment(words=tuple(cell), box=Box.around(word.box for word in cell))
                for cell in cells
            ),
        )


Named = Callable[[str], str]
"""What the words above a column name by a model of labels: the name of a cell, or nothing."""


def header_of(
    row: TextRow, segments: tuple[Segment, ...], languages: tuple[str, ...] = (),
    named: Named | None = None,
) -> Grid | None:  # fmt: skip
    """The columns that a row names, when it is the header of a line table.

    Cells that no lexicon has are named by `named`, if given.
    """
    if _has_figures(row):
        return None
    by_segment = [_hits(row, segment, languages) for segment in segments]
    guessed = {
        at: name
        for at, (segment, found) in enumerate(zip(segments, by_segment, strict=True))
        if named is not None
        and (not found or (len({hit.label.field for hit in found}) > 1 and _one_phrase(segment)))
        and (name := named(segment.text))
    }
    for at in guessed:
        by_segment[at] = []
    hits = [hit for found in by_segment for hit in found]
    names = {hit.label.field for hit in hits} | set(guessed.values())
    if len(names) < 2 or not names & {"amount", "unit_price"}:
        return None
    # Words that name nothing: signs, other languages, headers nobody listed.
    covered = sum(hit.last - hit.first + 1 for hit in hits)
    covered += sum(len(segments[at].words) for at in guessed)
    strange = sum(any(map(str.isalpha, word.text)) for word in row.words) - covered
    if strange > max(1, 0.45 * len(row.words)):
        return None
    if not names & {"description", "item_code"} and not (
        names >= {"quantity", "unit_price"} or (names & {"quantity", "unit_price"} and strange > 0)
    ):
        return None  # a table of taxes or of totals
    columns = [
        replace(column, name=column.name or guessed.get(at, ""), guessed=at in guessed)
        for at, (segment, found) in enumerate(zip(segments, by_segment, strict=True))
        for column in _columns(segment, found)
    ]
    return Grid(columns=_unique(columns)) if len(columns) >= 2 else None


PHRASE = 0.45
"""Letter heights between the words of one phrase; headers of two columns stand further apart."""


def _one_phrase(segment: Segment) -> bool:
    """Whether words stand as close as those of one phrase: "valore riga" heads one column."""
    return all(
        other.box.left - one.box.right < PHRASE * one.box.height
        for one, other in pairwise(segment.words)
    )


def _has_figures(row: TextRow) -> bool:
    """A header holds no amounts."""
    return any(sum(char.isdigit() for char in word.text) >= 3 for word in row.words)


def _hits(row: TextRow, segment: Segment, languages: tuple[str, ...]) -> list[LabelHit]:
    """Labels within one cell of a header; no label reaches into the next."""
    alone = TextRow(page=row.page, index=row.index, words=segment.words, box=segment.box)
    return list(label_hits(alone, (segment,), lexicon("columns"), languages, anywhere=True))


def _columns(segment: Segment, hits: Sequence[LabelHit]) -> list[Column]:
    """One column for a cell of a header; more where it names several."""
    named: list[LabelHit] = []
    for hit in hits:
        # "Betrag / Amount" heads one column, in two languages.
        slash = hit.first > 0 and segment.words[hit.first - 1].text.endswith("/")
        if not named or (hit.label.field != named[-1].label.field and not slash):
            named.append(hit)
    if not named:
        alone = any(char.isalpha() for char in segment.text)
        return [Column(name="", left=segment.box.left, right=segment.box.right)] if alone else []
    starts = [segment.box.left, *(hit.box.left for hit in named[1:])]
    stops = [*(hit.box.left - 1 for hit in named[1:]), segment.box.right]
    found = []
    for hit, left, right in zip(named, starts, stops, strict=True):
        percent = any("%" in w.text for w in segment.words if left - 1 <= w.box.left <= right)
        found.append(Column(name=hit.label.field, left=left, right=right, percent=percent))
    return found


def _unique(columns: Sequence[Column]) -> tuple[Column, ...]:
    """Each name once: of two the one that stands where such columns stand."""
    kept = list(columns)
    counts = Counter(column.name for column in kept if column.name)
    for name, count in counts.items():
        if count < 2:
            continue
        places = [at for at, column in enumerate(kept) if column.name == name]
        # The amount of a line is the last of several; of other names the first counts.
        keep = places[-1] if name == "amount" else places[0]
        for at in places:
            if at != keep:
                kept[at] = replace(kept[at], name="")
    if not any(column.name == "description" for column in kept):
        for at, column in enumerate(kept):
            if column.name in ("item_code", ""):
                kept[at] = replace(column, name="description")
                break
    return tuple(kept)


def with_ends(grid: Grid, rows: Sequence[Sequence[Clump]]) -> Grid:
    """The grid with the place where each column ends, by the gaps that run down its rows."""
    ends: list[float] = []
    columns = grid.columns
    for at, (one, other) in enumerate(pairwise(columns)):
        low = max(one.left, ends[-1]) if ends else one.left - (one.right - one.left)
        high = columns[at + 2].left if at + 2 < len(columns) else other.right
        spans = [[(clump[0].box.left, clump[-1].box.right) for clump in row] for row in rows]
        near = [[span for span in row if span[1] > low and span[0] < high] for row in spans]
        ends.append(
            _gap(
                (one.left + one.right) / 2,
                (other.left + other.right) / 2,
                near,
                usual=(one.right + other.left) / 2,
                single=(one.name in SINGLE, other.name in SINGLE),
            )
        )
    return Grid(columns=columns, ends=tuple(ends))


def _gap(
    low: float, high: float, rows: list[list[tuple[float, float]]], *, usual: float,
    single: tuple[bool, bool],
) -> float:  # fmt: skip
    """The middle of the best gap between `low` and `high`.

    Covered by fewest words; with one number, not several words, in columns of numbers; with
    words on both sides in most rows; as wide as possible.
    """
    spans = [span for row in rows for span in row]
    if not spans or high <= low:
        return usual
    edges = sorted({low, high, *(x for span in spans for x in span if low < x < high)})
    best: tuple[float, ...] | None = None
    place = usual
    for left, right in pairwise(edges):
        middle = (left + right) / 2
        over = sum(begin < middle < end for begin, end in spans)
        sides = [
            (sum(end <= middle for _, end in row), sum(begin >= middle for begin, _ in row))
            for row in rows
        ]
        crowd = sum(max(0, side[at] - 1) for side in sides for at in (0, 1) if single[at])
        both = sum(one > 0 and other > 0 for one, other in sides)
        rank = (over, crowd, -both, -(right - left), abs(middle - usual))
        if best is None or rank < best:
            best, place = rank, middle
    return place


def renamed(grid: Grid, rows: Sequence[dict[int, list[Word]]], style: NumberFormat) -> Grid:
    """The grid with columns named by arithmetic where their headers do not make it hold."""
    values = [row for each in rows if len(row := _first_numbers(each, style)) >= 2]
    places = sorted({at for row in values for at in row})
    named = {column.name: at for at, column in enumerate(grid.columns) if column.name}
    quantity, price = named.get("quantity"), named.get("unit_price")
    sure = {column.name for column in grid.columns if column.name and not column.guessed}
    said = {"quantity", "unit_price", "amount"} <= sure
    if not values or (said and len(values) < MANY):
        return grid  # a line or two may be wrong in themselves: that is for the checks to tell
    # One of the two has no known header, and a column of numbers none either: likely the same.
    figures = [at for at in places if sum(at in row for row in values) > len(values) / 2]
    open_to = [at for at in figures if grid.columns[at].name in OPEN]
    lacking = (quantity is None or price is None) and bool(open_to)
    lacking |= not {"quantity", "unit_price"} <= sure
    if (
        "amount" in named
        and not lacking
        and _holding(values, quantity, price, named["amount"], named.get("discount")) > TRUSTED
    ):
        return grid
    free = [at for at in places if grid.columns[at].name in (*NUMERIC, "id") or at in open_to]
    best: dict[str, int] = {}
    share = TRUSTED
    for one, other, amount in permutations(free, 3):
        for off in (None, *(at for at in free if at not in (one, other, amount))):
            held = _holding(values, one, other, amount, off) - 0.005 * (off is not None)
            if held <= TRUSTED:
                continue
            held += _likely(grid, values, one, other, amount)
            if held > share:
                share = held
                best = {"quantity": one, "unit_price": other, "amount": amount}
                best |= {"discount": off} if off is not None else {}
    if not best:
        return grid
    roles = {at: name for name, at in best.items()}
    columns = [
        replace(column, name=roles.get(at, "" if column.name in best else column.name))
        for at, column in enumerate(grid.columns)
    ]
    return replace(grid, columns=tuple(columns))


def unhidden(
    grid: Grid, rows: Sequence[dict[int, list[Word]]], style: NumberFormat
) -> tuple[Grid, list[dict[int, list[Word]]]]:
    """The grid with columns of numbers that no header was seen for.

    Where headers stand as close as words, several are taken for one. Numbers that end the
    description of every line are columns of their own when they make the amount.
    """
    at = next((n for n, column in enumerate(grid.columns) if column.name == "description"), None)
    names = {column.name for column in grid.columns}
    if at is None or "amount" not in names or {"quantity", "unit_price"} <= names:
        return grid, list(rows)
    for count in (3, 2, 1):
        split = [_split(row, at, count, style) for row in rows]
        own = grid.columns[at]
        columns = [*grid.columns]
        columns[at + 1 : at + 1] = [Column(name="", left=own.right, right=own.right)] * count
        wider = renamed(replace(grid, columns=tuple(columns)), split, style)
        if {"quantity", "unit_price"} <= {column.name for column in wider.columns}:
            return wider, split
    return grid, list(rows)


def _split(
    row: dict[int, list[Word]], at: int, count: int, style: NumberFormat
) -> dict[int, list[Word]]:
    """A row whose description's last numbers stand in columns of their own."""
    moved = {place if place <= at else place + count: words for place, words in row.items()}
    words = tuple(row.get(at, ()))
    ends: list[Clump] = []
    for clump in reversed(clumps(words, style)):
        if len(ends) == count or not numbers(clump, style):
            break
        ends.append(clump)
    taken = sum(len(clump) for clump in ends)
    if taken:
        moved[at] = list(words[: len(words) - taken])
    if not moved.get(at):
        moved.pop(at, None)  # nothing but numbers stood there
    for place, clump in enumerate(reversed(ends), start=at + 1):
        moved[place] = list(clump)
    return moved


def _first_numbers(row: dict[int, list[Word]], style: NumberFormat) -> dict[int, Decimal]:
    """The first number of each cell that has one."""
    found = {at: numbers(tuple(words), style) for at, words in row.items()}
    return {at: each[0].number for at, each in found.items() if each}


def _likely(
    grid: Grid, values: Sequence[dict[int, Decimal]], quantity: int, price: int, amount: int
) -> float:
    """What speaks for one of two namings under which the same products hold."""
    # What headers say counts; a price before its quantity is rarer, and the amount stands
    # behind both; prices are printed with their decimals, quantities as they come.
    named = ((quantity, "quantity"), (price, "unit_price"), (amount, "amount"))
    said = sum(
        0.02 if grid.columns[at].guessed else 0.05
        for at, name in named
        if grid.columns[at].name == name
    )
    return (
        said
        - 0.01 * (price < quantity)
        - 0.02 * (amount < max(quantity, price))
        + 0.03 * (_places(values, price) > _places(values, quantity))
    )


def _places(values: Sequence[dict[int, Decimal]], at: int) -> float:
    """How many decimals the numbers of a column have on average."""
    shown = [-int(row[at].as_tuple().exponent) for row in values if at in row]
    return sum(shown) / len(shown) if shown else 0.0


def _holding(
    values: Sequence[dict[int, Decimal]], quantity: int | None, price: int | None,
    amount: int, discount: int | None,
) -> float:  # fmt: skip
    """Share of rows, of those with all three, whose amount is quantity x price."""
    if quantity is None or price is None:
        return 1.0 if quantity is None and price is None else TRUSTED + 0.1
    whole = [row for row in values if quantity in row and price in row and amount in row]
    if not whole:
        return 0.0
    held = 0
    for row in whole:
        off = row.get(discount, Decimal(0)) if discount is not None else Decimal(0)
        parts = (row[quantity], row[price])
        # A discount is printed in percent or as money.
        held += product_holds(*parts, row[amount], off) or product_holds(*parts, row[amount] + off)
    return held / len(whole)


def product_holds(
    quantity: Decimal, price: Decimal, amount: Decimal, percent: Decimal = Decimal(0),
    unit: Decimal = Decimal("0.01"),
) -> bool:  # fmt: skip
    """Whether quantity x price, less percent, is the amount to the smallest unit."""
    expected = quantity * price * (100 - percent) / 100
    return abs(abs(expected) - abs(amount)) <= max(unit, abs(quantity) * _half_place(price))


def _half_place(price: Decimal) -> Decimal:
    """Half of the last place of a price that was rounded to pennies; others are printed whole."""
    return Decimal("0.005") if price.as_tuple().exponent == -2 else Decimal(0)
