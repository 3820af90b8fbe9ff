"""The one place that chooses adapters. Nobody else imports one."""

from functools import cache

from django.conf import settings
from imapclient import IMAPClient
from imapclient.exceptions import LoginError

from veridox.readerpool import ReaderPool
from veridox.service.connections.actions.manage import keep_refresh_token
from veridox.service.connections.models import Connection
from veridox.service.connections.settings import (
    ChatSettings,
    LedgerSettings,
    MailboxSettings,
    OutboxSettings,
    refresh_token_of,
    secret_of,
    settings_of,
)
from veridox.service.errors import BadInputError
from veridox.service.ledgers.finance import FinanceLedger
from veridox.service.ledgers.ports import Ledger
from veridox.service.mail.imap import ImapMailbox, SignIn
from veridox.service.mail.imap_signin import by_password, by_token, try_mailbox
from veridox.service.mail.ports import Mailbox, Step
from veridox.service.mail.tokens import access_token, forget
from veridox.service.notices.chat import WebhookChat
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
    return ImapMailbox(known, _sign_in(connection, known))


def _sign_in(connection: Connection, known: MailboxSettings) -> SignIn:
    if known.auth == "password":
        return by_password(known, secret_of(connection))

    def token() -> str:
        grant = access_token(known, secret_of(connection), refresh_token_of(connection))
        if grant.refresh_token:
            keep_refresh_token(connection.pk, grant.refresh_token)
            connection.refresh_from_db(fields=["refresh_token"])
        return grant.access_token

    def sign_in(client: IMAPClient) -> None:
        try:
            by_token(known, token())(client)
        except LoginError:
            # A kept token may have been revoked before its time: once more with a new one.
            forget(known)
            by_token(known, token())(client)

    return sign_in


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


def open_chat(connection: Connection) -> WebhookChat:
    """A way to send chat messages; nothing is sent yet."""
    known = settings_of(connection)
    if not isinstance(known, ChatSettings):
        raise BadInputError(f"{connection.name!r} is no chat system")
    return WebhookChat(known, secret_of(connection) if connection.secret is not None else "")


def test_connection(connection: Connection, folders: tuple[str, ...]) -> list[Step]:
    """Try a connection step by step; of a mailbox, also the folders that pipelines watch."""
    known = settings_of(connection)
    if isinstance(known, MailboxSettings):
        return try_mailbox(known, _sign_in(connection, known), folders)
    if isinstance(known, ChatSettings):
        return open_chat(connection).test()
    if isinstance(known, LedgerSettings):
        return open_ledger(connection).test()
    return open_outbox(connection).test()
