"""What suppliers print beside their values, by language: two text files taken apart."""

import random
import re
from functools import cache
from itertools import product
from pathlib import Path

from veridox.core.locales.labels import normalise

Wording = dict[str, tuple[tuple[str, ...], tuple[str, ...]]]
"""By name: variants for training, variants of held-back families."""
OWN = 0.6
"""How many of the suppliers for training put their labels together by themselves."""
CURRENCY = re.compile(r"\b(EUR|GBP|USD|PLN|SEK|kr|zł)\b|[€£$]", re.IGNORECASE)
"""A label with a currency is learned, but not printed: it might be another's than the bill's."""
ELSEWHERE = ("account", "phone")
"""Named by few words everywhere; their values are known by their shape."""


@cache
def wording() -> dict[str, Wording]:
    """By language."""
    return {
        language: {
            name: (_parts(text.partition("||")[0]), _parts(text.partition("||")[2]))
            for name, text in lines
        }
        for language, lines in _read("wording.txt").items()
    }


def _read(name: str) -> dict[str, list[tuple[str, str]]]:
    """The lines of a file by language: name and text."""
    found: dict[str, list[tuple[str, str]]] = {}
    language = ""
    text = (Path(__file__).parent / name).read_text(encoding="utf-8")
    for line in text.splitlines():
        if line.startswith("# ") or not line.strip():
            continue
        key, _, rest = line.strip().partition(":")
        if rest:
            found[language].append((key, rest))
        else:
            language = key
            found[language] = []
    return found


def _parts(text: str) -> tuple[str, ...]:
    return tuple(part.strip() for part in text.split("|") if part.strip())


@cache
def phrases() -> dict[str, dict[str, tuple[str, ...]]]:
    """By language and name: all labels that can be put together, but none of held-back families."""
    found: dict[str, dict[str, tuple[str, ...]]] = {}
    for language, lines in _read("phrases.txt").items():
        held = {normalise(text) for _, texts in wording()[language].values() for text in texts}
        made: dict[str, dict[str, None]] = {}
        for name, pattern in lines:
            for text in _expanded(pattern):
                if normalise(text) and normalise(text) not in held:
                    made.setdefault(name, {})[text] = None
        found[language] = {name: tuple(texts) for name, texts in made.items()}
    return found


def _expanded(pattern: str) -> list[str]:
    parts = [
        part[1:-1].split("|") if part.startswith("{") else [part]
        for part in re.findall(r"\{[^}]*\}|[^{]+", pattern)
    ]
    return [" ".join("".join(chosen).split()) for chosen in product(*parts)]


def words_of(language: str, chance: random.Random, *, held_back: bool) -> dict[str, str]:
    """One supplier's words: a variant of each."""
    words = {
        name: chance.choice(variants[held_back]) for name, variants in wording()[language].items()
    }
    if held_back or chance.random() > OWN:
        return words
    case = chance.choice([str, str, str.capitalize, str.capitalize, str.upper])
    for name, made in phrases()[language].items():
        if name == "other" or name in ELSEWHERE:
            continue
        made = [text for text in made if not CURRENCY.search(text)] or list(made)
        label = case(re.sub(r"\d+(?:[.,]\d+)? ?%", "{rate} %", chance.choice(made)))
        words[name] = label.replace("{RATE}", "{rate}")
    if "{rate}" not in words["tax"]:
        words["tax"] += " {rate} %"
    return words
