"""What a ledger answers, and where what stands there differs from what was sent."""

from collections.abc import Mapping
from dataclasses import dataclass

from veridox.core.posting.bill import Bill


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
        coding: by `line 1`, ..., `charges`, `allowances` the parts as they were sent; None where
            the ledger tells none.
    """

    gross_total: str
    lines: tuple[str, ...]
    attachments: tuple[str, ...]
    coding: Mapping[str, tuple[Mapping[str, str], ...]] | None = None


def differences(bill: Bill, standing: Standing, files: Mapping[str, str]) -> tuple[str, ...]:
    """What stands otherwise than it was sent, each as a part of a sentence.

    Args:
        bill: as it was sent.
        standing: as it was read back.
        files: names of what was attached, by SHA-256.
    """
    said = []
    total = bill.gross_total.plain() if bill.gross_total is not None else None
    if standing.gross_total != total:
        said.append(f"total {standing.gross_total} instead of {total}")
    sent = [line.amount.plain() for line in bill.lines]
    if list(standing.lines) != sent:
        said.append(f"line amounts {', '.join(standing.lines)} instead of {', '.join(sent)}")
    codes = {name: tuple(each.to_json() for each in parts) for name, parts in bill.codings.items()}
    if standing.coding is not None:
        wrong = [name for name in dict.fromkeys([*codes, *standing.coding])
                 if codes.get(name, ()) != standing.coding.get(name, ())]  # fmt: skip
        said += [f"other codes on {', '.join(wrong)}"] if wrong else []
    missing = [name for sha256, name in files.items() if sha256 not in standing.attachments]
    if missing:
        said.append(f"not attached: {', '.join(missing)}")
    return tuple(said)
