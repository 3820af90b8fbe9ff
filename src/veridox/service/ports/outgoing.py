"""What the service needs to send mails and chat messages."""

from dataclasses import dataclass
from typing import Protocol

from veridox.service.ports.driver import Step


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


class Chat(Protocol):
    """A chat system."""

    def send(self, channel: str, text: str, key: str) -> None:
        """Hand over. `key` is the same for a repeat.

        Raises:
            UnreachableError: to be tried again.
            AdapterError: refused.
        """
        ...

    def test(self) -> list[Step]:
        """Whether it can be reached; no message is sent. Never raises."""
        ...
