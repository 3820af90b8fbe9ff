"""Separated values: which sign parts the columns of a text."""

import csv
import io
import re
from collections.abc import Iterator


def rows_of_values(text: str) -> Iterator[list[str]]:
    """The rows of a text of separated values."""
    return csv.reader(io.StringIO(text), delimiter=separator_of(text) or ",")


SEPARATORS = ("\t", ";", "|", ",")
EVEN = 0.8
"""Share of lines of one length from which a text is a table and nothing else."""
RAGGED = 0.5
"""Share of lines with a separator from which a text is one whose rows are of unequal length."""
LOOSE = 0.3
"""Share of commas before a space, or inside a number, from which they belong to words."""


def separator_of(text: str) -> str:
    """What parts the columns; empty for none.

    It comes equally often in most lines; or, where rows are of unequal length (facts above a
    table, sums below it), in half of them, and three times and more in some.
    """
    lines = [line for line in text.splitlines() if line.strip()][:60]
    if len(lines) < 2:
        return ""
    counted = {separator: _columns(lines, separator) for separator in SEPARATORS}
    for separator, counts in counted.items():
        usual = max(set(counts), key=counts.count, default=0)
        if usual >= 3 and counts.count(usual) >= EVEN * len(counts):
            return separator
    for separator, counts in counted.items():
        parted = sum(count > 1 for count in counts)
        wide = sum(count > 2 for count in counts)
        if parted >= RAGGED * len(counts) and wide >= 3 and not _of_words(lines, separator):
            return separator
    return ""


def _columns(lines: list[str], separator: str) -> list[int]:
    """How many columns each line has; none where it is no table."""
    try:
        return [len(row) for row in csv.reader(lines, delimiter=separator)]
    except csv.Error:
        return []


def _of_words(lines: list[str], separator: str) -> bool:
    """Whether commas part words of sentences or digits rather than cells."""
    if separator != ",":
        return False
    text = "\n".join(lines)
    every = max(1, text.count(","))
    return (
        text.count(", ") > LOOSE * every
        or len(re.findall(r"\d,\d{1,2}(?!\d)(?:\s|$)", text)) > LOOSE * every
    )
