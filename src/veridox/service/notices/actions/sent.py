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
    details = {"event": notice.event, "to": notice.recipient, "subject": notice.subject}
    record(actor, "notice.sent", "document", notice.document_id, details)


@transaction.atomic
def store_failed(actor: Actor, notice_id: int, problem: str) -> None:
    """It was refused for good."""
    notice = Notice.objects.select_for_update().get(pk=notice_id)
    if notice.state != NoticeState.PREPARED:
        return
    notice.state, notice.problem = NoticeState.FAILED, problem
    notice.save()
    details = {"event": notice.event, "to": notice.recipient, "problem": problem}
    record(actor, "notice.failed", "document", notice.document_id, details)
