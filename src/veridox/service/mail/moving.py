"""Move a mail on the server to where it should lie."""

from veridox.core.pipeline import Folders
from veridox.service import wiring
from veridox.service.accounts.actors import Actor
from veridox.service.connections.actions.manage import note_health
from veridox.service.errors import AdapterError
from veridox.service.mail.actions.place import note_moved
from veridox.service.mail.models import Message, Place
from veridox.service.mail.ports import Location, Mailbox
from veridox.service.pipelines.queries import definition_of

MOVER = Actor.system("file")


def move(message_id: int) -> None:
    """Move as `moving_to` says; done already or changed meanwhile is fine."""
    message = Message.objects.select_related("connection", "pipeline_version").get(pk=message_id)
    if not message.moving_to or message.moving_to == message.place:
        return
    place = Place(message.moving_to)
    folder = _folder(message, place)
    try:
        with wiring.open_mailbox(message.connection) as box:
            location = _move(box, message, folder)
    except AdapterError as error:
        note_health(message.connection.name, str(error))
        raise
    note_moved(MOVER, message_id, place, location)


def _folder(message: Message, place: Place) -> str:
    for collect in definition_of(message.pipeline_version).collect:
        if (collect.mailbox, collect.folder) == (message.connection.name, message.arrived_folder):
            folders: Folders = collect.afterwards
            return {
                Place.DONE: folders.done,
                Place.PEOPLE: folders.people,
                Place.FAILED: folders.failed,
            }.get(place, collect.folder)
    return Folders().done


def _move(box: Mailbox, message: Message, folder: str) -> Location:
    uidvalidity = box.select(message.folder)
    if message.uid is not None and message.uidvalidity == uidvalidity:
        present = any(True for _ in box.outlines([message.uid]))
        if present:
            # The mark may be missing when a worker ended before it was set.
            box.mark_read(message.uid)
            return box.move(message.uid, folder)
    # Moved before the answer was stored, or by somebody else: look where it is.
    there = box.find(folder, message.message_id) if message.message_id else None
    if there is not None:
        return there
    here = box.find(message.folder, message.message_id) if message.message_id else None
    if here is not None and here.uid is not None:
        box.select(message.folder)
        return box.move(here.uid, folder)
    # Nowhere to be found: a person took it away. The original is in our store.
    return Location(folder=folder)
