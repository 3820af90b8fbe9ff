"""Totals and tax lines, chosen so that what is printed adds up where it does.

Only values that stand on the page are chosen from. A document whose printed
figures do not add up keeps them: the checks report it, nothing is mended here.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from decimal import Decimal
from itertools import product

from veridox.core.extract.header import as_field
from veridox.core.extract.sheet import LabelHit, Sheet
from veridox.core.extract.spans import spans_of
from veridox.core.extract.values import Found, FoundNumber, numbers
from veridox.core.money import Money, minor_unit
from veridox.core.pages import Box, Word
from veridox.core.reading import Candidate, Field, Row
from veridox.core.reading.reading import cell_money

NAMES = ("lines_total", "charges", "net_total", "tax_total", "gross_total")
MOST = 5
"""Candidates per field that enter the search for a set that adds up."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Amount:
    """A candidate for a total.

    Attributes:
        found: the money with its place.
        rates: percent figures beside it (a tax line names its rate).
        bases: other amounts between label and value (a tax line may name its base).
    """

    found: Found
    rates: tuple[FoundNumber, ...] = ()
    bases: tuple[FoundNumber, ...] = ()


@dataclass(frozen=True, kw_only=True, slots=True)
class Totals:
    """The chosen totals by field name, and the tax lines."""

    fields: dict[str, Field]
    tax_lines: tuple[Row, ...]


def totals(sheet: Sheet, currency: str | None, lines: tuple[Row, ...], below: Box | None) -> Totals:
    """Find the totals.

    Args:
        sheet: the document.
        currency: of the document; without one no amount can be stated.
        lines: the line table, a witness for the net total.
        below: header of the line table: labels inside it are no totals.
    """
    if currency is None:
        return Totals(fields={}, tax_lines=())
    candidates = {name: _candidates(sheet, name, currency, below) for name in NAMES}
    taxes = [amount for amount in candidates["tax_total"] if amount.rates]
    candidates["tax_total"] = [amount for amount in candidates["tax_total"] if not amount.rates]
    tax_lines = tuple(_tax_line(amount, currency) for amount in _distinct(taxes))
    if not candidates["tax_total"] and len(tax_lines) == 1:
        candidates["tax_total"] = taxes[:1]
    chosen, proved = _choose(candidates, lines, currency)
    fields = {
        name: _field(amount, candidates[name], name in proved) for name, amount in chosen.items()
    }
    if "tax_total" not in fields and tax_lines:
        fields["tax_total"] = _derived_tax(tax_lines, currency)
    return Totals(fields=fields, tax_lines=tax_lines)


def _candidates(sheet: Sheet, name: str, currency: str, below: Box | None) -> list[Amount]:
    found: list[Amount] = []
    for hit in sheet.hits_of(name):
        if below is not None and hit.row.page == 1 and abs(hit.box.top - below.top) < 2:
            continue
        amount = _amount(hit, sheet, currency)
        if amount is not None:
            found.append(amount)
    return found


def _row_words(hit: LabelHit) -> tuple[Word, ...]:
    return hit.row.words[hit.last + 1 :]


def _amount(hit: LabelHit, sheet: Sheet, currency: str) -> Amount | None:
    """The last amount right of the label, else the one below it."""
    found = numbers(_row_words(hit), sheet.numbers)
    # In "Net 100.00   VAT 20.00" the second label ends the reach of the first.
    stop = min(
        (
            other.box.left
            for other in sheet.hits
            if other.row is hit.row and other.first > hit.last and other.label.field in NAMES
        ),
        default=float("inf"),
    )
    before = numbers(hit.row.words[hit.first : hit.last + 1], sheet.numbers)
    inside = [each for each in found if each.words[0].box.left < stop]
    rates = tuple(each for each in (*before, *inside) if each.percent)
    money = [each for each in inside if not each.percent and _like_money(each, sheet)]
    if money:
        last = money[-1]
        return Amount(
            found=_found(last, hit, currency, 0.99),
            rates=rates,
            bases=tuple(money[:-1]),
        )
    for span in spans_of(hit, sheet):
        below = [n for n in numbers(span.words, sheet.numbers) if _like_money(n, sheet)]
        if below and span.trust >= 0.97 and not below[0].percent:
            return Amount(found=_found(below[0], hit, currency, 0.95), rates=rates)
    return None


def _like_money(number: FoundNumber, sheet: Sheet) -> bool:
    """Totals are printed with decimals or a currency; a bare whole number is something else."""
    text = number.words[-1].text
    return number.currency is not None or sheet.numbers.decimal in text.rstrip("€£")


