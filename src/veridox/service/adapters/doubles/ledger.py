"""A ledger in memory, with the ways in which real ones misbehave. For tests and plug-in authors."""

from collections.abc import Callable
from dataclasses import dataclass, field

from veridox.core.posting import Bill, Booked, Refusal, Standing
from veridox.service.errors import UnreachableError
from veridox.service.ports.driver import Step
from veridox.service.ports.ledger import Ledger, NoAnswerError


@dataclass
class MemoryLedger(Ledger):
    """Books into a dictionary.

    Attributes:
        repeats_safely, late_window: what it promises, see the port.
        refuses: reasons with which it refuses every bill.
        misbehave: called at each booking; may raise, before or after booking.
        drops: books, then gives no answer, this many times.
        down: cannot be reached, this many times.
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

    def test(self) -> list[Step]:
        """See the port."""
        return [Step(name="reach", good=not self.down, detail="in memory")]


def _named(bill: Bill) -> tuple[str, str, str]:
    return bill.vendor, bill.kind, bill.number
