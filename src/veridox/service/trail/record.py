"""Append to the trail, and check it."""

import json
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from django.db import connection
from django.utils import timezone

from veridox.service.accounts.actors import Actor
from veridox.service.secrets import seal
from veridox.service.trail.models import Entry, Head

TEXT = 2
"""Form of entries whose seal covers the text of their details, not what JSONB makes of it."""


def content_of(entry: Entry) -> bytes:
    """What the seal of an entry covers."""
    details = entry.text if entry.form == TEXT else entry.details
    parts = [
        entry.number, entry.at.isoformat(), entry.actor, entry.act, entry.subject,
        entry.subject_id, details, entry.before,
    ]  # fmt: skip
    return json.dumps(parts, sort_keys=True, ensure_ascii=False).encode()


def head_mark(number: int, last: str) -> str:
    """The keyed digest of a head: who has no key cannot make one."""
    return seal("trail head", f"{number} {last}".encode())


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
        text = json.dumps(act.details or {}, default=str, sort_keys=True, ensure_ascii=False)
        entry = Entry(
            number=head.number + 1,
            at=timezone.now(),  # PostgreSQL keeps microseconds; so does the seal
            actor=actor.name,
            act=act.name,
            subject=act.subject,
            subject_id=str(act.subject_id),
            details=json.loads(text),
            text=text,
            form=TEXT,
            before=head.seal,
        )
        entry.seal = seal("trail", content_of(entry))
        head.number, head.seal = entry.number, entry.seal
        entries.append(entry)
    Entry.objects.bulk_create(entries)
    head.mark = head_mark(head.number, head.seal)
    head.save(update_fields=["number", "seal", "mark"])
    return entries
