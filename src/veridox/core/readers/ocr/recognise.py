"""Read lines: signs with their probability and place, put together to words."""

import re
import unicodedata
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cache

import cv2
import numpy as np

from veridox.core.readers.ocr.detect import Span
from veridox.core.readers.ocr.models import TINY, Floats, Grey, recogniser

HEIGHT = 48
"""Pixels of a line's height that the network was made for."""
STEP = 8
"""Pixels of one step of its answer."""
BATCH_PIXELS = 48 * 6_000
"""Pixels in one batch: large ones are no faster and need memory."""
LONGEST_LINE = 3_200
WORD_GAP = 0.3
"""White as wide as this share of the line's height parts two words."""
_SPECK_BEFORE = re.compile(r"^[.,:;·'`]+(?=\d[\d.,']*[.,]\d\d$|\d+[-/]\d|[^\W\d])")
_SPECK_BEHIND = re.compile(r"(?<=[.,]\d\d)[.,:;·'`]+$")


@dataclass(frozen=True, slots=True)
class Sign:
    """A sign that was read.

    Attributes:
        text: one character.
        probability: in [0, 1], as the network gives it.
        middle: pixels from the left end of the line, on the picture.
    """

    text: str
    probability: float
    middle: float


@dataclass(frozen=True, slots=True)
class Read:
    """A word that was read: pixels of the picture, and the least sure sign's probability."""

    text: str
    span: Span
    probability: float


def _latin(sign: str) -> bool:
    """Whether a sign can stand on invoices of the nine languages."""
    if len(sign) != 1 or ord(sign) > 0x2FFF:
        return False
    if sign.isalpha():
        return unicodedata.name(sign, "").startswith(("LATIN", "MICRO", "FEMININE", "MASCULINE"))
    return unicodedata.category(sign)[0] in "NPSZ" and ord(sign) < 0x2300


@cache
def _alphabet(size: str) -> tuple[Floats, tuple[str, ...]]:
    """Which signs count, as columns of the answer, and the signs themselves."""
    _, signs = recogniser(size)
    columns = [at for at, sign in enumerate(signs) if at == 0 or _latin(sign)]
    return np.array(columns, np.int64), tuple(signs[at] for at in columns)


