"""Closed lists of values in the database, from plain enums."""

from enum import StrEnum


def choices(values: type[StrEnum]) -> list[tuple[str, str]]:
    """Pairs for Django's `choices`."""
    return [(value.value, value.value) for value in values]
