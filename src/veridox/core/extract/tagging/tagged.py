"""A document with what each of its words probably states."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from veridox.core.extract.tagging.features import PageInput, inputs
from veridox.core.extract.tagging.network import LONGEST, Network
from veridox.core.extract.tagging.tags import KINDS, TAGS
from veridox.core.extract.tagging.tokens import Document, Token
from veridox.core.pages import Box
from veridox.core.pages.layout import SEGMENT_GAP

AT = {name: at for at, name in enumerate(TAGS)}


@dataclass(frozen=True)
class Span:
    """Tokens of one row that stand side by side.

    Attributes:
        at: indexes in the document.
        tokens: themselves.
        chance: that they state what was looked for.
    """

    at: tuple[int, ...]
    tokens: tuple[Token, ...]
    chance: float

    @property
    def text(self) -> str:
        """As shown, without what parts it from the words around it."""
        return " ".join(token.text for token in self.tokens).strip(" ,;:")

    @property
    def page(self) -> int:
        """Number from 1."""
        return self.tokens[0].page

    @property
    def box(self) -> Box:
        """Around all of it."""
        return Box.around(token.box for token in self.tokens)


@dataclass(frozen=True)
class Tagged:
    """A document's tokens, and the chance of each class for each.

    Attributes:
        document: parsed.
        chances: (tokens, len(TAGS)).
        kinds: (len(KINDS),), of the whole document.
    """

    document: Document
    chances: NDArray[np.float32]
    kinds: NDArray[np.float32]

    @property
    def tokens(self) -> list[Token]:
        """Of the document, in reading order."""
        return self.document.tokens

    def of(self, name: str) -> NDArray[np.float32]:
        """The chance of a class for each token."""
        chances: NDArray[np.float32] = self.chances[:, AT[name]]
        return chances

    @cached_property
    def best(self) -> list[str]:
        """The likeliest class of each token."""
        return [TAGS[at] for at in self.chances.argmax(axis=1)]

    @cached_property
    def clear(self) -> float:
        """How clearly words are told: the mean chance of the likeliest class of each."""
        return float(self.chances.max(axis=1).mean()) if self.tokens else 0.0

    @cached_property
    def kind(self) -> tuple[str, float]:
        """The likeliest kind and its chance."""
        at = int(self.kinds.argmax())
        return KINDS[at], float(self.kinds[at])

    @cached_property
    def cells(self) -> tuple[tuple[int, ...], ...]:
        """Indexes of tokens that stand close together in a row, in reading order."""
        groups: list[list[int]] = []
        for at, token in enumerate(self.tokens):
            last = self.tokens[groups[-1][-1]] if groups else None
            if (
                last is not None
                and last.row == token.row
                and token.box.left - last.box.right <= SEGMENT_GAP * self.letter
            ):
                groups[-1].append(at)
            else:
                groups.append([at])
        return tuple(tuple(group) for group in groups)

    @cached_property
    def cell_of(self) -> dict[int, int]:
        """Index in `cells` of each token."""
        return {at: number for number, cell in enumerate(self.cells) for at in cell}

    @cached_property
    def places(self) -> tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]]:
        """Page, right end and level of each token."""
        found = [(token.page, token.box.right, token.box.middle[1]) for token in self.tokens]
        page, right, level = np.array(found or [(0, 0.0, 0.0)]).T
        return page, right, level

    def within(self, box: Box, page: int) -> list[int]:
        """Indexes of the tokens of a page whose middle lies in a box."""
        return [
            at
            for at, token in enumerate(self.tokens)
            if token.page == page
            and box.left <= token.box.middle[0] <= box.right
            and box.top <= token.box.middle[1] <= box.bottom
        ]

    @cached_property
    def letter(self) -> float:
        """Median height of words in points."""
        return float(np.median([token.box.height for token in self.tokens] or [10.0]))

    def spans(self, name: str, start: float, grow: float, gap: float = 2.5) -> Iterator[Span]:
        """Runs of tokens in a row that may state something.

        Args:
            name: the class.
            start: chance that one of the run must have.
            grow: chance that each must have.
            gap: widest gap inside a run, in letter heights.
        """
        chances, tokens = self.of(name), self.tokens
        runs: list[list[int]] = []
        for at in map(int, np.flatnonzero(chances >= grow)):
            last = runs[-1][-1] if runs else -2
            near = (
                last == at - 1
                and tokens[at].row == tokens[last].row
                and tokens[at].box.left - tokens[last].box.right
                < gap * max(self.letter, tokens[at].box.height)
            )
            if near:
                runs[-1].append(at)
            else:
                runs.append([at])
        for run in runs:
            share = chances[run].tolist()
            if max(share) >= start:
                yield Span(tuple(run), tuple(tokens[each] for each in run), sum(share) / len(share))


def box_gap(one: Box, other: Box) -> float:
    """Points between two boxes of a row."""
    return max(one.left, other.left) - min(one.right, other.right)


def held_together(tagged: Tagged, name: str, span: Span) -> float:
    """The chance that all words of a span state something and none right beside it does.

    Where a name begins and ends is doubted more often than that it is one: the least sure of its
    words counts, and the words next to it in its row.
    """
    chances, tokens = tagged.of(name), tagged.tokens
    inside = min(float(chances[at]) for at in span.at)
    outside = 1.0
    for own, step in ((span.at[0], -1), (span.at[-1], 1)):
        at = own + step
        if 0 <= at < len(tokens) and tokens[at].row == tokens[own].row:
            outside *= 1 - min(float(chances[at]), 1.0)
    return inside * outside


def tag(document: Document, network: Network) -> Tagged:
    """Ask the network of every page; long pages are cut between rows."""
    chances = np.zeros((len(document.tokens), len(TAGS)), dtype=np.float32)
    kinds = np.zeros(len(KINDS), dtype=np.float32)
    for number, page in enumerate(inputs(document)):
        for part in _cut(page):
            tags, kind = network.of(part)
            chances[part.at] = tags
            # The first page says what a document is; those behind it hardly do.
            kinds += kind * (1.0 if not number else 0.1)
    return Tagged(document, chances, kinds / max(float(kinds.sum()), 1e-9))


def _cut(page: PageInput) -> Sequence[PageInput]:
    if len(page.at) <= LONGEST:
        return [page]
    parts, start = [], 0
    while start < len(page.at):
        end = min(start + LONGEST, len(page.at))
        if end < len(page.at):
            while end > start + 1 and page.row[end] == page.row[end - 1]:
                end -= 1
        near = page.near[start:end] - start
        near[(near < 0) | (near >= end - start)] = -1
        parts.append(
            PageInput(
                page.at[start:end],
                page.figures[start:end],
                page.pieces[start:end],
                page.place[start:end],
                near,
                page.row[start:end],
            )
        )
        start = end
    return parts
