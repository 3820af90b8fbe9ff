"""What a mailbox needs to know, as typed values."""

from dataclasses import dataclass
from urllib.parse import urlsplit

from veridox.service.adapters.common import LOOPBACK, check_port, check_security
from veridox.service.errors import BadInputError


@dataclass(frozen=True, kw_only=True, slots=True)
class MailboxSettings:
    """An IMAP mailbox.

    Attributes:
        host, port: of the server.
        user: to sign in as.
        security: `tls` from the first byte or `starttls`; nothing else is offered.
        ca_file: certificate authority to trust besides the system's, or empty.
        on_behalf_of: the shared mailbox to act for, or empty for one's own.
        auth: `password`, or `oauth2` with bearer tokens from `token_url`.
        authserv_id: under which the receiving server writes its Authentication-Results (RFC 8601),
            where it removes all others of this name; empty: then no sender is proven.
        token_url, client_id, scope: of the token server. With a refresh token that
            is used, else the client's own credentials.
    """

    host: str
    user: str
    port: int = 993
    security: str = "tls"
    ca_file: str = ""
    on_behalf_of: str = ""
    auth: str = "password"
    authserv_id: str = ""
    token_url: str = ""
    client_id: str = ""
    scope: str = ""


def check(settings: MailboxSettings) -> None:
    """Whether they can work together. Raises BadInputError."""
    check_security(settings.security, ("tls", "starttls"))
    check_port(settings.port)
    _check_sign_in(settings)


def _check_sign_in(settings: MailboxSettings) -> None:
    if settings.auth not in ("password", "oauth2"):
        raise BadInputError(f"auth is password or oauth2, not {settings.auth!r}")
    if settings.auth == "password":
        return
    for key in ("token_url", "client_id"):
        if not getattr(settings, key):
            raise BadInputError(f"a mailbox with auth oauth2 needs {key}")
    parts = urlsplit(settings.token_url)
    local = parts.hostname in LOOPBACK
    if parts.scheme != "https" and not (parts.scheme == "http" and local):
        raise BadInputError("token_url begins with https:// (http:// on loopback only)")
