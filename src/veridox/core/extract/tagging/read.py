"""Fields, lines and kind from tagged words, with what labels and rules say as evidence."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal

from veridox.core.extract.cells import line_holds
from veridox.core.extract.confidence import group_of
from veridox.core.extract.hints import Hints
from veridox.core.extract.tagging.amounts import currency, named_twice, totals, usual_currency
from veridox.core.extract.tagging.header import decided
from veridox.core.extract.tagging.lines import lines
from veridox.core.extract.tagging.network import Network
from veridox.core.extract.tagging.tagged import Tagged, tag
from veridox.core.extract.tagging.tokens import document_of
from veridox.core.extract.tagging.witness import with_evidence
from veridox.core.locales.dates import DateOrder
from veridox.core.money import Money
from veridox.core.pages import Page
from veridox.core.reading import Field, Kind, Reading, Row

ITS_NUMBER = {
    Kind.PURCHASE_ORDER: "order_number",
    Kind.ORDER_CONFIRMATION: "order_number",
    Kind.DELIVERY_NOTE: "delivery_note",
}
"""What the number of a document that is no bill is called."""
SUMMED = 1.5
"""What it is worth that lines make a total that is stated, in lines whose product holds."""
TOLD_BY_NETWORK, AGAINST_TITLE = 0.6, 0.9
"""Chance from which the network's kind is believed where no title tells, and against a weak one."""
TITLED = 0.95
"""Chance from which a title is believed whatever else is said."""


@dataclass(frozen=True, kw_only=True)
class Told:
    """What a document states.

    Attributes:
        fields, lines, tax_lines: as a reading has them; confidences are not yet chances.
        proved: totals that an equation vouches for.
        kind, kind_chance: of the whole.
    """

    fields: dict[str, Field]
    lines: tuple[Row, ...]
    tax_lines: tuple[Row, ...]
    proved: frozenset[str]
    kind: Kind
    kind_chance: float

    @property
    def lines_add_up(self) -> bool:
        """Whether the lines make a total that is stated."""
        return made(self.lines) in stated(self.fields)

    def group(self, name: str) -> str:
        """The group of values whose chances a field shares."""
        return group_of(name, self.proved)


def country_of(fields: Mapping[str, Field]) -> str:
    """Of the seller, by its tax id or account; empty where neither tells."""
    for name in ("seller.tax_id", "account"):
        field = fields.get(name)
        text = str(field.value)[:2].upper() if field is not None else ""
        if text.isalpha() and len(text) == 2:
            return text
    return ""


def told(pages: tuple[Page, ...], hints: Hints, network: Network, seen: Reading) -> Told:
    """Read the pages of one document.

    Args:
        pages: in order, with words.
        hints: what is known before.
        network: that tags words.
        seen: what labels, rules and trees made of the same pages: evidence beside what words say;
            an empty one leaves the network alone.
    """
    tagged = with_evidence(tag(document_of(pages), network), seen.fields)
    fields = decided(tagged, hints)
    found = currency(tagged, country_of(fields), seen.language)
    if found is None:
        found = seen.fields.get("currency") or usual_currency(country_of(fields), seen.language)
    if found is not None and tagged.document.order is None:
        tagged, fields = _with_days(tagged, fields, hints, str(found.value), seen.language)
    kind, kind_chance = _kind(tagged, seen)
    if found is None:
        return Told(
            fields=renamed(fields, kind),
            lines=(),
            tax_lines=(),
            proved=frozenset(),
            kind=kind,
            kind_chance=kind_chance,
        )
    code = str(found.value)
    own = lines(tagged, code)
    amounts, taxes, proved = totals(tagged, code, own)
    fields = renamed({**fields, "currency": found, **named_twice(tagged, amounts)}, kind)
    rows = (
        own if explained(own, fields, code) >= explained(seen.lines, fields, code) else seen.lines
    )
    return Told(
        fields=fields,
        lines=rows,
        tax_lines=taxes or (seen.tax_lines if "tax_total" in fields else ()),
        proved=proved,
        kind=kind,
        kind_chance=kind_chance,
    )


def _with_days(
    tagged: Tagged, fields: dict[str, Field], hints: Hints, code: str, language: str
) -> tuple[Tagged, dict[str, Field]]:
    """The same with numeric dates read in the order that is usual where the currency is."""
    usual = DateOrder.MONTH_FIRST if code == "USD" and language == "en" else DateOrder.DAY_FIRST
    again = Tagged(document_of(tagged.document.pages, usual), tagged.chances, tagged.kinds)
    days = {name: field for name, field in decided(again, hints).items() if name.endswith("_date")}
    return again, {**fields, **days}


def _kind(tagged: Tagged, seen: Reading) -> tuple[Kind, float]:
    name, chance = tagged.kind
    kind = Kind(name)
    if kind is seen.kind:
        return kind, max(chance, seen.kind_confidence)
    if seen.kind_confidence >= TITLED:
        return seen.kind, seen.kind_confidence
    if chance >= (TOLD_BY_NETWORK if seen.kind is Kind.OTHER else AGAINST_TITLE):
        return kind, chance
    return seen.kind, seen.kind_confidence


def made(rows: Sequence[Row]) -> Decimal:
    """What lines make together, without a sign; 0 where there are no amounts."""
    amounts = [
        cell.value.amount
        for row in rows
        if (cell := row.get("amount")) is not None and isinstance(cell.value, Money)
    ]
    return abs(sum(amounts, Decimal(0)))


def stated(fields: Mapping[str, Field]) -> set[Decimal]:
    """Totals that lines may make."""
    totals = (fields.get(name) for name in ("lines_total", "net_total", "gross_total"))
    return {
        abs(field.value.amount)
        for field in totals
        if field is not None and isinstance(field.value, Money) and field.value.amount
    }


def explained(rows: Sequence[Row], fields: Mapping[str, Field], code: str) -> float:
    """How many lines hold, and whether together they make a total that is stated."""
    return sum(bool(line_holds(row, code)) for row in rows) + SUMMED * (
        made(rows) in stated(fields)
    )


def renamed(fields: dict[str, Field], kind: Kind) -> dict[str, Field]:
    """Fields by the names that a kind has for them: an order's number is no invoice's."""
    goal = ITS_NUMBER.get(kind)
    if goal is None or "number" not in fields or goal in fields:
        return fields
    own = {name: field for name, field in fields.items() if name != "number"}
    return {**own, goal: fields["number"]}
