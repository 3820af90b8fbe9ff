"""A database that was restored elsewhere does nothing to the outside until it is told to."""

from django.db import connection, transaction
from django.utils import timezone

from veridox.service.accounts.actors import Actor
from veridox.service.errors import WrongStateError
from veridox.service.house.models import Installation
from veridox.service.trail.record import record

HOUSE = Actor.system("house")
INWARD = ("read", "check", "report", "house")
"""Queues whose jobs change nothing outside; they run also while the rest is held."""


def identity() -> tuple[str, int]:
    """PostgreSQL's own number of this cluster, and the timeline it is on."""
    with connection.cursor() as cursor:
        cursor.execute(
            "select s.system_identifier::text, c.timeline_id"
            " from pg_control_system() s, pg_control_checkpoint() c"
        )
        system, timeline = cursor.fetchone()
    return str(system), int(timeline)


@transaction.atomic
def look() -> Installation:
    """Compare the database with what it was; called by every process that acts on the outside.

    The first look remembers it. Another cluster, or another timeline of this one (a
    restore to a point in time), holds the installation.
    """
    system, timeline = identity()
    Installation.objects.get_or_create(pk=1, defaults={"system": system, "timeline": timeline})
    row = Installation.objects.select_for_update().get(pk=1)
    if (row.system, row.timeline) == (system, timeline) or row.held_at is not None:
        return row
    what = "another PostgreSQL cluster" if row.system != system else "another timeline"
    row.held_at = timezone.now()
    row.held_reason = (
        f"The database was restored on {what} (was {row.system}/{row.timeline}, "
        f"is {system}/{timeline}). If the original still works, both would collect and post."
    )
    row.save()
    record(HOUSE, "installation.held", "installation", 1, {"reason": row.held_reason})
    return row


def held() -> Installation | None:
    """The installation's row while it is held, else None."""
    return Installation.objects.filter(pk=1).exclude(held_at=None).first()


@transaction.atomic
def let_go_on(actor: Actor, reason: str) -> Installation:
    """Somebody made sure that nothing else works on the same mailboxes and ledgers.

    Raises:
        WrongStateError: it is not held.
    """
    row = Installation.objects.select_for_update().filter(pk=1).first()
    if row is None or row.held_at is None:
        raise WrongStateError("this installation is not held; there is nothing to let go on")
    row.system, row.timeline = identity()
    row.held_at, row.held_reason = None, ""
    row.save()
    record(actor, "installation.released", "installation", 1, {"reason": reason})
    return row
