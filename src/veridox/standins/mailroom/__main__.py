"""Run the mailroom: `python -m veridox.standins.mailroom --smtp 8443 --lmtp 8446`."""

import argparse
import asyncio
import signal
import smtplib

from aiosmtpd.controller import Controller
from aiosmtpd.smtp import SMTP, Envelope, Session

DOMAIN = "merrowmere.example"
OTHERS = "vendors@merrowmere.example"
"""Who gets, in this small world, what is sent to any other house."""


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
            refused = server.sendmail(
                envelope.mail_from or "", list(to), envelope.original_content or b""
            )
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
