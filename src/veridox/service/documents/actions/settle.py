"""Where a mail should lie, by what became of its files; a move is queued when it lies elsewhere."""

from veridox.core.readers.mail.documents import STUCK
from veridox.service.documents.models import ENDED, WITH_PEOPLE, Document, State
from veridox.service.intake.actions.moves import queue_move
from veridox.service.intake.models import File, FileState, Message, Place


def settle(message_id: int) -> None:
    """Within the caller's transaction, after a file or document changed."""
    message = Message.objects.select_for_update().get(pk=message_id)
    if message.connection_id is None:
        return  # handed in as a file: it lies nowhere
    place = wanted_place(message)
    _to(message, place)
    # What came again goes where the first one goes.
    for repeat in Message.objects.select_for_update().filter(repeat_of=message).order_by("pk"):
        _to(repeat, place)


def settle_mail_of(file: File) -> None:
    """The same for the mail that brought a file, if any did."""
    if file.message_id:
        settle(file.message_id)


def _to(message: Message, place: Place | None) -> None:
    if place is None or place == (message.moving_to or message.place):
        return
    message.moving_to = place
    message.save(update_fields=["moving_to"])
    queue_move([message])


def wanted_place(message: Message) -> Place | None:
    """None while something is still on its way."""
    if message.repeat_of is not None:
        return wanted_place(message.repeat_of)
    if message.is_aside:
        return Place.DONE
    files = list(message.files.values_list("state", "left_out"))
    states = list(Document.objects.filter(file__message=message).values_list("state", flat=True))
    settled = (*ENDED, *WITH_PEOPLE, State.FAILED)
    if any(state == FileState.RECEIVED for state, _ in files) or any(
        state not in settled for state in states
    ):
        return None
    if any(state == FileState.FAILED for state, _ in files) or State.FAILED in states:
        return Place.FAILED
    if any(state in WITH_PEOPLE for state in states):
        return Place.PEOPLE
    if any(left_out in STUCK for _, left_out in files):
        return Place.PEOPLE
    # A mail that promised an invoice but held nothing readable is for a person.
    return Place.DONE if states else Place.PEOPLE
