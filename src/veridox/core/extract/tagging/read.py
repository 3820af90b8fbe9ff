"""A reading of the pages of one document: words are tagged, then decided together."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from decimal import Decimal

from veridox.core.extract.checksums import tax_id_holds
from veridox.core.extract.confidence import Signs, Vouched, group_of
from veridox.core.extract.hints import Hints
from veridox.core.extract.parties import is_ours
from veridox.core.extract.sheet import DAY_FIRST_CURRENCIES
from veridox.core.extract.tagging.amounts import Named, labelled, named_twice, totals
from veridox.core.extract.tagging.columns import by_heads
from veridox.core.extract.tagging.currency import currency, usual_currency
from veridox.core.extract.tagging.header import DAYS, IDS, decided, numbers_and_days
from veridox.core.extract.tagging.kinds import kind_of
from veridox.core.extract.tagging.lines import before, lines, unnamed_charge, untitled
from veridox.core.extract.tagging.network import Network
from veridox.core.extract.tagging.orders import with_orders
from veridox.core.extract.tagging.tagged import Span, Tagged, held_together, tag
from veridox.core.extract.tagging.tags import TOTALS
from veridox.core.extract.tagging.tokens import document_of, with_order
from veridox.core.extract.thresholds import AS_WELL
from veridox.core.locales.dates import DateOrder
from veridox.core.locales.labels import lexicon, normalise
from veridox.core.money import Money
from veridox.core.pages import Page
from veridox.core.reading import Field, Kind, Row

ITS_NUMBER = {
    Kind.PURCHASE_ORDER: "order_number",
    Kind.ORDER_CONFIRMATION: "order_number",
    Kind.DELIVERY_NOTE: "delivery_note",
}
"""What the number of a document that is no bill is called."""
NOT_BESIDE = {Named.ABOVE: "named above", Named.NOWHERE: "unnamed"}
STARTS = ("lines_total", "charges")
"""What sums begin with."""
BILLS = frozenset({Kind.INVOICE, Kind.CREDIT_NOTE, Kind.TILL_RECEIPT, Kind.PRO_FORMA})
"""Kinds whose total is what they ask for."""


@dataclass(frozen=True, kw_only=True)
class Told:
    """What a document states.

    Attributes:
        fields, lines, tax_lines: as a reading has them; confidences are not yet chances.
        proved: totals that an equation vouches for, tax ids whose check digits do.
        rivalled: fields beside which another value stands of which nothing tells the difference.
        either: dates of which nobody says whether day or month comes first, and a currency whose
            sign others share.
        named: where the labels of numbers, dates and totals stand.
        kind, kind_chance, titled: of the whole; whether a title that the lexicon has names it.
        language: ISO 639-1, empty when nothing tells.
        headed: whether columns of lines are named.
        clear: how clearly words are told, in the whole document.
        held: how surely the words of names and numbers are one value, and all of it.
    """

    fields: dict[str, Field]
    lines: tuple[Row, ...]
    tax_lines: tuple[Row, ...]
    proved: frozenset[str]
    rivalled: frozenset[str]
    either: frozenset[str]
    named: Mapping[str, Named]
    kind: Kind
    kind_chance: float
    titled: bool
    language: str
    headed: bool
    clear: float
    held: Mapping[str, float]

    def signs(self, name: str) -> Signs:
        """What speaks for a header field."""
        said = self.fields[name].confidence
        return said, self.clear, self.held.get(name, said)

    @property
    def contested(self) -> frozenset[str]:
        """Fields beside which another value stands that is as likely, or that nothing tells apart:
        a person chooses."""
        equal = {
            name
            for name, field in self.fields.items()
            if any(other.confidence >= AS_WELL for other in field.others)
        }
        return self.rivalled | equal

    @property
    def kind_signs(self) -> Signs:
        """What speaks for the kind."""
        return self.kind_chance, self.clear, self.kind_chance

    @property
    def vouched(self) -> Vouched:
        """What speaks for the lines."""
        return Vouched(summed=made(self.lines) in stated(self.fields), headed=self.headed)

    def group(self, name: str) -> str:
        """The group of values whose chances a field shares."""
        if name in self.either:
            return f"{name}, either"
        if name in self.rivalled:
            return f"{name}, doubted"
        group = group_of(name, self.fields[name], self.proved)
        named = self.named.get(name, Named.LEFT)
        return group if named is Named.LEFT or group != name else f"{name}, {NOT_BESIDE[named]}"

    @property
    def kind_group(self) -> str:
        """The group of documents whose chance the kind shares."""
        return "kind, titled" if self.titled else "kind"


def country_of(fields: Mapping[str, Field]) -> str:
    """Of the seller, by its tax id or account; empty where neither tells."""
    for name in ("seller.tax_id", "account"):
        field = fields.get(name)
        text = str(field.value)[:2].upper() if field is not None else ""
        if text.isalpha() and len(text) == 2:
            return text
    return ""


def told(pages: tuple[Page, ...], hints: Hints, network: Network) -> Told:
    """Read the pages of one document.

    Args:
        pages: in order, with words.
        hints: what is known before.
        network: that tags words.
    """
    tagged = tag(document_of(pages), network)
    kind, kind_chance, titled = kind_of(tagged)
    language = tagged.document.language
    fields = decided(tagged, hints)
    country = country_of(fields)
    printed, shared = currency(tagged, country, language) or (None, False)
    found = printed or usual_currency(country, language)
    either = frozenset({"currency"} if shared else ())
    named = _named(tagged, fields)
    money = _Money()
    if found is not None:
        code = str(found.value)
        if tagged.document.order is None:
            if code == "USD" and language == "en":
                tagged, fields = _month_first(tagged, fields)
            if code not in DAY_FIRST_CURRENCIES or (language == "en" and code != "GBP"):
                either |= {name for name, field in fields.items() if _either_order(field)}
        money = _money(tagged, code, billed=kind in BILLS)
        fields = {**fields, "currency": found, **money.totals}
        money = replace(money, lines=with_orders(tagged, money.lines))
    proved = money.proved | _checked(fields)
    rivalled = frozenset({"issue_date"} if _another_bare_day(tagged, fields, named) else ())
    return Told(
        fields=renamed(fields, kind),
        lines=money.lines,
        tax_lines=money.taxes,
        proved=proved,
        rivalled=rivalled,
        either=either,
        named=named | money.named,
        kind=kind,
        kind_chance=kind_chance,
        titled=titled,
        language=language,
        clear=tagged.clear,
        held=_held(tagged, fields, hints),
        headed=bool({"header.quantity", "header.unit_price"} & set(tagged.best)),
    )


@dataclass(frozen=True, kw_only=True)
class _Money:
    """What a document states in its currency."""

    totals: dict[str, Field] = field(default_factory=dict)
    lines: tuple[Row, ...] = ()
    taxes: tuple[Row, ...] = ()
    proved: frozenset[str] = frozenset()
    named: dict[str, Named] = field(default_factory=dict)


def _money(tagged: Tagged, code: str, *, billed: bool) -> _Money:
    """Lines, totals and taxes; `billed`: whether what is due may be the total."""
    rows = lines(by_heads(tagged), code)
    amounts, taxes, proved = totals(tagged, code, rows, billed=billed)
    if not rows and (rows := untitled(tagged, amounts)):
        amounts = {name: amounts[name] for name in amounts if name not in STARTS}
    if (last := unnamed_charge(tagged, rows, amounts)) is not None:
        rows = (*rows, last)
        amounts = {name: amounts[name] for name in amounts if name != "charges"}
    if billed:
        amounts = named_twice(tagged, amounts)
    named = _named(tagged, amounts)
    if "amount_due" in amounts and amounts.get("gross_total") is amounts["amount_due"]:
        # One amount: a label of either names it.
        either = min(named["gross_total"], named["amount_due"], key=list(Named).index)
        named |= {"gross_total": either, "amount_due": either}
    return _Money(totals=amounts, lines=rows, taxes=taxes, proved=proved, named=named)


TEXTS = ("seller.name", "buyer.name", "number", "order_number")
"""Fields whose beginning and end are doubted more than that they are there."""


def _held(tagged: Tagged, fields: Mapping[str, Field], hints: Hints) -> dict[str, float]:
    """How surely the words of each such field are one value, and all of it; the name of one of
    ours is."""
    found = {}
    for name in TEXTS:
        field = fields.get(name)
        ours = field is not None and is_ours(str(field.value), hints)
        if field is None or field.box is None or ours:
            continue
        own = tagged.within(field.box, field.page or 0)
        if own:
            words = tuple(tagged.tokens[at] for at in own)
            if name == "number" and any(word.day is not None for word in words):
                continue  # it looks like a day, and a label says that it is none
            found[name] = held_together(tagged, name, Span(tuple(own), words, 1.0))
    return found


def _named(tagged: Tagged, fields: Mapping[str, Field]) -> dict[str, Named]:
    """Where the labels of numbers, dates and totals stand; one that says something else is none."""
    found = {}
    for name in (*IDS, *DAYS, *TOTALS):
        if name in fields:
            said = labelled(tagged, fields[name], f"label.{name}")
            otherwise = _called_otherwise(tagged, fields[name])
            found[name] = Named.NOWHERE if otherwise else said
    return found


LONGEST_LABEL = 4
"""Words of a label that are looked at."""


def _called_otherwise(tagged: Tagged, field: Field) -> bool:
    """Whether the words right before a field are the lexicon's label of what is no field."""
    words = [word for at in before(tagged, field) for word in normalise(tagged.tokens[at].text)]
    for count in range(min(len(words), LONGEST_LABEL), 0, -1):
        tail = tuple(words[-count:])
        label = lexicon("header").match(tail, 0, tagged.document.languages)
        if label is not None and len(label.words) == count:
            return label.field.startswith("not.")
    return False


