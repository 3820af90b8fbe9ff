"""Note what was done with a mail on the server."""

from django.db import transaction
from django.utils import timezone

from veridox.service.accounts.actors import Actor
from veridox.service.mail.models import Message, Place
from veridox.service.mail.ports import Location
from veridox.service.trail.record import record


def note_marked(message_id: int) -> None:
    """The read mark is set on the server."""
    Message.objects.filter(pk=message_id, marked_at=None).update(marked_at=timezone.now())


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
