"""Prepare the notices of an event, in the transaction of the event itself."""

import uuid

from django.conf import settings

from veridox.core.money import Money
from veridox.core.pipeline import Tell
from veridox.service.documents.models import Document
from veridox.service.notices import jobs
from veridox.service.notices.models import Notice
from veridox.service.notices.templates import render
from veridox.service.pipelines.queries import definition_of
from veridox.service.work import defer


def queue_notices(document: Document, event: str) -> None:
    """One notice for each mail that the pipeline sends at this event."""
    for tell in definition_of(document.pipeline_version).tell:
        if tell.on == event:
            _queue(document, tell)


def _queue(document: Document, tell: Tell) -> None:
    subject, text = render(tell.template, names_for(document))
    notice = Notice.objects.create(
        document=document,
        event=tell.on,
        recipient=tell.to,
        subject=subject,
        text=text,
        message_id=f"{uuid.uuid4()}@veridox.invalid",
    )
    defer(jobs.tell, notice_id=notice.pk)


def names_for(document: Document) -> dict[str, object]:
    """What templates may name."""
    posting = getattr(document, "posting", None)
    message = document.file.message
    total = ""
    if document.gross_total is not None and document.currency:
        total = str(Money(amount=document.gross_total, currency=document.currency).rounded())
    newest = document.readings.order_by("-number").first()
    due = (newest.reading["fields"].get("due_date") or {}).get("value") if newest else None
    return {
        "number": document.number,
        "kind": document.kind,
        "seller": document.vendor.name if document.vendor else document.seller_name,
        "total": total,
        "due": due,
        "order": document.order.number if document.order else "",
        "entity": document.entity.name if document.entity else "",
        "file": document.file.name,
        "subject": message.subject if message else "",
        "sender": message.sender_address if message else "",
        "reasons": document.reasons,
        "end_reason": document.end_reason,
        "posting": {"number": posting.number, "link": posting.link} if posting else None,
        "link": f"{settings.CONFIGURATION.url}/documents/{document.pk}",
    }
