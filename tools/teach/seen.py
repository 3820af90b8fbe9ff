"""Composed documents as recognition sees pictures of them: its words, the answers of the grammar.

What recognition does to small letters, rules and grey paper no list of confusions tells. Kept as
word boxes beside the others (`corpus`), so each page is recognised once.
"""

import random
from dataclasses import replace

import numpy as np

from tools.bench_pages import moved
from tools.corpus.camera import Matrix, shot
from tools.grammar.pages import Composed
from tools.grammar.sheet import Put, drawn
from veridox.core.pages import Box, Word
from veridox.core.readers.ocr import read_picture
from veridox.core.readers.ocr.picture import grey_of

CONDITIONS = ("200 dpi", "150 dpi", "300 dpi", "photo", "photo", "skew", "low contrast")
"""How pages are seen, one as often as another."""


def seen(made: Composed, seed: str) -> Composed:
    """The same document with the words that recognition makes of a picture of it."""
    chance = random.Random(seed)
    condition = chance.choice(CONDITIONS)
    pdf = drawn(made.words, made.width, made.height)
    words: list[Put] = []
    width, height = made.width, made.height
    for number in range(1, max(word.page for word in made.words) + 1):
        picture = shot(pdf, number - 1, condition, chance.randrange(10**6))
        grey = picture.picture
        grey = grey if grey.ndim == 2 else grey_of(grey[:, :, ::-1])
        size = None
        if picture.dpi:
            size = (grey.shape[1] * 72 / picture.dpi, grey.shape[0] * 72 / picture.dpi)
        page = read_picture(grey, size, photo=not picture.dpi)
        if number == 1:
            width, height = page.width, page.height
        put = [word for word in made.words if word.page == number]
        words += _told(put, page.words, page.place @ picture.place)
    return replace(made, words=words, width=width, height=height)


def _told(put: list[Put], found: tuple[Word, ...], place: Matrix) -> list[Put]:
    """Words of recognition, each with the tag of what was drawn where it ends."""
    boxes = [moved(word, place) for word in put]
    middles = np.array([box.middle for box in boxes])
    told = []
    for word in found:
        box = word.box
        inside = (np.abs(middles - np.array(box.middle)) <= (box.width / 2, box.height / 2)).all(1)
        hits = list(np.flatnonzero(inside)) or [
            at for at, drawn_at in enumerate(boxes) if _holds(drawn_at, box)
        ]
        last = max(hits, key=lambda at: boxes[at].right) if hits else None
        as_drawn = put[0] if last is None else put[last]
        told.append(
            replace(
                as_drawn,
                text=word.text,
                left=box.left,
                top=box.top,
                right=box.right,
                bottom=box.bottom,
                tag="text" if last is None else as_drawn.tag,
            )
        )
    return told


def _holds(whole: Box, part: Box) -> bool:
    x, y = part.middle
    return whole.left <= x <= whole.right and whole.top <= y <= whole.bottom
