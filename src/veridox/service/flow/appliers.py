"""What each effect does here: one applier each. Only `advance` calls them, in its transaction."""

from collections.abc import Callable
from typing import Any, Final

from veridox.core.pipeline import Said, identity_of
from veridox.core.pipeline.effects import (
    AskPlugins,
    Effect,
    GiveFree,
    Notify,
    PreparePosting,
    Remember,
    SettleMail,
)
from veridox.core.posting import bill_of_facts
from veridox.service.accounts.actors import Actor
from veridox.service.documents.actions.say import say
from veridox.service.documents.actions.settle import settle_mail_of
from veridox.service.flow.gathering import Ground
from veridox.service.ledgers.actions.prepare import give_free, prepare, reserve
from veridox.service.notices.actions.queue import queue_notices
from veridox.service.work import defer

FLOW = Actor.system("check")
Applier = Callable[[Ground, Any], None]


def _remember(ground: Ground, effect: Remember) -> None:
    for finding in effect.findings:
        identity = identity_of(finding, ground.case.facts.reading)
        say(ground.document, FLOW, Said.STOPPED, identity=identity)


def _prepare(ground: Ground, effect: PreparePosting) -> None:
    document = ground.document
    # It stands among the findings of a bill that is posted only where two people accepted it.
    once_more = any(each["code"] == "duplicate.exact" for each in document.findings)
    if not reserve(document, once_more=once_more):
        # It was free when the case was gathered, under the lock of the vendor's family.
        raise RuntimeError(f"the number of document {document.pk} is taken")
    assert document.vendor is not None  # noqa: S101 - nothing is cleared without one
    prepare(document, effect.ledger, bill_of_facts(ground.case.facts, effect.coding))


def _give_free(ground: Ground, effect: GiveFree) -> None:
    del effect
    give_free(ground.document)


def _notify(ground: Ground, effect: Notify) -> None:
    queue_notices(ground.document, effect.event)


def _settle(ground: Ground, effect: SettleMail) -> None:
    del effect
    settle_mail_of(ground.document.file)


def _ask_plugins(ground: Ground, effect: AskPlugins) -> None:
    del effect
    defer("advance", document_id=ground.document.pk)


APPLIERS: Final[dict[type[Effect], Applier]] = {
    Remember: _remember,
    AskPlugins: _ask_plugins,
    PreparePosting: _prepare,
    GiveFree: _give_free,
    Notify: _notify,
    SettleMail: _settle,
}
"""By effect. One that is not here belongs to a stage that is not available yet."""


def apply(ground: Ground, effect: Effect) -> None:
    """Do what an effect says. Raises LookupError when nobody does it."""
    applier = APPLIERS.get(type(effect))
    if applier is None:
        raise LookupError(f"nothing here does {type(effect).__name__}")
    applier(ground, effect)
