"""Totals chosen together: what words say, in log-odds, and which equations hold beside it."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import replace
from decimal import Decimal
from enum import StrEnum
from itertools import product

import numpy as np

from veridox.core.extract.odds import log_odds
from veridox.core.extract.tagging.choices import Choice, as_field, merged
from veridox.core.extract.tagging.tagged import Span, Tagged, box_gap
from veridox.core.extract.tagging.tags import TOTALS
from veridox.core.extract.thresholds import AMOUNT, AMOUNTS_TRIED, HOLDS, LEAST_TOTAL
from veridox.core.money import Money, minor_unit
from veridox.core.reading import Field, Origin, Row, Value

TAKEN_OFF = frozenset({"allowances", "prepaid", "withheld"})
NAMED_ALONE, RIVALS = 0.95, 0.1
"""Least chance of a total beside its label, and the most that other amounts may rival it by."""


def candidates(tagged: Tagged, name: str, code: str, *, also: str = "") -> list[Choice]:
    """Amounts that may be a total, or the one that is named also."""
    chances = tagged.of(name) + tagged.of(also) if also else tagged.of(name)
    found: list[tuple[Value, Span]] = []
    for at in map(int, np.flatnonzero(chances >= 0.04)):
        token = tagged.tokens[at]
        if token.number is None or token.percent:
            continue
        number = token.number
        if minus_beside(tagged, at, name):
            number = -abs(number)
        if name in TAKEN_OFF:
            number = abs(number)
        number = (
            number.quantize(minor_unit(code))
            if -int(number.as_tuple().exponent) < 2 and minor_unit(code) < 1
            else number
        )
        found.append(
            (Money(amount=number, currency=code), Span((at,), (token,), float(chances[at])))
        )
    return merged(found)


MINUS = frozenset({"-", "\u2212", "CR"})


def minus_beside(tagged: Tagged, at: int, name: str) -> bool:
    """Whether a minus stands apart before an amount or behind it.

    A dash between two facts is as far from either; before an amount it is a minus all the same when
    words say that it is part of it.
    """
    tokens, own = tagged.tokens, tagged.tokens[at].box
    for other, further in ((at - 1, at - 2), (at + 1, at + 2)):
        if not 0 <= other < len(tokens) or tokens[other].row != tokens[at].row:
            continue
        if tokens[other].text not in MINUS:
            continue
        box = tokens[other].box
        near = box_gap(box, own)
        if near >= 0.7 * own.height:
            continue
        beyond = tokens[further] if 0 <= further < len(tokens) else None
        if beyond is None or beyond.row != tokens[at].row or box_gap(beyond.box, box) > 2 * near:
            return True
        # Behind an amount it parts facts, whatever words say: `763,90 - Imposta 22%`.
        if other < at and tagged.best[other] == name:
            return True
    return False


def amount(choice: Choice | None) -> Decimal | None:
    """The bare amount of a choice."""
    return choice.value.amount if choice is not None and isinstance(choice.value, Money) else None


Picked = dict[str, Choice]
Equation = Callable[[Picked], set[str]]
"""Which of some totals an equation vouches for."""


def totals(
    tagged: Tagged, code: str, lines: Sequence[Row], *, billed: bool
) -> tuple[dict[str, Field], tuple[Row, ...], frozenset[str]]:
    """Totals by name, rows of taxes, and the totals that an equation vouches for.

    Args:
        tagged: words of the document.
        code: of its currency.
        lines: of the same.
        billed: whether what is due is the total where nothing else is called so.
    """
    likely = {name: candidates(tagged, name, code) for name in TOTALS}
    both = billed and _only_due(likely)
    if both:
        likely["gross_total"] = candidates(tagged, "gross_total", code, also="amount_due")
        likely["amount_due"] = []
    taxes = tax_rows(tagged, code)
    picked, proved = _picked(likely, _summed([line.get("amount") for line in lines]), taxes)
    fields = {
        name: _stated(
            tagged, choice, likely[name], proved=name in proved,
            label="amount_due" if both and name == "gross_total" else name,
        )
        for name, choice in picked.items()
    }  # fmt: skip
    if both and "gross_total" in fields:
        fields["amount_due"] = fields["gross_total"]
        proved |= {"amount_due"} if "gross_total" in proved else set()
    if "tax_total" not in fields and taxes:
        fields["tax_total"] = _of_rows(taxes, code)
    if not taxes and "tax_total" in picked:
        taxes = _only_rate(tagged, picked["tax_total"], fields["tax_total"])
    return fields, taxes, frozenset(proved | _made_by_rate(picked, taxes))


def _made_by_rate(picked: Picked, taxes: Sequence[Row]) -> set[str]:
    """The tax where the only rate of a bill makes it of the net, to the cent."""
    net, tax = amount(picked.get("net_total")), amount(picked.get("tax_total"))
    if net is None or not tax or len(taxes) != 1 or "rate" not in taxes[0]:
        return set()
    rate = taxes[0]["rate"].value
    made = isinstance(rate, Decimal) and abs(net * rate / 100 - tax) <= Decimal("0.005")
    return {"tax_total"} if made else set()


def _summed(cells: Iterable[Field | None]) -> Decimal | None:
    """What amounts make together; None where there are none."""
    values = [cell.value for cell in cells if cell is not None]
    amounts = [value.amount for value in values if isinstance(value, Money)]
    return sum(amounts, Decimal(0)) if amounts else None


def _picked(
    likely: dict[str, list[Choice]], summed: Decimal | None, taxes: Sequence[Row]
) -> tuple[Picked, set[str]]:
    """The totals that are likeliest together, and those that an equation vouches for: first net,
    tax and total, then what leads to the net, then what follows the total."""
    taxed = _summed(row["amount"] for row in taxes)
    steps: tuple[tuple[tuple[str, ...], Equation], ...] = (
        (("net_total", "tax_total", "gross_total"), lambda p: _main(p, summed, taxed)),
        (("lines_total", "allowances", "charges"), lambda p: _leading(p, summed)),
        (("prepaid", "withheld", "amount_due"), _following),
    )
    picked: Picked = {}
    proved: set[str] = set()
    for names, equation in steps:
        more, held = _search(likely, names, picked, equation)
        picked, proved = {**picked, **more}, proved | held
    return picked, proved


def _stated(
    tagged: Tagged, choice: Choice, every: Sequence[Choice], *, proved: bool, label: str
) -> Field:
    """A total as a field: as sure as words are of it among all that may be it."""
    chances = sum(each.chance for each in every)
    share = choice.chance / max(1.0, chances)
    said = 1 - (1 - share) * 0.3 if proved else share
    field = as_field(_with_sign(tagged, choice), every, said)
    alone = said < NAMED_ALONE and chances - choice.chance < RIVALS
    if alone and labelled(tagged, field, f"label.{label}") is Named.LEFT:
        # Words doubt an amount that adds up to nothing; its label does not, and nothing rivals.
        field = replace(field, confidence=NAMED_ALONE)
    return field


def _of_rows(taxes: Sequence[Row], code: str) -> Field:
    """The tax of all rows of a table of taxes: worked out where there are several."""
    cells = [row["amount"] for row in taxes]
    first = cells[0]
    return Field(
        value=Money(amount=_summed(cells) or Decimal(0), currency=code),
        text=" + ".join(cell.text for cell in cells),
        page=first.page,
        box=first.box,
        confidence=min(cell.confidence for cell in cells),
        origin=Origin.DERIVED if len(cells) > 1 else first.origin,
    )


def _only_due(likely: dict[str, list[Choice]]) -> bool:
    """Whether a page says what is to be paid and calls nothing else its total."""

    def said(name: str) -> bool:
        return any(each.chance >= AMOUNT for each in likely[name])

    return said("amount_due") and not any(map(said, ("gross_total", "prepaid", "withheld")))


def _only_rate(tagged: Tagged, tax: Choice, amount: Field) -> tuple[Row, ...]:
    """The row of taxes of a bill that prints one tax, with the rate beside it."""
    tokens, rates = tagged.tokens, tagged.of("tax.rate")
    row = tokens[tax.span.at[0]].row
    said = [
        at
        for at, token in enumerate(tokens)
        if token.row == row and token.number is not None and float(rates[at]) > SAID
    ]
    if len(said) != 1:
        return ()
    (at,) = said
    rate = Choice(
        tokens[at].number or Decimal(0), Span((at,), (tokens[at],), 1.0), float(rates[at])
    )
    return ({"rate": as_field(rate, []), "amount": amount},)


def _with_sign(tagged: Tagged, choice: Choice) -> Choice:
    """An amount as printed: with the currency that stands beside it."""
    tokens, at = tagged.tokens, choice.span.at[0]
    own = tokens[at]
    for other in (at - 1, at + 1):
        if not 0 <= other < len(tokens) or tokens[other].row != own.row:
            continue
        sign = tokens[other]
        if sign.currency and sign.number is None and box_gap(sign.box, own.box) < own.box.height:
            both = (min(at, other), max(at, other))
            whole = Span(both, tuple(tokens[each] for each in both), choice.span.chance)
            return replace(choice, span=whole)
    return choice


def named_twice(tagged: Tagged, fields: dict[str, Field]) -> dict[str, Field]:
    """The total and what is due, where one amount is both.

    Where nothing was paid before or is withheld, what is due is the total if nothing else is, and
    a total that is labelled as due is both.
    """
    if "prepaid" in fields or "withheld" in fields:
        return fields
    due, gross = fields.get("amount_due"), fields.get("gross_total")
    if due is not None and gross is None:
        return {**fields, "gross_total": due}
    if gross is not None and due is None and _due(tagged, gross):
        return {**fields, "amount_due": gross}
    return fields


def _due(tagged: Tagged, gross: Field) -> bool:
    return labelled(tagged, gross, "label.amount_due") is not Named.NOWHERE


SAID, BESIDE = 0.5, 0.4
"""Chances from which words are a label, or an amount one of taxes, and what stands beside it its
rate or base."""


class Named(StrEnum):
    """Where the label of a field stands."""

    LEFT = "left"  # in its row
    ABOVE = "above"
    NOWHERE = "nowhere"


def labelled(tagged: Tagged, field: Field, label: str) -> Named:
    """Where a label stands: left of a field in its row, right above it, or nowhere."""
    chances, box = tagged.of(label), field.box
    above = False
    if box is None:
        return Named.NOWHERE
    for token in (tagged.tokens[at] for at in np.flatnonzero(chances >= SAID)):
        if token.page != field.page:
            continue
        level = abs(token.box.middle[1] - box.middle[1]) < 0.5 * box.height
        if level and token.box.right <= box.left + 1:
            return Named.LEFT
        over = min(token.box.right, box.right) - max(token.box.left, box.left) > 0
        above |= over and 0 < box.top - token.box.top < 2.5 * box.height
    return Named.ABOVE if above else Named.NOWHERE


def _search(
    likely: dict[str, list[Choice]], names: Sequence[str], given: Picked, equation: Equation
) -> tuple[Picked, set[str]]:
    taken = {at for each in given.values() for at in each.span.at}
    options: list[list[Choice | None]] = []
    for name in names:
        free = [each for each in likely[name] if not taken & set(each.span.at)]
        options.append([*free[:AMOUNTS_TRIED], None])
    best: tuple[float, Picked, set[str]] = (0.0, {}, set())
    for combination in product(*options):
        picked = {
            name: each for name, each in zip(names, combination, strict=True) if each is not None
        }
        spots = [at for each in picked.values() for at in each.span.at]
        if len(set(spots)) < len(spots):
            continue
        proved = set(equation({**given, **picked})) & {*names, *given}
        score = sum(
            log_odds(each.chance, LEAST_TOTAL) - log_odds(AMOUNT, LEAST_TOTAL)
            for each in picked.values()
        )
        score += HOLDS * len(proved & set(picked))
        if score > best[0] + 1e-9:
            best = (score, picked, proved)
    return best[1], best[2]


def _equal(one: Decimal, other: Decimal) -> bool:
    """Whether two amounts are equal but for their sign: credit is printed with it or without."""
    return abs(one) == abs(other)


def _adds_up(net: Decimal | None, tax: Decimal | None, gross: Decimal | None) -> bool:
    if net is None or tax is None or gross is None:
        return False
    return _equal(net + tax, gross)


def _main(p: Picked, summed: Decimal | None, taxed: Decimal | None) -> set[str]:
    net, tax, gross = (
        amount(p.get("net_total")),
        amount(p.get("tax_total")),
        amount(p.get("gross_total")),
    )
    held: set[str] = set()
    if _adds_up(net, tax if tax is not None else taxed, gross):
        held |= {"net_total", "gross_total"} | ({"tax_total"} if tax is not None else set())
    if tax is not None and taxed is not None and tax == taxed and p["tax_total"].chance > 0.2:
        held.add("tax_total")
    if summed is not None and summed:
        if net is not None and net == summed:
            held.add("net_total")
        if net is None and gross is not None and gross == summed:
            held.add("gross_total")
    return held


def _leading(p: Picked, summed: Decimal | None) -> set[str]:
    goods, net = amount(p.get("lines_total")), amount(p.get("net_total"))
    if net is None and "tax_total" not in p:
        net = amount(p.get("gross_total"))  # nothing is taxed
    off, on = amount(p.get("allowances")) or Decimal(0), amount(p.get("charges")) or Decimal(0)
    held: set[str] = set()
    start = goods if goods is not None else summed
    if (off or on) and _adds_up(start, on - off, net):
        held |= p.keys() & {"lines_total", "allowances", "charges"}
    if goods is not None and summed is not None and goods == summed:
        held.add("lines_total")
    return held


def _following(p: Picked) -> set[str]:
    gross, due = amount(p.get("gross_total")), amount(p.get("amount_due"))
    paid, held_back = (
        amount(p.get("prepaid")) or Decimal(0),
        amount(p.get("withheld")) or Decimal(0),
    )
    if gross is not None and due is not None and _equal(gross - paid - held_back, due):
        return {name for name in ("prepaid", "withheld", "amount_due") if name in p}
    return set()


def tax_rows(tagged: Tagged, code: str) -> tuple[Row, ...]:
    """Rows of taxes: an amount with the rate, and the base where it is printed, of its row."""
    tokens, chances = tagged.tokens, tagged.of("tax.amount")
    found: list[Row] = []
    seen: set[tuple[Decimal, Decimal]] = set()
    for at in map(int, np.flatnonzero(chances >= SAID)):
        number = tokens[at].number
        if number is None or tokens[at].percent:
            continue
        rate, base = _beside(tagged, at, "tax.rate"), _beside(tagged, at, "tax.base")
        if rate is None or (_value(tagged, rate), number) in seen:
            continue
        seen.add((_value(tagged, rate), number))
        cells = {
            "rate": _cell(tagged, rate, "tax.rate", _value(tagged, rate)),
            "amount": _cell(tagged, at, "tax.amount", Money(amount=number, currency=code)),
        }
        if base is not None:
            money = Money(amount=_value(tagged, base), currency=code)
            cells["base"] = _cell(tagged, base, "tax.base", money)
        found.append(cells)
    return tuple(found)


def _beside(tagged: Tagged, at: int, name: str) -> int | None:
    """The likeliest number of a class in the row of a token."""
    tokens, chances = tagged.tokens, tagged.of(name)
    row = [
        other
        for other in range(max(0, at - 14), min(len(tokens), at + 14))
        if tokens[other].row == tokens[at].row
        and other != at
        and tokens[other].number is not None
        and float(chances[other]) > BESIDE
    ]
    return max(row, key=lambda other: float(chances[other]), default=None)


def _value(tagged: Tagged, at: int) -> Decimal:
    return tagged.tokens[at].number or Decimal(0)


def _cell(tagged: Tagged, at: int, name: str, value: Value) -> Field:
    span = Span((at,), (tagged.tokens[at],), 1.0)
    return as_field(Choice(value, span, float(tagged.of(name)[at])), [])
