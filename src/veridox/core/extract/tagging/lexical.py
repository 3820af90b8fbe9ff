"""Which words of a document are labels that the lexicon has, as figures of each token.

The lexicon is data by language (`core/locales`): what it knows need not be learned, and what it
does not know is left to the pieces of words. In training it is silent on some documents, so that
the network does not lean on it alone.
"""

from collections.abc import Sequence
from itertools import groupby

import numpy as np
from numpy.typing import NDArray

from veridox.core.extract.tagging.tokens import Token
from veridox.core.locales.labels import Label, Lexicon, lexicon, normalise

HEADER = (
    *("number", "issue_date", "due_date", "delivery_date", "order_number", "delivery_note"),
    *("preceding_number", "seller.name", "seller.tax_id", "buyer.name", "currency"),
    *("lines_total", "allowances", "charges", "net_total", "tax_total", "gross_total"),
    *("prepaid", "withheld", "amount_due", "payment_terms"),
    *("not.buyer_tax_id", "not.bank", "not.customer_number", "not.quote", "not.order_date"),
    *("not.print_date", "not.ship_to", "not.registration", "not.contact", "not.carried"),
    *("not.page", "not.tax_office"),
)
COLUMNS = (
    *("id", "item_code", "description", "quantity", "unit", "unit_price", "price_base"),
    *("discount", "tax_rate", "amount"),
)
KINDS = (
    *("invoice", "credit note", "till receipt", "purchase order", "order confirmation"),
    *("delivery note", "statement", "reminder", "pro forma", "terms"),
)
LEXICAL = (
    *(f"label {name}" for name in HEADER),
    *(f"column {name}" for name in COLUMNS),
    *(f"kind {name}" for name in KINDS),
)
"""Names of the figures."""
INSIDE = 0.5
"""What a label counts that stands behind other words of its cell."""
APART = 0.8
"""Gap in letter heights behind which a new cell begins."""
_SETS = (("header", "label"), ("columns", "column"), ("kinds", "kind"))
_AT = {name: at for at, name in enumerate(LEXICAL)}


def labelled(tokens: Sequence[Token]) -> NDArray[np.float32]:
    """(len(tokens), len(LEXICAL)): 1 for the words of a label that opens its cell, else INSIDE."""
    found = np.zeros((len(tokens), len(LEXICAL)), dtype=np.float32)
    for _, row in groupby(range(len(tokens)), key=lambda at: tokens[at].row):
        _row(tokens, list(row), found)
    return found


def _row(tokens: Sequence[Token], row: list[int], found: NDArray[np.float32]) -> None:
    words: list[str] = []
    owners: list[int] = []
    for at in row:
        for word in normalise(tokens[at].text):
            words.append(word)
            owners.append(at)
    said = tuple(words)
    opens = {
        at for at, before in zip(row, [None, *row], strict=False) if _opens(tokens, at, before)
    }
    for purpose, kind in _SETS:
        for first, last, label in _hits(lexicon(purpose), said):
            value = 1.0 if owners[first] in opens else INSIDE
            column = _AT.get(f"{kind} {label.field}")
            if column is None:
                continue
            for each in owners[first : last + 1]:
                found[each, column] = max(found[each, column], value)


def _opens(tokens: Sequence[Token], at: int, before: int | None) -> bool:
    if before is None:
        return True
    one, other = tokens[before].box, tokens[at].box
    return other.left - one.right > APART * other.height or tokens[before].text.endswith(
        (":", "/", "|", "·")
    )


def _hits(words: Lexicon, said: tuple[str, ...]) -> list[tuple[int, int, Label]]:
    """Labels in the words of a row, the longest at each place, of every field that has it."""
    found = []
    at = 0
    while at < len(said):
        label = words.match(said, at) if said[at] in words.by_first else None
        if label is None:
            at += 1
            continue
        long = len(label.words)
        fields = set()
        for other in words.by_first[said[at]]:
            if (
                len(other.words) == long
                and other.words == label.words
                and other.field not in fields
            ):
                fields.add(other.field)
                found.append((at, at + long - 1, other))
        at += long
    return found
