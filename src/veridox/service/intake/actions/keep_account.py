"""Keep the newest count of a mailbox."""

from collections import Counter
from collections.abc import Iterable

from django.utils import timezone

from veridox.service.connections.models import Connection
from veridox.service.intake.accounted import GONE, LOST, TAKEN, UNEXPLAINED, Row
from veridox.service.intake.models import Account

MOST = 200
"""Mails of a kind that are kept with the count; the report has all."""


def keep_account(mailbox: str, rows: Iterable[Row]) -> None:
    """Remember the newest count; not an act of the trail."""
    totals: Counter[str] = Counter()
    missing: dict[str, list[dict[str, object]]] = {UNEXPLAINED: [], LOST: []}
    for row in rows:
        totals[row.stands] += 1
        if row.stands in missing and len(missing[row.stands]) < MOST:
            missing[row.stands].append(_short(row))
    Account.objects.update_or_create(
        connection=Connection.objects.get(name=mailbox),
        defaults={
            "counted_at": timezone.now(),
            "listed": totals.total() - totals[GONE] - totals[LOST],
            "taken": totals[TAKEN],
            "unexplained": missing[UNEXPLAINED],
            "lost": missing[LOST],
        },
    )


def _short(row: Row) -> dict[str, object]:
    return {
        "sender": row.sender,
        "subject": row.subject,
        "received_at": row.received_at.isoformat(),
        "message": row.message,
    }
