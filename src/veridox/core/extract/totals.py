"""Totals and tax lines, chosen so that what is printed adds up where it does.

Only values that stand on the page are chosen from. A document whose printed
figures do not add up keeps them: the checks report it, nothing is mended here.
"""

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from itertools import product

from veridox.core.extract.header import as_field
from veridox.core.extract.sheet import LabelHit, Sheet
from veridox.core.extract.spans import spans_of
from veridox.core.extract.values import Found, FoundNumber, figures, numbers
from veridox.core.money import Money, minor_unit
from veridox.core.pages import Box, TextRow, Word
from veridox.core.reading import Candidate, Field, Origin, Row
from veridox.core.reading.reading import cell_money

NAMES = (
    "lines_total", "allowances", "charges", "net_total", "tax_total", "gross_total", "prepaid",
    "withheld", "amount_due",
)  # fmt: skip
TAKEN_OFF = frozenset({"allowances", "prepaid", "withheld"})
"""Printed with or without a minus, stored without."""
TAX_LINE = "tax_line"
"""The tax of one rate among several."""
MOST = 5
"""Candidates per field that enter the search for a set that adds up."""
MOST_AMOUNTS = 40
"""Amounts among which three that belong together are looked for without labels."""
PROVED = 0.6
"""What an equation that holds is worth, in candidates."""
LEFT = 0.3
"""What is left of the doubt in an amount that an equation vouches for."""
DOUBT = 0.4
"""Trust below which a candidate that nothing proves is rather left out."""


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

    @property
    def value(self) -> Decimal:
        """The bare amount."""
        money = self.found.value
        return money.amount if isinstance(money, Money) else Decimal(0)


@dataclass(frozen=True, kw_only=True, slots=True)
class Totals:
    """The chosen totals by field name, the tax lines, and which totals an equation vouches for."""

    fields: dict[str, Field]
    tax_lines: tuple[Row, ...]
    proved: frozenset[str] = frozenset()


Picked = dict[str, Amount]


def totals(
    sheet: Sheet, currency: str | None, lines: tuple[Row, ...], headers: Sequence[TextRow],
    likely: Mapping[str, Sequence[Found]] | None = None,
) -> Totals:  # fmt: skip
    """Find the totals.

    Args:
        sheet: the document.
        currency: of the document; without one no amount can be stated.
        lines: the line table, a witness for the net total.
        headers: of the line table: labels inside them, or inside lines, are no totals.
        likely: by field, amounts that a model gives some chance, their trust; then labels are
            not looked at again.
    """
    if currency is None:
        return Totals(fields={}, tax_lines=())
    spots = _spots(lines)
    inside = [*headers, *(row for row in sheet.rows if _is_line(row, spots))]
    if likely is None:
        candidates = {name: _candidates(sheet, name, currency, inside) for name in NAMES}
        named = [amount for amount in candidates["tax_total"] if amount.rates]
    else:
        candidates = {
            name: [_in_its_row(each, name, sheet) for each in likely.get(name, ())]
            for name in (*NAMES, TAX_LINE)
        }
        for name in NAMES:
            candidates[name] += _labelled(
                _candidates(sheet, name, currency, inside), candidates[name]
            )
        named = [
            amount
            for amount in (*candidates[TAX_LINE], *candidates["tax_total"])
            if amount.rates and amount.found.trust >= DOUBT
        ]
    if not candidates["net_total"]:
        # Without discounts or charges the sum of lines is the net total, and called that.
        candidates["net_total"] = candidates["lines_total"]
    named.sort(key=lambda each: (each.found.page, each.found.box.top))
    taxes = _distinct(named)
    tax_lines = tuple(_tax_line(amount, currency) for amount in taxes)
    candidates["tax_total"] = [a for a in candidates["tax_total"] if not a.rates] + (
        taxes[:1] if len(taxes) == 1 else []
    )
    unit = minor_unit(currency)
    chosen, proved = _choose(candidates, taxes, lines, unit)
    if not {"net_total", "gross_total"} & proved:
        # No label says it, or not rightly: what adds up and fits a stated rate says it too.
        unlabelled = _unlabelled(sheet, currency, lines, unit)
        # What a label names stays as it is printed, also when it does not add up.
        if all(chosen.get(name, each).value == each.value for name, each in unlabelled.items()):
            chosen = {**unlabelled, **chosen}
    fields = {
        name: _field(amount, candidates[name], name in proved) for name, amount in chosen.items()
    }
    if "tax_total" not in fields and tax_lines:
        fields["tax_total"] = _derived_tax(tax_lines, currency)
    return Totals(fields=fields, tax_lines=tax_lines, proved=frozenset(proved))


