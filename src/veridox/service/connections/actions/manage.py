"""Add a connection, set its secret, note how it does."""

import re
from typing import Any

from django.db import transaction
from django.utils import timezone

from veridox.service.accounts.actors import Actor
from veridox.service.adapters.table import driver_of
from veridox.service.connections.models import Connection, ConnectionKind, Trouble
from veridox.service.connections.settings import parse_settings
from veridox.service.errors import BadInputError, NotThereError
from veridox.service.secrets import encrypt, encrypt_again
from veridox.service.trail.record import record


@transaction.atomic
def put_connection(
    actor: Actor,
    name: str,
    kind: str,
    settings: dict[str, Any],
    secret: str | None,
    refresh_token: str | None = None,
    driver: str = "",
) -> Connection:
    """Add a connection or change its settings. Without a driver it has the usual one of its kind.

    Secrets are kept when none are given, unless the address changes: they were given to
    be sent to that one, and do not follow to another.
    """
    if not re.fullmatch(r"[a-z0-9][a-z0-9-]{0,62}", name):
        raise BadInputError(f"{name!r}: small letters, digits and dashes, 63 at most")
    if kind not in set(ConnectionKind):
        kinds = ", ".join(ConnectionKind)
        raise BadInputError(f"{kind!r} is no kind of connection; use {kinds}")
    driver = driver_of(kind, driver).name
    parse_settings(kind, settings, driver)
    connection = Connection.objects.select_for_update().filter(name=name).first()
    if connection is not None and connection.kind != kind:
        raise BadInputError(f"{name!r} is a {connection.kind} already")
    connection = connection or Connection(name=name, kind=kind)
    said = _said(secret, refresh_token)
    before = _address(kind, connection.driver, connection.settings)
    if before != _address(kind, driver, settings):
        if connection.secret is not None or connection.refresh_token is not None:
            said = "set" if secret or refresh_token else "taken away: the address changed"
        connection.secret = connection.refresh_token = connection.secret_at = None
    connection.settings, connection.driver = settings, driver
    _set_secrets(connection, secret, refresh_token)
    connection.save()
    details = {"kind": kind, "driver": driver, "settings": settings, "secret": said}
    record(actor, "connection.saved", "connection", name, details)
    return connection


def _address(kind: str, driver: str, settings: dict[str, Any]) -> tuple[object, ...]:
    """Where secrets are sent to, usual values filled in; empty for a new connection."""
    if not settings:
        return ()
    known = parse_settings(kind, settings, driver)
    where = (getattr(known, key, None) for key in ("host", "port", "url", "token_url"))
    return driver, *where


@transaction.atomic
def set_secret(
    actor: Actor, name: str, secret: str | None, refresh_token: str | None = None
) -> Connection:
    """Put new secrets in the place of the old ones. Raises NotThereError, BadInputError."""
    if not secret and not refresh_token:
        raise BadInputError("give a secret or a refresh token")
    connection = Connection.objects.select_for_update().filter(name=name).first()
    if connection is None:
        raise NotThereError(f"there is no connection {name!r}")
    _set_secrets(connection, secret, refresh_token)
    connection.save()
    details = {"secret": _said(secret, refresh_token)}
    record(actor, "connection.secret_set", "connection", name, details)
    return connection


def _set_secrets(connection: Connection, secret: str | None, refresh_token: str | None) -> None:
    if secret is not None:
        connection.secret, connection.secret_at = encrypt(secret), timezone.now()
    if refresh_token is not None:
        connection.refresh_token = encrypt(refresh_token)


def _said(secret: str | None, refresh_token: str | None) -> str:
    return "set" if secret or refresh_token else "unchanged"


@transaction.atomic
def keep_refresh_token(connection_id: int, token: str) -> None:
    """The token server gave a new one, and the old one is worth nothing any more."""
    connection = Connection.objects.select_for_update().get(pk=connection_id)
    connection.refresh_token = encrypt(token)
    connection.save(update_fields=["refresh_token"])


@transaction.atomic
def encrypt_anew(actor: Actor) -> int:
    """Encrypt all secrets with the newest key. Returns how many connections had any."""
    count = 0
    for connection in Connection.objects.select_for_update().order_by("pk"):
        if connection.secret is None and connection.refresh_token is None:
            continue
        if connection.secret is not None:
            connection.secret = encrypt_again(connection.secret)
        if connection.refresh_token is not None:
            connection.refresh_token = encrypt_again(connection.refresh_token)
        connection.save(update_fields=["secret", "refresh_token"])
        count += 1
    record(actor, "connection.rotated", "connection", "", {"connections": count})
    return count


def connection_named(name: str, kind: str) -> Connection:
    """A connection of a kind by name. Raises NotThereError with what to do."""
    connection = Connection.objects.filter(name=name, kind=kind).first()
    if connection is None:
        raise NotThereError(f"there is no {kind} connection {name!r}; add it first")
    return connection


def usual_connection(kind: ConnectionKind) -> Connection | None:
    """The one of its kind that is used where none is named: the oldest."""
    return Connection.objects.filter(kind=kind).order_by("pk").first()


def note_trouble(part: str, problem: str) -> None:
    """What is wrong with a part that is no connection (a directory, the disk); empty: nothing."""
    if problem:
        Trouble.objects.update_or_create(part=part, defaults={"problem": problem[:1000]})
    else:
        Trouble.objects.filter(part=part).delete()


def note_health(name: str, problem: str) -> None:
    """Remember that a connection worked or what was wrong; not an act of the trail."""
    now = timezone.now()
    rows = Connection.objects.filter(name=name)
    if problem:
        rows.update(last_problem=problem[:1000], last_problem_at=now)
    else:
        rows.update(last_good_at=now, last_problem="", last_problem_at=None)
