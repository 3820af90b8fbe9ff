"""What each kind of connection needs to know, as typed values."""

from dataclasses import dataclass, fields
from typing import Any
from urllib.parse import urlsplit

from veridox.service.connections.models import Connection, ConnectionKind
from veridox.service.errors import BadInputError
from veridox.service.secrets import decrypt


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
    token_url: str = ""
    client_id: str = ""
    scope: str = ""


@dataclass(frozen=True, kw_only=True, slots=True)
class OutboxSettings:
    """An SMTP server for outgoing mail.

    Attributes:
        host, port: of the server.
        sender: address that mails come from.
        security: `starttls`, `tls`, or `none`, which is taken for loopback only.
        user: empty to send without signing in.
        ca_file: certificate authority to trust besides the system's, or empty.
    """

    host: str
    sender: str
    port: int = 587
    security: str = "starttls"
    user: str = ""
    ca_file: str = ""


@dataclass(frozen=True, kw_only=True, slots=True)
class LedgerSettings:
    """A finance system with an HTTP interface.

    Attributes:
        url: where its interface begins.
        timeout: seconds to wait for an answer.
        late_window: seconds within which it may still book what it did not answer.
    """

    url: str
    timeout: float = 10.0
    late_window: float = 5.0


@dataclass(frozen=True, kw_only=True, slots=True)
class ChatSettings:
    """A chat system that takes messages by webhook.

    Attributes:
        url: where messages are sent to; the channel is named in the message. A secret,
            where one is set, is sent as a bearer token.
    """

    url: str


Settings = MailboxSettings | OutboxSettings | LedgerSettings | ChatSettings

_OF_KIND: dict[str, type[Settings]] = {
    ConnectionKind.MAILBOX: MailboxSettings,
    ConnectionKind.OUTBOX: OutboxSettings,
    ConnectionKind.LEDGER: LedgerSettings,
    ConnectionKind.CHAT: ChatSettings,
}
_SECURITY = {
    ConnectionKind.MAILBOX: ("tls", "starttls"),
    ConnectionKind.OUTBOX: ("tls", "starttls", "none"),
}


def parse_settings(kind: str, data: dict[str, Any]) -> Settings:
    """Typed settings.

    Raises:
        BadInputError: unknown kind or key, missing key, wrong type or value.
    """
    if kind not in _OF_KIND:
        raise BadInputError(f"{kind!r} is no kind of connection; use {', '.join(_OF_KIND)}")
    shape = _OF_KIND[kind]
    known = {field.name: field for field in fields(shape)}
    unknown = sorted(set(data) - set(known))
    if unknown:
        raise BadInputError(f"unknown here: {', '.join(unknown)}; a {kind} has {', '.join(known)}")
    try:
        values = {key: _typed(key, known[key].type, value) for key, value in data.items()}
        settings = shape(**values)
    except TypeError as error:
        missing = [key for key, field in known.items() if key not in data]
        raise BadInputError(f"a {kind} needs {', '.join(missing)}") from error
    _check(kind, settings)
    return settings


def _typed(key: str, kind: Any, value: Any) -> Any:
    wanted = {"str": str, "int": int, "float": float}.get(getattr(kind, "__name__", str(kind)), str)
    try:
        return wanted(value)
    except (TypeError, ValueError):
        raise BadInputError(f"{key} is {value!r}; it must be a {wanted.__name__}") from None


def _check(kind: str, settings: Settings) -> None:
    security = getattr(settings, "security", None)
    allowed = _SECURITY.get(kind, ())  # type: ignore[call-overload]
    if security is not None and security not in allowed:
        raise BadInputError(f"security is one of {', '.join(allowed)}, not {security!r}")
    if security == "none" and getattr(settings, "host", "") not in ("127.0.0.1", "localhost"):
        raise BadInputError("mail may go out unencrypted on loopback only")
    if isinstance(settings, MailboxSettings):
        _check_sign_in(settings)
    port = getattr(settings, "port", 1)
    if not 1 <= port <= 65535:
        raise BadInputError(f"port is from 1 to 65535, not {port}")
    url = getattr(settings, "url", "https://")
    if not url.startswith(("http://", "https://")):
        raise BadInputError(f"url begins with https://, not {url!r}")


def _check_sign_in(settings: MailboxSettings) -> None:
    if settings.auth not in ("password", "oauth2"):
        raise BadInputError(f"auth is password or oauth2, not {settings.auth!r}")
    if settings.auth == "password":
        return
    for key in ("token_url", "client_id"):
        if not getattr(settings, key):
            raise BadInputError(f"a mailbox with auth oauth2 needs {key}")
    parts = urlsplit(settings.token_url)
    local = parts.hostname in ("127.0.0.1", "localhost")
    if parts.scheme != "https" and not (parts.scheme == "http" and local):
        raise BadInputError("token_url begins with https:// (http:// on loopback only)")


def settings_of(connection: Connection) -> Settings:
    """The settings of a stored connection."""
    return parse_settings(connection.kind, connection.settings)


def refresh_token_of(connection: Connection) -> str:
    """The refresh token in the clear, for adapters only; empty when none is set."""
    return decrypt(connection.refresh_token) if connection.refresh_token is not None else ""


def secret_of(connection: Connection) -> str:
    """The secret in the clear, for adapters only. Raises BadInputError when none is set."""
    if connection.secret is None:
        raise BadInputError(f"connection {connection.name!r} has no secret yet")
    return decrypt(connection.secret)