_Spots = frozenset[tuple[int | None, float, float]]


def _spots(lines: tuple[Row, ...]) -> _Spots:
    """Where the cells of lines begin: page, left, top."""
    boxes = [(cell.page, cell.box) for row in lines for cell in row.values() if cell.box]
    return frozenset((page, round(box.left, 1), round(box.top, 1)) for page, box in boxes)


def _is_line(row: TextRow, spots: _Spots) -> bool:
    """Whether a row is one of the lines: a line for carriage is no total of charges."""
    return any((row.page, round(w.box.left, 1), round(w.box.top, 1)) in spots for w in row.words)


# -- candidates


def _candidates(sheet: Sheet, name: str, currency: str, headers: Sequence[TextRow]) -> list[Amount]:
    found: list[Amount] = []
    for hit in sheet.hits_of(name):
        if any(hit.row is header for header in headers):
            continue
        amount = _amount(hit, sheet, currency)
        if amount is None:
            continue
        if name in TAKEN_OFF and amount.value < 0:
            money = replace(amount.found, value=Money(amount=-amount.value, currency=currency))
            amount = replace(amount, found=money)
        found.append(amount)
    return found


LABELLED = 0.45
"""Trust in an amount beside a label that the lexicon has, where a model knows of none there."""


def _labelled(by_label: Sequence[Amount], known: Sequence[Amount]) -> list[Amount]:
    """Amounts that labels name and the model does not, trusted little.

    Where the model is sure of another, none: what is clearly named is not
    replaced by what happens to add up.
    """
    if max((each.found.trust for each in known), default=0.0) > 2 * LABELLED:
        return []
    places = {(each.found.page, each.found.box) for each in known}
    return [
        replace(each, found=replace(each.found, trust=LABELLED * each.found.trust))
        for each in by_label
        if (each.found.page, each.found.box) not in places
    ]


def _in_its_row(found: Found, name: str, sheet: Sheet) -> Amount:
    """An amount with the rates and the amounts that stand in its row before it."""
    row = next(
        row for row in sheet.rows
        if row.page == found.page and row.box.top <= found.box.middle[1] <= row.box.bottom
        and row.box.left <= found.box.middle[0] <= row.box.right
    )  # fmt: skip
    every = figures(row, sheet)
    if name in TAKEN_OFF and isinstance(found.value, Money) and found.value.amount < 0:
        found = replace(found, value=abs(found.value))
    return Amount(
        found=found,
        rates=tuple(each for each in every if each.percent),
        bases=tuple(
            each for each in every
            if not each.percent and each.words[-1].box.right <= found.box.left
        ),
    )  # fmt: skip


def _amount(hit: LabelHit, sheet: Sheet, currency: str) -> Amount | None:
    """The last amount right of the label, else the one below it."""
    found = numbers(hit.row.words[hit.last + 1 :], sheet.numbers)
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
    money = [each for each in inside if not each.percent and _like_money(each, sheet, currency)]
    if money:
        last = money[-1]
        return Amount(found=_found(last, hit, currency, 0.99), rates=rates, bases=tuple(money[:-1]))
    # Behind the label stands its rate at most: then the amount is below.
    alone = all(each.percent for each in inside)
    for span in spans_of(hit, sheet):
        below = [n for n in numbers(span.words, sheet.numbers) if _like_money(n, sheet, currency)]
        if below and (span.trust >= 0.97 or alone) and not below[0].percent:
            return Amount(found=_found(below[0], hit, currency, 0.95), rates=rates)
    return None


