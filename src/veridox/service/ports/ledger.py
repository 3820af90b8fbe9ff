"""What the service needs of a ledger; adapters provide it."""

from typing import Protocol

from veridox.core.posting import Bill, Booked, Refusal, Standing
from veridox.service.errors import AdapterError
from veridox.service.ports.driver import Step


class NoAnswerError(AdapterError):
    """The request was sent, but no answer came: the bill may be booked or not."""

    slug = "no-answer"


class Ledger(Protocol):
    """A finance system. Raises UnreachableError when it certainly did nothing."""

    repeats_safely: bool
    """It promises that a request with the same key books once."""
    late_window: float
    """Seconds within which it may still book what it did not answer."""

    def rehearse(self, bill: Bill) -> Refusal | None:
        """All of the ledger's own checks; writes nothing. None when it would book."""
        ...

    def post(self, reference: str, bill: Bill) -> Booked | Refusal:
        """Book. Raises NoAnswerError when it may or may not be booked."""
        ...

    def find(self, reference: str) -> Booked | None:
        """The bill that carries our reference."""
        ...

    def attach(self, ledger_id: str, name: str, content: bytes, sha256: str) -> None:
        """Attach a file; the same file again changes nothing."""
        ...

    def read_back(self, ledger_id: str) -> Standing:
        """The bill as it stands."""
        ...

    def test(self) -> list[Step]:
        """Try the connection step by step; never raises."""
        ...
