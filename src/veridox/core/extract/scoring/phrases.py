"""What a few words beside a value most likely name, also where no list has just these words."""

import re
import zlib
from collections.abc import Iterator
from dataclasses import dataclass, field
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from veridox.core.locales.labels import fold

NAMED = (
    "other", "number", "issue_date", "due_date", "order_number", "delivery_note", "delivery_date",
    "preceding_number", "customer", "seller.tax_id", "buyer.tax_id", "account", "lines_total",
    "allowances", "charges", "net_total", "tax_total", "gross_total", "prepaid", "amount_due",
    "withheld", "buyer.name", "seller.name", "ship_to", "title", "phone", "quote", "column",
)  # fmt: skip
"""What words may name."""
COLUMNS = (
    "id", "item_code", "description", "quantity", "unit", "unit_price", "discount", "tax_rate",
    "amount",
)  # fmt: skip
"""Which column of a line table."""
LEARNED = (*NAMED[:-1], *(f"column.{name}" for name in COLUMNS))
"""The order of the weights."""
BUCKETS = 1 << 14
MOST = 48
"""Signs of a phrase that are looked at."""
MOST_KNOWN = 20_000
"""Phrases that a process remembers."""


def plain(text: str) -> str:
    """As phrases are compared: folded, figures as zeros, one space between words."""
    return " ".join(re.findall(r"[a-zß]+|0+|[%#]", re.sub(r"\d", "0", fold(text))))[:MOST]


def grams(text: str) -> Iterator[int]:
    """Buckets of the words of a plain phrase, and of their parts of three to five letters."""
    words = text.split()
    for word in words:
        yield zlib.crc32(word.encode()) % BUCKETS
        around = f"<{word}>"
        for size in (3, 4, 5):
            for at in range(len(around) - size + 1):
                yield zlib.crc32(around[at : at + size].encode()) % BUCKETS
    for first, second in pairwise(words):
        yield zlib.crc32(f"{first} {second}".encode()) % BUCKETS


def weighed(text: str) -> tuple[NDArray[np.int64], float]:
    """The buckets of a plain phrase and what each weighs: together as long as one."""
    found = np.unique(np.fromiter(grams(text), dtype=np.int64))
    return found, 1 / max(1.0, float(np.sqrt(len(found))))


@dataclass(frozen=True, slots=True)
class Phrases:
    """A linear model over parts of words.

    Attributes:
        weights: of shape (buckets, learned).
        start: of shape (learned,).
    """

    weights: NDArray[np.float32]
    start: NDArray[np.float32]
    _known: dict[str, NDArray[np.float32]] = field(default_factory=dict, repr=False)

    def chances(self, text: str) -> NDArray[np.float32]:
        """Probabilities in the order of `NAMED`; nothing at all where there are no words."""
        found = self.each(text)
        columns = found[len(NAMED) - 1 :].sum(keepdims=True)
        return np.concatenate([found[: len(NAMED) - 1], columns])

    def column(self, text: str) -> tuple[str, float]:
        """The likeliest column that words head, and its probability."""
        found = self.each(text)[len(NAMED) - 1 :]
        best = int(found.argmax())
        return COLUMNS[best], float(found[best])

    def each(self, text: str) -> NDArray[np.float32]:
        """Probabilities in the order of `LEARNED`."""
        known = self._known.get(text)
        if known is None:
            known = self._chances(plain(text))
            if len(self._known) < MOST_KNOWN:
                self._known[text] = known
        return known

    def _chances(self, text: str) -> NDArray[np.float32]:
        if not any(map(str.isalpha, text)) and "#" not in text:
            return np.zeros(len(LEARNED), dtype=np.float32)
        found, weight = weighed(text)
        odds = self.start + self.weights[found].sum(axis=0) * weight
        raised = np.exp(odds - odds.max())
        return np.asarray(raised / raised.sum(), dtype=np.float32)
