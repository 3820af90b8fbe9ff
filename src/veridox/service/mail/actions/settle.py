"""Where a mail should lie, by what became of its files; a move is queued when it lies elsewhere."""

from veridox.service.mail import jobs
from veridox.service.mail.models import Message, Place
from veridox.service.work import defer


def settle(message_id: int) -> None:
    """Within the caller's transaction, after a file or document changed."""
    message = Message.objects.select_for_update().get(pk=message_id)
    place = wanted_place(message)
    if place is None or place == (message.moving_to or message.place):
        return
    message.moving_to = place
    message.save(update_fields=["moving_to"])
    defer(jobs.move, message_id=message.pk)


def wanted_place(message: Message) -> Place | None:
    """None while something is still on its way."""
    from veridox.service.documents.models import ENDED, WITH_PEOPLE, Document, FileState, State

    if message.repeat_of_id is not None:
        return Place.DONE
    files = list(message.files.values_list("state", flat=True))
    states = list(Document.objects.filter(file__message=message).values_list("state", flat=True))
    settled = (*ENDED, *WITH_PEOPLE, State.FAILED)
    if FileState.RECEIVED in files or any(state not in settled for state in states):
        return None
    if FileState.FAILED in files or State.FAILED in states:
        return Place.FAILED
    if any(state in WITH_PEOPLE for state in states):
        return Place.PEOPLE
    # A mail that promised an invoice but held nothing readable is for a person.
    return Place.DONE if states else Place.PEOPLE