def _another_bare_day(
    tagged: Tagged, fields: Mapping[str, Field], named: Mapping[str, Named]
) -> bool:
    """Whether the day of issue has no label, and another day that is no field has none either."""
    issued = fields.get("issue_date")
    if issued is None or named.get("issue_date") is not Named.NOWHERE:
        return False
    known = {field.value for name, field in fields.items() if name in DAYS}
    tokens, best = tagged.tokens, tagged.best
    for at, token in enumerate(tokens):
        if token.day is None or not token.first or token.day in known:
            continue
        if best[at].startswith("line.") or token.page != issued.page:
            continue
        before = tokens[at - 1] if at else None
        if before is None or before.row != token.row or not best[at - 1].startswith("label."):
            return True
    return False


def _checked(fields: Mapping[str, Field]) -> frozenset[str]:
    """Tax ids that vouch for themselves."""
    names = ("seller.tax_id", "buyer.tax_id")
    return frozenset(
        name for name in names if name in fields and tax_id_holds(str(fields[name].value))
    )


_NUMERIC = re.compile(r"\d{1,2}[./-] ?\d{1,2}[./-] ?(?:\d{2}){1,2}\.?")
TWELVE = 12


def _either_order(field: Field) -> bool:
    """Whether a date could be another if month and day were read the other way round."""
    day = field.value
    if not isinstance(day, date) or not _NUMERIC.fullmatch(field.text):
        return False
    return day.day <= TWELVE and day.day != day.month


def _month_first(tagged: Tagged, fields: dict[str, Field]) -> tuple[Tagged, dict[str, Field]]:
    """The same with numeric dates read as Americans write them; else the day comes first."""
    again = replace(tagged, document=with_order(tagged.document, DateOrder.MONTH_FIRST))
    found = numbers_and_days(again)
    return again, {**fields, **{name: found[name] for name in DAYS if name in found}}


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
    names = ("lines_total", "net_total", "gross_total")
    found = (fields.get(name) for name in names)
    return {
        abs(field.value.amount)
        for field in found
        if field is not None and isinstance(field.value, Money) and field.value.amount
    }


def renamed(fields: dict[str, Field], kind: Kind) -> dict[str, Field]:
    """Fields by the names that a kind has for them: an order's number is no invoice's."""
    goal = ITS_NUMBER.get(kind)
    if goal is None or "number" not in fields or goal in fields:
        return fields
    own = {name: field for name, field in fields.items() if name != "number"}
    return {**own, goal: fields["number"]}