def _like_money(number: FoundNumber, sheet: Sheet, currency: str) -> bool:
    """Totals are printed with decimals or a currency; a bare whole number is something else."""
    if number.currency is not None or minor_unit(currency) == 1:
        return True
    return sheet.numbers.decimal in number.words[-1].text.strip("€£$krKR.")


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
            text=_text(rate.words),
            page=found.page,
            box=Box.around(word.box for word in rate.words),
            confidence=0.98,
        ),
        "amount": as_field(found, 0.98),
    }
    for base in amount.bases:
        expected = base.number * rate.number / 100
        if abs(expected - amount.value) <= minor_unit(currency):
            row["base"] = Field(
                value=Money(amount=base.number, currency=currency),
                text=_text(base.words),
                page=found.page,
                box=Box.around(word.box for word in base.words),
                confidence=0.99,
            )
    return row


def _text(words: tuple[Word, ...]) -> str:
    return " ".join(word.text for word in words)


def _unlabelled(sheet: Sheet, currency: str, lines: tuple[Row, ...], unit: Decimal) -> Picked:
    """Net, tax and total by arithmetic alone: three amounts of which two make the third, the tax
    being a stated rate of the net, or the net what the lines make. Empty unless just one set is."""
    rates: set[Decimal] = set()
    amounts: dict[Decimal, Found] = {}
    spots = _spots(lines)
    for row in sheet.rows:
        if _is_line(row, spots):
            continue
        for number in figures(row, sheet):
            place = Box.around(word.box for word in number.words)
            if number.percent:
                rates.add(number.number)
            elif number.number > 0 and _like_money(number, sheet, currency):
                money = Money(amount=number.number, currency=currency)
                amounts[number.number] = Found(
                    value=money, text=_text(number.words), page=row.page, box=place, trust=0.9
                )
    made = [cell_money(row, "amount") for row in lines]
    summed = sum((money.amount for money in made if money), Decimal(0))
    values = sorted(amounts)[-MOST_AMOUNTS:]
    sets = [
        (net, tax, net + tax)
        for net in values
        for tax in values
        if tax < net and net + tax in amounts and (
            any(rate > 0 and abs(net * rate / 100 - tax) <= unit for rate in rates)
            or (summed > 0 and abs(summed - net) <= unit)
        )
    ]  # fmt: skip
    if len(sets) != 1:
        return {}
    names = ("net_total", "tax_total", "gross_total")
    return {name: Amount(found=amounts[value]) for name, value in zip(names, sets[0], strict=True)}


# -- the choice


def _choose(
    candidates: dict[str, list[Amount]], taxes: list[Amount], lines: tuple[Row, ...],
    unit: Decimal,
) -> tuple[Picked, set[str]]:  # fmt: skip
    """The set of candidates with the most trust and the most equations that hold.

    The three that every bill has are chosen first, what leads to them and what follows from
    them after, each by its own equation. Returns the names that an equation vouches for, too.
    """
    amounts = [cell_money(row, "amount") for row in lines]
    summed = sum((money.amount for money in amounts if money), Decimal(0)) if lines else None
    tax = sum((amount.value for amount in taxes), Decimal(0)) if taxes else None
    picked, proved = _best(
        candidates, ("net_total", "tax_total", "gross_total"), {},
        lambda p: _main(p, summed, tax, unit),
    )  # fmt: skip
    for names, equation in (
        (("lines_total", "allowances", "charges"), lambda p: _leading(p, summed, unit)),
        (("prepaid", "withheld", "amount_due"), _following),
    ):
        more, held = _best(candidates, names, picked, equation)
        picked, proved = {**picked, **more}, proved | held
    return picked, proved


