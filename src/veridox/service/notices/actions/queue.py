"""Prepare the notices of an event, in the transaction of the event itself."""

import uuid

from django.db import transaction

from veridox.core.language import Subject
from veridox.core.pipeline import Definition, PipelineError
from veridox.core.pipeline.states import TAKEN_IN
from veridox.core.pipeline.telling import Outgoing, told_at
from veridox.service.connections.models import Connection, ConnectionKind
from veridox.service.documents.models import Document
from veridox.service.documents.subject import subject_of_document, subject_of_mail
from veridox.service.intake.models import Message
from veridox.service.notices.models import LETTER, Notice, NoticeState
from veridox.service.pipelines.models import PipelineRun
from veridox.service.pipelines.queries import definition_of
from veridox.service.work import defer


def queue_notices(document: Document, event: str) -> None:
    """One notice for each message that the pipeline sends at this event of a document."""
    try:
        definition = definition_of(document.pipeline_version)
    except PipelineError:
        return  # a version that does not pass its check any more names nobody
    if any(tell.on == event for tell in definition.tell):
        subject = subject_of_document(document)
        _queue(definition, event, subject, document=document)


@transaction.atomic
def announce(message_id: int) -> None:
    """One notice for each message that the pipeline sends when a mail came in; once a mail."""
    message = Message.objects.select_for_update(of=("self",)).get(pk=message_id)
    if message.notices.filter(event=TAKEN_IN).exists():
        return
    definition = definition_of(message.pipeline_version)
    _queue(definition, TAKEN_IN, subject_of_mail(message), message=message)


def queue_for_run(run: PipelineRun, event: str, subject: Subject) -> None:
    """One notice for each message that a run's version sends at an event of the run."""
    try:
        definition = definition_of(run.version)
    except PipelineError:
        return
    _queue(definition, event, subject, run=run)


def queue_letter(document: Document, to: str, subject: str, text: str) -> None:
    """A letter to the vendor about a document that goes back, as a person wrote it."""
    outbox = definition_of(document.pipeline_version).through.outbox
    _store(LETTER, to=to, subject=subject, text=text, document=document, through=outbox)


def _queue(
    definition: Definition,
    event: str,
    subject: Subject,
    document: Document | None = None,
    message: Message | None = None,
    run: PipelineRun | None = None,
) -> None:
    """Texts are bounded, and filled in from plain values: nothing is asked of anybody for them."""
    for told in told_at(definition, event, subject):
        tell, sent, problem = told.tell, told.outgoing, ""
        if told.looked is not None and told.looked.holds is None:
            problem = f"its condition could not be evaluated: {told.looked.why}"
            sent = Outgoing(to=tell.to, channel=tell.channel)
        if sent is None:
            continue
        through = definition.through.chat if tell.channel else definition.through.outbox
        _store(
            event, to=sent.to, channel=sent.channel, subject=sent.subject, text=sent.text,
            through=through, document=document, mail=message, run=run,
            problem=problem or sent.problem,
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
    run: PipelineRun | None = None,
    problem: str = "",
) -> None:
    """To be sent; one with a problem is listed among those that failed, and not sent."""
    kind = ConnectionKind.CHAT if channel else ConnectionKind.OUTBOX
    named = Connection.objects.filter(name=through, kind=kind).first() if through else None
    notice = Notice.objects.create(
        connection=named,
        document=document,
        mail=mail,
        run=run,
        event=event,
        recipient=to,
        channel=channel,
        subject=subject,
        text=text,
        message_id=f"{uuid.uuid4()}@veridox.invalid",
        state=NoticeState.FAILED if problem else NoticeState.PREPARED,
        problem=problem,
    )
    if not problem:
        defer("tell", notice_id=notice.pk)
