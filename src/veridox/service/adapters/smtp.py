"""Outgoing mail by SMTP."""

import smtplib
from dataclasses import dataclass
from email.message import EmailMessage
from email.utils import formatdate
from typing import Final

from veridox.service.adapters.common import LOOPBACK, check_port, check_security
from veridox.service.errors import AdapterError, BadInputError, UnreachableError
from veridox.service.ports.driver import Access, Driver, Step
from veridox.service.ports.outgoing import Outbox, OutgoingMail
from veridox.service.tls import tls_context


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


TIMEOUT = 15.0


class SmtpOutbox(Outbox):
    """One SMTP server."""

    def __init__(self, settings: OutboxSettings, password: str) -> None:
        self.settings = settings
        self.password = password

    def _open(self) -> smtplib.SMTP:
        settings = self.settings
        tls = tls_context(settings.ca_file)
        if settings.security == "tls":
            server: smtplib.SMTP = smtplib.SMTP_SSL(
                settings.host, settings.port, timeout=TIMEOUT, context=tls
            )
        else:
            server = smtplib.SMTP(settings.host, settings.port, timeout=TIMEOUT)
            if settings.security == "starttls":
                server.starttls(context=tls)
        if settings.user:
            server.login(settings.user, self.password)
        return server

    def send(self, mail: OutgoingMail) -> None:
        """See the port."""
        message = EmailMessage()
        message["From"] = self.settings.sender
        message["To"] = mail.to
        message["Subject"] = mail.subject
        message["Date"] = formatdate(localtime=False)
        message["Message-ID"] = f"<{mail.message_id}>"
        # Tells other machines not to answer (RFC 3834).
        message["Auto-Submitted"] = "auto-generated"
        message.set_content(mail.text)
        try:
            with self._open() as server:
                server.send_message(message)
        except smtplib.SMTPRecipientsRefused as error:
            code, text = next(iter(error.recipients.values()))
            said = f"the mail server refuses {mail.to}: {code} {text.decode(errors='replace')}"
            raise (UnreachableError if code < 500 else AdapterError)(said) from error
        except (smtplib.SMTPException, OSError) as error:
            raise UnreachableError(f"mail cannot be sent: {error}") from error

    def test(self) -> list[Step]:
        """See the port."""
        settings = self.settings
        try:
            with self._open() as server:
                server.noop()
        except (smtplib.SMTPException, OSError) as error:
            return [Step(name="reach", good=False, detail=str(error))]
        where = f"{settings.host}:{settings.port} ({settings.security})"
        return [Step(name="reach", good=True, detail=where)]


def _check(settings: OutboxSettings) -> None:
    check_security(settings.security, ("tls", "starttls", "none"))
    check_port(settings.port)
    if settings.security == "none" and settings.host not in LOOPBACK:
        raise BadInputError("mail may go out unencrypted on loopback only")


def _open(access: Access[OutboxSettings]) -> SmtpOutbox:
    return SmtpOutbox(access.settings, access.secret if access.settings.user else "")


DRIVER: Final = Driver(
    kind="outbox",
    name="smtp",
    settings=OutboxSettings,
    open=_open,
    test=lambda access, _: _open(access).test(),
    check=_check,
    usual=True,
    needs_secret=lambda settings: bool(settings.user),
)
