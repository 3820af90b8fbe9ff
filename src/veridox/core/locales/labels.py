"""The label lexicon: what stands beside a value to say what it is. Data files by language."""

import json
import re
import unicodedata
from dataclasses import dataclass
from functools import cache, lru_cache
from importlib import resources
from typing import Any, Final

from rapidfuzz.distance import Levenshtein

LANGUAGES: Final = ("en", "de", "fr", "es", "it", "nl", "pl", "pt", "sv")
"""Languages with a lexicon."""


def load_data(name: str) -> Any:
    """A JSON data file of this package."""
    return json.loads(resources.files(__package__).joinpath("data", name).read_text("utf-8"))


_STROKES = str.maketrans("łøđ", "lod")
"""Letters whose stroke is no accent to Unicode."""


@lru_cache(maxsize=20_000)
def fold(text: str) -> str:
    """Lower case without accents; ß stays. Length is kept for composed letters."""
    decomposed = unicodedata.normalize("NFKD", text.lower().translate(_STROKES))
    return "".join(char for char in decomposed if not unicodedata.combining(char))


@lru_cache(maxsize=20_000)
def normalise(text: str) -> tuple[str, ...]:
    """A label's words for comparison: folded, punctuation dropped, `No.:` as `no`."""
    return tuple(re.findall(r"[a-zß]+|\d+|%|#", fold(text)))


@dataclass(frozen=True, kw_only=True, slots=True)
class Label:
    """One way to label a field.

    Attributes:
        field: name of the field, or a name with `not.` before it for things
            that look like the field but are something else.
        words: normalised words of the label.
        language: of the label.
    """

    field: str
    words: tuple[str, ...]
    language: str


@dataclass(frozen=True, slots=True)
class Lexicon:
    """All labels of one purpose, longest first, found by their first word."""

    by_first: dict[str, tuple[Label, ...]]

    def match(
        self, words: tuple[str, ...], start: int, languages: tuple[str, ...] = ()
    ) -> Label | None:
        """The longest label that stands in `words` from `start` on.

        Args:
            words: normalised.
            start: index of the label's first word.
            languages: of the document, the likeliest first; labels of others do not count.
                "Total líquido" is net to some and what is left to pay to others.
        """
        best: Label | None = None
        for label in self.by_first.get(words[start], ()):
            if best is not None and len(label.words) < len(best.words):
                break
            if languages and label.language not in languages:
                continue
            if words[start : start + len(label.words)] != label.words:
                continue
            if best is None or (
                languages and languages.index(label.language) < languages.index(best.language)
            ):
                best = label
        return best


@cache
def lexicon(purpose: str) -> Lexicon:
    """The labels of `header`, `columns` or `kinds` in all languages."""
    grouped: dict[str, list[Label]] = {}
    for language in LANGUAGES:
        for field, phrases in load_data(f"labels.{language}.json")[purpose].items():
            for phrase in phrases:
                words = normalise(phrase)
                grouped.setdefault(words[0], []).append(
                    Label(field=field, words=words, language=language)
                )
    return Lexicon(
        {
            first: tuple(sorted(labels, key=lambda label: -len(label.words)))
            for first, labels in grouped.items()
        }
    )


@cache
def _vocabulary() -> frozenset[str]:
    """All words of all labels."""
    return frozenset(
        word
        for purpose in ("header", "columns", "kinds")
        for labels in lexicon(purpose).by_first.values()
        for label in labels
        for word in label.words
    )


LEAST = 5
"""Letters of a word that may be a label's with one letter misread."""


@lru_cache(maxsize=10_000)
def as_in_labels(word: str) -> str:
    """A recognised word as the one word of labels that it is but for one letter; else as it is."""
    known = _vocabulary()
    if len(word) < LEAST or word in known or not word.isalpha():
        return word
    near = [
        other
        for other in known
        if abs(len(other) - len(word)) <= 1
        and len(other) >= LEAST
        and Levenshtein.distance(word, other, score_cutoff=1) <= 1
    ]
    return near[0] if len(near) == 1 else word
