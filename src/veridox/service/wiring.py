"""The one place that chooses adapters. Nobody else imports one."""

from functools import cache

from django.conf import settings

from veridox.readerpool import ReaderPool
from veridox.service.connections.models import Connection
from veridox.service.connections.settings import (
    LedgerSettings,
    MailboxSettings,
    OutboxSettings,
    secret_of,
    settings_of,
)
from veridox.service.errors import BadInputError
from veridox.service.ledgers.finance import FinanceLedger
from veridox.service.ledgers.ports import Ledger
from veridox.service.mail.imap import ImapMailbox, try_mailbox
from veridox.service.mail.ports import Mailbox, Step
from veridox.service.notices.ports import Outbox
from veridox.service.notices.smtp import SmtpOutbox


@cache
def reader_pool() -> ReaderPool:
    """The readers of this process; started when first needed."""
    return ReaderPool(size=settings.CONFIGURATION.readers)


def open_mailbox(connection: Connection) -> Mailbox:
    """A signed-in mailbox. Raises UnreachableError."""
    known = settings_of(connection)
    if not isinstance(known, MailboxSettings):
        raise BadInputError(f"{connection.name!r} is no mailbox")
    return ImapMailbox(known, secret_of(connection))


def open_ledger(connection: Connection) -> Ledger:
    """A ledger; nothing is sent yet."""
    known = settings_of(connection)
    if not isinstance(known, LedgerSettings):
        raise BadInputError(f"{connection.name!r} is no ledger")
    return FinanceLedger(known, secret_of(connection))


def open_outbox(connection: Connection) -> Outbox:
    """A way to send mail; nothing is sent yet."""
    known = settings_of(connection)
    if not isinstance(known, OutboxSettings):
        raise BadInputError(f"{connection.name!r} is no outbox")
    return SmtpOutbox(known, secret_of(connection) if known.user else "")


def test_connection(connection: Connection) -> list[Step]:
    """Try a connection step by step."""
    known = settings_of(connection)
    if isinstance(known, MailboxSettings):
        return try_mailbox(known, secret_of(connection))
    if isinstance(known, LedgerSettings):
        return open_ledger(connection).test()
    return open_outbox(connection).test()
