"""What labels, rules and trees made of a document, as evidence beside what its words say.

A field that they state speaks for the words that stand there; it never states anything alone:
`tagging` decides, with both chances together.
"""

from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from veridox.core.extract.tagging.tagged import AT, Tagged
from veridox.core.pages import Box
from veridox.core.reading import Field

TRUST = {
    "account": 0.95,
    "order_number": 0.8,
    "number": 0.75,
    "issue_date": 0.75,
    "seller.name": 0.6,
    "buyer.name": 0.6,
}
"""How far a field of theirs is believed; the other fields by `USUAL`."""
USUAL = 0.65


def with_evidence(tagged: Tagged, fields: Mapping[str, Field]) -> Tagged:
    """The same with the chances of the words that fields name made greater."""
    chances = tagged.chances.copy()
    for name, field in fields.items():
        if name not in AT or field.box is None or field.page is None:
            continue
        share = TRUST.get(name, USUAL) * field.confidence
        at = _standing(tagged, field.page, field.box)
        column = AT[name]
        for each in at:
            chances[each, column] = 1 - (1 - chances[each, column]) * (1 - share)
    return replace(tagged, chances=np.minimum(chances, 0.9999))


def _standing(tagged: Tagged, page: int, box: Box) -> list[int]:
    """Tokens whose middle lies in a box."""
    found = []
    for at, token in enumerate(tagged.tokens):
        if token.page != page:
            continue
        x, y = token.box.middle
        if box.left - 0.5 <= x <= box.right + 0.5 and box.top - 0.5 <= y <= box.bottom + 0.5:
            found.append(at)
    return found
