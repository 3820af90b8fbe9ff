"""Conditions on mails as an IMAP search (RFC 3501, 6.4.4): a net that lets nothing wanted through.

What the server finds is looked at again by our own conditions, so that both
ways give the same; the server only spares us the mails that cannot be wanted.
"""

from datetime import date, timedelta
from typing import Any

from veridox.core.pipeline import Wanted, is_pattern

_DAY = timedelta(days=1)


def criteria(wanted: Wanted, today: date) -> list[Any]:
    """Search keys that hold for every wanted mail."""
    found: list[Any] = []
    if wanted.unread:
        found.append("UNSEEN")
    if wanted.keyword:
        found += ["KEYWORD", wanted.keyword]
    since = wanted.since_day(today)
    # Servers take the day in the zone of the mail's arrival, we in UTC: a day more on each side.
    if since is not None:
        found += ["SINCE", since - _DAY]
    if wanted.before is not None:
        found += ["BEFORE", wanted.before + _DAY]
    found += _any_of(["FROM"], wanted.senders)
    found += _any_of(["TO", "CC"], wanted.recipients)
    found += _any_of(["SUBJECT"], wanted.subject)
    found += _any_of(["BODY"], wanted.text)
    return found or ["ALL"]


def _any_of(keys: list[str], words: tuple[str, ...]) -> list[Any]:
    """`OR` over words and keys; empty when one word cannot be left to the server."""
    if not words or not all(_plain(word) for word in words):
        return []
    leaves: list[Any] = [[key, word] for word in words for key in keys]
    found = leaves[0]
    for leaf in leaves[1:]:
        found = ["OR", found, leaf]
    return found if found[0] == "OR" else list(found)


def _plain(word: str) -> bool:
    """Whether every server takes the word as we do: ASCII, in one piece, no pattern."""
    return (
        word.isascii()
        and word.isprintable()
        and not any(char in ' "<>()\\' for char in word)
        and not is_pattern(word)
    )
