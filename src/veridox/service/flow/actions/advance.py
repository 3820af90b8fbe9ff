"""Move a document along the road as far as it goes: gather, compute, apply, in one transaction."""

from typing import Any

from django.db import transaction
from django.utils import timezone

from veridox.core.pipeline import Advance, Definition, PipelineError, State
from veridox.core.pipeline import advance as compute
from veridox.core.pipeline.effects import PreparePosting
from veridox.core.pipeline.stages.road import ROAD
from veridox.core.pipeline.trace import to_json
from veridox.service.accounts.actors import Actor
from veridox.service.documents.actions.coding import keep_coding
from veridox.service.documents.actions.common import locked, move_to
from veridox.service.documents.actions.uses import keep_uses
from veridox.service.documents.coding import coding_json
from veridox.service.documents.models import ENDED, Document
from veridox.service.documents.resubmissions import returned_before
from veridox.service.flow.actions.fail import stop
from veridox.service.flow.appliers import apply
from veridox.service.flow.evidence import evidence_of
from veridox.service.flow.gathering import Ground, ground_of
from veridox.service.flow.models import Walk
from veridox.service.notices.models import LETTER, NoticeState
from veridox.service.pipelines.queries import definition_of
from veridox.service.trail.record import record

WITHOUT_ITS_PIPELINE = tuple(place for place in ROAD if place.name == "end" or place.under_way)
"""What happens whatever its pipeline says: a person decided for good, or the ledger booked."""


@transaction.atomic
def advance(actor: Actor, document_id: int) -> None:
    """Let a document go on, because something was said or became known of it.

    What a person works on, or holds, is not moved under their hands; nor is what ended, what
    failed, or what has a letter about it on its way.
    """
    document = locked(document_id)
    if document.state in (*ENDED, State.FAILED, State.RECEIVED) or _letter_travels(document):
        return
    if document.state == State.AT_DESK:
        held = document.held_until is not None and document.held_until > timezone.localdate()
        if held or document.taken_by_id is not None:
            return
    walk(actor, document)


def _letter_travels(document: Document) -> bool:
    letters = document.notices.filter(event=LETTER, state=NoticeState.PREPARED)
    return document.letter_out and letters.exists()


def walk(
    actor: Actor, document: Document, act: str = "", details: dict[str, Any] | None = None
) -> None:
    """Within the caller's transaction, for a document that it has locked.

    Args:
        actor: a person, when it follows from their act.
        document: locked; its newest reading and what was said of it are stored.
        act, details: of the person, for the trail. They stand before what followed, and are
            written with it: the trail's head is locked last of all, by everybody.
    """
    version = document.pipeline_version
    try:
        ground = ground_of(document, definition_of(version))
        result = compute(ground.definition, ground.case)
    except PipelineError as error:
        ground = ground_of(document, Definition(name=version.pipeline.name))
        result = compute(ground.definition, ground.case, WITHOUT_ITS_PIPELINE)
        if result.state not in (*ENDED, State.CLEARED):
            refused = f"Version {version.number} of {version.pipeline.name} does not pass its check"
            stop(
                actor,
                document,
                f"{refused} any more ({error}). Publish a corrected one, then process the "
                "document again with it.",
            )
            _record_act(actor, document, act, details)
            return
    if actor.person is None and _nothing_new(ground, result):
        return
    before = State(document.state)
    _move(ground, result)
    for effect in result.effects:
        if isinstance(effect, PreparePosting):
            apply(ground, effect)
    document.save()  # what follows looks at documents as they stand now
    if result.checked is not None:
        keep_uses(document, ground.case.facts, ground.known.order_rows)
        keep_coding(document, result.checked.coding)
    for effect in result.effects:
        if not isinstance(effect, PreparePosting):
            apply(ground, effect)
    Walk.objects.create(
        document=document,
        pipeline_version=document.pipeline_version,
        reading=ground.case.reading,
        by=actor.name,
        before=before,
        state=result.state,
        trace=to_json(result.trace),
    )
    _record_act(actor, document, act, details)
    _record(actor, ground, result)


def _record_act(actor: Actor, document: Document, act: str, details: dict[str, Any] | None) -> None:
    if act:
        record(actor, act, "document", document.pk, details or {})


def _nothing_new(ground: Ground, result: Advance) -> bool:
    """It stands where it stood, and for the same reasons: nothing to keep, nothing to tell.

    Else each import of master data would add to the story of all that waits, and whoever
    looks at one would have to look again before they may change it.
    """
    if result.state is not ground.case.state or result.effects:
        return False
    if result.state is State.CLEARED:
        return True  # its posting is on its way, and still is
    last = ground.document.walks.order_by("-pk").first()
    return (
        last is not None
        and last.trace == to_json(result.trace)
        and (last.reading, last.pipeline_version_id)
        == (ground.case.reading, ground.document.pipeline_version_id)
    )


def _move(ground: Ground, result: Advance) -> None:
    document, facts = ground.document, ground.case.facts
    if result.checked is not None:
        document.entity = ground.known.entity_rows.get(facts.entity.code) if facts.entity else None
        document.vendor = ground.known.vendors.get(facts.vendor.code) if facts.vendor else None
        named = [ground.known.order_rows[each.entity, each.number] for each in facts.orders]
        document.order = named[0] if named else None
        document.evidence = evidence_of(facts)
        document.coding = coding_json(result.checked.coding)
        document.credits = facts.preceding[0].reference if facts.preceding else ""
        document.risk = result.checked.risk.share
        document.findings = [finding.to_json() for finding in result.checked.findings]
        if document.resubmission_of_id is None:
            document.resubmission_of = returned_before(document)
    document.findings = [*document.findings, *(each.to_json() for each in result.found)]
    if result.state in (State.DISCARDED, State.RETURNED):
        # What it had stopped for stays beside how it ended.
        document.end_reason = " ".join(result.reasons)
    else:
        document.reasons = list(result.reasons)
    if result.state is State.FAILED:
        document.failed_at_state = document.state
    document.queue, document.letter_out = result.queue, False
    move_to(document, result.state)


def _record(actor: Actor, ground: Ground, result: Advance) -> None:
    document, facts = ground.document, ground.case.facts
    if result.state is State.POSTED and ground.case.posting is not None:
        posting = ground.case.posting
        booked = {"number": posting.number, "differences": list(posting.differences)}
        record(actor, "document.posted", "document", document.pk, booked)
    elif result.state is State.FAILED:
        reasons = {"reason": " ".join(result.reasons)}
        record(actor, "document.failed", "document", document.pk, reasons)
    elif result.checked is not None:
        findings = result.checked.findings
        details: dict[str, Any] = {
            "outcome": result.state.value,
            "queue": result.queue,
            "reasons": list(result.reasons),
            "findings": [f"{finding.code} ({finding.weight.value})" for finding in findings],
            "vendor": facts.vendor.code if facts.vendor else None,
            "order": ", ".join(order.number for order in facts.orders) or None,
            "pipeline_version": document.pipeline_version.number,
        }
        record(actor, "document.checked", "document", document.pk, details)
