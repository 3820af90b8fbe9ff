"""The functions of the language: one row each."""

import calendar
from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal
from functools import lru_cache
from typing import Final, Protocol, cast

import re2

from veridox.core.language.syntax import Literal, Type
from veridox.core.money import Money

LONGEST_TEXT = 20_000
"""Characters that a function makes at the most."""


class NotEvaluableError(Exception):
    """A value that the expression needs is missing, or nothing follows from those there are."""


class Rates(Protocol):
    """Exchange rates of days, from whoever knows them."""

    def rate(self, source: str, target: str, day: date | None = None) -> Decimal | None:
        """Units of `target` for one of `source` on a day, without one on the day that the document
        goes by; None when not known."""
        ...


class Calls(Protocol):
    """Functions of plug-ins, from whoever may run them or has what they gave."""

    def call(self, name: str, values: Sequence[Literal]) -> Literal:
        """What a function gives. Raises NotEvaluableError."""
        ...


@dataclass(frozen=True, kw_only=True, slots=True)
class Around:
    """What functions may ask besides their arguments.

    Attributes:
        codes: of the document's findings.
        rates: None where nobody knows any.
        calls: functions of plug-ins; None where there are none.
    """

    codes: Collection[str] = field(default_factory=tuple)
    rates: Rates | None = None
    calls: Calls | None = None


Run = Callable[[Around, list[Literal]], Literal]


@dataclass(frozen=True, kw_only=True, slots=True)
class Function:
    """One function.

    Attributes:
        takes, gives: types of its arguments and of its result.
        run: computes it; raises NotEvaluableError when nothing follows.
        help: what it gives.
        example: of its use.
        pattern: which argument is a pattern, to be looked at before anything runs; None for none.
        words: how clerks read it, with its arguments in braces; empty for its name.
    """

    takes: tuple[Type, ...]
    gives: Type
    run: Run
    help: str
    example: str
    pattern: int | None = None
    words: str = ""


@lru_cache(maxsize=256)
def compiled(pattern: str) -> "re2._Regexp":
    """A pattern of RE2 (linear time, no references back). Raises ValueError with what is wrong."""
    options = re2.Options()
    options.log_errors = False
    options.max_mem = 1 << 20
    try:
        return re2.compile(pattern, options)
    except re2.error as error:
        said = error.args[0]
        raise ValueError(said.decode() if isinstance(said, bytes) else str(said)) from None


def _part(_: Around, values: list[Literal]) -> Literal:
    text, pattern = (str(value) for value in values)
    try:
        found = compiled(pattern).search(text)
    except ValueError as error:
        raise NotEvaluableError(f"{pattern!r} is no pattern: {error}") from error
    if found is None:
        raise NotEvaluableError(f"no part of the text is like {pattern!r}")
    groups = found.groups()
    part = groups[0] if groups and groups[0] is not None else found.group(0)
    return str(part)


def _day(value: Literal) -> date:
    return cast(date, value)


def _text(result: str) -> str:
    if len(result) > LONGEST_TEXT:
        raise NotEvaluableError(f"a text of more than {LONGEST_TEXT:,} characters")
    return result


def _months_later(_: Around, values: list[Literal]) -> Literal:
    day, months = _day(values[0]), cast(Decimal, values[1])
    if months != int(months):
        raise NotEvaluableError("months are whole numbers")
    at = day.year * 12 + day.month - 1 + int(months)
    year, month = divmod(at, 12)
    if not 1 <= year <= 9999:
        raise NotEvaluableError("no such day in the calendar")
    last = calendar.monthrange(year, month + 1)[1]
    return date(year, month + 1, min(day.day, last))


def _convert(around: Around, values: list[Literal]) -> Literal:
    money, target, day = cast(Money, values[0]), str(values[1]), _day(values[2])
    if money.currency == target:
        return money
    rate = around.rates.rate(money.currency, target, day) if around.rates else None
    if rate is None:
        raise NotEvaluableError(f"no rate from {money.currency} to {target} on {day}")
    return Money(amount=money.amount * rate, currency=target).rounded()


def in_currency(around: Around, money: Money, target: str) -> Money:
    """An amount as it is compared with one of another currency: at the document's own rate.

    Raises:
        NotEvaluableError: nobody knows a rate.
    """
    if money.currency == target:
        return money
    rate = around.rates.rate(money.currency, target) if around.rates else None
    if rate is None:
        raise NotEvaluableError(f"no rate from {money.currency} to {target}")
    return Money(amount=money.amount * rate, currency=target).rounded()


_T, _D, _N, _B, _M = Type.TEXT, Type.DATE, Type.NUMBER, Type.TRUTH, Type.MONEY

