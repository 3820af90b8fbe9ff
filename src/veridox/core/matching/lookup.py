"""A bill beside what stands in the ledger under its number, or for its order."""

from dataclasses import dataclass

from veridox.core.money import Money, minor_unit
from veridox.core.reading import Reading


@dataclass(frozen=True, kw_only=True, slots=True)
class LedgerRecord:
    """A bill that the ledger lists.

    Attributes:
        booked_as: its number in the ledger.
        number, order: the vendor's number, and the order it names.
        total: with tax.
        open: what is not paid yet; None where the ledger does not tell.
        how: by what it was found: `number`, or `order and vendor`.
        own: whether it was posted from this very document.
    """

    booked_as: str
    number: str
    total: Money
    open: Money | None
    how: str
    order: str = ""
    own: bool = False


@dataclass(frozen=True, kw_only=True, slots=True)
class BesideLedger:
    """A record with what the bill asks for, and a sentence with both figures.

    Attributes:
        record: of the ledger.
        asked: what is left to pay by the bill (BT-115), else its total; None where neither is read.
        equal: whether that is just what is open; None where it cannot be told.
        said: for people.
    """

    record: LedgerRecord
    asked: Money | None
    equal: bool | None
    said: str


def beside_ledger(reading: Reading, record: LedgerRecord, within: int = 1) -> BesideLedger:
    """A bill beside a record of the ledger.

    Args:
        reading: of the bill.
        record: that was found for it.
        within: minor units by which both may differ.
    """
    asked = reading.money("amount_due") or reading.money("gross_total")
    named = f"{record.booked_as} ({record.number})"
    if asked is None:
        return BesideLedger(record=record, asked=None, equal=None,
                            said=f"{named} stands over {record.total}; what the bill asks for is "
                            "not read.")  # fmt: skip
    if record.open is None:
        return BesideLedger(record=record, asked=asked, equal=None,
                            said=f"{named} stands over {record.total}; the ledger does not tell "
                            f"what is open. The bill asks for {asked}.")  # fmt: skip
    if record.open.currency != asked.currency:
        return BesideLedger(record=record, asked=asked, equal=None,
                            said=f"{named} is open with {record.open}; the bill asks for {asked}, "
                            "in another currency.")  # fmt: skip
    difference = asked - record.open
    equal = abs(difference.amount) <= minor_unit(asked.currency) * within
    both = f"{named} is open with {record.open}; the bill asks for {asked}"
    if equal:
        return BesideLedger(record=record, asked=asked, equal=True, said=f"{both}: the same.")
    more = "more" if difference.amount > 0 else "less"
    amount = Money(amount=abs(difference.amount), currency=asked.currency)
    return BesideLedger(record=record, asked=asked, equal=False, said=f"{both}, {amount} {more}.")
