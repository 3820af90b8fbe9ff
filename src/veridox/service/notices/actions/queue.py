"""Prepare the notices of an event, in the transaction of the event itself."""

import uuid

from django.conf import settings
from django.db import transaction

from veridox.core.language import NotEvaluableError, evaluate
from veridox.core.language.names import Names
from veridox.core.money import Money
from veridox.core.pipeline import PipelineError, Tell
from veridox.core.pipeline.definition import Through
from veridox.core.pipeline.states import TAKEN_IN
from veridox.service.connections.models import Connection, ConnectionKind
from veridox.service.documents.models import Document
from veridox.service.intake.models import Message
from veridox.service.intake.names import names_of_file, names_of_mail
from veridox.service.notices.models import LETTER, Notice
from veridox.service.notices.templates import fill_in, render
from veridox.service.pipelines.queries import definition_of
from veridox.service.work import defer

BEGINNING = 400
"""Characters of a mail's text that a notice shows."""


def queue_notices(document: Document, event: str) -> None:
    """One notice for each message that the pipeline sends at this event of a document."""
    try:
        definition = definition_of(document.pipeline_version)
    except PipelineError:
        return  # a version that does not pass its check any more names nobody
    for tell in definition.tell:
        if tell.on == event and _holds(tell, names_of_file(document.file)):
            _queue(tell, names_for(document), definition.through, document=document)


@transaction.atomic
def announce(message_id: int) -> None:
    """One notice for each message that the pipeline sends when a mail came in; once a mail."""
    message = Message.objects.select_for_update(of=("self",)).get(pk=message_id)
    if message.notices.filter(event=TAKEN_IN).exists():
        return
    definition = definition_of(message.pipeline_version)
    for tell in definition.tell:
        if tell.on == TAKEN_IN and _holds(tell, names_of_mail(message)):
            _queue(tell, names_for_mail(message), definition.through, message=message)


def queue_letter(document: Document, to: str, subject: str, text: str) -> None:
    """A letter to the vendor about a document that goes back, as a person wrote it."""
    outbox = definition_of(document.pipeline_version).through.outbox
    _store(LETTER, to=to, subject=subject, text=text, document=document, through=outbox)


def _holds(tell: Tell, names: Names) -> bool:
    """Whether a notice's condition holds; one that cannot be evaluated does not."""
    if tell.when is None:
        return True
    try:
        return evaluate(tell.when, names) is True
    except NotEvaluableError:
        return False


def _queue(
    tell: Tell,
    names: dict[str, object],
    through: Through,
    document: Document | None = None,
    message: Message | None = None,
) -> None:
    if tell.channel:
        text = fill_in(tell.text, names)
        _store(
            tell.on, channel=tell.channel, text=text, through=through.chat,
            document=document, mail=message,
        )  # fmt: skip
    else:
        subject, text = render(tell.template, names)
        _store(
            tell.on, to=tell.to, subject=subject, text=text, through=through.outbox,
            document=document, mail=message,
        )  # fmt: skip


def _store(
    event: str,
    *,
    to: str = "",
    channel: str = "",
    subject: str = "",
    text: str,
    through: str = "",
    document: Document | None = None,
    mail: Message | None = None,
) -> None:
    kind = ConnectionKind.CHAT if channel else ConnectionKind.OUTBOX
    named = Connection.objects.filter(name=through, kind=kind).first() if through else None
    notice = Notice.objects.create(
        connection=named,
        document=document,
        mail=mail,
        event=event,
        recipient=to,
        channel=channel,
        subject=subject,
        text=text,
        message_id=f"{uuid.uuid4()}@veridox.invalid",
    )
    defer("tell", notice_id=notice.pk)


def names_for_mail(message: Message) -> dict[str, object]:
    """What templates may name of a mail."""
    letter = message.forwarded or {}
    sender = letter.get("sender_address") or message.sender_address
    text = str(letter.get("text") or message.text).strip()
    return {
        "sender": sender,
        "sender_name": letter.get("sender_name") or message.sender_name or sender,
        "subject": letter.get("subject") or message.subject,
        "text": text[:BEGINNING] + ("…" if len(text) > BEGINNING else ""),
        "received": f"{message.received_at:%Y-%m-%d %H:%M} UTC",
        "files": list(
            message.files.filter(left_out="").order_by("position").values_list("name", flat=True)
        ),
        "kind": message.kind,
        "mailbox": message.connection.name if message.connection else "",
        "link": f"{settings.CONFIGURATION.url}/mail/{message.pk}",
    }


def names_for(document: Document) -> dict[str, object]:
    """What templates may name of a document."""
    posting = document.posting
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
