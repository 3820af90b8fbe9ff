"""Store that a notice went out, was given up, or is to be sent again."""

from django.db import transaction
from django.utils import timezone

from veridox.core.pipeline import Said
from veridox.service.accounts.actors import Actor
from veridox.service.documents.actions.common import locked
from veridox.service.documents.actions.say import no_longer, say
from veridox.service.documents.models import Document, State
from veridox.service.errors import NotThereError, WrongStateError
from veridox.service.notices.models import LETTER, Notice, NoticeState
from veridox.service.trail.record import record
from veridox.service.work import defer


def _locked(notice_id: int) -> tuple[Document | None, Notice]:
    # Always the document first, so that two acts never wait for each other.
    known = Notice.objects.filter(pk=notice_id).first()
    if known is None:
        raise NotThereError(f"there is no notice {notice_id}")
    document = locked(known.document_id) if known.document_id else None
    return document, Notice.objects.select_for_update().get(pk=notice_id)


@transaction.atomic
def store_sent(actor: Actor, notice_id: int) -> None:
    """The mail server or chat system took it; after a letter its document is returned."""
    document, notice = _locked(notice_id)
    if notice.state != NoticeState.PREPARED:
        return
    notice.state, notice.sent_at, notice.problem = NoticeState.SENT, timezone.now(), ""
    notice.save()
    if document is not None and notice.event == LETTER and document.letter_out:
        defer("advance", document_id=document.pk)
    _record(actor, "notice.sent", notice, {"subject": notice.subject})


@transaction.atomic
def note_trying(notice_id: int, problem: str) -> None:
    """Why it did not go out yet; it is tried again. No act of the trail."""
    Notice.objects.filter(pk=notice_id, state=NoticeState.PREPARED).update(problem=problem)


@transaction.atomic
def store_failed(actor: Actor, notice_id: int, problem: str) -> None:
    """It was refused for good; a document whose letter it is stands at the desk again."""
    document, notice = _locked(notice_id)
    if notice.state != NoticeState.PREPARED:
        return
    notice.state, notice.problem = NoticeState.FAILED, problem
    notice.save()
    if document is not None and notice.event == LETTER and document.letter_out:
        defer("advance", document_id=document.pk)
    _record(actor, "notice.failed", notice, {"problem": problem})


@transaction.atomic
def send_again(actor: Actor, notice_id: int) -> Notice:
    """Send once more what was refused.

    Raises:
        NotThereError: there is no such notice.
        WrongStateError: it did not fail, or the document it speaks of went another way.
    """
    document, notice = _locked(notice_id)
    if notice.state != NoticeState.FAILED:
        raise WrongStateError(f"notice {notice_id} is {notice.state}; only failed ones go again")
    if document is not None and notice.event == LETTER:
        if document.state != State.AT_DESK or document.letter_out or document.taken_by_id:
            raise WrongStateError(
                f"document {document.pk} is {document.state}"
                + (", and somebody works on it" if document.taken_by_id else "")
                + "; the letter is sent only while it waits at the desk"
            )
        document.letter_out = True
        document.version += 1
        document.save()
        no_longer(document, actor, Said.SENT_BACK)
        say(document, actor, Said.SENT_BACK, reason=notice.recipient)
    notice.state, notice.problem = NoticeState.PREPARED, ""
    notice.save()
    defer("tell", notice_id=notice.pk)
    _record(actor, "notice.again", notice, {"subject": notice.subject})
    return notice


def _record(actor: Actor, what: str, notice: Notice, more: dict[str, str]) -> None:
    kind = "document" if notice.document_id else "run" if notice.run_id else "message"
    to = notice.recipient or f"#{notice.channel}"
    details = {"event": notice.event, "to": to, **more}
    subject_id = notice.document_id or notice.run_id or notice.mail_id
    record(actor, what, kind, subject_id, details)
