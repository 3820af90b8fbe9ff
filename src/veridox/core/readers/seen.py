"""Which words of a page to believe: its own, or those of its picture."""

from collections.abc import Sequence

from veridox.core.pages import Word

BELIEVED = 0.85
"""Share of the picture's sure words that a page's own text must have at their places."""
SURE = 0.9


def agreement(own: Sequence[Word], shown: Sequence[Word], *, figures: bool = False) -> float:
    """Share of the words surely seen on the picture that the page's own text has there too.

    Args:
        own: the page's words.
        shown: those of its picture.
        figures: only words with figures count.
    """
    sure = [
        word
        for word in shown
        if word.confidence >= SURE
        and len(word.text) >= 3
        and (not figures or any(map(str.isdigit, word.text)))
    ]
    if not sure:
        return 1.0 if not shown else 0.0
    return sum(_at(own, word) for word in sure) / len(sure)


def without_unseen(own: Sequence[Word], shown: Sequence[Word]) -> tuple[Word, ...]:
    """The page's own words of which something is to be seen at their place."""
    return tuple(word for word in own if any(_meet(word, other) for other in shown))


def _at(own: Sequence[Word], seen: Word) -> bool:
    near = sorted((w for w in own if _meet(w, seen)), key=lambda word: word.box.left)
    # The two may part words differently.
    return any(_bare(seen.text) in _bare(word.text) for word in near) or _bare(seen.text) in _bare(
        "".join(word.text for word in near)
    )


def _bare(text: str) -> str:
    """Letters and figures alone, those that look alike made one."""
    plain = "".join(char for char in text.casefold() if char.isalnum())
    return plain.translate(str.maketrans("oilzsb", "011258"))


def _meet(one: Word, other: Word) -> bool:
    across = min(one.box.right, other.box.right) - max(one.box.left, other.box.left)
    down = min(one.box.bottom, other.box.bottom) - max(one.box.top, other.box.top)
    return across > 0 and down > 0.3 * min(one.box.height, other.box.height)
