"""Check a document and let it through the desk's gate, or stop it there."""

from collections.abc import Sequence

from django.db import transaction

from veridox.core.findings import CODES, Finding, Weight
from veridox.core.pipeline import Decision, Outcome, Situation, check_document, decide, risk
from veridox.service.accounts.actors import Actor
from veridox.service.documents.actions.common import locked, move_to
from veridox.service.documents.columns import current_reading
from veridox.service.documents.facts import facts_of
from veridox.service.documents.models import Document, State
from veridox.service.documents.resubmissions import returned_before
from veridox.service.ledgers.actions.prepare import prepare, reserve
from veridox.service.mail.actions.settle import settle
from veridox.service.mail.names import names_of_file
from veridox.service.masterdata.models import Entity, Order, Vendor
from veridox.service.notices.actions.queue import queue_notices
from veridox.service.pipelines.queries import definition_of
from veridox.service.trail.record import record


@transaction.atomic
def check(actor: Actor, document_id: int) -> None:
    """Run all checks on the newest reading; nothing happens unless the state is `read`."""
    document = locked(document_id)
    if document.state == State.READ:
        apply(actor, document)


def apply(actor: Actor, document: Document, told: Sequence[Finding] = ()) -> None:
    """Check a locked document and store the outcome with the next job.

    Args:
        actor: a person, when the check follows from their act.
        document: locked, in the state `read`.
        told: what others said of it (the ledger) and no check can find anew.
    """
    definition = definition_of(document.pipeline_version)
    reading = current_reading(document)
    facts = facts_of(document, definition, reading)
    findings = (*check_document(definition, facts), *told)
    situation = Situation(
        facts=facts,
        findings=findings,
        accepted=frozenset(each["code"] for each in document.accepted),
        cleared_by_person=document.cleared_by_id is not None,
        stopped_for=tuple(document.stopped_for),
        mail=names_of_file(document.file),
    )
    decision = decide(definition, situation)
    document.entity = (
        Entity.objects.filter(code=facts.entity.code).first() if facts.entity else None
    )
    document.vendor = (
        Vendor.objects.filter(code=facts.vendor.code).first() if facts.vendor else None
    )
    document.order = (
        Order.objects.filter(number=facts.order.number).first() if facts.order else None
    )
    document.risk = risk(reading, seller_known=facts.seller_known).share
    if document.resubmission_of_id is None:
        document.resubmission_of = returned_before(document)
    if decision.outcome is Outcome.CLEARED and not reserve(document):
        # Another document got the right to this number between our look and now.
        finding = _taken(document)
        findings = (*findings, finding)
        decision = Decision(outcome=Outcome.AT_DESK, queue="exceptions", reasons=(finding.message,))
    document.stopped_for = _stays_for(document, decision, findings)
    document.findings = [finding.to_json() for finding in findings]
    document.reasons = list(decision.reasons)
    document.queue = decision.queue
    move_to(document, State(decision.outcome.value))
    document.save()
    if decision.outcome is Outcome.CLEARED and definition.post:
        prepare(document, definition, reading)
    if decision.outcome is Outcome.AT_DESK:
        queue_notices(document, "at the desk")
    if document.file.message_id:
        settle(document.file.message_id)
    details = {
        "outcome": decision.outcome.value,
        "queue": decision.queue,
        "reasons": list(decision.reasons),
        "findings": [f"{finding.code} ({finding.weight.value})" for finding in findings],
        "vendor": facts.vendor.code if facts.vendor else None,
        "order": facts.order.number if facts.order else None,
        "pipeline_version": document.pipeline_version.number,
    }
    record(actor, "document.checked", "document", document.pk, details)


def _stays_for(document: Document, decision: Decision, findings: Sequence[Finding]) -> list[str]:
    """Codes that the document does not go on from by itself, whatever the next check says."""
    if decision.outcome is not Outcome.AT_DESK:
        return []
    now = {f.code for f in findings if f.blocks and not CODES[f.code].alone}
    return sorted(now | set(document.stopped_for))


def _taken(document: Document) -> Finding:
    return Finding(
        code="duplicate.exact",
        weight=Weight.BLOCK,
        message=f"Another document with number {document.number} of this vendor is being posted.",
        fields=("number",),
        found=document.number,
        hint="Discard this one, unless the vendor really used the number twice.",
    )
