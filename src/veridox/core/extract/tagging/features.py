"""What a network is told of every token: figures with names, pieces of words, neighbours.

Lengths are in letter heights of the page unless said otherwise. Everything is worked out for
a whole document; the network then sees one page at a time.
"""

import hashlib
import math
import re
import zlib
from collections import Counter, defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise
from statistics import median

import numpy as np
from numpy.typing import NDArray

from veridox.core.extract.checksums import iban_holds, tax_id_holds
from veridox.core.extract.parties import LEGAL_FORM
from veridox.core.extract.tagging.lexical import LEXICAL, labelled
from veridox.core.extract.tagging.sums import SUMS, summed
from veridox.core.extract.tagging.tokens import UNITS, Document, Token
from veridox.core.locales.labels import fold

BUCKETS = 8192
"""Of pieces of words; bucket 0 is none."""
PIECES = 12
"""Of a token at most."""
SHAPE = (
    "signs",
    "digits",
    "letters",
    "capital share",
    "first capital",
    "all capital",
    "no letters",
    "has hyphen",
    "has slash",
    "has point",
    "has comma",
    "has colon",
    "ends with colon",
    "ends with point",
    "ends with comma",
    "opens bracket",
    "has at",
    "has hash",
    "letters and digits",
    "leading zero",
    "four digits",
    "year",
    "two digits",
    "confidence",
)
TYPE = (
    "number",
    "no decimals",
    "one decimal",
    "two decimals",
    "more decimals",
    "size",
    "negative",
    "zero",
    "one",
    "small whole",
    "percent",
    "currency",
    "currency beside",
    "day",
    "day begins",
    "days",
    "day from first",
    "day from last",
    "first day",
    "last day",
    "month first",
    "tax id shape",
    "tax id holds",
    "bank shape",
    "bank holds",
    "contact",
    "legal form",
    "postcode shape",
    "long digits",
    "unit",
    "mark",
    "same text",
    "same number",
)
PLACE = (
    "left",
    "right",
    "middle",
    "top",
    "height",
    "width",
    "first page",
    "last page",
    "only page",
    "row",
    "in row",
    "rows tokens",
    "row numbers",
    "numbers before",
    "last number",
    "gap left",
    "gap right",
    "gap above",
    "gap below",
    "begins",
    "ends",
    "left edges",
    "right edges",
    "middles",
    "above is number",
    "below is number",
    "left is number",
    "right is number",
    "left ends with colon",
    "page tokens",
    "from below",
)
FEATURES = (*SHAPE, *TYPE, *PLACE, *SUMS, *LEXICAL)
"""Names of the figures, in their order."""
_TAX = re.compile(r"(?:[A-Z]{2})?[A-Z]?[\d.\- ]{7,14}[A-Z]?(?:B\d\d)?|CHE-[\d.]+")
_BANK = re.compile(r"[A-Z]{2}\d{2}[A-Z0-9]{0,30}")
_POST = re.compile(
    r"\d{4,6}|\d{2}-\d{3}|\d{3}|[A-Z]{1,2}\d{1,2}[A-Z]?|\d[A-Z]{2}|[A-Z]-?\d{4,5}|\d{4}-\d{3}"
)


def fingerprint() -> str:
    """Of the table of features: weights that were made of another are refused."""
    return hashlib.sha256("\n".join((*FEATURES, str(BUCKETS), str(PIECES))).encode()).hexdigest()[
        :16
    ]


@dataclass(slots=True)
class PageInput:
    """What the network sees of a page of n tokens.

    Attributes:
        at: indexes of its tokens in the document.
        figures: (n, len(FEATURES)).
        pieces: (n, PIECES), buckets.
        place: (n, 4), left, top, right, bottom in letter heights.
        near: (n, 4), indexes of the nearest tokens left, right, above, below; -1 for none.
        row: (n,), number of the row on the page.
    """

    at: NDArray[np.int32]
    figures: NDArray[np.float32]
    pieces: NDArray[np.int32]
    place: NDArray[np.float32]
    near: NDArray[np.int32]
    row: NDArray[np.int32]


