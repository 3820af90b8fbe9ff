"""Counts and lists in sentences."""

from collections.abc import Sequence


def counted(count: int, noun: str) -> str:
    """`1 line`, `2 lines`: for nouns that form the plural with an s."""
    return f"{count:,} {noun}" if count == 1 else f"{count:,} {noun}s"


def listed(words: Sequence[object], last: str = "and") -> str:
    """`1`, `1 and 2`, `1, 2 and 3`; `last` is the word before the last one."""
    *most, end = map(str, words) if words else ("",)
    return f"{', '.join(most)} {last} {end}" if most else end
