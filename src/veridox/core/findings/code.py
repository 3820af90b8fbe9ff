"""What is known of a code of findings, in one row."""

from dataclasses import dataclass
from typing import Final

VENDORS: Final = frozenset({"vendors"})
ENTITIES: Final = frozenset({"entities"})
ORDERS: Final = frozenset({"orders"})
RECEIPTS: Final = frozenset({"receipts"})
ITEMS: Final = frozenset({"items"})
RATES: Final = frozenset({"rates"})
CARDS: Final = frozenset({"cards"})
CODES_OF_LEDGER: Final = frozenset({"gl-accounts", "cost-centres", "tax-codes", "projects"})
BOOKS: Final = frozenset({"books"})


@dataclass(frozen=True, kw_only=True, slots=True)
class Code:
    """All that is known of a code: reference, pipelines' weights, desk and new checks ask here.

    Attributes:
        title: one line, what was found.
        why: why it matters, and when it is rightly ignored.
        do: what a clerk does about it; said with each finding that does not say something closer.
        rule: the standard's rule it follows, where one exists.
        lowered: whether a pipeline may give it a lower weight, and a question to somebody
            may cover it. Vendor, entity, duplicates, bank, totals and doubtful values: never.
        accepted: whether whoever works at the desk may post all the same, with a reason.
            Else what is wrong must be put right first.
        second: whether accepting it takes two people: one who says how it was proven, and
            another one who accepts it; neither may have entered the bill's values.
        helped_by: kinds of master data of which new rows may end it, so that an import of
            them checks again: `vendors`, `entities`, `orders`,
            `receipts`, `items`, `cards`, `rates`, `books`, `gl-accounts`,
            `cost-centres`, `tax-codes`, `projects`.
        waits: whether it is waited for what may end it, and nobody looks meanwhile.
        alone: whether a document that it stopped may go on by itself once a new check
            is clean; else a person has to let it go on.
    """

    title: str
    why: str
    do: str
    rule: str = ""
    lowered: bool = False
    accepted: bool = True
    second: bool = False
    helped_by: frozenset[str] = frozenset()
    waits: bool = False
    alone: bool = True
