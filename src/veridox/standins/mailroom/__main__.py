"""Run the mailroom: `python -m veridox.standins.mailroom --smtp 8443 --lmtp 8446`."""

import argparse
import asyncio
import re
import signal
import smtplib
from email import message_from_bytes
from email.utils import parseaddr

from aiosmtpd.controller import Controller
from aiosmtpd.smtp import SMTP, Envelope, Session

DOMAIN = "merrowmere.example"
SERVER = "mx.merrowmere.example"
"""Name of this server in what it says of senders."""
_FIELDS = re.compile(rb"[^\n]*\n(?:[ \t][^\n]*\n)*")
_OWN = re.compile(rb"authentication-results:\s*mx\.merrowmere\.example\b", re.IGNORECASE)
OTHERS = "vendors@merrowmere.example"
"""Who gets, in this small world, what is sent to any other house."""


def stamped(content: bytes, sent_from: str) -> bytes:
    """The mail with what this server found of its sender (RFC 8601), on top of all else.

    Headers that bear this server's own name are taken out first: nobody else may write them. In
    this small world a domain has sent a mail where the envelope is from it, too.
    """
    head, _, body = content.replace(b"\r\n", b"\n").partition(b"\n\n")
    kept = [line for line in _FIELDS.findall(head + b"\n") if not _OWN.match(line)]
    _, address = parseaddr(str(message_from_bytes(head + b"\n\n")["From"] or ""))
    domain, envelope = (each.rpartition("@")[2].lower() for each in (address, sent_from))
    result = "pass" if domain and domain == envelope else "fail"
    stamp = (
        f"Authentication-Results: {SERVER}; dmarc={result} header.from={domain or 'none'};\n"
        f" spf={result} smtp.mailfrom={envelope or 'none'}\n"
    )
    return (stamp.encode("ascii", "replace") + b"".join(kept) + b"\n" + body).replace(
        b"\n", b"\r\n"
    )


class Delivery:
    """Takes mail for the house and for its vendors, and delivers it before it says so."""

    def __init__(self, lmtp: int) -> None:
        self.lmtp = lmtp

    async def handle_RCPT(  # noqa: N802 - aiosmtpd's name
        self, server: SMTP, session: Session, envelope: Envelope, address: str, options: list[str]
    ) -> str:
        """Addresses of this small world: all of them end in `.example`."""
        del server, session, options
        if not address.lower().endswith(".example"):
            return f"550 no mail for {address} here"
        envelope.rcpt_tos.append(address)
        return "250 OK"

    async def handle_DATA(  # noqa: N802 - aiosmtpd's name
        self, server: SMTP, session: Session, envelope: Envelope
    ) -> str:
        """Deliver; a mail that cannot be delivered is not accepted."""
        del server, session
        try:
            await asyncio.to_thread(self._deliver, envelope)
        except (smtplib.SMTPException, OSError) as error:
            return f"451 cannot be delivered now: {error}"
        return "250 delivered"

    def _deliver(self, envelope: Envelope) -> None:
        with smtplib.LMTP("127.0.0.1", self.lmtp) as server:
            to = {each if each.lower().endswith("@" + DOMAIN) else OTHERS: None
                  for each in envelope.rcpt_tos}  # fmt: skip
            content = stamped(envelope.original_content or b"", envelope.mail_from or "")
            refused = server.sendmail(envelope.mail_from or "", list(to), content)
        if refused:
            raise smtplib.SMTPException(str(refused))


def main() -> None:
    """Entry point."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--smtp", type=int, default=8443)
    parser.add_argument("--lmtp", type=int, default=8446)
    chosen = parser.parse_args()
    controller = Controller(
        Delivery(chosen.lmtp),
        hostname="127.0.0.1",
        port=chosen.smtp,
        data_size_limit=70 * 2**20,
    )
    controller.start()
    signal.sigwait({signal.SIGTERM, signal.SIGINT})
    controller.stop()


if __name__ == "__main__":
    main()
