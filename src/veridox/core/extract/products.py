"""Lines by arithmetic alone: rows in which one number is the product of two others.

No header is needed and no rule: where the three stand in one row they stand in all. What
headers say only settles which of the two factors is the price.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from decimal import Decimal
from itertools import permutations

from veridox.core.extract.cells import Building
from veridox.core.extract.columns import Named, product_holds
from veridox.core.extract.sheet import Sheet
from veridox.core.extract.values import FoundNumber, figures
from veridox.core.money import minor_unit
from veridox.core.pages import Box, TextRow, Word

ALIGNED = 4.0
"""Points by which edges of one column may differ."""
EXACT = Decimal("0.015")
"""By which an amount may differ from its product where nothing but the product tells."""
MOST = 9
"""Numbers of a row that are tried."""
ROLES = ("quantity", "unit_price", "amount", "discount")
UNIT = 60.0
"""Points behind a quantity within which its unit stands."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Figure:
    """A number with its place."""

    found: FoundNumber
    box: Box

    def below(self, other: "Figure") -> bool:
        """Whether both stand in one column: flush left, flush right, or centred."""
        one, two = self.box, other.box
        return (
            abs(one.right - two.right) < ALIGNED
            or abs(one.left - two.left) < ALIGNED
            or abs(one.middle[0] - two.middle[0]) < ALIGNED / 2
        )


@dataclass(frozen=True, kw_only=True, slots=True)
class Product:
    """Figures of one row by role; `strong` unless one of the factors is 1."""

    row: int
    roles: dict[str, Figure]
    strong: bool


def product_lines(sheet: Sheet, currency: str, named: Named) -> list[Building]:
    """All rows of the best column of products, with descriptions; empty without any."""
    figures = [_figures(row, sheet) for row in sheet.rows]
    whole = minor_unit(currency) == 1
    products = [
        product
        for at, found in enumerate(figures)
        if 3 <= len(found) <= MOST
        for product in _products(at, found, sheet, whole=whole)
    ]
    best = _best(products, sheet, named)
    lines = []
    for at, found in enumerate(figures if best is not None else ()):
        roles = _in_columns(found, best.roles if best is not None else {})
        if _is_line(at, roles, sheet):
            lines.append((at, roles))
    said = {each.row: each.roles for each in products if _said(each, sheet)}
    if len(said) >= len(lines):
        lines = sorted(said.items())  # "10 x 42.00" says it, wherever it stands
    return _described(lines, sheet) if lines else []


def _figures(row: TextRow, sheet: Sheet) -> list[Figure]:
    return [
        Figure(found=found, box=Box.around(word.box for word in found.words))
        for found in figures(row, sheet)
    ]


def _products(
    row: int, figures: Sequence[Figure], sheet: Sheet, *, whole: bool
) -> Iterator[Product]:
    plain = [each for each in figures if not each.found.percent and each.found.number]
    rates = [each for each in figures if 0 < each.found.number < 100]
    for one, two, amount in permutations(plain, 3):
        if not whole and not _decimal(amount, sheet):
            continue
        q, p, a = (each.found.number for each in (one, two, amount))
        if abs(abs(q * p) - abs(a)) <= EXACT:
            roles = {"quantity": one, "unit_price": two, "amount": amount}
            yield Product(row=row, roles=roles, strong=q != 1 and p != 1)
            continue
        for rate in rates:
            off = q * p * (100 - rate.found.number) / 100
            if rate not in (one, two, amount) and abs(abs(off) - abs(a)) <= EXACT:
                roles = {"quantity": one, "unit_price": two, "amount": amount, "discount": rate}
                yield Product(row=row, roles=roles, strong=q != 1 and p != 1)


def _is_sign(word: Word) -> bool:
    text = word.text.lower().strip(":,")
    return text in TIMES or text in ("=", "%", "€", "£", "$")


TIMES = frozenset(
    ["x", "×", "*", "à", "@", "mal", "times", "fois", "por", "per", "st", "stk", "pcs"]
)
"""What stands between a quantity and its price in a line of text."""


