"""Note what was done with a mail on the server."""

from datetime import timedelta

from django.db import transaction
from django.db.models import Count, F, Max, Min, Q, QuerySet, Value
from django.db.models.functions import Greatest, Least
from django.utils import timezone

from veridox.service.accounts.actors import Actor
from veridox.service.intake.models import Message, Place, Refusal, RefusedBefore
from veridox.service.intake.wanted import conditions_key
from veridox.service.pipelines.queries import sources
from veridox.service.ports.mailbox import Location
from veridox.service.trail.record import record

MOST_AT_ONCE = 5_000
"""Refusals that are deleted in one transaction."""
STALE = timedelta(days=1)
"""For so long refusals of conditions that no pipeline has stay: it may be published again."""


def note_marked(*message_ids: int) -> None:
    """The read mark is set on the server."""
    rows = Message.objects.filter(pk__in=message_ids, marked_at=None)
    rows.update(marked_at=timezone.now())


def note_refused(
    connection_id: int, folder: str, uidvalidity: int, wanted: str, uids: list[tuple[int, str]]
) -> None:
    """Mails that do not meet these conditions and never will, each with the one it fails."""
    Refusal.objects.bulk_create(
        [
            Refusal(
                connection_id=connection_id,
                folder=folder,
                uidvalidity=uidvalidity,
                uid=uid,
                wanted=wanted,
                condition=condition,
            )
            for uid, condition in uids
        ],
        batch_size=2_000,
        ignore_conflicts=True,
    )


@transaction.atomic
def drop_refusals(rows: QuerySet[Refusal]) -> int:
    """Delete refusals that nobody asks for any more; how many there were stays known."""
    ids = list(rows.select_for_update(skip_locked=True).values_list("pk", flat=True)[:MOST_AT_ONCE])
    there = Refusal.objects.filter(pk__in=ids)
    counts = there.values("connection", "folder", "condition").annotate(
        count=Count("pk"), first=Min("noted_at"), last=Max("noted_at")
    )
    for each in counts.order_by("connection", "folder", "condition"):
        row, _ = RefusedBefore.objects.get_or_create(
            connection_id=each["connection"],
            folder=each["folder"],
            condition=each["condition"],
            defaults={"first_at": each["first"], "last_at": each["last"]},
        )
        RefusedBefore.objects.filter(pk=row.pk).update(
            count=F("count") + each["count"],
            first_at=Least("first_at", Value(each["first"])),
            last_at=Greatest("last_at", Value(each["last"])),
        )
    there.delete()
    return len(ids)


def forget_refusals() -> int:
    """Housekeeping: refusals of conditions or numberings that no running pipeline has any more."""
    count = 0
    current = Q(pk__in=[])
    for _, collect in sources():
        here = Refusal.objects.filter(connection__name=collect.mailbox, folder=collect.folder)
        newest = here.order_by("-noted_at").values_list("uidvalidity", flat=True).first()
        current |= Q(
            connection__name=collect.mailbox,
            folder=collect.folder,
            wanted=conditions_key(collect.only),
            uidvalidity=newest,
        )
    stale = Refusal.objects.exclude(current).filter(noted_at__lt=timezone.now() - STALE)
    while (dropped := drop_refusals(stale)) > 0:
        count += dropped
    return count


@transaction.atomic
def note_relocated(actor: Actor, message_id: int, uidvalidity: int, uid: int) -> None:
    """The server numbered the mail's folder anew; it is the same mail."""
    message = Message.objects.select_for_update().get(pk=message_id)
    if (message.uidvalidity, message.uid) == (uidvalidity, uid):
        return
    before = message.uidvalidity
    message.uidvalidity, message.uid = uidvalidity, uid
    message.save(update_fields=["uidvalidity", "uid"])
    details = {"folder": message.folder, "before": before, "now": uidvalidity}
    record(actor, "mail.renumbered", "message", message.pk, details)


@transaction.atomic
def note_moved(actor: Actor, message_id: int, place: Place, location: Location) -> None:
    """The mail lies in another folder now."""
    message = Message.objects.select_for_update().get(pk=message_id)
    if message.place == place and message.moving_to == "":
        return
    message.place = place
    message.folder = location.folder
    message.uidvalidity, message.uid = location.uidvalidity, location.uid
    if message.moving_to == place:
        message.moving_to = ""
    message.save(update_fields=["place", "folder", "uidvalidity", "uid", "moving_to"])
    details = {"folder": location.folder, "place": place.value}
    record(actor, "mail.moved", "message", message.pk, details)
