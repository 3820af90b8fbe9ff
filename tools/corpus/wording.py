"""What suppliers print beside their values, by language: the text file taken apart."""

import random
from functools import cache
from pathlib import Path

Wording = dict[str, tuple[tuple[str, ...], tuple[str, ...]]]
"""By name: variants for training, variants of held-back families."""


@cache
def wording() -> dict[str, Wording]:
    """By language."""
    found: dict[str, Wording] = {}
    language = ""
    text = (Path(__file__).parent / "wording.txt").read_text(encoding="utf-8")
    for line in text.splitlines():
        if line.startswith("# ") or not line.strip():
            continue
        name, _, variants = line.strip().partition(":")
        if not variants:
            language = name
            found[language] = {}
            continue
        shown, _, held = variants.partition("||")
        found[language][name] = (_parts(shown), _parts(held))
    return found


def _parts(text: str) -> tuple[str, ...]:
    return tuple(part.strip() for part in text.split("|") if part.strip())


def words_of(language: str, chance: random.Random, *, held_back: bool) -> dict[str, str]:
    """One supplier's words: a variant of each."""
    return {
        name: chance.choice(variants[held_back]) for name, variants in wording()[language].items()
    }
