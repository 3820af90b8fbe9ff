"""Opens connections by their drivers. Nobody else does."""

from dataclasses import replace
from functools import cache
from typing import Any, cast

from django.conf import settings

from veridox.core.pipeline.sorting import READ_BY_PLUGINS
from veridox.pluginhost import Described, PluginHost
from veridox.readerpool import ReaderPool
from veridox.service.adapters.table import add_drivers_of, driver_of
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


@cache
def plugin_host() -> PluginHost | None:
    """Runs the plug-ins that the settings list, for this process; None where they list none."""
    packages = settings.CONFIGURATION.plugins
    return PluginHost(packages, size=settings.CONFIGURATION.readers) if packages else None


def plug_in() -> tuple[Described, ...]:
    """Have what plug-ins bring in the language and among drivers; once, when a process begins.

    Those that cannot be used are told where connections and pipelines that need them are, and
    stop documents; the process begins all the same.
    """
    packages = settings.CONFIGURATION.plugins
    if not packages:
        return ()
    # Threads do not outlive a fork: what describes them ends before any worker begins.
    host = PluginHost(packages, size=1)
    try:
        host.add_functions()
        add_drivers_of(host.plugins, _host)
        for each in host.of("reader"):
            READ_BY_PLUGINS.update(each.declared["suffixes"])
        return host.plugins
    finally:
        host.close()


def _host() -> PluginHost:
    host = plugin_host()
    assert host is not None  # noqa: S101 - a driver of a plug-in is there only with one
    return host


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
