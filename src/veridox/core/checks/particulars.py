"""Does a bill state what the law asks of it?"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Final

from veridox.core.checks.table import check
from veridox.core.facts import Facts
from veridox.core.findings import Code, Finding, Weight
from veridox.core.reading import Kind


@dataclass(frozen=True, kw_only=True, slots=True)
class Particular:
    """One thing that must be stated.

    Attributes:
        point: of art. 226, or of 226b for simplified bills.
        what: in a clerk's words.
        fields: names of fields, the first of which it is about.
        stated: whether it is.
        simplified: whether a simplified bill needs it, too.
    """

    point: str
    what: str
    fields: tuple[str, ...]
    stated: Callable[[Facts], bool]
    simplified: bool = False


def _any_of(*names: str) -> Callable[[Facts], bool]:
    return lambda facts: any(name in facts.reading.fields for name in names)


def _goods(facts: Facts) -> bool:
    """What was sold: lines with words. Quantities are asked of goods only."""
    rows = facts.reading.lines
    return bool(rows) and all("description" in row for row in rows)


def _prices(facts: Facts) -> bool:
    return any("unit_price" in row for row in facts.reading.lines) or bool(facts.reading.tax_lines)


def _rates(facts: Facts) -> bool:
    reading = facts.reading
    stated = any("rate" in row for row in reading.tax_lines)
    return (
        stated
        or any("tax_rate" in row for row in reading.lines)
        or ("exemption_reason" in reading.fields)
    )


def _supplied(facts: Facts) -> bool:
    return _any_of("delivery_date", "tax_point", "period")(facts)


PARTICULARS: Final = (
    Particular(point="226 (1)", what="its date of issue", fields=("issue_date",),
               stated=_any_of("issue_date"), simplified=True),
    Particular(point="226 (2)", what="a number of its own", fields=("number",),
               stated=_any_of("number")),
    Particular(point="226 (3)", what="the seller's tax id", fields=("seller.tax_id",),
               stated=_any_of("seller.tax_id", "seller.registration"), simplified=True),
    Particular(point="226 (5)", what="the seller's full name", fields=("seller.name",),
               stated=_any_of("seller.name")),
    Particular(point="226 (5)", what="the buyer's full name", fields=("buyer.name",),
               stated=_any_of("buyer.name")),
    Particular(point="226 (6)", what="what was sold, and how much of it", fields=("lines",),
               stated=_goods, simplified=True),
    Particular(point="226 (7)", what="the day of delivery or service, where it is not the date "
               "of issue", fields=("delivery_date",), stated=_supplied),
    Particular(point="226 (8)", what="the amount before tax", fields=("net_total",),
               stated=lambda facts: _any_of("net_total")(facts) and _prices(facts)),
    Particular(point="226 (9)", what="the rate of tax, or why there is none",
               fields=("tax_lines",), stated=_rates),
    Particular(point="226 (10)", what="the amount of tax", fields=("tax_total",),
               stated=_any_of("tax_total"), simplified=True),
)  # fmt: skip
"""Council Directive 2006/112/EC, art. 226 and 226b (simplified)."""
_MAY_BE_THE_ISSUE_DATE: Final = "226 (7)"


@check(
    place=35,
    codes={
        "particular.missing": Code(
            title="A particular that the law asks for is missing",
            why="Without it the tax on the bill may not be deducted.",
            do="Ask the vendor for a bill that states it.",
            rule="Directive 2006/112/EC art. 226, 226b",
            lowered=True,
        ),
    },
)
def particulars_stated(facts: Facts) -> Iterator[Finding]:
    """`particular.missing`: each particular of art. 226, or of 226b for small bills, where the
    pipeline asks for them (`check: particulars: full`). What a credit note names is the bill."""
    mode, reading = facts.settings.particulars, facts.reading
    if mode == "none" or reading.kind not in (Kind.INVOICE, Kind.CREDIT_NOTE):
        return
    gross = reading.money("gross_total")
    small = (
        mode == "simplified" and gross is not None
        and gross.amount <= facts.settings.simplified_up_to
    )  # fmt: skip
    for each in PARTICULARS:
        if (small and not each.simplified) or each.stated(facts):
            continue
        optional = each.point == _MAY_BE_THE_ISSUE_DATE
        yield Finding(
            code="particular.missing",
            weight=Weight.NOTE if optional else Weight.WARN,
            message=f"It does not state {each.what} (art. {each.point}).",
            fields=each.fields,
            about=each.point,
            hint="Look whether it stands on the page; else have the bill corrected.",
            letter=f"It does not state {each.what}.",
        )
    if reading.kind is Kind.CREDIT_NOTE and "preceding_number" not in reading.fields:
        yield Finding(
            code="particular.missing",
            weight=Weight.WARN,
            message="The credit note does not name the bill that it changes (art. 219).",
            fields=("preceding_number",),
            about="219",
            hint="Enter the number of the bill.",
            letter="It does not name the bill that it changes.",
        )
