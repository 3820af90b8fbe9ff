"""Have mails moved on their server."""

from collections.abc import Iterable

from veridox.service.intake.models import Message, Place
from veridox.service.work import defer_all


def resting_place(message: Message) -> Place:
    """Where a mail goes in which nothing is read: set aside it is done, else it is for a person."""
    return Place.DONE if message.is_aside else Place.PEOPLE


def queue_move(messages: Iterable[Message]) -> None:
    """Within the caller's transaction: have them moved as their `moving_to` says."""
    defer_all("move", [{"message_id": message.pk} for message in messages])
