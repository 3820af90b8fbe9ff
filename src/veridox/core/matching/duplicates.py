"""Bills compared as people compare them: numbers, totals, dates, files, pictures."""

import re
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from typing import Final

from veridox.core.matching.orders import candidates
from veridox.core.money import Money
from veridox.core.reading import Kind, Reading

DAYS_NEAR: Final = 5
"""Days within which two bills of one total are taken for one, where nothing tells them apart."""
DAYS_MANY: Final = 10
MANY: Final = 5
"""So many bills of one total within `DAYS_MANY` days are worth a look."""
SAME_PICTURE: Final = 4
"""Bits of 63 by which the looks of two scans of one page differ at most."""


def number_key(number: str) -> str:
    """Upper case, separators as one dash, leading zeros off each part.

    `re 2026/0017` and `RE-2026-17` are the same number; `RE202617` is not.
    """
    parts = re.findall(r"[A-Z0-9]+", number.upper())
    return "-".join(part.lstrip("0") or "0" for part in parts)


def number_bare(number: str) -> str:
    """Letters and digits alone, leading zeros off: what is left when a number is typed anew.

    `QV-4415` and `QV 4415` become `QV4415`.
    """
    bare = re.sub(r"[^A-Z0-9]", "", number.upper())
    return bare.lstrip("0") or bare[:1]


_CLASSES: Final = str.maketrans("OQDILSBZGT", "0001158267")
"""Letters that a page recognised from a picture shows as these digits."""
_DIGITS: Final = frozenset(("17", "71", "38", "83", "56", "65", "08", "80", "69", "96", "49", "94"))
"""Digits that are taken for each other."""


def misread(one: str, other: str) -> str:
    """How one number may be a misreading or a mistyping of another one, for people; else empty.

    Letters for digits that look like them, one digit for another that does, two neighbours
    exchanged, one sign lost. The next number is none of these: 1041 is not 1042.
    """
    first, second = number_bare(one), number_bare(other)
    if not first or not second or first == second:
        return ""
    if first.translate(_CLASSES) == second.translate(_CLASSES):
        return "letters and digits that look alike"
    if len(first) == len(second):
        at = [i for i, pair in enumerate(zip(first, second, strict=True)) if pair[0] != pair[1]]
        if len(at) == 1 and first[at[0]] + second[at[0]] in _DIGITS:
            return f"{first[at[0]]} and {second[at[0]]} look alike"
        if len(at) == 2 and at[1] == at[0] + 1:
            here, there = first[at[0] : at[1] + 1], second[at[0] : at[1] + 1]
            return "two signs are exchanged" if here == there[::-1] else ""
        return ""
    longer, shorter = sorted((first, second), key=len, reverse=True)
    lost = len(longer) == len(shorter) + 1 and len(shorter) > 2
    if lost and any(longer[:i] + longer[i + 1 :] == shorter for i in range(len(longer))):
        return "one sign is missing"
    return ""


_TAIL: Final = re.compile(r"(\d+)\D*$")


def runs_on(earlier: str, later: str) -> bool:
    """Whether a number follows an earlier one in its series: `RE-41` and `RE-57`, not `RE-41` and
    `AB-57`; the part that counts is the last run of digits."""
    one, two = _TAIL.search(earlier), _TAIL.search(later)
    if one is None or two is None:
        return False
    same = number_key(earlier[: one.start()]) == number_key(later[: two.start()])
    return same and int(two[1]) > int(one[1])


def next_to(one: str, other: str) -> bool:
    """Whether one number merely is the next one after the other: no misreading, another bill."""
    first, second = _TAIL.search(one), _TAIL.search(other)
    if first is None or second is None or one[: first.start()] != other[: second.start()]:
        return False
    return abs(int(first[1]) - int(second[1])) == 1


@dataclass(frozen=True, kw_only=True, slots=True)
class EarlierDocument:
    """A bill that came before, here or in the ledger's books, of the same vendor or its family.

    Attributes:
        reference: our id of it, or its number in the books.
        number: as stated there.
        issued: its issue date.
        state: where it stands, for the message.
        posted_as: the ledger's number, empty when not posted.
        kind: what it is.
        year: of issue; of receipt where no date is stated. None where only the number counts.
        total: with tax; None when not stated.
        order, delivery_note: that it names; empty for none.
        period: that it is for, as text; empty for none.
        vendor: code of the vendor it stands with.
        entity: code of our company that it is billed to.
        in_books: whether it is known from the ledger's listing only.
        same_file: whether its file is the very same.
        picture: bits by which its first page looks otherwise, of 63; None when not comparable.
        came_later: it came after, but holds the right to the number.
    """

    reference: str
    number: str
    issued: date | None
    state: str
    posted_as: str = ""
    kind: Kind | None = None
    year: int | None = None
    total: Money | None = None
    order: str = ""
    delivery_note: str = ""
    period: str = ""
    vendor: str = ""
    entity: str = ""
    in_books: bool = False
    same_file: bool = False
    picture: int | None = None
    came_later: bool = False

    @property
    def named(self) -> str:
        """What people call it: `document 41`, `BL-26-00007 in the books`."""
        return f"{self.reference} in the books" if self.in_books else f"document {self.reference}"


