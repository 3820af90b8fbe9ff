"""Note what was done with a mail on the server."""

from django.db import transaction
from django.utils import timezone

from veridox.service.accounts.actors import Actor
from veridox.service.mail.models import Message, Place, Refusal
from veridox.service.mail.ports import Location
from veridox.service.trail.record import record


def note_marked(*message_ids: int) -> None:
    """The read mark is set on the server."""
    rows = Message.objects.filter(pk__in=message_ids, marked_at=None)
    rows.update(marked_at=timezone.now())


def note_refused(
    connection_id: int, folder: str, uidvalidity: int, version_id: int, uids: list[tuple[int, str]]
) -> None:
    """Mails that this version of the pipeline will never take, with the condition."""
    Refusal.objects.bulk_create(
        [
            Refusal(
                connection_id=connection_id,
                folder=folder,
                uidvalidity=uidvalidity,
                uid=uid,
                pipeline_version_id=version_id,
                condition=condition,
            )
            for uid, condition in uids
        ],
        batch_size=2_000,
        ignore_conflicts=True,
    )


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
