"""Pages built from words at places, without any file."""

import numpy as np

from veridox.core.extract.assemble import extract
from veridox.core.extract.hints import Hints
from veridox.core.extract.tagging.tagged import AT, Tagged
from veridox.core.extract.tagging.tags import KINDS, TAGS
from veridox.core.extract.tagging.tokens import document_of
from veridox.core.pages import Box, Page, Word
from veridox.core.reading import Reading, Source

LETTER = 5.0
HEIGHT = 10.0


def moved(box, shift):
    return Box(box.left + shift, box.top, box.right + shift, box.bottom)


def words_at(x, y, text, *, right=False, size=1.0):
    """The words of a text that begins (or ends, with `right`) at x, on the baseline row y."""
    letter = LETTER * size
    start = x - len(text) * letter if right else x
    words = []
    for part in text.split(" "):
        end = start + len(part) * letter
        if part:
            words.append(Word(text=part, box=Box(start, y, end, y + HEIGHT * size)))
        start = end + letter * 0.6
    if right and words:
        shift = x - words[-1].box.right
        words = [Word(text=word.text, box=moved(word.box, shift)) for word in words]
    return words


def page_of(*rows, number=1):
    """A page from rows of (y, cells); a cell is (x, text) or (x, text, "right" or size)."""
    words = []
    for y, *cells in rows:
        for x, text, *how in cells:
            right = "right" in how
            size = next((each for each in how if isinstance(each, float)), 1.0)
            words.extend(words_at(x, y, text, right=right, size=size))
    return Page(number=number, width=595, height=842, words=tuple(words))


def read(*pages, hints=None) -> Reading:
    (reading,) = extract(tuple(pages), Source(), hints or Hints())
    return reading


def told(tags, *rows, chance=0.9):
    """A document whose words state what is said: {text: tag}; all others state nothing."""
    document = document_of((page_of(*rows),))
    chances = np.full((len(document.tokens), len(TAGS)), 0.001, dtype=np.float32)
    for at, token in enumerate(document.tokens):
        said = tags.get(token.text, "text")
        for each in said if isinstance(said, dict) else {said: chance}:
            chances[at, AT[each]] = said[each] if isinstance(said, dict) else chance
    return Tagged(document, chances, np.eye(len(KINDS), dtype=np.float32)[0])
