"""Lines without a table: what was done in words, an amount at the end of each row.

Nothing marks such rows but that their amounts make the net total to the penny.
"""

from decimal import Decimal

from veridox.core.extract.sheet import Sheet
from veridox.core.extract.values import FoundNumber, figures
from veridox.core.money import Money
from veridox.core.pages import Box, TextRow, Word
from veridox.core.reading import Field, Row

MOST = 60
"""Rows that are looked at above the totals."""


def loose_lines(sheet: Sheet, currency: str, goal: Field, top: Field | None) -> tuple[Row, ...]:
    """Rows in succession whose amounts add up to the goal; empty when there are none.

    Args:
        sheet: the document.
        currency: of the document.
        goal: the sum of lines or the net total.
        top: the first of the totals; lines stand above it. Without it, above the goal.
    """
    first = top if top is not None and top.box is not None else goal
    if first.box is None or not isinstance(goal.value, Money) or goal.value.amount == 0:
        return ()
    above = [
        (row, found)
        for row in sheet.rows
        if (row.page, row.box.bottom) < (first.page, first.box.top + 1)
        and (found := _ends_with_amount(row, sheet)) is not None
    ]
    rest, taken = goal.value.amount, 0
    for taken, (_, found) in enumerate(reversed(above[-MOST:]), start=1):
        rest -= found.number
        if rest == 0:
            return tuple(_line(row, found, currency) for row, found in above[-taken:])
    return ()


def _ends_with_amount(row: TextRow, sheet: Sheet) -> FoundNumber | None:
    """The amount at the right end of a row that begins with words."""
    found = figures(row, sheet)
    if not found or found[-1].percent or not any(map(str.isalpha, row.words[0].text)):
        return None
    last = found[-1]
    behind = row.words[row.words.index(last.words[-1]) + 1 :]
    decimal = any(sheet.numbers.decimal in word.text for word in last.words)
    return last if decimal and len(behind) <= 1 and last.words[0] is not row.words[0] else None


def _line(row: TextRow, found: FoundNumber, currency: str) -> Row:
    name: list[Word] = []
    for word in row.words:
        if word is found.words[0]:
            break
        name.append(word)
    text = " ".join(word.text for word in name)
    amount = Money(amount=Decimal(found.number), currency=found.currency or currency)
    return {
        "description": Field(
            value=text, text=text, page=row.page, box=Box.around(w.box for w in name),
            confidence=0.95,
        ),
        "amount": Field(
            value=amount, text=" ".join(w.text for w in found.words), page=row.page,
            box=Box.around(w.box for w in found.words), confidence=0.99,
        ),
    }  # fmt: skip
