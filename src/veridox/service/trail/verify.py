"""Check the whole trail: every seal, the head, and heads that were exported before."""

import json
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from veridox.service.secrets import seal
from veridox.service.trail.heads import KnownHead, current_head
from veridox.service.trail.models import Entry, Head
from veridox.service.trail.record import TEXT, content_of, head_mark

MOST_PROBLEMS = 100
STEP = 5_000
"""Entries between two signs of progress."""

Progress = Callable[[int, int], None]
"""Called with how many entries were checked, of how many."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Verification:
    """What a check of the whole trail found.

    Attributes:
        entries: how many were checked.
        head: seal of the newest entry, to be kept elsewhere and compared.
        compared: numbers of exported heads that were compared.
        problems: what does not hold, as sentences.
    """

    entries: int
    head: str
    compared: tuple[int, ...]
    problems: tuple[str, ...]


def verify(heads: Sequence[KnownHead] = (), progress: Progress | None = None) -> Verification:
    """Recompute every seal from the first entry to the head, and compare exported heads.

    Entries alone cannot show that the newest ones were cut off together with the head:
    only a head that was kept elsewhere can.

    Args:
        heads: exported before, from wherever they were kept.
        progress: told now and then.
    """
    problems: list[str] = []
    seals: dict[int, str] = {0: ""}
    first = Head.objects.filter(pk=1).first()
    wanted = {head.number for head in heads}
    kept = wanted | ({first.number} if first else set())
    number, before = 0, ""
    total = Entry.objects.count()
    for count, entry in enumerate(_entries(), start=1):
        problems += _wrong(entry, number + 1, before)
        number, before = entry.number, entry.seal
        if number in kept:
            seals[number] = entry.seal
        if progress is not None and count % STEP == 0:
            progress(count, total)
    problems += _wrong_head(first, number, before, seals)
    problems += [said for head in heads if (said := _missing(head, number, seals))]
    current = current_head()
    return Verification(
        entries=total,
        head=current.seal if current else "",
        compared=tuple(sorted(wanted)),
        problems=tuple(problems[:MOST_PROBLEMS]),
    )


def _wrong(entry: Entry, expected: int, before: str) -> list[str]:
    problems = []
    if entry.number != expected:
        problems.append(f"entry {expected} is missing (next is {entry.number})")
    if entry.before != before:
        problems.append(f"entry {entry.number} does not follow the one before it")
    if seal("trail", content_of(entry)) != entry.seal:
        problems.append(f"entry {entry.number} was changed after it was written")
    elif entry.form == TEXT and json.loads(entry.text) != entry.details:
        problems.append(f"entry {entry.number} shows other details than it was sealed with")
    return problems


def _wrong_head(first: Head | None, number: int, last: str, seals: dict[int, str]) -> list[str]:
    """What does not fit of the head, as it was before the entries were read and as it is now.

    While they are read others go on writing: the last entry that was read lies between both.
    """
    row = Head.objects.filter(pk=1).first()
    if row is None or first is None:
        return ["the head of the trail is missing: entries may have been cut off at the end"]
    problems = []
    if not first.number <= number <= row.number:
        problems.append(f"the head says {row.number} entries, the last that is there is {number}")
    elif seals.get(first.number) != first.seal or (number == row.number and last != row.seal):
        problems.append(f"the head names another entry {row.number} than is there")
    if row.mark and row.mark != head_mark(row.number, row.seal):
        problems.append("the head was not written by this installation")
    return problems


def _missing(head: KnownHead, last: int, seals: dict[int, str]) -> str:
    if head.number > last:
        return (
            f"a head of {head.at} names entry {head.number}, but the trail ends with {last}: "
            "its end was cut off"
        )
    if seals.get(head.number) != head.seal:
        return f"a head of {head.at} names another entry {head.number} than is here now"
    return ""


def _entries() -> Iterator[Entry]:
    yield from Entry.objects.order_by("number").iterator(chunk_size=2_000)
