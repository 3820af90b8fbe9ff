"""Move mails on the server to where they should lie, all that wait in one session."""

from collections.abc import Iterator
from contextlib import contextmanager

from django.db import connection as database

from veridox.core.pipeline import Folders
from veridox.service import wiring
from veridox.service.accounts.actors import Actor
from veridox.service.connections.actions.manage import note_health
from veridox.service.connections.models import Connection
from veridox.service.errors import AdapterError, UnreachableError
from veridox.service.intake.actions.place import note_moved
from veridox.service.intake.models import Message, Place
from veridox.service.pipelines.queries import collect_of
from veridox.service.ports.mailbox import Location, Mailbox

MOVER = Actor.system("file")
AT_ONCE = 500
"""Mails moved in one session at most."""
LOCK = 0x7665726D
"""First key of the advisory locks, one for each mailbox (`verm`)."""


class BusyError(UnreachableError):
    """Another job moves the mails of this mailbox now; this one looks again afterwards."""

    retry_after = 2.0


def move(message_id: int) -> None:
    """Move a mail as its `moving_to` says, and all others of its mailbox that wait with it.

    Each mail has a job of its own, so that none is forgotten; the first of
    them signs in and does the work of all.
    """
    message = Message.objects.select_related("connection").get(pk=message_id)
    if not _waits(message) or message.connection is None:
        return
    connection = message.connection
    try:
        with _alone(connection), wiring.open_mailbox(connection) as box:
            for each in _waiting(connection):
                try:
                    _move_one(box, each)
                except UnreachableError:
                    raise
                except AdapterError:
                    # It has a job of its own, which tells what is wrong with it.
                    if each.pk == message_id:
                        raise
    except BusyError:
        raise
    except AdapterError as error:
        note_health(connection.name, str(error))
        raise


def _waits(message: Message) -> bool:
    return bool(message.moving_to) and message.moving_to != message.place


def _waiting(connection: Connection) -> list[Message]:
    rows = Message.objects.filter(connection=connection).exclude(moving_to="")
    ready = rows.select_related("connection", "pipeline_version").order_by("pk")
    return [message for message in ready[:AT_ONCE] if _waits(message)]


@contextmanager
def _alone(connection: Connection) -> Iterator[None]:
    with database.cursor() as cursor:
        cursor.execute("select pg_try_advisory_lock(%s, %s)", [LOCK, connection.pk])
        row = cursor.fetchone()
        if not row or not row[0]:
            raise BusyError(f"the mails of {connection.name} are being moved already")
        try:
            yield
        finally:
            cursor.execute("select pg_advisory_unlock(%s, %s)", [LOCK, connection.pk])


def _move_one(box: Mailbox, message: Message) -> None:
    place = Place(message.moving_to)
    location = _move(box, message, _folder(message, place))
    note_moved(MOVER, message.pk, place, location)


def _folder(message: Message, place: Place) -> str:
    name = message.connection.name if message.connection else ""
    collect = collect_of(message.pipeline_version, name, message.arrived_folder)
    folders: Folders = collect.afterwards
    return {
        Place.DONE: folders.done,
        Place.PEOPLE: folders.people,
        Place.FAILED: folders.failed,
    }.get(place, collect.folder)


def _move(box: Mailbox, message: Message, folder: str) -> Location:
    uidvalidity = box.select(message.folder)
    if message.uid is not None and message.uidvalidity == uidvalidity:
        present = any(True for _ in box.outlines([message.uid]))
        if present:
            # The mark may be missing when a worker ended before it was set.
            box.mark([message.uid])
            return _move_or_finish(box, message, message.uid, folder)
    # Moved before the answer was stored, or by somebody else: look where it is.
    there = box.find(folder, message.message_id) if message.message_id else None
    if there is not None:
        return there
    here = box.find(message.folder, message.message_id) if message.message_id else None
    if here is not None and here.uid is not None:
        box.select(message.folder)
        return _move_or_finish(box, message, here.uid, folder)
    # Nowhere to be found: a person took it away. The original is in our store.
    return Location(folder=folder)


def _move_or_finish(box: Mailbox, message: Message, uid: int, folder: str) -> Location:
    """Where a move is a copy and a removal, a worker may have ended between the two."""
    if not box.moves_in_one and message.message_id:
        copied = box.find(folder, message.message_id)
        box.select(message.folder)
        if copied is not None:
            box.remove(uid)
            return copied
    return box.move(uid, folder)
