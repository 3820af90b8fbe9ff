"""Append to the trail, and check it."""

import json
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.db import connection
from django.utils import timezone

from veridox.service.accounts.actors import Actor
from veridox.service.secrets import seal
from veridox.service.trail.models import Entry, Head


def _content(
    number: int, at: datetime, actor: str, act: str, subject: str, subject_id: str,
    details: dict[str, Any], before: str,
) -> bytes:  # fmt: skip
    parts = [number, at.isoformat(), actor, act, subject, subject_id, details, before]
    return json.dumps(parts, sort_keys=True, ensure_ascii=False).encode()


def record(
    actor: Actor, act: str, subject: str, subject_id: object, details: dict[str, Any] | None = None
) -> Entry:
    """Append an entry, in the transaction of the act itself.

    The head row is locked until that transaction ends: call this last.

    Raises:
        RuntimeError: outside a transaction, where act and entry could part.
    """
    if not connection.in_atomic_block:
        raise RuntimeError("an act and its trail entry belong in one transaction")
    # Through JSON and back, so that what is sealed is what a later check reads.
    plain = json.loads(json.dumps(details or {}, default=str))
    head = Head.objects.select_for_update().get(pk=1)
    # PostgreSQL keeps microseconds; so does the seal.
    at = timezone.now()
    number = head.number + 1
    sealed = seal(
        "trail",
        _content(number, at, actor.name, act, subject, str(subject_id), plain, head.seal),
    )
    entry = Entry.objects.create(
        number=number,
        at=at,
        actor=actor.name,
        act=act,
        subject=subject,
        subject_id=str(subject_id),
        details=plain,
        before=head.seal,
        seal=sealed,
    )
    head.number, head.seal = number, sealed
    head.save(update_fields=["number", "seal"])
    return entry


@dataclass(frozen=True, kw_only=True, slots=True)
class Verification:
    """What a check of the whole trail found.

    Attributes:
        entries: how many were checked.
        head: seal of the newest entry, to be kept elsewhere and compared.
        problems: what does not hold, as sentences.
    """

    entries: int
    head: str
    problems: tuple[str, ...]


def verify() -> Verification:
    """Recompute every seal from the first entry to the head."""
    problems: list[str] = []
    before, expected = "", 1
    for entry in _entries():
        if entry.number != expected:
            problems.append(f"entry {expected} is missing (next is {entry.number})")
        if entry.before != before:
            problems.append(f"entry {entry.number} does not follow the one before it")
        content = _content(
            entry.number, entry.at, entry.actor, entry.act, entry.subject, entry.subject_id,
            entry.details, entry.before,
        )  # fmt: skip
        if seal("trail", content) != entry.seal:
            problems.append(f"entry {entry.number} was changed after it was written")
        before, expected = entry.seal, entry.number + 1
    head = Head.objects.get(pk=1)
    if (head.number, head.seal) != (expected - 1, before):
        problems.append(f"the head says {head.number} entries, {expected - 1} are there")
    return Verification(entries=expected - 1, head=head.seal, problems=tuple(problems[:100]))


def _entries() -> Iterator[Entry]:
    yield from Entry.objects.order_by("number").iterator(chunk_size=2_000)
