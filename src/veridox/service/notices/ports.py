"""What the service needs to send mail."""

from dataclasses import dataclass
from typing import Protocol

from veridox.service.mail.ports import Step


@dataclass(frozen=True, kw_only=True, slots=True)
class OutgoingMail:
    """A plain text mail. `message_id` is fixed, so that a repeat can be told."""

    to: str
    subject: str
    text: str
    message_id: str


class Outbox(Protocol):
    """A way to send mail."""

    def send(self, mail: OutgoingMail) -> None:
        """Hand over. Raises UnreachableError to try again, AdapterError when refused."""
        ...

    def test(self) -> list[Step]:
        """Try the connection step by step; never raises."""
        ...
