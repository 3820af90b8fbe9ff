"""What the service needs of a ledger; adapters provide it."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Protocol

from veridox.service.errors import AdapterError
from veridox.service.mail.ports import Step

Bill = Mapping[str, Any]
"""A bill in our own shape, as `prepare` builds it and as it is stored before sending."""


class NoAnswerError(AdapterError):
    """The request was sent, but no answer came: the bill may be booked or not."""

    slug = "no-answer"


@dataclass(frozen=True, kw_only=True, slots=True)
class Booked:
    """A bill that stands in the ledger.

    Attributes:
        ledger_id: the ledger's key of it.
        number: the ledger's number, for people.
        link: where people can look at it.
    """

    ledger_id: str
    number: str
    link: str


@dataclass(frozen=True, kw_only=True, slots=True)
class Refusal:
    """The ledger says no; nothing was booked.

    Attributes:
        reasons: its own words.
        in_ledger: the number of a bill with the same vendor and number that is
            not ours, empty otherwise.
    """

    reasons: tuple[str, ...]
    in_ledger: str = ""


@dataclass(frozen=True, kw_only=True, slots=True)
class Standing:
    """A bill read back.

    Attributes:
        gross_total: canonical text.
        lines: amounts of its lines as canonical text, in order.
        attachments: SHA-256 of each.
    """

    gross_total: str
    lines: tuple[str, ...]
    attachments: tuple[str, ...]


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
