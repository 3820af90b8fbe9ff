"""Outgoing mail by SMTP."""

import smtplib
from email.message import EmailMessage
from email.utils import formatdate

from veridox.service.connections.settings import OutboxSettings
from veridox.service.errors import AdapterError, UnreachableError
from veridox.service.mail.ports import Step
from veridox.service.notices.ports import Outbox, OutgoingMail
from veridox.service.tls import tls_context

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
