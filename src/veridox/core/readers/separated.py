"""Separated values: which sign parts the columns of a text."""

import csv
import io
from collections.abc import Iterator


def rows_of_values(text: str) -> Iterator[list[str]]:
    """The rows of a text of separated values."""
    return csv.reader(io.StringIO(text), delimiter=separator_of(text) or ",")


def separator_of(text: str) -> str:
    """What parts the columns: a sign that comes equally often in most lines; empty for none."""
    lines = [line for line in text.splitlines() if line.strip()][:40]
    if len(lines) < 2:
        return ""
    for separator in ("\t", ";", "|", ","):
        try:
            counts = [len(row) for row in csv.reader(lines, delimiter=separator)]
        except csv.Error:
            continue
        usual = max(set(counts), key=counts.count)
        if usual >= 3 and counts.count(usual) >= 0.8 * len(counts):
            return separator
    return ""
