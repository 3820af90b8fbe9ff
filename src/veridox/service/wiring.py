"""Opens connections by their drivers. Nobody else does."""

from dataclasses import replace
from functools import cache
from typing import Any, cast

from django.conf import settings

from veridox.readerpool import ReaderPool
from veridox.service.adapters.table import driver_of
from veridox.service.connections.actions.manage import keep_refresh_token
from veridox.service.connections.models import Connection, ConnectionKind
from veridox.service.connections.settings import access_to
from veridox.service.errors import BadInputError
from veridox.service.ports.driver import Access, Step
from veridox.service.ports.ledger import Ledger
from veridox.service.ports.mailbox import Mailbox
from veridox.service.ports.outgoing import Chat, Outbox


@cache
def reader_pool() -> ReaderPool:
    """The readers of this process; started when first needed."""
    return ReaderPool(size=settings.CONFIGURATION.readers)


@cache
def trial_pool() -> ReaderPool:
    """Readers of this process for what is only tried: few, so that they stand in nobody's way."""
    return ReaderPool(size=1)


def _access(connection: Connection) -> Access[Any]:
    def keep(token: str) -> None:
        keep_refresh_token(connection.pk, token)

    return replace(access_to(connection), keep_refresh_token=keep)


def _open(connection: Connection, kind: ConnectionKind, called: str) -> Any:
    if connection.kind != kind:
        raise BadInputError(f"{connection.name!r} is no {called}")
    return driver_of(connection.kind, connection.driver).open(_access(connection))


def open_mailbox(connection: Connection) -> Mailbox:
    """A signed-in mailbox. Raises UnreachableError."""
    return cast(Mailbox, _open(connection, ConnectionKind.MAILBOX, "mailbox"))


def open_ledger(connection: Connection) -> Ledger:
    """A ledger; nothing is sent yet."""
    return cast(Ledger, _open(connection, ConnectionKind.LEDGER, "ledger"))


def open_outbox(connection: Connection) -> Outbox:
    """A way to send mail; nothing is sent yet."""
    return cast(Outbox, _open(connection, ConnectionKind.OUTBOX, "outbox"))


def open_chat(connection: Connection) -> Chat:
    """A way to send chat messages; nothing is sent yet."""
    return cast(Chat, _open(connection, ConnectionKind.CHAT, "chat system"))


def test_connection(connection: Connection, folders: tuple[str, ...]) -> list[Step]:
    """Try a connection step by step; of a mailbox, also the folders that pipelines watch."""
    driver = driver_of(connection.kind, connection.driver)
    return driver.test(_access(connection), folders)