def _said(product: Product, sheet: Sheet) -> bool:
    """Whether a sign between them says that one is taken times the other."""
    quantity, price = product.roles["quantity"].box, product.roles["unit_price"].box
    between = [
        word.text.lower().strip(".")
        for word in sheet.rows[product.row].words
        if quantity.right <= word.box.middle[0] <= price.left
    ]
    return bool(set(between) & TIMES) and len(between) <= 2


def _decimal(figure: Figure, sheet: Sheet) -> bool:
    text = figure.found.words[-1].text
    return sheet.numbers.decimal in text.strip("€£$krKR.")


def _best(products: Sequence[Product], sheet: Sheet, named: Named) -> Product | None:
    """The product whose columns most rows share; headers and habits settle what is left open."""
    best: tuple[float, Product] | None = None
    tried: list[Product] = []
    for seed in products:
        if any(_alike(seed, each) for each in tried):
            continue
        tried.append(seed)
        alike: dict[int, float] = {}
        for each in products:
            if _alike(seed, each):
                alike[each.row] = max(alike.get(each.row, 0.0), 1.0 if each.strong else 0.35)
        weight = sum(alike.values())
        if weight < 1:
            continue
        score = weight + _habit(seed, sheet, named) - 0.2 * ("discount" in seed.roles)
        if best is None or score > best[0]:
            best = score, seed
    return best[1] if best else None


def _alike(one: Product, other: Product) -> bool:
    return set(one.roles) == set(other.roles) and all(
        one.roles[role].below(other.roles[role]) for role in one.roles
    )


def _habit(product: Product, sheet: Sheet, named: Named) -> float:
    """What speaks for a naming: headers above, the usual order, prices with their places."""
    quantity, price, amount = (product.roles[name] for name in ROLES[:3])
    said = sum(
        0.6 if name == role else -0.4
        for role, figure in product.roles.items()
        if (name := named(_header(sheet, product.row, figure.box))) in ROLES
    )
    places = [-int(each.found.number.as_tuple().exponent) for each in (quantity, price)]
    return (
        said
        + 0.2 * (places[1] > places[0])
        - 0.1 * (price.box.left < quantity.box.left)
        - 0.3 * (amount.box.left < max(price.box.left, quantity.box.left))
    )


def _header(sheet: Sheet, row: int, box: Box) -> str:
    """The words above a column, from the nearest row without figures that has some there."""
    page = sheet.rows[row].page
    for at in range(row - 1, max(-1, row - 40), -1):
        other = sheet.rows[at]
        if other.page != page:
            break
        if len(sheet.segments[at]) < 3 or any(any(map(str.isdigit, w.text)) for w in other.words):
            continue
        over = [
            word.text
            for word in other.words
            if min(word.box.right, box.right) - max(word.box.left, box.left) > 0
            or abs(word.box.right - box.right) < ALIGNED
            or abs(word.box.left - box.left) < ALIGNED
        ]
        if over:
            return " ".join(over)
    return ""


def _in_columns(found: Sequence[Figure], columns: dict[str, Figure]) -> dict[str, Figure]:
    roles: dict[str, Figure] = {}
    for role in ROLES:
        if role in columns:
            for figure in found:
                if figure.below(columns[role]) and figure not in roles.values():
                    roles[role] = figure
                    break
    return roles


def _is_line(at: int, roles: dict[str, Figure], sheet: Sheet) -> bool:
    """Whether a row whose figures stand in the columns is a line: its product holds, or it has
    words of its own (one that is wrong in itself is for the checks to tell)."""
    if not {"quantity", "unit_price", "amount"} <= set(roles):
        return False
    q, p, a = (roles[name].found.number for name in ROLES[:3])
    off = roles["discount"].found.number if "discount" in roles else Decimal(0)
    words = any(map(str.isalpha, sheet.rows[at].text))
    return product_holds(q, p, a, off) or (words and not _is_total(at, sheet))