def read_lines(picture: Grey, lines: Sequence[Span], size: str = TINY) -> list[tuple[Sign, ...]]:
    """The signs of each line, from left to right."""
    crops = [_crop(picture, line) for line in lines]
    found: list[tuple[Sign, ...]] = [()] * len(lines)
    for batch in _batches([crop.shape[1] for crop in crops]):
        widest = max(crops[at].shape[1] for at in batch)
        pictures = np.zeros((len(batch), 3, HEIGHT, widest), np.float32)
        for row, at in enumerate(batch):
            pictures[row, :, :, : crops[at].shape[1]] = crops[at].astype(np.float32) / 127.5 - 1
        answer = recogniser(size)[0].run(pictures)
        for row, at in enumerate(batch):
            steps = -(-crops[at].shape[1] // STEP)
            scale = lines[at].width / crops[at].shape[1]
            found[at] = tuple(_signs(answer[row, :steps], size, scale))
    return found


def _crop(picture: Grey, line: Span) -> Grey:
    top, bottom = int(line.top), max(int(line.top) + 2, round(line.bottom))
    left, right = int(line.left), max(int(line.left) + 2, round(line.right))
    piece = picture[top:bottom, left:right]
    width = min(LONGEST_LINE, max(STEP, round(piece.shape[1] * HEIGHT / piece.shape[0])))
    shrink = piece.shape[0] > HEIGHT
    how = cv2.INTER_AREA if shrink else cv2.INTER_CUBIC
    return np.asarray(cv2.resize(piece, (width, HEIGHT), interpolation=how), np.uint8)


def _batches(widths: Sequence[int]) -> Iterator[list[int]]:
    """Lines of like width together, so that little is padded."""
    batch: list[int] = []
    for at in sorted(range(len(widths)), key=lambda each: widths[each]):
        if batch and (len(batch) + 1) * widths[at] * HEIGHT > BATCH_PIXELS:
            yield batch
            batch = []
        batch.append(at)
    if batch:
        yield batch


def _signs(answer: Floats, size: str, scale: float) -> Iterator[Sign]:
    """Undo the repetitions of CTC: equal signs in a row are one, "none" parts two."""
    columns, signs = _alphabet(size)
    narrow = answer[:, columns]
    best = narrow.argmax(axis=1)
    start = 0
    while start < len(best):
        end = start
        while end < len(best) and best[end] == best[start]:
            end += 1
        if best[start] != 0:
            peak = start + int(narrow[start:end, best[start]].argmax())
            yield Sign(
                signs[best[start]],
                float(narrow[peak, best[start]]),
                (peak + 0.5) * STEP * scale,
            )
        start = end


def words_of(picture: Grey, line: Span, signs: Sequence[Sign]) -> list[Read]:
    """The words of a line: parted at spaces and at white that is wide enough."""
    ink = _ink(picture, line)
    words: list[list[Sign]] = [[]]
    before: Sign | None = None
    for sign in signs:
        if sign.text.isspace():
            words.append([])
            before = None
            continue
        if before is not None and _white(ink, before.middle, sign.middle) > WORD_GAP * line.height:
            words.append([])
        words[-1].append(sign)
        before = sign
    groups = [word for word in words if word]
    edges = _edges(ink, line, groups)
    return [
        Read(
            without_specks(unicodedata.normalize("NFC", "".join(sign.text for sign in group))),
            span,
            min(sign.probability for sign in group),
        )
        for group, span in zip(groups, edges, strict=True)
    ]


def without_specks(word: str) -> str:
    """An amount, date or name without the dust that was read as a point before or behind it.

    `.50` keeps its point: there it may be the decimal one.
    """
    return _SPECK_BEHIND.sub("", _SPECK_BEFORE.sub("", word))


def _ink(picture: Grey, line: Span) -> Grey:
    """Which pixels of a line are ink: 1, else 0."""
    piece = picture[int(line.top) : round(line.bottom), int(line.left) : round(line.right)]
    if piece.size == 0:
        return np.zeros((1, 1), np.uint8)
    _, ink = cv2.threshold(piece, 0, 1, cv2.THRESH_BINARY_INV | cv2.THRESH_OTSU)
    if ink.mean() > 0.5:  # light letters on dark
        ink = 1 - ink
    return np.asarray(ink, np.uint8)


def _white(ink: Grey, start: float, end: float) -> int:
    """The longest run of columns without ink between two signs' middles."""
    columns = np.flatnonzero(ink[:, max(0, int(start)) : max(0, int(end))].any(axis=0))
    edges = np.concatenate(([-1], columns, [max(0, int(end)) - max(0, int(start))]))
    return int(np.diff(edges).max()) - 1


def _edges(ink: Grey, line: Span, groups: Sequence[Sequence[Sign]]) -> list[Span]:
    """Where each word begins and ends: half way to its neighbours, then cut back to its ink."""
    spans = []
    for at, group in enumerate(groups):
        reach = 0.6 * line.height
        left = max(0.0, group[0].middle - reach)
        right = min(float(ink.shape[1]), group[-1].middle + reach)
        if at > 0:
            left = max(left, (groups[at - 1][-1].middle + group[0].middle) / 2)
        if at + 1 < len(groups):
            right = min(right, (group[-1].middle + groups[at + 1][0].middle) / 2)
        columns = np.flatnonzero(ink[:, int(left) : max(int(left) + 1, round(right))].any(axis=0))
        if columns.size:
            left, right = int(left) + int(columns[0]), int(left) + int(columns[-1]) + 1
        spans.append(Span(line.left + left, line.top, line.left + right, line.bottom))
    return spans