def _best(
    candidates: dict[str, list[Amount]], names: Sequence[str], given: Picked,
    equation: Callable[[Picked], Iterable[str]],
) -> tuple[Picked, set[str]]:  # fmt: skip
    """The candidates of some totals that are trusted most and prove each other."""
    taken = {(each.found.page, each.found.box) for each in given.values()}
    options: list[list[Amount | None]] = []
    for name in names:
        free = [a for a in candidates[name] if (a.found.page, a.found.box) not in taken]
        best = sorted(free, key=lambda each: -each.found.trust)[:MOST]
        options.append([*best, None] if best else [None])
    best_score, best_set, best_proved = 0.0, Picked(), set[str]()
    for combination in product(*options):
        picked = {name: each for name, each in zip(names, combination, strict=True) if each}
        spots = {(each.found.page, each.found.box) for each in picked.values()}
        if len(spots) < len(picked):
            continue
        proved = set(equation({**given, **picked}))
        trusted = sum(each.found.trust - DOUBT for each in picked.values())
        score = trusted + PROVED * len(proved)
        if score > best_score:
            best_score, best_set, best_proved = score, picked, proved
    return best_set, best_proved


def _main(
    picked: Picked, lines: Decimal | None, taxes: Decimal | None, unit: Decimal
) -> Iterator[str]:
    """Net and tax make the total; the lines make the net, or the total where prices hold tax."""
    net, tax, gross = (_value(picked, n) for n in ("net_total", "tax_total", "gross_total"))
    if tax is None:
        tax = taxes
    if net is not None and gross is not None and tax is not None and abs(net + tax - gross) <= 0:
        yield from (name for name in ("net_total", "tax_total", "gross_total") if name in picked)
    elif net is not None and net == gross and tax is None:
        yield from ("net_total", "gross_total")
    if lines is not None and net is not None and abs(lines - net) <= unit:
        yield "net_total"


def _leading(picked: Picked, lines: Decimal | None, unit: Decimal) -> Iterator[str]:
    """Lines less allowances with charges make the net (BR-CO-13)."""
    net, total = _value(picked, "net_total"), _value(picked, "lines_total")
    less, more = _value(picked, "allowances"), _value(picked, "charges")
    if lines is not None and total is not None and abs(lines - total) <= unit:
        yield "lines_total"
    start = total if total is not None else lines
    if start is None or net is None:
        return
    if abs(start - (less or 0) + (more or 0) - net) <= unit:
        yield from (name for name in ("allowances", "charges", "net_total") if name in picked)


def _following(picked: Picked) -> Iterator[str]:
    """What is left to pay of the total (BR-CO-16, and tax withheld by the buyer)."""
    gross, due = _value(picked, "gross_total"), _value(picked, "amount_due")
    off = [_value(picked, name) for name in ("prepaid", "withheld")]
    if gross is None or due is None:
        return
    if gross - sum((each for each in off if each is not None), Decimal(0)) == due:
        yield from (name for name in ("prepaid", "withheld", "amount_due") if name in picked)


def _value(picked: Picked, name: str) -> Decimal | None:
    return picked[name].value if name in picked else None


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
    trust = amount.found.trust
    # An equation that holds takes most of the doubt away, not all: sums come by chance, too.
    confidence = 1 - LEFT * (1 - trust) if proved else trust * (0.97 if not rivals else 0.85)
    likelier = max(
        (each.found.trust for each in every if each.found.value != amount.found.value), default=0.0
    )
    if likelier > trust:
        # Only the sum speaks for it against one that is better named: a person decides.
        confidence = min(confidence, trust / (trust + likelier))
    return as_field(amount.found, confidence, tuple(rivals.values())[:4])


def _derived_tax(tax_lines: tuple[Row, ...], currency: str) -> Field:
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
