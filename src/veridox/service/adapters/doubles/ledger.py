"""A ledger in memory, with the ways in which real ones misbehave. For tests and plug-in authors."""

from collections.abc import Callable
from dataclasses import dataclass, field

from veridox.core.posting import Bill, Booked, Refusal, Standing
from veridox.service.errors import UnreachableError
from veridox.service.ports.driver import Step
from veridox.service.ports.ledger import CursorGoneError, Ledger, ListPage, NoAnswerError


@dataclass
class MemoryLedger(Ledger):
    """Books into a dictionary.

    Attributes:
        repeats_safely, late_window: what it promises, see the port.
        refuses: reasons with which it refuses every bill.
        misbehave: called at each booking; may raise, before or after booking.
        drops: books, then gives no answer, this many times.
        down: cannot be reached, this many times.
        listed: rows of its lists, by kind; `gone` keys that were taken out.
        page: rows of one page; `breaks_after` so many pages it does not answer, once.
    """

    repeats_safely: bool = True
    late_window: float = 0.0
    refuses: tuple[str, ...] = ()
    misbehave: Callable[[str], None] | None = None
    drops: int = 0
    down: int = 0
    bills: dict[str, Bill] = field(default_factory=dict)
    files: dict[str, list[str]] = field(default_factory=dict)
    calls: list[str] = field(default_factory=list)
    listed: dict[str, list[dict[str, str]]] = field(default_factory=dict)
    gone: dict[str, list[str]] = field(default_factory=dict)
    page: int = 2
    breaks_after: int | None = None
    forgets: bool = False

    def _reach(self, call: str) -> None:
        self.calls.append(call)
        if self.down:
            self.down -= 1
            raise UnreachableError("the ledger is down")

    def _booked(self, reference: str) -> Booked:
        position = list(self.bills).index(reference) + 1
        return Booked(ledger_id=reference, number=f"M-{position}", link=f"memory:{position}")

    def rehearse(self, bill: Bill) -> Refusal | None:
        """See the port."""
        del bill
        self._reach("rehearse")
        return Refusal(reasons=self.refuses) if self.refuses else None

    def post(self, reference: str, bill: Bill) -> Booked | Refusal:
        """See the port."""
        self._reach("post")
        if self.misbehave is not None:
            self.misbehave(reference)
        for other, standing in self.bills.items():
            if _named(standing) == _named(bill) and other != reference:
                number = self._booked(other).number
                return Refusal(reasons=(f"stands as {number}",), in_ledger=number)
        self.bills.setdefault(reference, bill)
        if self.drops:
            self.drops -= 1
            raise NoAnswerError("the line broke")
        return self._booked(reference)

    def find(self, reference: str) -> Booked | None:
        """See the port."""
        self._reach("find")
        return self._booked(reference) if reference in self.bills else None

    def attach(self, ledger_id: str, name: str, content: bytes, sha256: str) -> None:
        """See the port."""
        del name, content
        self._reach("attach")
        attached = self.files.setdefault(ledger_id, [])
        if sha256 not in attached:
            attached.append(sha256)

    def read_back(self, ledger_id: str) -> Standing:
        """See the port."""
        bill = self.bills[ledger_id]
        return Standing(
            gross_total=bill.gross_total.plain() if bill.gross_total else "",
            lines=tuple(line.amount.plain() for line in bill.lines),
            attachments=tuple(self.files.get(ledger_id, ())),
        )

    def lists(self) -> tuple[str, ...]:
        """See the port."""
        return tuple(self.listed)

    def list_page(self, what: str, *, since: str, after: str) -> ListPage:
        """See the port; what changed since a list is everything."""
        self._reach(f"list {what} {after}")
        if self.breaks_after == 0:
            self.breaks_after = None
            raise UnreachableError("the line broke")
        if self.breaks_after is not None:
            self.breaks_after -= 1
        if self.forgets and after:
            self.forgets = False
            raise CursorGoneError("the ledger has forgotten")
        rows, begin = self.listed[what], int(after or 0)
        end = begin + self.page
        last = end >= len(rows)
        return ListPage(
            rows=tuple(rows[begin:end]), next="" if last else str(end),
            gone=tuple(self.gone.get(what, ())) if since and last else (),
            stamp=f"stamp {len(self.calls)}", total=len(rows),
        )  # fmt: skip

    def test(self) -> list[Step]:
        """See the port."""
        return [Step(name="reach", good=not self.down, detail="in memory")]


def _named(bill: Bill) -> tuple[str, str, str]:
    return bill.vendor, bill.kind, bill.number
