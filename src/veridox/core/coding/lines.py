"""The codes of each line: who says them, how sure that is, and how a line is split."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from decimal import Decimal
from enum import StrEnum
from typing import Final

from veridox.core.coding.codes import TaxCode
from veridox.core.money import Money, round_half_up
from veridox.core.reading import Reading
from veridox.core.reading.reading import cell_money, cell_text


class Dimension(StrEnum):
    """What a line is booked under."""

    GL_ACCOUNT = "gl_account"
    COST_CENTRE = "cost_centre"
    TAX_CODE = "tax_code"
    PROJECT = "project"


DIMENSIONS: Final = tuple(Dimension)
CALLED: Final = {
    Dimension.GL_ACCOUNT: "GL account", Dimension.COST_CENTRE: "cost centre",
    Dimension.TAX_CODE: "tax code", Dimension.PROJECT: "project",
}  # fmt: skip
"""What people call each."""


class Source(StrEnum):
    """Who says a code; the first in this order that says one prevails."""

    PERSON = "person"
    RULE = "rule"
    ORDER = "order"
    VENDOR = "vendor"
    TABLE = "table"  # of tax codes
    HISTORY = "history"


@dataclass(frozen=True, kw_only=True, slots=True)
class Coded:
    """A code with who says it, how likely it is right, and why, for people."""

    code: str
    source: Source
    chance: float = 1.0
    why: str = ""


@dataclass(frozen=True, kw_only=True, slots=True)
class Share:
    """A part of a line: a percentage or an amount of it, or what is left; and codes of its own."""

    percent: Decimal | None = None
    amount: Decimal | None = None
    codes: Mapping[Dimension, str] = field(default_factory=dict)


@dataclass(frozen=True, kw_only=True, slots=True)
class Proposal:
    """What one source says of a line: codes, and how it is split; empty for not at all."""

    source: Source
    codes: Mapping[Dimension, str] = field(default_factory=dict)
    chances: Mapping[Dimension, float] = field(default_factory=dict)
    shares: Sequence[Share] = ()
    why: Mapping[Dimension, str] = field(default_factory=dict)


@dataclass(frozen=True, kw_only=True, slots=True)
class ByHand:
    """What a person said of a line, as long as the line says what it said then.

    Attributes:
        line: its place; see `lines_to_code`.
        description, amount: of the line then; amount without its currency, empty for none.
        codes, shares: as they said.
    """

    line: int
    description: str
    amount: str
    codes: Mapping[Dimension, str] = field(default_factory=dict)
    shares: tuple[Share, ...] = ()


@dataclass(frozen=True, kw_only=True, slots=True)
class Part:
    """A part of a line that is booked under codes of its own."""

    amount: Money
    codes: Mapping[Dimension, Coded]


@dataclass(frozen=True, kw_only=True, slots=True)
class CodedLine:
    """A line with its parts.

    Attributes:
        at: its number on the bill, from 1, or another place; see `lines_to_code`.
        description, amount: of the line.
        parts: at least one; their amounts are the line's, to the cent.
        problem: why it cannot be split as it was said; empty for nothing.
    """

    at: int
    description: str
    amount: Money
    parts: tuple[Part, ...]
    problem: str = ""

    @property
    def chance(self) -> float:
        """How likely all its codes are right."""
        chance = 1.0
        said = {
            (dimension, coded.code): coded.chance
            for part in self.parts for dimension, coded in part.codes.items()
        }  # fmt: skip
        for each in said.values():
            chance *= each
        return chance


OF_BILL: Final = 0
"""The place of a bill that has no lines: it is coded as a whole."""
CHARGES, ALLOWANCES = -1, -2
FOOT: Final = {CHARGES: "charges", ALLOWANCES: "allowances"}
"""What is stated at the foot of a bill and booked beside its lines: places below zero, and the
fields that state it; allowances take off."""


def lines_to_code(reading: Reading) -> list[tuple[int, str, Money]]:
    """Place, description and amount of all that is booked: each line by its number, then charges
    and allowances at the foot; the net total (`OF_BILL`) where no line is stated."""
    found = [
        (at, cell_text(row, "description") or "", amount)
        for at, row in enumerate(reading.lines, 1)
        if (amount := cell_money(row, "amount")) is not None
    ]
    if not found:
        net = reading.money("net_total")
        return [(OF_BILL, "", net)] if net is not None else []
    for place, name in FOOT.items():
        amount = reading.money(name)
        if amount is not None and amount.amount:
            found.append((place, name, -amount if place == ALLOWANCES else amount))
    return found


def place_of(key: str) -> int | None:
    """The place of a number, of `charges` or `allowances`; None for what is none."""
    if key.isdecimal():
        return int(key)
    return next((place for place, name in FOOT.items() if name == key), None)


def key_of(place: int) -> str:
    """A place as it is written: see `place_of`."""
    return FOOT.get(place, str(place))


def path_of(place: int) -> str:
    """The value that a place is about, as findings name it."""
    return FOOT.get(place) or (f"lines[{place}].amount" if place else "net_total")


def coded_at_hand(
    said: Iterable[ByHand], at: int, description: str, amount: Money
) -> Proposal | None:
    """What a person said of this very line; None where nobody did, or it was another line."""
    for each in said:
        if (each.line, each.description, each.amount) == (at, description, amount.plain()):
            return Proposal(source=Source.PERSON, codes=each.codes, shares=each.shares)
    return None


def code_line(at: int, description: str, amount: Money, proposals: Iterable[Proposal]) -> CodedLine:
    """A line with the codes of those who say any, the first of them prevailing for each.

    Who splits the line first decides how; codes of a share prevail over those of the whole line.

    Args:
        at, description, amount: of the line.
        proposals: of all sources, in the order in which they prevail.
    """
    every = list(proposals)
    codes: dict[Dimension, Coded] = {}
    for each in every:
        for dimension, code in each.codes.items():
            if code and dimension not in codes:
                codes[dimension] = Coded(
                    code=code, source=each.source, chance=each.chances.get(dimension, 1.0),
                    why=each.why.get(dimension, ""),
                )  # fmt: skip
    splits = next((each for each in every if each.shares), None)
    if splits is None:
        part = Part(amount=amount, codes=codes)
        return CodedLine(at=at, description=description, amount=amount, parts=(part,))
    amounts, problem = _shared(amount, splits.shares)
    parts = tuple(
        Part(amount=each, codes={
            **codes,
            **{d: Coded(code=c, source=splits.source) for d, c in share.codes.items() if c},
        })
        for each, share in zip(amounts, splits.shares, strict=True)
    )  # fmt: skip
    return CodedLine(at=at, description=description, amount=amount, parts=parts, problem=problem)


def _shared(amount: Money, shares: Sequence[Share]) -> tuple[list[Money], str]:
    """Amounts of shares, and why they are not the whole; percentages are of the line.

    What rounding leaves goes to the last share; so does all that is left, where one names neither.
    """
    whole, currency = amount.amount, amount.currency
    rest = [at for at, share in enumerate(shares) if share.percent is None and share.amount is None]
    if len(rest) > 1:
        return [amount, *([amount - amount] * (len(shares) - 1))], "several shares say how much not"
    found = [
        share.amount if share.amount is not None
        else round_half_up(whole * (share.percent or Decimal(0)) / 100, currency)
        for share in shares
    ]  # fmt: skip
    left = whole - sum(found, Decimal(0))
    percent = sum((share.percent or Decimal(0) for share in shares), Decimal(0))
    problem = ""
    if rest:
        found[rest[0]] += left
        if (left < 0) != (whole < 0) and left:
            problem = f"the other shares take {abs(left):,f} {currency} too much"
    elif all(share.percent is not None for share in shares) and percent == 100:
        found[-1] += left
    elif left:
        problem = (
            f"the shares come to {whole - left:,f} {currency}, {abs(left):,f} "
            f"{'too little' if (left > 0) == (whole > 0) else 'too much'}"
        )
    return [Money(amount=each, currency=currency) for each in found], problem


def tax_code_of(
    codes: Iterable[TaxCode], *, country: str, category: str, rate: Decimal | None, supply: str = ""
) -> TaxCode | None:
    """The tax code for a line; of several that fit the one that says most of it.

    Args:
        codes: of the ledger.
        country: of the vendor.
        category: of the tax; empty for not stated.
        rate: in percent; None for not stated.
        supply: `goods` or `services`; empty for not known.
    """
    best, found = -1, None
    for each in codes:
        asked = (
            (each.country, country), (each.category, category), (each.rate, rate),
            (each.supply, supply),
        )  # fmt: skip
        if each.closed or any(ours not in ("", None) and ours != said for ours, said in asked):
            continue
        closeness = sum(ours not in ("", None) for ours, _ in asked)
        if closeness > best:
            best, found = closeness, each
        elif closeness == best:
            found = None  # two fit equally well: a person chooses
    return found
