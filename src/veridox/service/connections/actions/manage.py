"""Add a connection, set its secret, note how it does."""

import re
from typing import Any

from django.db import transaction
from django.utils import timezone

from veridox.service.accounts.actors import Actor
from veridox.service.connections.models import Connection
from veridox.service.connections.settings import parse_settings
from veridox.service.errors import BadInputError, NotThereError
from veridox.service.secrets import encrypt
from veridox.service.trail.record import record


@transaction.atomic
def put_connection(
    actor: Actor, name: str, kind: str, settings: dict[str, Any], secret: str | None
) -> Connection:
    """Add a connection or change its settings; the secret is kept when none is given."""
    if not re.fullmatch(r"[a-z0-9][a-z0-9-]{0,62}", name):
        raise BadInputError(f"{name!r}: small letters, digits and dashes, 63 at most")
    parse_settings(kind, settings)
    connection = Connection.objects.select_for_update().filter(name=name).first()
    if connection is not None and connection.kind != kind:
        raise BadInputError(f"{name!r} is a {connection.kind} already")
    connection = connection or Connection(name=name, kind=kind)
    connection.settings = settings
    if secret is not None:
        connection.secret = encrypt(secret)
    connection.save()
    details = {"kind": kind, "settings": settings, "secret": "set" if secret else "unchanged"}
    record(actor, "connection.saved", "connection", name, details)
    return connection


def connection_named(name: str, kind: str) -> Connection:
    """A connection of a kind by name. Raises NotThereError with what to do."""
    connection = Connection.objects.filter(name=name, kind=kind).first()
    if connection is None:
        raise NotThereError(f"there is no {kind} connection {name!r}; add it first")
    return connection


def note_health(name: str, problem: str) -> None:
    """Remember that a connection worked or what was wrong; not an act of the trail."""
    now = timezone.now()
    rows = Connection.objects.filter(name=name)
    if problem:
        rows.update(last_problem=problem[:1000], last_problem_at=now)
    else:
        rows.update(last_good_at=now, last_problem="", last_problem_at=None)
