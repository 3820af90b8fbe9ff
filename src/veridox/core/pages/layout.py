"""Rows and segments: words grouped as an eye groups them."""

from dataclasses import dataclass
from statistics import median
from typing import Protocol

from veridox.core.pages.words import Box, Word

SAME_ROW_OVERLAP = 0.5
"""Share of the smaller word's height by which two words of one row overlap."""
SEGMENT_GAP = 0.7
"""A gap wider than this many letter heights parts two segments (columns, cells): words of a
sentence stand 0.2 to 0.55 apart, cells of narrow tables 0.8 and more."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Segment:
    """Words of one row that stand close together: a cell, a label, a value."""

    words: tuple[Word, ...]
    box: Box

    @property
    def text(self) -> str:
        """Words joined by single spaces."""
        return " ".join(word.text for word in self.words)


@dataclass(frozen=True, kw_only=True, slots=True)
class TextRow:
    """Words that share a baseline, from left to right.

    Attributes:
        page: page number from 1.
        index: position on the page from the top, from 0.
    """

    page: int
    index: int
    words: tuple[Word, ...]
    box: Box

    @property
    def text(self) -> str:
        """Words joined by single spaces."""
        return " ".join(word.text for word in self.words)

    def segments(self) -> tuple[Segment, ...]:
        """The row cut at gaps that are wider than between words."""
        height = median(word.box.height for word in self.words)
        groups: list[list[Word]] = []
        for word in self.words:
            if groups and word.box.left - groups[-1][-1].box.right <= SEGMENT_GAP * height:
                groups[-1].append(word)
            else:
                groups.append([word])
        return tuple(
            Segment(words=tuple(group), box=Box.around(word.box for word in group))
            for group in groups
        )


class Laid(Protocol):
    """What has words on it."""

    @property
    def number(self) -> int:
        """From 1."""
        ...

    @property
    def words(self) -> tuple[Word, ...]:
        """In any order."""
        ...


def rows_of(page: Laid) -> tuple[TextRow, ...]:
    """All words of a page as rows from top to bottom, each from left to right.

    A word joins the row whose vertical extent it overlaps most; superscripts
    and small print beside large print so stay in their line.
    """
    rows: list[list[Word]] = []
    extents: list[tuple[float, float]] = []
    for word in sorted(page.words, key=lambda each: (each.box.middle[1], each.box.left)):
        best, best_overlap = None, 0.0
        _, upper, _, lower = word.box
        height = lower - upper
        # Asked for every word and row: without calls of min and max, which cost most of it.
        for index in range(len(rows) - 1, max(-1, len(rows) - 6), -1):
            top, bottom = extents[index]
            overlap = (bottom if bottom < lower else lower) - (top if top > upper else upper)
            if overlap <= best_overlap:
                continue
            smaller = bottom - top if bottom - top < height else height
            if overlap / (smaller if smaller > 0.1 else 0.1) >= SAME_ROW_OVERLAP:
                best, best_overlap = index, overlap
        if best is None:
            rows.append([word])
            extents.append((word.box.top, word.box.bottom))
        else:
            rows[best].append(word)
    ordered = sorted(rows, key=lambda row: min(word.box.top for word in row))
    return tuple(
        TextRow(
            page=page.number,
            index=index,
            words=tuple(sorted(row, key=lambda word: word.box.left)),
            box=Box.around(word.box for word in row),
        )
        for index, row in enumerate(ordered)
    )
