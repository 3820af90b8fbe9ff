"""Take a mail in again, or set it aside, by hand or by its marks in the mailbox."""

from django.db import transaction

from veridox.core.pipeline.sorting import WITH_ITS_MAIL
from veridox.core.readers.mail.content import MailKind
from veridox.service.accounts.actors import Actor
from veridox.service.errors import NotThereError, WrongStateError
from veridox.service.intake.actions.reading import defer_reading
from veridox.service.intake.models import File, FileState, Message
from veridox.service.trail.record import record
from veridox.service.work import defer


def _locked(message_id: int) -> Message:
    message = Message.objects.select_for_update(of=("self",)).filter(pk=message_id).first()
    if message is None:
        raise NotThereError(f"there is no mail {message_id}")
    return message


@transaction.atomic
def take_again(actor: Actor, message_id: int, why: str) -> Message:
    """Process what was set aside or failed; what became a document is left as it is.

    Nothing is read twice, so that nothing can be posted twice.
    """
    message = _locked(message_id)
    message.aside_reason = ""
    message.taken_anyway = message.kind != MailKind.LETTER
    message.save(update_fields=["aside_reason", "taken_anyway"])
    taken = []
    for file in message.files.select_for_update().order_by("pk"):
        failed = file.state == FileState.FAILED
        held = file.state == FileState.ASIDE and file.reason.startswith(WITH_ITS_MAIL)
        if failed or held:
            _read(file)
            taken.append(file.name)
    defer("settle", message_id=message.pk)
    record(actor, "mail.again", "message", message.pk, {"why": why, "files": taken})
    return message


def _read(file: File) -> None:
    file.state, file.reason, file.goes_with = FileState.RECEIVED, "", None
    file.save(update_fields=["state", "reason", "goes_with"])
    defer_reading([file])


@transaction.atomic
def set_aside(actor: Actor, message_id: int, reason: str) -> Message:
    """A person says that nothing in this mail is to be processed.

    Raises:
        WrongStateError: something in it is under way or was posted.
    """
    message = _locked(message_id)
    if message.files.filter(documents__isnull=False).exists():
        raise WrongStateError("it holds documents: post, return or discard those instead")
    if message.files.filter(state=FileState.RECEIVED).exists():
        raise WrongStateError("a file of it is being read; try again in a moment")
    message.aside_reason = reason
    message.save(update_fields=["aside_reason"])
    defer("settle", message_id=message.pk)
    record(actor, "mail.set_aside", "message", message.pk, {"reason": reason})
    return message
