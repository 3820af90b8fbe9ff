"""Keep the newest count of a mailbox."""

from veridox.service.connections.models import Connection
from veridox.service.mail.accounted import GONE, LOST, STANDS, TAKEN, UNEXPLAINED, Accounted, Row
from veridox.service.mail.models import Account


def keep_account(found: Accounted) -> None:
    """Remember the newest count; not an act of the trail."""
    Account.objects.update_or_create(
        connection=Connection.objects.get(name=found.mailbox),
        defaults={
            "counted_at": found.counted_at,
            "listed": sum(found.totals[each] for each in STANDS if each not in (GONE, LOST)),
            "taken": found.totals[TAKEN],
            "unexplained": [_short(row) for row in found.rows if row.stands == UNEXPLAINED],
            "lost": [_short(row) for row in found.rows if row.stands == LOST],
        },
    )


def _short(row: Row) -> dict[str, object]:
    return {
        "sender": row.sender,
        "subject": row.subject,
        "received_at": row.received_at.isoformat(),
        "message": row.message,
    }
