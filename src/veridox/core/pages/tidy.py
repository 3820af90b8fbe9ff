"""Words as they are meant: letter-spaced headings put together, what is drawn twice taken once."""

import re
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import replace

from veridox.core.pages.words import Box, Word

SPACED_LEAST = 4
"""Single letters in a row, evenly set, that are a spaced word."""
SPACED_GAP = 1.6
"""Widest gap between two of them, in letter heights."""
SHIFT = 1.5
"""Points by which print that is drawn twice (for boldness, as a shadow) may be moved."""


def tidied(words: Sequence[Word]) -> tuple[Word, ...]:
    """The words with spaced ones joined, and without copies on the same spot."""
    return tuple(_joined(_once(words)))


def _once(words: Sequence[Word]) -> list[Word]:
    places: dict[tuple[str, int, int], list[Box]] = defaultdict(list)
    kept, seen = [], set()
    for word in words:
        if word.text not in seen:  # most words come once: nothing to look for
            seen.add(word.text)
            places[word.text, round(word.box.left / 8), round(word.box.top / 8)].append(word.box)
            kept.append(word)
            continue
        at = (word.text, round(word.box.left / 8), round(word.box.top / 8))
        near = (
            other
            for across in (-1, 0, 1)
            for down in (-1, 0, 1)
            for other in places.get((word.text, at[1] + across, at[2] + down), ())
        )
        if any(_same_spot(word.box, other) for other in near):
            continue
        places[at].append(word.box)
        kept.append(word)
    return kept


def _same_spot(one: Box, other: Box) -> bool:
    return all(abs(a - b) <= SHIFT for a, b in zip(one, other, strict=True))


def _joined(words: list[Word]) -> list[Word]:
    found: list[Word] = []
    run: list[Word] = []
    for word in words:
        if run and not _goes_on(run, word):
            found += _word_of(run)
            run = []
        if len(word.text) == 1 and word.text.isalpha():
            run.append(word)
        else:
            found.append(word)
    return [*found, *_word_of(run)]


def _goes_on(run: list[Word], word: Word) -> bool:
    if len(word.text) != 1 or not word.text.isalpha():
        return False
    last = run[-1].box
    high = max(last.height, word.box.height, 1.0)
    gap = word.box.left - last.right
    level = abs(last.middle[1] - word.box.middle[1]) < 0.2 * high
    if not level or not 0 < gap <= SPACED_GAP * high:
        return False
    first_gap = run[1].box.left - run[0].box.right if len(run) > 1 else gap
    # Letters of one word are set evenly; a wider gap parts two spaced words.
    return gap <= 1.8 * max(first_gap, 0.15 * high)


def _word_of(run: list[Word]) -> list[Word]:
    if len(run) < SPACED_LEAST:
        return run
    return [
        replace(
            run[0],
            text="".join(word.text for word in run),
            box=Box.around(word.box for word in run),
            confidence=min(word.confidence for word in run),
        )
    ]


_PIECES = re.compile(
    r"[·•|]+"  # signs between values, which recognition glues to what is beside them
    r"|[^·•|]*?[^\W\d][.:](?=[A-Z]{0,3}\d)"  # "no.GB123", "No:4711"
    r"|[^·•|]+"
)


def parted(word: Word) -> tuple[Word, ...]:
    """A word cut at signs that part values and behind a label's end; its box is shared out."""
    pieces = list(_PIECES.finditer(word.text))
    if len(pieces) < 2:
        return (word,)
    letter = word.box.width / len(word.text)
    left, top, _, bottom = word.box
    return tuple(
        replace(
            word,
            text=piece[0],
            box=Box(left + piece.start() * letter, top, left + piece.end() * letter, bottom),
        )
        for piece in pieces
    )
