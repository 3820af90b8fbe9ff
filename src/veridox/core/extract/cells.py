"""The cells of a line: words that stand in a column, as typed values with their places."""

import re
from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from decimal import Decimal

from veridox.core.extract.columns import NUMERIC, product_holds
from veridox.core.extract.sheet import Sheet
from veridox.core.extract.values import FoundNumber, numbers
from veridox.core.locales.numbers import read_number
from veridox.core.money import Money, minor_unit
from veridox.core.pages import Box, Word
from veridox.core.reading import Field, Row

Cells = dict[str, list[Word]]


@dataclass(kw_only=True, slots=True)
class Building:
    """A line while it grows: its words by cell.

    Attributes:
        page: from 1.
        bottom: of its last row, in points.
        cells: words by the name of their cell.
        percent: discounts are percent.
    """

    page: int
    bottom: float
    cells: Cells = field(default_factory=dict)
    percent: bool = False


def finished(line: Building, sheet: Sheet, currency: str | None) -> Row:
    """The line with typed values; how sure figures are is told by whether their product holds."""
    row: dict[str, Field] = {}
    for name, words in line.cells.items():
        row.update(_cell(name, tuple(words), line.page, sheet, currency))
    if "quantity" not in row and "unit" in row:
        row.update(_glued(row["unit"], sheet))
    if "unit_price" not in row and "unit" in row:
        row.update(_price_behind_unit(row, line, sheet))
    if "description" not in row and "id" in row and len(row["id"].text.split()) > 1:
        row["description"] = row.pop("id")  # no line is counted in words
    percent = _discounted(row, line, sheet, currency)
    if percent is None:
        row.pop("discount", None)
    else:
        row["discount"] = percent
    sure = {None: 0.93, True: 0.999, False: 0.8}[line_holds(row, currency)]
    return {
        name: replace(
            cell, confidence=sure if name in ("quantity", "unit_price", "amount") else 0.98
        )
        for name, cell in row.items()
    }


_GLUED = re.compile(r"(\d[\d.,]*)\s*([^\W\d][\w.]*)")


def _glued(cell: Field, sheet: Sheet) -> Iterator[tuple[str, Field]]:
    """Quantity and unit of a cell that holds both: `48 m`, `48m`."""
    match = _GLUED.fullmatch(cell.text)
    number = read_number(match[1], sheet.numbers) if match else None
    if match is not None and number is not None:
        yield "quantity", replace(cell, value=number, text=match[1])
        yield "unit", replace(cell, value=match[2], text=match[2])


def _price_behind_unit(row: Row, line: Building, sheet: Sheet) -> Iterator[tuple[str, Field]]:
    """Unit and price of a cell that holds both, `box 183`, when the price makes the amount."""
    words = tuple(line.cells.get("unit", ()))
    found = numbers(words, sheet.numbers)
    quantity, amount = row.get("quantity"), row.get("amount")
    if not found or quantity is None or amount is None:
        return
    last, value = found[-1], quantity.value
    if not isinstance(value, Decimal) or not isinstance(amount.value, Money):
        return
    if not product_holds(value, last.number, amount.value.amount):
        return
    own = Box.around(word.box for word in last.words)
    shown = " ".join(word.text for word in last.words)
    yield "unit_price", Field(value=last.number, text=shown, page=line.page, box=own)
    rest = [word for word in words if not any(word is each for each in last.words)]
    if rest:
        text = " ".join(word.text for word in rest)
        box = Box.around(word.box for word in rest)
        yield "unit", Field(value=text, text=text, page=line.page, box=box)


_BASE = re.compile(r"(?:/|per|pro|par|por|per|za|je)\s*(\d{1,4})\b", re.IGNORECASE)


def _cell(
    name: str, words: tuple[Word, ...], page: int, sheet: Sheet, currency: str | None
) -> Iterator[tuple[str, Field]]:
    """The values of a cell: a quantity may bring its unit, a price what it is for."""
    text = " ".join(word.text for word in words)
    box = Box.around(word.box for word in words)
    if name not in NUMERIC:
        yield name, Field(value=text, text=text, page=page, box=box)
        return
    found = numbers(words, sheet.numbers)
    if not found:
        return
    number = found[0]
    if name in ("amount", "discount"):
        code = number.currency or currency
        if code is not None:
            money = Money(amount=number.number, currency=code)
            yield name, Field(value=money, text=text, page=page, box=box)
        return
    if name == "quantity":
        yield from _unit(words, number, page)
    base = _BASE.search(text)
    if name == "unit_price" and base is not None:
        value = Decimal(base[1])
        yield "price_base", Field(value=value, text=base[0], page=page, box=box)
    own = Box.around(word.box for word in number.words)
    shown = " ".join(word.text for word in number.words)
    yield name, Field(value=number.number, text=shown, page=page, box=own)


def _unit(words: tuple[Word, ...], number: FoundNumber, page: int) -> Iterator[tuple[str, Field]]:
    rest = tuple(
        word for word in words if not any(word is each for each in number.words)
        and any(char.isalpha() for char in word.text)
    )  # fmt: skip
    if rest:
        text = " ".join(word.text for word in rest)
        yield "unit", Field(value=text, text=text, page=page, box=Box.around(w.box for w in rest))


def _discounted(
    row: dict[str, Field], line: Building, sheet: Sheet, currency: str | None
) -> Field | None:
    """The discount as money; one in percent is worked out from quantity and price."""
    cell = row.get("discount")
    if cell is None or not isinstance(cell.value, Money) or currency is None:
        return None
    found = numbers(tuple(line.cells["discount"]), sheet.numbers)
    quantity, price, amount = (
        row[name].value if name in row else None for name in ("quantity", "unit_price", "amount")
    )
    if not isinstance(quantity, Decimal) or not isinstance(price, Decimal):
        return cell if not line.percent and not found[0].percent else None
    if not isinstance(amount, Money):
        return cell
    share = cell.value.amount
    in_percent = line.percent or found[0].percent or (
        0 < abs(share) <= 100 and product_holds(quantity, price, amount.amount, abs(share))
    )  # fmt: skip
    if not in_percent:
        return cell
    off = (quantity * price * abs(share) / 100).quantize(minor_unit(currency))
    return replace(cell, value=Money(amount=off, currency=currency))


def line_holds(row: Row, currency: str | None) -> bool | None:
    """Whether quantity x price / base - discount is the amount; None when not all are there."""
    parts = [row[name].value for name in ("quantity", "unit_price") if name in row]
    amount = row["amount"].value if "amount" in row else None
    if len(parts) != 2 or not isinstance(amount, Money) or currency is None:
        return None
    quantity, price = parts
    base = row["price_base"].value if "price_base" in row else Decimal(1)
    discount = row["discount"].value if "discount" in row else None
    if not isinstance(quantity, Decimal) or not isinstance(price, Decimal):
        return None
    if not isinstance(base, Decimal) or base == 0:
        return None
    expected = quantity * price / base
    if isinstance(discount, Money):
        expected -= discount.amount
    # A credit note may print amounts with a minus and quantities without.
    return abs(abs(expected) - abs(amount.amount)) <= minor_unit(currency)
