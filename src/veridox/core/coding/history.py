"""What a vendor's lines were booked under before, and how likely this one is booked so."""

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Final

from rapidfuzz import fuzz, process

ALIKE: Final = 80.0
"""Likeness of wordings, in percent, from which one line speaks for the other."""
SHARPER: Final = 8
"""Likeness counts to this power: a line 90 % alike counts less than half of the same one."""
OTHERS: Final = 0.5
"""What all other lines of the vendor together count beside one of the same wording."""
DOUBT: Final = 0.5
"""So many lines that nobody saw are taken to be booked otherwise (the estimator of Krichevsky and
Trofimov): one line says 75 %, ten say 95 %, fifty 99 %."""


@dataclass(frozen=True, kw_only=True, slots=True)
class CodedBefore:
    """A line that was posted, by its wording (`wording_key`) and codes by dimension."""

    wording: str
    codes: Mapping[str, str]


def wording_key(text: str) -> str:
    """A wording without what differs each time: numbers, months, signs; lower case."""
    words = re.findall(r"[^\W\d_]+", text.lower())
    return " ".join(word for word in words if word not in _MONTHS)


_MONTHS: Final = frozenset(
    word
    for words in (
        "january february march april may june july august september october november december",
        "januar februar märz mai juni juli oktober dezember",
        "janvier février mars avril juin juillet août septembre octobre novembre décembre",
        "enero febrero marzo abril mayo junio julio agosto septiembre octubre noviembre diciembre",
    )
    for word in words.split()
)


def most_likely(
    wording: str, before: Iterable[CodedBefore], dimension: str
) -> tuple[str, float, int] | None:
    """The code that a line most likely gets.

    Args:
        wording: `wording_key` of the line.
        before: lines of the vendor that were posted.
        dimension: which code.

    Returns:
        Code, chance, and how many lines of this wording had a code; None where nothing speaks for
        any.
    """
    known = [(each.wording, code) for each in before if (code := each.codes.get(dimension))]
    if not known:
        return None
    likeness = process.cdist([wording], [text for text, _ in known], scorer=fuzz.token_sort_ratio)
    votes: dict[str, float] = {}
    others: dict[str, int] = {}
    alike = 0
    for (text, code), like in zip(known, likeness[0], strict=True):
        if text == wording or float(like) >= ALIKE:
            votes[code] = votes.get(code, 0.0) + (float(like) / 100) ** SHARPER
            alike += 1
        else:
            others[code] = others.get(code, 0) + 1
    for code, count in others.items():
        votes[code] = votes.get(code, 0.0) + OTHERS * count / sum(others.values())
    code, best = max(votes.items(), key=lambda pair: pair[1])
    total = sum(votes.values())
    return code, (best + DOUBT) / (total + 2 * DOUBT), alike
