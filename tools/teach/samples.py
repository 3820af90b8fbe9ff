"""Composed documents as the network's inputs and answers."""

import random
from collections import Counter
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tools.grammar.noise import noisy
from tools.grammar.pages import Composed, compose
from veridox.core.extract.tagging.features import FEATURES, PageInput, inputs
from veridox.core.extract.tagging.lexical import LEXICAL
from veridox.core.extract.tagging.tags import KINDS, TAGS
from veridox.core.extract.tagging.tokens import document_of
from veridox.core.pages import Box, Page, Word

TAG_AT = {name: at for at, name in enumerate(TAGS)}
IGNORED = -1
PRICE = "line.unit_price"


@dataclass
class Sample:
    """A page with its answers: a class for each token, IGNORED where it does not matter."""

    page: PageInput
    tags: NDArray[np.int16]
    kind: int


def pages_of(made: Composed) -> tuple[Page, ...]:
    """The pages as readers give them."""
    found = []
    for number in range(1, max((word.page for word in made.words), default=1) + 1):
        words = tuple(
            Word(text=word.text, box=Box(word.left, word.top, word.right, word.bottom))
            for word in made.words
            if word.page == number
        )
        found.append(Page(number=number, width=made.width, height=made.height, words=words))
    return tuple(found)


SILENT, FORGOTTEN = 0.25, 0.12
"""Share of documents on which the lexicon says nothing, and of labels that it forgets on others:
strangers use words that it has not."""
LEXICON = [FEATURES.index(name) for name in LEXICAL]


def _forget(page: PageInput, chance: random.Random) -> None:
    """Take from a page what a smaller lexicon would not know."""
    if chance.random() < SILENT:
        page.figures[:, LEXICON] = 0
        return
    for column in LEXICON:
        if chance.random() < FORGOTTEN:
            page.figures[:, column] = 0


def samples(made: Composed, *, noise: bool) -> list[Sample]:
    """The pages of a composed document."""
    chance = random.Random(f"lexicon {len(made.words)} {made.production}")
    if noise:
        made = noisy(made, random.Random(f"noise {len(made.words)} {made.production}"))
    pages = pages_of(made)
    document = document_of(pages)
    # What each place states; boxes tell which word a token is made of.
    ends, starts = {}, {}
    for word in made.words:
        top = round(word.top, 1)
        ends[word.page, round(word.right, 1), top] = word.tag
        starts[word.page, round(word.left, 1), top] = word.tag
    known = []
    for token in document.tokens:
        first, last = token.words[0].box, token.words[-1].box
        begun = starts.get((token.page, round(first.left, 1), round(first.top, 1)), "")
        ended = ends.get((token.page, round(last.right, 1), round(last.top, 1)), "")
        if begun != ended and PRICE in (begun, ended):
            # A price with what it is for at its heels, which is a token of its own.
            base = "line.price_base" if token.number is not None else "line.unit"
            ended = PRICE if begun == PRICE else base
        known.append(ended)
    found = []
    for page in inputs(document):
        _forget(page, chance)
        tags = np.array(
            [TAG_AT.get(known[at], IGNORED) if known[at] else IGNORED for at in page.at],
            dtype=np.int16,
        )
        found.append(Sample(page, tags, KINDS.index(made.kind)))
    return found


def unknown_tags(count: int) -> Counter[str]:
    """Tags of the grammar that the network has no class for: should be none."""
    lost: Counter[str] = Counter()
    for at in range(count):
        lost.update(word.tag for word in compose(f"tags {at}").words if word.tag not in TAG_AT)
    return lost
