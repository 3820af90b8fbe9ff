"""Counts in sentences."""


def counted(count: int, noun: str) -> str:
    """`1 line`, `2 lines`: for nouns that form the plural with an s."""
    return f"{count:,} {noun}" if count == 1 else f"{count:,} {noun}s"