@lru_cache(maxsize=200_000)
def pieces_of(text: str) -> tuple[int, ...]:
    """Buckets of the pieces of a word, digits all alike; always PIECES of them."""
    low = re.sub(r"\d", "0", fold(text))
    low = re.sub(r"0{4,}", "0000", low)[:24]
    bare = low.strip(".,:;()[]\"'*")
    found = [f"={bare}"] if 0 < len(bare) <= 4 else []
    padded = f"^{bare}$"
    found += [padded[:4], padded[-4:]]
    found += [padded[at : at + 3] for at in range(len(padded) - 2)]
    buckets = list(dict.fromkeys(zlib.crc32(piece.encode()) % (BUCKETS - 1) + 1 for piece in found))
    return tuple((buckets + [0] * PIECES)[:PIECES])


@lru_cache(maxsize=100_000)
def _shape(text: str) -> tuple[float, ...]:
    digits, letters = sum(map(str.isdigit, text)), sum(map(str.isalpha, text))
    capitals = sum(map(str.isupper, text))
    return (
        min(len(text), 30) / 10,
        min(digits, 20) / 6,
        min(letters, 20) / 8,
        capitals / max(1, letters),
        text[:1].isupper(),
        letters > 1 and capitals == letters,
        letters == 0,
        "-" in text,
        "/" in text,
        "." in text,
        "," in text,
        ":" in text,
        text.endswith(":"),
        text.endswith("."),
        text.endswith(","),
        text[:1] in "([",
        "@" in text,
        "#" in text,
        bool(digits and letters),
        text[:1] == "0" and digits > 1,
        digits == 4 and len(text) == 4,
        digits == 4 and text[:2] == "20",
        digits == 2 and len(text) == 2,
    )


@lru_cache(maxsize=100_000)
def _kind(text: str) -> tuple[float, ...]:
    """Tax id, account, contact, legal form, postcode, long digits, unit, mark: by shape."""
    bare = text.strip(".,;:()")
    compact = re.sub(r"[\s.\-]", "", bare).upper()
    digits = sum(map(str.isdigit, bare))
    tax = digits >= 7 and _TAX.fullmatch(bare.upper()) is not None
    bank = _BANK.fullmatch(compact) is not None and digits >= 2
    low = bare.lower()
    return (
        tax,
        tax and 8 <= len(compact) <= 14 and tax_id_holds(compact),
        bank,
        "@" in bare
        or "www" in low
        or ".example" in low
        or bool(re.search(r"\.(com|org|net|eu|de|fr|uk|co)\b", low)),
        LEGAL_FORM.fullmatch(fold(bare)) is not None if 1 < len(bare) < 20 else False,
        _POST.fullmatch(bare) is not None,
        digits >= 8,
        low in UNITS,
        not any(map(str.isalnum, text)),
    )


class _Days:
    """How the days of a document lie to each other."""

    def __init__(self, tokens: Sequence[Token]) -> None:
        days = sorted({token.day for token in tokens if token.day is not None})
        self.count = len(days)
        self.first = days[0] if days else None
        self.last = days[-1] if days else None

    def of(self, token: Token) -> tuple[float, ...]:
        """Seven figures."""
        if token.day is None or self.first is None or self.last is None:
            return (0, 0, 0, 0, 0, 0, 0, 0)
        after, before = (token.day - self.first).days, (self.last - token.day).days
        return (
            1,
            token.first,
            min(self.count, 8) / 4,
            min(after, 120) / 40,
            min(before, 120) / 40,
            not after,
            not before,
            token.day.day == 1,
        )


