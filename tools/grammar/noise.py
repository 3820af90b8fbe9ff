"""What scanners and recognition do to words: split, merged and misread ones, crooked boxes."""

import random
from dataclasses import replace

from tools.grammar.pages import Composed
from tools.grammar.sheet import Put

CONFUSED = {"0": "O8", "O": "0", "1": "l7I", "l": "1I", "I": "1l", "5": "S6", "S": "5", "8": "B3", "B": "8", "6": "5b", "2": "Z", "Z": "2",
            "rn": "m", "m": "rn", ".": ",", ",": ".", "ü": "u", "ö": "o", "ä": "a", "é": "e", "ł": "l", "ß": "B"}  # fmt: skip


def noisy(made: Composed, chance: random.Random) -> Composed:
    """The same document as recognition tells it: smaller boxes, skew, errors."""
    rate = chance.choice([0.002, 0.005, 0.01, 0.025])
    lost = chance.choice([0.0, 0.0, 0.004, 0.015])
    stray = chance.choice([0.0, 0.0, 0.004, 0.01])
    skew = chance.gauss(0, 0.004)
    shrink = chance.uniform(0.75, 0.98)
    words: list[Put] = []
    for word in made.words:
        high = word.bottom - word.top
        if chance.random() < lost:
            continue
        middle = (word.top + word.bottom) / 2 + skew * (word.left - made.width / 2)
        jitter = chance.gauss(0, 0.02) * high
        text = word.text
        if chance.random() < rate * len(text):
            text = _misread(text, chance)
        left, right = (
            word.left + chance.gauss(0, 0.03) * high,
            word.right + chance.gauss(0, 0.03) * high,
        )
        moved = replace(
            word,
            text=text,
            left=left,
            right=max(right, left + 1),
            top=middle - high * shrink / 2 + jitter,
            bottom=middle + high * shrink / 2 + jitter,
        )
        if words and chance.random() < rate * 1.5 and _beside(words[-1], moved):
            last = words[-1]
            words[-1] = replace(last, text=last.text + text, right=moved.right, tag=moved.tag)
            continue
        if len(text) > 4 and chance.random() < rate:
            at = chance.randrange(2, len(text) - 1)
            cut = left + (moved.right - left) * at / len(text)
            words.append(replace(moved, text=text[:at], right=cut - 0.6))
            words.append(replace(moved, text=text[at:], left=cut + 0.6))
            continue
        words.append(moved)
        if chance.random() < stray:
            mark = chance.choice([".", "-", "|", "'", ":", "_", "~"])
            x = moved.right + chance.uniform(1, 12)
            words.append(replace(moved, text=mark, left=x, right=x + 2, tag="text"))
    return replace(made, words=words)


def _beside(one: Put, other: Put) -> bool:
    return (
        one.page == other.page and abs(one.top - other.top) < 3 and 0 < other.left - one.right < 6
    )


def _misread(text: str, chance: random.Random) -> str:
    spots = [at for at, sign in enumerate(text) if sign in CONFUSED]
    if not spots:
        return text
    at = chance.choice(spots)
    return text[:at] + chance.choice(CONFUSED[text[at]]) + text[at + 1 :]
