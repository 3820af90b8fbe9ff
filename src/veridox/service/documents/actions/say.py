"""Keep what people and others say of a document, and end what holds no more."""

from collections.abc import Iterable
from typing import Final

from django.utils import timezone

from veridox.core.findings import Finding
from veridox.core.pipeline import Identity, Said
from veridox.service.accounts.actors import Actor
from veridox.service.documents.models import Document, Statement

ANSWERED: Final = (Said.CLEARED, Said.TOLD, Said.STOPPED, Said.SENT_BACK)
"""What holds no more once a person decides: what stopped it, and what was decided before."""


def say(
    document: Document,
    actor: Actor,
    what: Said,
    *,
    identity: Identity | None = None,
    finding: Finding | None = None,
    looked: Iterable[str] = (),
    reason: str = "",
) -> Statement:
    """Within the caller's transaction, the document locked: one statement on its newest reading."""
    return Statement.objects.create(
        document=document,
        what=what,
        by=actor.name,
        reading=newest_reading(document),
        identity=identity.to_json() if identity else None,
        finding=finding.to_json() if finding else None,
        looked=list(looked),
        reason=reason,
    )


def no_longer(document: Document, actor: Actor, *whats: Said) -> None:
    """Within the caller's transaction: statements of these sorts hold no more."""
    Statement.objects.filter(document=document, what__in=whats, ended_at=None).update(
        ended_at=timezone.now(), ended_by=actor.name
    )


def newest_reading(document: Document) -> int:
    """Number of the newest version of the reading; 0 without any."""
    numbers = document.readings.order_by("-number").values_list("number", flat=True)
    return next(iter(numbers[:1]), 0)
