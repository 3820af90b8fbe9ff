"""A mail that comes as a file (.eml, .msg): dropped, or handed in by a person."""

import hashlib
from dataclasses import replace

from django.db import transaction
from django.utils import timezone

from veridox.core.pipeline import Collect
from veridox.service.accounts.actors import Actor
from veridox.service.intake.actions.receive import mark_dropped
from veridox.service.intake.actions.store_messages import store_messages
from veridox.service.intake.models import Message
from veridox.service.intake.taken import Arrival, Taken, take_apart, unopened
from veridox.service.pipelines.models import PipelineVersion
from veridox.service.storage import originals


def prepare_mail(raw: bytes, name: str, collect: Collect) -> Taken:
    """Take a mail apart; one that stops the reader is kept whole with the reason."""
    arrival = Arrival(
        folder=name[:255],
        uidvalidity=0,
        # No server numbers it; its content does.
        uid=int.from_bytes(hashlib.sha256(raw).digest()[:7], "big"),
        received_at=timezone.now(),
        size=len(raw),
        sha256=originals().put(raw),
    )
    taken = take_apart(raw, arrival, collect, unopened(name))
    sent = taken.content.sent
    return replace(taken, arrival=replace(arrival, received_at=sent)) if sent else taken


@transaction.atomic
def store_handed_in(
    actor: Actor,
    version: PipelineVersion,
    collect: Collect,
    mail: Taken,
    *,
    dropped_as: str | None = None,
) -> Message:
    """Record a mail with its files as if it had come to a mailbox.

    Raises:
        IntegrityError: this dropped file is stored already.
    """
    (message,) = store_messages(actor, None, version, collect, [mail])
    if dropped_as:
        arrival = mail.arrival
        mark_dropped(message, version, arrival.folder, arrival.sha256, arrival.size, dropped_as)
    return message