def _found(number: FoundNumber, hit: LabelHit, currency: str, trust: float) -> Found:
    return Found(
        value=Money(amount=number.number, currency=number.currency or currency),
        text=" ".join(word.text for word in number.words),
        page=hit.row.page,
        box=Box.around(word.box for word in number.words),
        trust=trust * (0.97 + 0.01 * min(3, len(hit.label.words))),
    )


def _distinct(amounts: list[Amount]) -> list[Amount]:
    seen: dict[tuple[Decimal, object], Amount] = {}
    for amount in amounts:
        seen.setdefault((amount.rates[0].number, amount.found.value), amount)
    return list(seen.values())


def _tax_line(amount: Amount, currency: str) -> Row:
    found, rate = amount.found, amount.rates[0]
    row = {
        "rate": Field(
            value=rate.number,
            text=" ".join(word.text for word in rate.words),
            page=found.page,
            box=Box.around(word.box for word in rate.words),
            confidence=0.98,
        ),
        "amount": as_field(found, 0.98),
    }
    for base in amount.bases:
        expected = base.number * rate.number / 100
        value = found.value
        if isinstance(value, Money) and abs(expected - value.amount) <= minor_unit(currency):
            row["base"] = Field(
                value=Money(amount=base.number, currency=currency),
                text=" ".join(word.text for word in base.words),
                page=found.page,
                box=Box.around(word.box for word in base.words),
                confidence=0.99,
            )
    return row


def _money(amount: Amount | None) -> Decimal | None:
    if amount is None or not isinstance(amount.found.value, Money):
        return None
    return amount.found.value.amount


def _choose(
    candidates: dict[str, list[Amount]], lines: tuple[Row, ...], currency: str
) -> tuple[dict[str, Amount], set[str]]:
    """The set of candidates with the most trust and the most equations that hold.

    Returns the chosen amounts and the names that an equation vouches for.
    """
    amounts = [cell_money(row, "amount") for row in lines]
    summed = sum((money.amount for money in amounts if money), Decimal(0)) if lines else None
    options: list[list[Amount | None]] = []
    for name in NAMES:
        best = sorted(candidates[name], key=lambda each: -each.found.trust)[:MOST]
        options.append([*best, None] if best else [None])
    best_score, best_set, best_proved = -1.0, {}, set[str]()
    for combination in product(*options):
        picked = {name: each for name, each in zip(NAMES, combination, strict=True) if each}
        spots = {(each.found.page, each.found.box) for each in picked.values()}
        if len(spots) < len(picked):
            continue
        proved = set(_proved(picked, summed, minor_unit(currency)))
        score = sum(each.found.trust for each in picked.values()) + 0.8 * len(proved)
        if score > best_score:
            best_score, best_set, best_proved = score, picked, proved
    return best_set, best_proved


def _proved(picked: dict[str, Amount], lines: Decimal | None, unit: Decimal) -> Iterator[str]:
    """Names of the picked totals that take part in an equation that holds."""
    value = {name: _money(picked.get(name)) for name in NAMES}
    net, tax, gross = value["net_total"], value["tax_total"], value["gross_total"]
    charges = value["charges"] or Decimal(0)
    if net is not None and tax is not None and gross is not None and net + tax == gross:
        yield from ("net_total", "tax_total", "gross_total")
    if lines is not None and net is not None and abs(lines + charges - net) <= unit:
        yield "net_total"
        if value["charges"] is not None:
            yield "charges"
    if lines is not None and value["lines_total"] is not None and lines == value["lines_total"]:
        yield "lines_total"


def _field(amount: Amount, every: list[Amount], proved: bool) -> Field:
    rivals = {
        other.found.value: Candidate(
            value=other.found.value,
            confidence=0.01 if proved else 0.1,
            page=other.found.page,
            box=other.found.box,
        )
        for other in every
        if other.found.value != amount.found.value
    }
    confidence = 0.9995 if proved else amount.found.trust * (0.97 if not rivals else 0.85)
    return as_field(amount.found, confidence, tuple(rivals.values())[:4])


def _derived_tax(tax_lines: tuple[Row, ...], currency: str) -> Field:
    from veridox.core.reading import Origin

    amounts = [cell_money(row, "amount") for row in tax_lines]
    value = sum((money.amount for money in amounts if money), Decimal(0))
    first = tax_lines[0]["amount"]
    return Field(
        value=Money(amount=value, currency=currency),
        text=" + ".join(row["amount"].text for row in tax_lines),
        page=first.page,
        box=first.box,
        confidence=0.97,
        origin=Origin.DERIVED,
    )