def inputs(document: Document) -> list[PageInput]:
    """What the network is told, page by page; pages without words are left out."""
    tokens = document.tokens
    if not tokens:
        return []
    says = np.concatenate([summed(tokens), labelled(tokens)], axis=1)
    texts = Counter(token.text for token in tokens)
    numbers = Counter(token.number for token in tokens if token.places > 0)
    days = _Days(tokens)
    banks = _banks(tokens)
    pages: dict[int, list[int]] = defaultdict(list)
    for at, token in enumerate(tokens):
        pages[token.page].append(at)
    sizes = {page.number: (max(page.width, 1.0), max(page.height, 1.0)) for page in document.pages}
    order = sorted(pages)
    found = []
    for number in order:
        own = pages[number]
        here = [tokens[each] for each in own]
        where, near, rows, place = _places(
            here, sizes[number], number == order[0], number == order[-1], len(order) == 1
        )
        told = np.array(
            [
                (
                    *_shape(token.text),
                    token.confidence,
                    *_typed(tokens, each, days),
                    *_kind(token.text)[:2],
                    *_bank(token, each, banks),
                    *_kind(token.text)[3:],
                    min(texts[token.text], 5) - 1,
                    min(numbers.get(token.number, 0), 5) if token.places > 0 else 0,
                )
                for each, token in zip(own, here, strict=True)
            ],
            dtype=np.float32,
        )
        figures = np.concatenate([told, where, says[own]], axis=1).astype(np.float32)
        pieces = np.array([pieces_of(token.text) for token in here], dtype=np.int32)
        found.append(PageInput(np.array(own, dtype=np.int32), figures, pieces, place, near, rows))
    return found


def _typed(tokens: Sequence[Token], at: int, days: _Days) -> tuple[float, ...]:
    token = tokens[at]
    number, places = token.number, token.places
    beside = _names_currency(tokens[at - 1], token) if at else False
    if not beside and at + 1 < len(tokens):
        beside = _names_currency(tokens[at + 1], token)
    size = math.log10(1 + abs(float(number))) if number is not None else 0.0
    return (
        number is not None,
        places == 0,
        places == 1,
        places == 2,
        places > 2,
        min(size, 12.0) / 3,
        number is not None and number < 0,
        number == 0,
        number == 1,
        number is not None and places == 0 and 0 < number < 100,
        token.percent,
        bool(token.currency),
        beside,
        *days.of(token),
    )


def _names_currency(other: Token, token: Token) -> bool:
    """Whether a neighbour in the row is a currency and nothing else."""
    return bool(other.currency) and other.number is None and other.row == token.row


def _banks(tokens: Sequence[Token]) -> set[int]:
    """Tokens that, alone or with those behind them, are an account whose checksum holds."""
    held: set[int] = set()
    for at, token in enumerate(tokens):
        if not _BANK.fullmatch(token.text.strip(".,;:()").replace(" ", "").upper()):
            continue
        text = ""
        for end in range(at, min(at + 9, len(tokens))):
            if tokens[end].row > token.row + 1:
                break
            text += re.sub(r"[^A-Z0-9]", "", tokens[end].text.upper())
            if len(text) > 34:
                break
            if len(text) >= 15 and iban_holds(text):
                held.update(range(at, end + 1))
                break
    return held


def _bank(token: Token, at: int, banks: set[int]) -> tuple[float, float]:
    return _kind(token.text)[2], at in banks


