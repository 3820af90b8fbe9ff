"""Store that a notice went out, or was given up."""

from django.db import transaction
from django.utils import timezone

from veridox.service.accounts.actors import Actor
from veridox.service.notices.models import Notice, NoticeState
from veridox.service.trail.record import record


@transaction.atomic
def store_sent(actor: Actor, notice_id: int) -> None:
    """The mail server took it."""
    notice = Notice.objects.select_for_update().get(pk=notice_id)
    if notice.state != NoticeState.PREPARED:
        return
    notice.state, notice.sent_at, notice.problem = NoticeState.SENT, timezone.now(), ""
    notice.save()
    _record(actor, "notice.sent", notice, {"subject": notice.subject})


@transaction.atomic
def store_failed(actor: Actor, notice_id: int, problem: str) -> None:
    """It was refused for good."""
    notice = Notice.objects.select_for_update().get(pk=notice_id)
    if notice.state != NoticeState.PREPARED:
        return
    notice.state, notice.problem = NoticeState.FAILED, problem
    notice.save()
    _record(actor, "notice.failed", notice, {"problem": problem})


def _record(actor: Actor, what: str, notice: Notice, more: dict[str, str]) -> None:
    kind = "document" if notice.document_id else "message"
    to = notice.recipient or f"#{notice.channel}"
    details = {"event": notice.event, "to": to, **more}
    record(actor, what, kind, notice.document_id or notice.mail_id, details)