FUNCTIONS: Final[dict[str, Function]] = {
    "found": Function(
        takes=(_T,), gives=_B, run=lambda around, v: v[0] in around.codes,
        help="whether a finding of this code stands", example='found("total.sum")',
    ),
    "lower": Function(
        words="{0}",
        takes=(_T,), gives=_T, run=lambda _, v: str(v[0]).lower(),
        help="the text in small letters", example='lower(subject) == "invoice"',
    ),
    "upper": Function(
        words="{0}",
        takes=(_T,), gives=_T, run=lambda _, v: _text(str(v[0]).upper()),
        help="the text in capitals", example='upper(order_number) == "PO-1"',
    ),
    "trim": Function(
        words="{0}",
        takes=(_T,), gives=_T, run=lambda _, v: " ".join(str(v[0]).split()),
        help="the text without blanks around it, and with one where several stood",
        example='trim(subject) == "Invoice 7"',
    ),
    "length": Function(
        words="the length of {0}",
        takes=(_T,), gives=_N, run=lambda _, v: Decimal(len(str(v[0]))),
        help="how many characters the text has", example="length(number) > 20",
    ),
    "contains": Function(
        words="{0} contains {1}",
        takes=(_T, _T), gives=_B, run=lambda _, v: str(v[1]).lower() in str(v[0]).lower(),
        help="whether the second text stands in the first, whatever the capitals",
        example='contains(subject, "reminder")',
    ),
    "startswith": Function(
        words="{0} begins with {1}",
        takes=(_T, _T), gives=_B, run=lambda _, v: str(v[0]).lower().startswith(str(v[1]).lower()),
        help="whether the first text begins with the second, whatever the capitals",
        example='startswith(file.name, "scan")',
    ),
    "endswith": Function(
        words="{0} ends with {1}",
        takes=(_T, _T), gives=_B, run=lambda _, v: str(v[0]).lower().endswith(str(v[1]).lower()),
        help="whether the first text ends with the second, whatever the capitals",
        example='endswith(sender.address, "@brinefold.example")',
    ),
    "replace": Function(
        words="{0}",
        takes=(_T, _T, _T), gives=_T,
        run=lambda _, v: _text(str(v[0]).replace(str(v[1]), str(v[2]))),
        help="the first text with the third wherever the second stood",
        example='replace(order_number, " ", "") == "PO-1"',
    ),
    "part": Function(
        words="the part of {0} that is like {1}",
        takes=(_T, _T), gives=_T, run=_part, pattern=1,
        help="the first part of the text that is like the pattern (of RE2); of a pattern with "
        "brackets, what stands in the first. Missing when there is none.",
        example=r'part(subject, "PO-[0-9]{2}-[0-9]{4}") is not missing',
    ),
    "days_between": Function(
        words="the number of days from {0} to {1}",
        takes=(_D, _D), gives=_N, run=lambda _, v: Decimal((_day(v[1]) - _day(v[0])).days),
        help="days from the first to the second; negative when that was earlier",
        example="days_between(issue_date, received) > 60",
    ),
    "year_of": Function(
        words="the year of {0}",
        takes=(_D,), gives=_N, run=lambda _, v: Decimal(_day(v[0]).year),
        help="its year", example="year_of(issue_date) < 2026",
    ),
    "month_of": Function(
        words="the month of {0}",
        takes=(_D,), gives=_N, run=lambda _, v: Decimal(_day(v[0]).month),
        help="its month, from 1", example="month_of(issue_date) == 12",
    ),
    "day_of": Function(
        words="the day of the month of {0}",
        takes=(_D,), gives=_N, run=lambda _, v: Decimal(_day(v[0]).day),
        help="its day of the month, from 1", example="day_of(received) > 25",
    ),
    "weekday": Function(
        words="the day of the week of {0}",
        takes=(_D,), gives=_N, run=lambda _, v: Decimal(_day(v[0]).isoweekday()),
        help="its day of the week, Monday being 1 (ISO 8601)", example="weekday(received) > 5",
    ),
    "end_of_month": Function(
        words="the end of the month of {0}",
        takes=(_D,), gives=_D,
        run=lambda _, v: _day(v[0]).replace(
            day=calendar.monthrange(_day(v[0]).year, _day(v[0]).month)[1]
        ),
        help="the last day of its month", example="due_date > end_of_month(issue_date)",
    ),
    "months_later": Function(
        words="{0} and {1} months",
        takes=(_D, _N), gives=_D, run=_months_later,
        help="the same day so many months later; the last of the month where it has no such day",
        example="due_date > months_later(issue_date, 2)",
    ),
    "convert": Function(
        words="{0} in {1} of {2}",
        takes=(_M, _T, _D), gives=_M, run=_convert,
        help="the amount in another currency at the rate of a day, which is the document's issue "
        "date; it cannot be evaluated where no rate is known",
        example='convert(gross_total, "GBP", issue_date) > 5000 GBP',
    ),
}  # fmt: skip
"""By name. Those of plug-ins are added when a process begins (`add_function`)."""


class FunctionTakenError(ValueError):
    """The language has a function of this name already."""


def add_function(name: str, takes: tuple[Type, ...], gives: Type, about: str, example: str) -> None:
    """Have a function of a plug-in in the language; it runs elsewhere, by `Around.calls`.

    Raises:
        FunctionTakenError: there is one of this name, with other types.
    """

    def run(around: Around, values: list[Literal]) -> Literal:
        if around.calls is None:
            raise NotEvaluableError(f"the plug-in of {name} is not asked here")
        return around.calls.call(name, values)

    known = FUNCTIONS.get(name)
    if known is not None and (name not in _ADDED or (known.takes, known.gives) != (takes, gives)):
        raise FunctionTakenError(f"the language has a function {name!r} already")
    _ADDED.add(name)
    FUNCTIONS[name] = Function(takes=takes, gives=gives, run=run, help=about, example=example)


def is_of_plugin(name: str) -> bool:
    """Whether a function of the language came with a plug-in: it is asked at some places only."""
    return name in _ADDED


_ADDED: set[str] = set()
