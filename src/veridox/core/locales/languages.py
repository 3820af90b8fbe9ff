"""In which languages the labels of a document may be."""

from collections import Counter
from collections.abc import Iterable
from functools import cache

from veridox.core.locales.labels import LANGUAGES, load_data, normalise

AND = ("and", "und", "et", "e", "y", "en", "og", "och", "i", "oraz")
"""What stands between two things, in the languages that are read."""
BESIDE = 0.4
"""Share of the likeliest language's words that another must have to be one of the document's."""
ENOUGH = 4
"""Words of a language that say something about which others do not count."""


@cache
def _common(language: str) -> frozenset[str]:
    """Words by which a language is known."""
    phrases = load_data(f"labels.{language}.json")["words"]
    return frozenset(part for phrase in phrases for part in normalise(phrase))


def languages_of(texts: Iterable[str]) -> tuple[str, ...]:
    """ISO 639-1 codes, the likeliest first; empty when nothing tells.

    English is always among them: it stands beside all others.

    Args:
        texts: rows of the document.
    """
    votes: Counter[str] = Counter()
    words = Counter(word for text in texts for word in normalise(text))
    for language in LANGUAGES:
        common = _common(language)
        # A word that stands on every line says no more than one that stands there twice.
        votes[language] = sum(min(words[word], 3) for word in common if word in words)
    (best, most), *others = votes.most_common()
    if not most:
        return ()
    least = BESIDE * most if most >= ENOUGH else 0
    found = [best, *(language for language, count in others if count >= least)]
    return tuple(dict.fromkeys([*found, "en"]))
