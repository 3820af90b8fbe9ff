"""Mailboxes by IMAP (RFC 3501)."""

from typing import Final

from imapclient import IMAPClient
from imapclient.exceptions import LoginError

from veridox.service.adapters.imap.mailbox import ImapMailbox, SignIn
from veridox.service.adapters.imap.settings import MailboxSettings, check
from veridox.service.adapters.imap.signin import by_password, by_token, try_mailbox
from veridox.service.adapters.imap.tokens import access_token, forget
from veridox.service.ports.driver import Access, Driver, Step


def _sign_in(access: Access[MailboxSettings]) -> SignIn:
    known = access.settings
    if known.auth == "password":
        return by_password(known, access.secret)
    refresh_token = access.refresh_token

    def token() -> str:
        nonlocal refresh_token
        grant = access_token(known, access.secret, refresh_token)
        if grant.refresh_token:
            refresh_token = grant.refresh_token
            access.keep_refresh_token(refresh_token)
        return grant.access_token

    def sign_in(client: IMAPClient) -> None:
        try:
            by_token(known, token())(client)
        except LoginError:
            # A kept token may have been revoked before its time: once more with a new one.
            forget(known)
            by_token(known, token())(client)

    return sign_in


def _open(access: Access[MailboxSettings]) -> ImapMailbox:
    return ImapMailbox(access.settings, _sign_in(access))


def _test(access: Access[MailboxSettings], folders: tuple[str, ...]) -> list[Step]:
    return try_mailbox(access.settings, _sign_in(access), folders)


DRIVER: Final = Driver(
    kind="mailbox",
    name="imap",
    settings=MailboxSettings,
    open=_open,
    test=_test,
    check=check,
    usual=True,
    needs_secret=lambda _: True,
)