@dataclass(frozen=True, kw_only=True, slots=True)
class Likeness:
    """How two bills are alike.

    Attributes:
        earlier: the other one.
        exact: the same number.
        reasons: each as words for people, what counts most first.
    """

    earlier: EarlierDocument
    exact: bool
    reasons: tuple[str, ...]


def likeness(
    reading: Reading, issued: date | None, earlier: EarlierDocument, before: int = 0
) -> Likeness | None:
    """Whether a bill is an earlier one once more, or may be; None when nothing says so.

    Args:
        reading: of the bill.
        issued: its issue date, or the day it came in where none is stated.
        earlier: of the same vendor or its family.
        before: how many bills of this total the vendor sent in the year before it: then a
            constant price is usual, and running numbers on later dates are no duplicates.
    """
    if earlier.kind is not None and earlier.kind is not reading.kind:
        return None
    number = reading.text("number") or ""
    year = issued.year if issued else None
    one_year = earlier.year is None or year is None or earlier.year == year
    if number and number_key(number) == number_key(earlier.number):
        # Numbers may begin anew with each year.
        exact = Likeness(earlier=earlier, exact=True, reasons=("the same number",))
        return exact if one_year else None
    reasons: list[str] = []
    if number and one_year and number_bare(number) == number_bare(earlier.number):
        reasons.append("the same number but for its separators")
    if earlier.same_file:
        reasons.append("the very same file")
    reasons += _of_total(reading, issued, earlier, before)
    if not reasons:
        return None
    if earlier.picture is not None and earlier.picture <= SAME_PICTURE:
        reasons.append("the page looks the same")
    return Likeness(earlier=earlier, exact=False, reasons=tuple(reasons))


def _of_total(
    reading: Reading, issued: date | None, earlier: EarlierDocument, before: int
) -> Iterable[str]:
    total, number = reading.money("gross_total"), reading.text("number") or ""
    if total is None or earlier.total is None or total != earlier.total or not total.amount:
        return
    regular = issued is not None and _regular(number, issued, earlier, before)
    shared = list(_shared(reading, issued, earlier))
    how = "" if regular or next_to(number, earlier.number) else misread(number, earlier.number)
    if how and shared and not _apart(reading, earlier):
        yield f"the same total of {total}, {shared[0]}, and the number may be misread: {how}"
    elif issued is not None and earlier.issued is not None and not _apart(reading, earlier):
        days = abs((issued - earlier.issued).days)
        if days <= DAYS_NEAR and not regular:
            when = "the same date" if days == 0 else f"dates {_days(days)} apart"
            yield f"the same total of {total} and {when}"


def _days(count: int) -> str:
    return "1 day" if count == 1 else f"{count} days"


def _shared(reading: Reading, issued: date | None, earlier: EarlierDocument) -> Iterable[str]:
    if issued is not None and issued == earlier.issued:
        yield "the same date"
    for name, theirs in (("order_number", earlier.order), ("delivery_note", earlier.delivery_note),
                         ("period", earlier.period)):  # fmt: skip
        ours = reading.text(name) or ""
        # A bill may name several orders.
        stated = candidates(ours) if name == "order_number" else (ours,)
        if ours and theirs and number_bare(theirs) in map(number_bare, stated):
            yield f"the same {name.replace('_number', '').replace('_', ' ')} {theirs}"


def _apart(reading: Reading, earlier: EarlierDocument) -> bool:
    """Whether both say what they are for, and it is something else."""
    pairs = (
        (reading.text("delivery_note"), earlier.delivery_note),
        (reading.text("period"), earlier.period),
    )
    return any(
        ours and theirs and number_bare(ours) != number_bare(theirs) for ours, theirs in pairs
    )


def _regular(number: str, issued: date, earlier: EarlierDocument, before: int) -> bool:
    """Another bill of a constant price: its number runs on with its date, and the vendor sends
    bills of this total time and again."""
    if earlier.issued is None or earlier.issued == issued:
        return False
    if earlier.issued < issued:
        follows = runs_on(earlier.number, number)
    else:
        follows = runs_on(number, earlier.number)
    return follows and before >= 2


def picture_distance(one: int | None, other: int | None) -> int | None:
    """Bits by which two pictures of pages differ, of 63; None where one is not known."""
    return None if one is None or other is None else (one ^ other).bit_count()
