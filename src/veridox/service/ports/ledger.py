"""What the service needs of a ledger; adapters provide it."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Protocol

from veridox.core.posting import Bill, Booked, Refusal, Standing
from veridox.service.errors import AdapterError
from veridox.service.ports.driver import Step


class NoAnswerError(AdapterError):
    """The request was sent, but no answer came: the bill may be booked or not."""

    slug = "no-answer"


class CursorGoneError(AdapterError):
    """The ledger does not know any more where a list was left off: it begins anew."""

    slug = "cursor-gone"


@dataclass(frozen=True, kw_only=True, slots=True)
class ListPage:
    """A page of a list of master data.

    Attributes:
        rows: records by our columns (`masterdata/columns.py`), all values as text, several of one
            column parted by `|`; an order has one row a line, all of
            them on one page.
        gone: keys of records that were taken out since, an order's as `entity/number`; empty of
            a whole list.
        next: where the next page begins; empty for the last one.
        stamp: what to ask for next time, to get what changed since this list.
        total: rows of all pages; None where the ledger does not say.
    """

    rows: tuple[Mapping[str, str], ...]
    gone: tuple[str, ...] = ()
    next: str = ""
    stamp: str = ""
    total: int | None = None


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

    def lists(self) -> tuple[str, ...]:
        """Kinds of master data that it can list (`vendors`, `orders`, ...)."""
        ...

    def list_page(self, what: str, *, since: str, after: str) -> ListPage:
        """A page of what it has of a kind.

        Args:
            what: one of `lists`.
            since: stamp of an earlier list; empty for everything.
            after: where the page begins, as the page before said; empty for the first.

        Raises:
            UnreachableError: it does not answer.
            CursorGoneError: it does not know `after` or `since` any more.
        """
        ...

    def test(self) -> list[Step]:
        """Try the connection step by step; never raises."""
        ...