def _places(
    here: Sequence[Token], size: tuple[float, float], first: bool, last: bool, only: bool
) -> tuple[NDArray[np.float32], NDArray[np.int32], NDArray[np.int32], NDArray[np.float32]]:
    """Figures of place, nearest neighbours, rows, boxes in letter heights."""
    width, height = size
    boxes = np.array([token.box for token in here], dtype=np.float32)
    letter = float(max(3.0, median(token.box.height for token in here)))
    count = len(here)
    rows = np.array([token.row for token in here], dtype=np.int32)
    rows -= rows[0]
    left, top, right, bottom = boxes.T
    middle_x, middle_y = (left + right) / 2, (top + bottom) / 2
    near = np.full((count, 4), -1, dtype=np.int32)
    for at, (one, other) in enumerate(pairwise(rows)):
        if one == other:
            near[at, 1], near[at + 1, 0] = at + 1, at
    gap_left = np.full(count, 30.0, dtype=np.float32)
    gap_right = np.full(count, 30.0, dtype=np.float32)
    has = near[:, 0] >= 0
    gap_left[has] = (left[has] - right[near[has, 0]]) / letter
    has = near[:, 1] >= 0
    gap_right[has] = (left[near[has, 1]] - right[has]) / letter
    # The nearest token above: one whose box lies over this one, in an earlier row.
    over = np.minimum(right[:, None], right[None]) - np.maximum(left[:, None], left[None])
    drop = (middle_y[:, None] - middle_y[None]) / letter
    apart = rows[:, None] - rows[None]
    far = np.where((over > 0) & (apart > 0), drop, 1e6)
    up = far.argmin(axis=1)
    gap_above = far[np.arange(count), up]
    near[:, 2] = np.where(gap_above < 1e5, up, -1)
    far = np.where((over > 0) & (apart < 0), -drop, 1e6)
    down = far.argmin(axis=1)
    gap_below = far[np.arange(count), down]
    near[:, 3] = np.where(gap_below < 1e5, down, -1)
    tolerance = 0.25 * letter
    lefts = (np.abs(left[:, None] - left[None]) < tolerance).sum(1) - 1
    rights = (np.abs(right[:, None] - right[None]) < tolerance).sum(1) - 1
    middles = (np.abs(middle_x[:, None] - middle_x[None]) < tolerance).sum(1) - 1
    numeric = np.array([token.number is not None for token in here], dtype=np.float32)
    colon = np.array([token.text.endswith(":") for token in here], dtype=np.float32)
    row_total = np.bincount(rows)
    row_numbers = np.bincount(rows, weights=numeric)
    starts = np.concatenate([[0], np.cumsum(row_total)])[rows]
    in_row = np.arange(count) - starts
    running = np.cumsum(numeric) - numeric
    before = running - running[starts]
    rows_here = max(1, len(np.unique(rows)))
    row_rank = np.searchsorted(np.unique(rows), rows)

    def neighbour(column: int, of: NDArray[np.float32]) -> NDArray[np.float32]:
        here_too = near[:, column] >= 0
        return np.where(here_too, of[np.maximum(near[:, column], 0)], 0).astype(np.float32)

    one = np.ones(count, dtype=np.float32)
    figures = np.stack(
        [
            left / width,
            right / width,
            middle_x / width,
            middle_y / height,
            np.clip((bottom - top) / letter, 0, 4),
            np.clip((right - left) / letter, 0, 20) / 5,
            one * first,
            one * last,
            one * only,
            row_rank / rows_here,
            np.minimum(in_row, 12) / 4,
            np.minimum(row_total[rows], 16) / 5,
            np.minimum(row_numbers[rows], 8) / 3,
            np.minimum(before, 8) / 3,
            numeric * (before + 1 == row_numbers[rows]),
            np.clip(gap_left, -1, 30) / 5,
            np.clip(gap_right, -1, 30) / 5,
            np.clip(gap_above, 0, 20) / 4,
            np.clip(gap_below, 0, 20) / 4,
            gap_left > 0.8,
            gap_right > 0.8,
            np.log1p(lefts),
            np.log1p(rights),
            np.log1p(middles),
            neighbour(2, numeric),
            neighbour(3, numeric),
            neighbour(0, numeric),
            neighbour(1, numeric),
            neighbour(0, colon),
            one * np.log1p(count) / 3,
            1 - row_rank / rows_here - one * (height - bottom) / height * 0,
        ],
        axis=1,
    )
    place = np.stack([left, top, right, bottom], axis=1) / letter
    return figures.astype(np.float32), near, rows, place.astype(np.float32)
