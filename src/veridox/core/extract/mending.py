"""One misread digit of a scan, mended where arithmetic leaves no other reading.

A document that is wrong itself is reported, never repaired; so a digit is mended only where it was
recognised from a picture, at least two equations are broken, and one change of one digit into one
that it is easily taken for mends every broken equation and breaks none. What was mended says so
(`Origin.MENDED`), is never surer than `MENDED`, and keeps what was recognised as its other value.
"""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace
from decimal import Decimal

from veridox.core.extract.thresholds import BROKEN, MENDED
from veridox.core.money import Money, minor_unit
from veridox.core.reading import Candidate, Field, Origin, Reading, Row

TAKEN_FOR = {
    "0": "689", "1": "47", "2": "7", "3": "589", "4": "19", "5": "368",
    "6": "058", "7": "12", "8": "03569", "9": "0348",
}  # fmt: skip
"""What each printed digit is easily taken for, and may have been when it was read."""
Path = tuple[str, ...]
"""Where a value stands: `("net_total",)`, or `("amount", "3")` for a cell of the fourth line."""
Values = Mapping[Path, Decimal]


@dataclass(frozen=True)
class _Equation:
    paths: tuple[Path, ...]
    difference: Callable[[Values], Decimal]
    within: Decimal

    def holds(self, values: Values) -> bool:
        return abs(self.difference(values)) <= self.within


def mended(reading: Reading) -> Reading:
    """The reading with a misread digit mended; itself where nothing is to mend, or not for sure."""
    if reading.currency is None or not any(f.origin is Origin.OCR for f in _every(reading)):
        return reading
    values = dict(_values(reading))
    equations = list(_equations(reading, values))
    broken = [each for each in equations if not each.holds(values)]
    if len(broken) < BROKEN:
        return reading
    shared = set(broken[0].paths).intersection(*(each.paths for each in broken))
    found = [
        (path, value)
        for path in sorted(shared)
        if _cell(reading, path).origin is Origin.OCR
        for value in _others(values[path])
        if all(each.holds({**values, path: value}) for each in equations if path in each.paths)
    ]
    if len(found) != 1:
        return reading
    return _with(reading, *found[0])


def _every(reading: Reading) -> Iterator[Field]:
    yield from reading.fields.values()
    for row in reading.lines:
        yield from row.values()


def _cell(reading: Reading, path: Path) -> Field:
    name, *at = path
    return reading.lines[int(at[0])][name] if at else reading.fields[name]


def _number(field: Field) -> Decimal | None:
    value = field.value
    if isinstance(value, Money):
        return value.amount
    return value if isinstance(value, Decimal) else None


FIGURES = ("quantity", "unit_price", "price_base", "discount", "amount")


def _values(reading: Reading) -> Iterator[tuple[Path, Decimal]]:
    for name, field in reading.fields.items():
        number = _number(field) if isinstance(field.value, Money) else None
        if number is not None:
            yield (name,), number
    for at, row in enumerate(reading.lines):
        for name in FIGURES:
            number = _number(row[name]) if name in row else None
            if number is not None:
                yield (name, str(at)), number


def _equations(reading: Reading, values: Values) -> Iterator[_Equation]:
    unit = minor_unit(reading.currency or "EUR")
    for at, row in enumerate(reading.lines):
        if {"quantity", "unit_price", "amount"} <= row.keys():
            yield _product(row, str(at), unit)
    yield from _of_lines(reading, values)
    yield from _stated(
        values,
        (("lines_total", "charges"), ("allowances",), "net_total"),
        (("net_total", "tax_total"), (), "gross_total"),
    )
    if "amount_due" not in reading.read_with("gross_total"):
        yield from _stated(values, (("gross_total",), ("prepaid", "withheld"), "amount_due"))
    rate = _only_rate(reading)
    if rate is not None and {("net_total",), ("tax_total",)} <= values.keys():
        yield _Equation(
            (("net_total",), ("tax_total",)),
            lambda v, rate=rate: v["net_total",] * rate / 100 - v["tax_total",],  # type: ignore[misc]
            unit,
        )


def _of_lines(reading: Reading, values: Values) -> Iterator[_Equation]:
    """That the lines make what is stated of all of them."""
    amounts = tuple(("amount", str(at)) for at in range(len(reading.lines)))
    if not amounts or any(each not in values for each in amounts):
        return
    target = "lines_total" if ("lines_total",) in values else "net_total"
    if (target,) in values and not (target == "net_total" and _adjusted(values)):
        yield _sum(amounts, (), (target,))


def _only_rate(reading: Reading) -> Decimal | None:
    rates = {cell.value for row in reading.tax_lines if (cell := row.get("rate")) is not None}
    (rate,) = rates if len(rates) == 1 else (None,)
    return rate if isinstance(rate, Decimal) else None


def _adjusted(values: Values) -> bool:
    return ("allowances",) in values or ("charges",) in values


def _product(row: Row, at: str, unit: Decimal) -> _Equation:
    """Quantity x price / base - discount is the amount."""
    paths = tuple((name, at) for name in FIGURES if name in row)

    def difference(values: Values) -> Decimal:
        base = values.get(("price_base", at)) or Decimal(1)
        made = values["quantity", at] * values["unit_price", at] / base
        return abs(made - values.get(("discount", at), Decimal(0))) - abs(values["amount", at])

    return _Equation(paths, difference, unit)


def _sum(plus: tuple[Path, ...], minus: tuple[Path, ...], whole: Path) -> _Equation:
    def difference(values: Values) -> Decimal:
        made = sum((values[path] for path in plus), Decimal(0))
        return made - sum((values[path] for path in minus), Decimal(0)) - values[whole]

    return _Equation((*plus, *minus, whole), difference, Decimal(0))


def _stated(
    values: Values, *sums: tuple[tuple[str, ...], tuple[str, ...], str]
) -> Iterator[_Equation]:
    """Sums whose first part and whole are stated; of the others those that are."""
    for plus, minus, whole in sums:
        if (plus[0],) in values and (whole,) in values:
            more = tuple((name,) for name in plus if (name,) in values)
            less = tuple((name,) for name in minus if (name,) in values)
            if len(more) + len(less) > 1 or whole == "amount_due":
                yield _sum(more, less, (whole,))


def _others(value: Decimal) -> Iterator[Decimal]:
    """The value with one digit changed into each that it may have been taken for."""
    text = f"{value:f}"
    for at, digit in enumerate(text):
        for other in TAKEN_FOR.get(digit, ""):
            yield Decimal(text[:at] + other + text[at + 1 :])


def _with(reading: Reading, path: Path, value: Decimal) -> Reading:
    """The reading with a value mended, and with it every field that was read from its spot."""
    old = _cell(reading, path)
    typed = replace(old.value, amount=value) if isinstance(old.value, Money) else value
    new = replace(
        old,
        value=typed,
        confidence=min(old.confidence, MENDED),
        origin=Origin.MENDED,
        others=(
            Candidate(value=old.value, confidence=1 - MENDED, page=old.page, box=old.box),
            *old.others,
        ),
    )
    name, *at = path
    if not at:
        return reading.with_fields(dict.fromkeys((name, *reading.read_with(name)), new))
    lines = [dict(row) for row in reading.lines]
    lines[int(at[0])][name] = new
    return replace(reading, lines=tuple(lines))
