"""Reads of the desk: what waits where, and what may be done with it."""

from collections.abc import Collection
from typing import Any

from django.db.models import Count, Max, Min, Q, Sum
from django.utils import timezone

from veridox.core.checks import CODES
from veridox.core.pipeline import Said, identity_of
from veridox.service.accounts.actors import Actor
from veridox.service.accounts.models import Person, Scope
from veridox.service.desk.actions.again import FROM, MAY_BE_BOOKED
from veridox.service.desk.actions.prove import proof_of
from veridox.service.documents.columns import current_reading, findings_of
from veridox.service.documents.models import Document, State

ACTS = (
    "comment", "correct", "prove", "post", "return", "discard", "hold", "end_hold", "take",
    "release", "take_over", "again", "reopen", "process_again", "call", "let_wait", "code",
)  # fmt: skip
"""What a person may do with a document."""


def hindrance(document: Document) -> str:
    """What must be put right before a document can be posted, as sentences."""
    blocking = [f for f in document.findings if f["weight"] == "block"]
    hard = [f for f in blocking if not CODES[f["code"]].accepted]
    said = [str(finding["message"]) for finding in hard]
    said += [
        f"{each['message']} It takes two people: one says how it was proven, another one posts it."
        for each in by_two(document)
        if not each["proven_by"]
    ]
    return " ".join(said)


def by_two(document: Document) -> list[dict[str, Any]]:
    """Blocking findings that take two people, with who said how each was proven."""
    found = []
    for finding in findings_of(document):
        if not finding.blocks or not CODES[finding.code].second:
            continue
        proof = proof_of(document, identity_of(finding, current_reading(document)))
        found.append({
            "code": finding.code, "message": finding.message,
            "proven_by": proof.by if proof else "", "how": proof.reason if proof else "",
        })  # fmt: skip
    return found


def _of_two(document: Document, person: Person) -> list[str]:
    """What this person may do of an act that takes two."""
    findings = by_two(document)
    name = Actor.of(person).name
    if findings and document.readings.filter(made_by=name).exists():
        return []
    acts = ["prove"] if any(each["proven_by"] != name for each in findings) else []
    if all(each["proven_by"] not in ("", name) for each in findings):
        acts.append("post")
    return acts


def may(document: Document, person: Person, scopes: Collection[str]) -> list[str]:
    """Acts that this person may do now; the acts themselves refuse all others."""
    acts = ["comment"] if Scope.COMMENT in scopes else []
    if Scope.WORK not in scopes:
        return acts
    if document.letter_out:
        return acts
    taken = document.taken_by_id is not None
    if taken and document.taken_by_id != person.pk:
        return [*acts, "take_over"] if document.state == State.AT_DESK else acts
    if document.state == State.AT_DESK:
        if document.coding:
            acts.append("code")
        acts += ["correct", "return", "discard", "hold", "release" if taken else "take"]
        two = _of_two(document, person)
        acts += [act for act in two if act != "post" or not hindrance(document)]
        if document.held_until is not None:
            acts.append("end_hold")
        if document.statements.filter(what=Said.CALLED, ended_at=None).exists():
            acts.append("let_wait")
    if document.state == State.WAITING:
        acts.append("call")
    posting = document.posting
    if document.state in FROM and not (posting and posting.state in MAY_BE_BOOKED):
        acts.append("process_again")
    if document.state == State.FAILED:
        acts += ["again", "discard"]
    if document.state == State.DISCARDED:
        acts.append("reopen")
    return acts


def waiting() -> dict[str, Any]:
    """What waits at the desk now: by queue, by reason, by person; what is on hold; what waits for
    something that comes by itself."""
    today = timezone.localdate()
    at_desk = Document.objects.filter(state=State.AT_DESK)
    held = Q(held_until__gt=today)
    open_now = at_desk.exclude(held)
    taken = Count("pk", filter=Q(taken_by__isnull=False))
    queues = open_now.values("queue").annotate(
        count=Count("pk"), taken=taken, oldest_at=Min("state_at")
    )  # fmt: skip
    holders = open_now.exclude(taken_by=None).values("taken_by__username").annotate(
        count=Count("pk"), oldest_at=Min("taken_at")
    )  # fmt: skip
    amounts = open_now.exclude(currency="").values("currency").annotate(
        amount=Sum("gross_total"), count=Count("pk")
    )  # fmt: skip
    on_hold = at_desk.filter(held).aggregate(
        count=Count("pk"), next_on=Min("held_until"), last_on=Max("held_until")
    )
    by_itself = Document.objects.filter(state=State.WAITING)
    waits = by_itself.aggregate(count=Count("pk"), oldest_at=Min("state_at"))
    return {
        "by_itself": {**waits, "reasons": _reasons(by_itself.values_list("findings", flat=True))},
        "count": open_now.count(),
        "queues": list(queues.order_by("queue")),
        "reasons": _reasons(open_now.values_list("findings", flat=True)),
        "holders": [
            {"person": row["taken_by__username"], **row} for row in holders.order_by("-count")
        ],
        "amounts": [row for row in amounts.order_by("currency") if row["amount"] is not None],
        "held": on_hold,
    }


def _reasons(findings: Any) -> list[dict[str, Any]]:
    counts: dict[str, int] = {}
    for found in findings:
        for code in {each["code"] for each in found if each["weight"] == "block"}:
            counts[code] = counts.get(code, 0) + 1
    ranked = sorted(counts.items(), key=lambda pair: (-pair[1], pair[0]))
    return [
        {"code": code, "title": CODES[code].title if code in CODES else code, "count": count}
        for code, count in ranked
    ]
