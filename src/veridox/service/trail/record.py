"""Append to the trail, and check it."""

import json
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any

from django.db import connection
from django.utils import timezone

from veridox.service.accounts.actors import Actor
from veridox.service.secrets import seal
from veridox.service.trail.models import Entry, Head


def _content(entry: Entry) -> bytes:
    parts = [
        entry.number, entry.at.isoformat(), entry.actor, entry.act, entry.subject,
        entry.subject_id, entry.details, entry.before,
    ]  # fmt: skip
    return json.dumps(parts, sort_keys=True, ensure_ascii=False).encode()


@dataclass(frozen=True, slots=True)
class Act:
    """What was done, and to what.

    Attributes:
        name: such as `mail.taken`.
        subject, subject_id: kind and id of what it was done to.
        details: what a reader of the trail wants to know of it.
    """

    name: str
    subject: str
    subject_id: object
    details: dict[str, Any] | None = None


def record(
    actor: Actor, act: str, subject: str, subject_id: object, details: dict[str, Any] | None = None
) -> Entry:
    """Append an entry, in the transaction of the act itself. As `record_all`."""
    return record_all(actor, [Act(act, subject, subject_id, details)])[0]


def record_all(actor: Actor, acts: Sequence[Act]) -> list[Entry]:
    """Append an entry for each act, in the transaction of the acts themselves.

    The head row is locked until that transaction ends: call this last.

    Raises:
        RuntimeError: outside a transaction, where act and entry could part.
    """
    if not connection.in_atomic_block:
        raise RuntimeError("an act and its trail entry belong in one transaction")
    head = Head.objects.select_for_update().get(pk=1)
    entries = []
    for act in acts:
        # Through JSON and back, so that what is sealed is what a later check reads.
        plain = json.loads(json.dumps(act.details or {}, default=str))
        entry = Entry(
            number=head.number + 1,
            at=timezone.now(),  # PostgreSQL keeps microseconds; so does the seal
            actor=actor.name,
            act=act.name,
            subject=act.subject,
            subject_id=str(act.subject_id),
            details=plain,
            before=head.seal,
        )
        entry.seal = seal("trail", _content(entry))
        head.number, head.seal = entry.number, entry.seal
        entries.append(entry)
    Entry.objects.bulk_create(entries)
    head.save(update_fields=["number", "seal"])
    return entries


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
        if seal("trail", _content(entry)) != entry.seal:
            problems.append(f"entry {entry.number} was changed after it was written")
        before, expected = entry.seal, entry.number + 1
    head = Head.objects.get(pk=1)
    if (head.number, head.seal) != (expected - 1, before):
        problems.append(f"the head says {head.number} entries, {expected - 1} are there")
    return Verification(entries=expected - 1, head=head.seal, problems=tuple(problems[:100]))


def _entries() -> Iterator[Entry]:
    yield from Entry.objects.order_by("number").iterator(chunk_size=2_000)