def _is_total(at: int, sheet: Sheet) -> bool:
    return any(hit.row is sheet.rows[at] for hit in sheet.hits)


def _described(lines: list[tuple[int, dict[str, Figure]]], sheet: Sheet) -> list[Building]:
    """Each line with the words of its row, and of the rows that go on with them."""
    rows = {at for at, _ in lines}
    cells = [_cells(at, roles, sheet) for at, roles in lines]
    # What a line is may stand above its figures, when nothing stands beside them.
    bare = [not _has_letters(each["description"]) for each in cells]
    above = sum(bare) > len(bare) / 2 and _touches(lines[0][0], -1, sheet)
    found = []
    for (at, roles), own in zip(lines, cells, strict=True):
        more = _beside(at, -1 if above else 1, rows, roles, own["description"], sheet)
        own["description"] = [*more, *own["description"]] if above else [*own["description"], *more]
        row = sheet.rows[at]
        filled = {name: words for name, words in own.items() if words}
        found.append(
            Building(
                page=row.page, bottom=row.box.bottom, cells=filled, percent="discount" in roles
            )
        )
    return found


def _has_letters(words: Sequence[Word]) -> bool:
    return any(map(str.isalpha, "".join(word.text for word in words)))


def _touches(at: int, step: int, sheet: Sheet) -> bool:
    """Whether the next row stands as close as those of one text."""
    if not 0 <= at + step < len(sheet.rows):
        return False
    one, other = sheet.rows[at], sheet.rows[at + step]
    upper, lower = (one, other) if step > 0 else (other, one)
    return one.page == other.page and lower.box.top - upper.box.bottom <= 0.6 * one.box.height


def _beside(
    at: int, step: int, rows: set[int], roles: dict[str, Figure], text: Sequence[Word],
    sheet: Sheet,
) -> list[Word]:  # fmt: skip
    """The words of the rows that go on with a description, downwards or upwards."""
    amount = roles["amount"].box
    left = min((word.box.left for word in text), default=0.0)
    found: list[Word] = []
    while _touches(at, step, sheet) and at + step not in rows:
        at += step
        row = sheet.rows[at]
        ends = any(abs(word.box.right - amount.right) < ALIGNED for word in row.words)
        if ends or _is_total(at, sheet) or row.box.left < left - 3 * row.box.height:
            break
        found = [*found, *row.words] if step > 0 else [*row.words, *found]
    return found


def _cells(at: int, roles: dict[str, Figure], sheet: Sheet) -> dict[str, list[Word]]:
    """The words of a line by cell: figures, and code, unit and description between them."""
    cells = {name: list(figure.found.words) for name, figure in roles.items()}
    taken = {id(word) for words in cells.values() for word in words}
    first = min(figure.box.left for figure in roles.values())
    pieces = [
        [word for word in segment.words if id(word) not in taken and not _is_sign(word)]
        for segment in sheet.segments[at]
    ]
    left = [piece for piece in pieces if piece and piece[0].box.right <= first]
    right = [word for piece in pieces if piece and piece[0].box.right > first for word in piece]
    if left and left[0][0].text.strip(".)").isdigit():
        if len(left[0]) == 1 and len(left) > 1:
            cells["id"] = left.pop(0)
        elif left[0][0].text.endswith((".", ")")):
            cells["id"], left[0] = left[0][:1], left[0][1:]  # "3. LED lamp"
    left = [piece for piece in left if piece]
    for piece in (left[0], left[-1]) if len(left) > 1 else ():
        if len(piece) == 1 and any(map(str.isdigit, piece[0].text)):
            cells["item_code"] = piece
            left.remove(piece)
            break
    cells["description"] = [word for piece in left for word in piece]
    quantity = roles["quantity"].box
    for word in right:
        letters = word.text.strip(".²³")
        if 0 <= word.box.left - quantity.right < UNIT and letters.isalpha() and len(letters) <= 8:
            cells.setdefault("unit", [word])
        elif not left and _has_letters([word]) and len(letters) > 3:
            cells["description"].append(word)
    return cells
