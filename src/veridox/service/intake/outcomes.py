"""What became of a mail and of each of its files, in words. Reads only."""

from typing import Any

from django.db.models import Q, QuerySet

from veridox.core.pipeline.states import ENDED
from veridox.core.readers.mail.content import MailKind
from veridox.service.errors import BadInputError
from veridox.service.intake.models import File, FileState, Message, Place

ASIDE, REPEAT, UNDER_WAY = "set aside", "repeat", "under way"
OUTCOMES = (UNDER_WAY, "done", "with people", "failed", ASIDE, REPEAT)
_OF_PLACE = {
    Place.ARRIVED: UNDER_WAY,
    Place.DONE: "done",
    Place.PEOPLE: "with people",
    Place.FAILED: "failed",
}
_NOT_LETTER = ~Q(kind=MailKind.LETTER) & Q(taken_anyway=False)
_ASIDE = Q(repeat_of=None) & (~Q(aside_reason="") | _NOT_LETTER)


def outcome_of(message: Message) -> str:
    """One of `OUTCOMES`."""
    if message.repeat_of_id is not None:
        return REPEAT
    if message.is_aside:
        return ASIDE
    if message.connection_id is None:
        return _of_files(message)
    return _OF_PLACE[Place(message.moving_to or message.place)]


def _of_files(message: Message) -> str:
    """For mails that lie on no server: where their files stand."""
    outcomes = [outcome_of_file(file) for file in message.files.all()]
    if "failed" in outcomes:
        return "failed"
    if any(each in ("to be read", "received", "read", "checked", "cleared") for each in outcomes):
        return UNDER_WAY
    ended = {str(state) for state in ENDED} | {"left out", "kept"}
    return "done" if all(each in ended for each in outcomes) else "with people"


def outcome_of_file(file: File) -> str:
    """`to be read`, `failed`, `left out`, `kept`, or where its documents stand."""
    if file.state == FileState.RECEIVED:
        return "to be read"
    if file.state == FileState.FAILED:
        return "failed"
    if file.state == FileState.ASIDE:
        return "left out" if file.left_out else "kept"
    states = dict.fromkeys(document.state for document in file.documents.all())
    return ", ".join(state.replace("_", " ") for state in states)


def with_outcome(rows: QuerySet[Message], outcome: str) -> QuerySet[Message]:
    """Mails of an outcome. Raises BadInputError."""
    if outcome not in OUTCOMES:
        raise BadInputError(f"outcome is one of {', '.join(OUTCOMES)}, not {outcome!r}")
    if outcome == REPEAT:
        return rows.exclude(repeat_of=None)
    if outcome == ASIDE:
        return rows.filter(_ASIDE)
    place = next(place for place, word in _OF_PLACE.items() if word == outcome)
    lies = Q(moving_to=place) | Q(moving_to="", place=place)
    return rows.filter(lies, repeat_of=None).exclude(_ASIDE)


def said_of(message: Message) -> str:
    """Why it is where it is: the reason of a mail set aside, else its files' outcomes."""
    if message.aside_reason:
        return message.aside_reason
    if message.is_aside:
        return message.kind_reason
    files = [f"{file.name}: {outcome_of_file(file)}" for file in message.files.all()]
    return "; ".join(files) or "no files"


def details(message: Message) -> dict[str, Any]:
    """The same for serializers."""
    return {"outcome": outcome_of(message), "said": said_of(message)}
