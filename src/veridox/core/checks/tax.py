"""Is the tax what the law, the kind of sale and this vendor's usual bills make of it?"""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Final

from veridox.core.checks.evidence import at_field
from veridox.core.checks.table import check
from veridox.core.facts import Facts
from veridox.core.findings import VENDORS, Code, Finding, Weight
from veridox.core.money import Money
from veridox.core.reading import Reading
from veridox.core.reading.reading import cell_money, cell_number, cell_text
from veridox.core.tax import (
    EU,
    RateStanding,
    Treatment,
    country_of,
    holds,
    rates_of,
    reason_in,
    source_of,
    standing,
    treatment_of,
)
from veridox.core.tax.reasons import NEED_BUYER_ID, WITHOUT_TAX

NO_RATES: Final = frozenset({"US"})
"""Countries without a tax on value added: nothing is to be said of bills without one."""
UNION: Final = EU | {"XI"}
"""Where goods move without export; Northern Ireland is among them for goods."""
ZEROED: Final = frozenset({Treatment.ZERO, Treatment.EXEMPT, Treatment.OUTSIDE})
"""Said of single lines beside others that are taxed."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Taxed:
    """How a bill is taxed, as far as it says.

    Attributes:
        charged: tax in all; None where none is stated.
        rates: that are stated with an amount above zero, in percent.
        free: whether a part of it, or all, carries no tax.
        told: why, by categories (UNTDID 5305) and by words; empty where nothing is said.
        seller, buyer: countries, empty where not known.
    """

    charged: Money | None
    rates: tuple[Decimal, ...]
    free: bool
    told: tuple[Treatment, ...]
    seller: str
    buyer: str

    @property
    def any_tax(self) -> bool:
        """Whether tax is charged."""
        return self.charged is not None and self.charged.amount > 0


def taxed(facts: Facts) -> Taxed:
    """What a bill says of its tax, and what the master data say of both sides."""
    reading, vendor, entity = facts.reading, facts.vendor, facts.entity
    charged = reading.money("tax_total")
    rates = _rates(reading)
    lines = [cell_money(row, "amount") for row in reading.tax_lines]
    zero = [cell_number(row, "rate") for row in reading.tax_lines]
    free = (charged is not None and charged.amount == 0) or any(
        rate == 0 or (amount is not None and amount.amount == 0)
        for rate, amount in zip(zero, lines, strict=True)
    )
    told = list(_by_category(reading))
    words = [reading.text("exemption_reason") or ""]
    words += [cell_text(row, "reason") or "" for row in reading.tax_lines]
    told += [said[0] for text in words if (said := reason_in(text)) is not None]
    seller = country_of(reading.text("seller.tax_id") or "") or (vendor.country if vendor else "")
    return Taxed(
        charged=charged,
        rates=rates,
        free=free,
        told=tuple(dict.fromkeys(told)),
        seller=seller,
        buyer=entity.country if entity else "",
    )


def _by_category(reading: Reading) -> Iterator[Treatment]:
    """What the categories of tax lines and lines tell, but for those that are taxed as usual."""
    for row in (*reading.tax_lines, *reading.lines):
        category = cell_text(row, "category") or cell_text(row, "tax_category")
        treatment = treatment_of(category) if category else None
        if treatment is not None and treatment is not Treatment.DOMESTIC:
            yield treatment


def _rates(reading: Reading) -> tuple[Decimal, ...]:
    """Rates above zero that are stated; where none is, the one that net and tax make."""
    stated = [cell_number(row, "rate") for row in reading.tax_lines]
    found = {rate.normalize() for rate in stated if rate is not None and rate > 0}
    if not found:
        of_lines = [cell_number(row, "tax_rate") for row in reading.lines]
        found = {rate.normalize() for rate in of_lines if rate is not None and rate > 0}
    net, tax = reading.money("net_total"), reading.money("tax_total")
    if not found and net is not None and tax is not None and net.amount > 0 and tax.amount > 0:
        made = (tax.amount * 100 / net.amount).quantize(Decimal("0.1")).normalize()
        if abs(net.amount * made / 100 - tax.amount) <= Decimal("0.05"):
            found = {made}
    return tuple(sorted(found, reverse=True))


def _percent(rates: tuple[Decimal, ...]) -> str:
    return ", ".join(f"{rate:f} %" for rate in rates)


@check(
    place=132,
    needs=("vendor", "entity"),
    codes={
        "tax.rate": Code(
            title="The rate of tax does not hold on that day",
            why="It ended, or has not begun: the wrong amount would be deducted.",
            do="Have the bill corrected, or enter the day of delivery if it was another one.",
            rule="Directive 2006/112/EC art. 93 to 99; the country's law",
            lowered=True,
        ),
        "tax.rate_unknown": Code(
            title="The rate of tax is not in the table",
            why="The table knows the usual rates of some countries; special ones may be missing.",
            do="Look whether it was misread; special rates are not all in the table.",
            lowered=True,
        ),
    },
)
def rate_valid(facts: Facts) -> Iterator[Finding]:
    """`tax.rate`: a rate that ended or has not begun; `tax.rate_unknown`: one the table lacks."""
    said, day = taxed(facts), facts.taxed_on
    if day is None or not said.seller:
        return
    for rate in said.rates:
        found = standing(said.seller, rate, day)
        if found in (RateStanding.ENDED, RateStanding.TO_COME):
            yield _rate_finding(facts, said.seller, rate, day, found)
        elif found is RateStanding.UNKNOWN:
            valid = rates_of(said.seller, day)
            yield at_field(
                facts.reading,
                "tax_total",
                code="tax.rate_unknown",
                weight=Weight.NOTE,
                message=f"{rate:f} % is none of the rates that are known for {said.seller} on "
                f"{day} ({_percent(valid)}).",
                expected=_percent(valid),
                found=f"{rate:f}",
            )


def _rate_finding(
    facts: Facts, country: str, rate: Decimal, day: date, found: RateStanding
) -> Finding:
    valid = _percent(rates_of(country, day))
    how = "does not hold any more" if found is RateStanding.ENDED else "does not hold yet"
    return at_field(
        facts.reading,
        "tax_total",
        code="tax.rate",
        message=f"{rate:f} % tax {how} in {country} on {day}; rates of that day are {valid} "
        f"({source_of(country, rate)}).",
        expected=valid,
        found=f"{rate:f}",
        letter=f"It charges {rate:f} % tax, which {how} on {day}.",
    )


@check(
    place=134,
    needs=("vendor", "entity"),
    codes={
        "tax.unexpected": Code(
            title="Taxed otherwise than this vendor's bills usually are",
            why="The vendor's record says how its sales are taxed; a difference is a slip, or "
            "something new that somebody has to confirm.",
            do="Ask who ordered, or whoever knows the tax; return it if it is a slip.",
            lowered=True,
            helped_by=VENDORS,
        ),
        "tax.foreign": Code(
            title="Tax of another country is charged",
            why="Tax of another country cannot be deducted; sales across borders usually carry "
            "none.",
            do="Enter the vendor's usual treatment in its record; goods and services"
            " across borders usually carry no tax.",
            lowered=True,
            helped_by=VENDORS,
        ),
    },
)
def tax_expected(facts: Facts) -> Iterator[Finding]:
    """`tax.unexpected`: against the vendor's usual treatment and rates; `tax.foreign`."""
    said, vendor = taxed(facts), facts.vendor
    if vendor is None:
        return
    usual = vendor.treatment
    if usual in WITHOUT_TAX and said.any_tax:
        yield _unexpected(
            facts, f"{vendor.name} usually bills without tax ({usual}); {said.charged} are "
            "charged.", expected=usual or "", found=str(said.charged),
        )  # fmt: skip
    elif usual is Treatment.DOMESTIC and said.free and not said.any_tax and not _zero_usual(facts):
        why = f" ({said.told[0]})" if said.told else ""
        rates = f" at {_percent(vendor.rates)}" if vendor.rates else ""
        yield _unexpected(
            facts, f"{vendor.name} usually charges tax{rates}; none is charged here{why}.",
            expected=_percent(vendor.rates) or str(usual), found="0.00",
        )  # fmt: skip
    elif usual in WITHOUT_TAX and said.told and usual not in said.told and said.free:
        yield _unexpected(
            facts, f"{vendor.name} usually bills as {usual}; this one says {said.told[0]}.",
            expected=usual or "", found=said.told[0], weight=Weight.WARN,
        )  # fmt: skip
    strange = tuple(
        rate for rate in said.rates
        if vendor.rates and rate not in {each.normalize() for each in vendor.rates}
    )  # fmt: skip
    if strange and said.any_tax and usual not in WITHOUT_TAX:
        yield _unexpected(
            facts, f"{vendor.name} usually charges {_percent(vendor.rates)}; {_percent(strange)} "
            "is charged here.", expected=_percent(vendor.rates), found=_percent(strange),
        )  # fmt: skip
    across = said.seller and said.buyer and said.seller != said.buyer
    if across and said.any_tax and usual is None and {said.seller, said.buyer} != {"GB", "XI"}:
        yield at_field(
            facts.reading,
            "tax_total",
            code="tax.foreign",
            weight=Weight.WARN,
            message=f"{said.charged} tax of {said.seller} are charged to a company in "
            f"{said.buyer}.",
            found=said.charged.plain() if said.charged else None,
        )


def _zero_usual(facts: Facts) -> bool:
    return facts.vendor is not None and Decimal(0) in facts.vendor.rates


def _unexpected(
    facts: Facts, message: str, *, expected: str, found: str, weight: Weight = Weight.BLOCK
) -> Finding:
    return at_field(
        facts.reading,
        "tax_total",
        code="tax.unexpected",
        weight=weight,
        message=message,
        expected=expected,
        found=found,
        also=("exemption_reason",),
    )


@check(
    place=136,
    needs=("vendor", "entity"),
    codes={
        "tax.reason_missing": Code(
            title="No tax is charged, and nothing says why",
            why="A bill without tax must say why: exempt, reverse charge, export, small business.",
            do="Look for a reason on the page; else have the bill corrected.",
            rule="Directive 2006/112/EC art. 226 (11) to (14); EN 16931 BR-E-10 and its like",
            lowered=True,
            helped_by=VENDORS,
        ),
        "tax.contradicted": Code(
            title="What the bill says of its tax contradicts itself",
            why="Tax is charged where the bill says there is none, or the reason cannot hold "
            "between these two countries.",
            do="Have the bill corrected; enter the reason if it was misread.",
            rule="EN 16931 BR-AE-09, BR-E-09, BR-IC-09, BR-G-09 and their like",
            lowered=True,
        ),
        "tax.buyer_id_missing": Code(
            title="The buyer's tax id is not stated",
            why="Under reverse charge and for goods within the union both tax ids must be stated.",
            do="Look whether it stands on the page; else have the bill corrected.",
            rule="Directive 2006/112/EC art. 226 (4); EN 16931 BR-AE-02, BR-IC-02",
            lowered=True,
        ),
    },
)
def tax_explained(facts: Facts) -> Iterator[Finding]:
    """`tax.reason_missing`, `tax.contradicted`, `tax.buyer_id_missing`."""
    said, reading = taxed(facts), facts.reading
    usual = facts.vendor.treatment if facts.vendor else None
    net = reading.money("net_total")
    unexplained = said.free and not said.told and (net is None or net.amount > 0)
    free_anyway = _zero_usual(facts) or usual is Treatment.ZERO or said.seller in NO_RATES
    if unexplained and not free_anyway:
        known = ""
        if facts.vendor is not None and usual in WITHOUT_TAX:
            known = f"; {facts.vendor.name} usually bills as {usual}"
        yield at_field(
            reading,
            "tax_total",
            code="tax.reason_missing",
            weight=Weight.WARN if known else Weight.BLOCK,
            message=f"No tax is charged, at least on a part, and nothing says why{known}.",
            found="0.00",
            letter="It charges no tax and does not say why.",
        )
    for message in _contradictions(said, reading):
        yield at_field(
            reading,
            "exemption_reason",
            code="tax.contradicted",
            message=message,
            also=("tax_total",),
            found=reading.text("exemption_reason") or (said.told[0] if said.told else None),
            letter=message,
        )
    needing = [each for each in said.told if each in NEED_BUYER_ID]
    if needing and said.free and not reading.text("buyer.tax_id"):
        yield at_field(
            reading,
            "buyer.tax_id",
            code="tax.buyer_id_missing",
            weight=Weight.WARN,
            message=f"It is billed as {needing[0]}, and our tax id is not on it.",
            letter=f"It is billed as {needing[0]}, and our tax id is not on it.",
        )


def _contradictions(said: Taxed, reading: Reading) -> Iterator[str]:
    whole = [t for t in said.told if t not in ZEROED]
    for treatment in whole:
        if said.any_tax and not _free_beside(said, treatment):
            yield f"It says {treatment} and charges {said.charged} tax all the same."
            return
    for row in reading.tax_lines:
        category, rate = cell_text(row, "category") or "", cell_number(row, "rate")
        treatment_ = treatment_of(category)
        if treatment_ in WITHOUT_TAX and treatment_ is not Treatment.MARGIN and rate:
            said_rate = f"{rate.normalize():f} %"
            yield f"Category {category} ({treatment_}) carries no tax; {said_rate} is stated."
            return
    both = said.seller and said.buyer
    if not both:
        return
    if Treatment.INTRA_COMMUNITY in said.told:
        outside = [each for each in (said.seller, said.buyer) if each not in UNION]
        if outside:
            yield f"It is billed as intra-community, but {outside[0]} is no member state."
        elif said.seller == said.buyer:
            yield f"It is billed as intra-community, but both sides are in {said.buyer}."
    if Treatment.EXPORT in said.told and not {said.seller, said.buyer} - EU:
        where = "the union" if said.seller != said.buyer else said.buyer
        yield f"It is billed as an export, but both sides are in {where}."


def _free_beside(said: Taxed, treatment: Treatment) -> bool:
    """Whether a part without tax stands beside taxed ones, which the reason may be for; the
    margin and a small business are said of all of it."""
    return said.free and treatment not in (Treatment.MARGIN, Treatment.SMALL_BUSINESS)


@check(
    place=138,
    needs=("vendor", "entity"),
    codes={
        "tax.id_invalid": Code(
            title="A tax id does not pass its checksum",
            why="It was misread, mistyped or made up.",
            do="Compare it with the page; have it corrected if it stands there.",
            lowered=True,
        ),
        "tax.no_id": Code(
            title="Tax is charged without a tax id",
            why="Without the seller's tax id the tax cannot be deducted, and who charges it may "
            "not be registered at all.",
            do="Look whether it stands on the page; else have the bill corrected.",
            rule="Directive 2006/112/EC art. 226 (3)",
            lowered=True,
            helped_by=VENDORS,
        ),
    },
)
def tax_ids_fit(facts: Facts) -> Iterator[Finding]:
    """`tax.id_invalid`, `tax.no_id`."""
    reading, vendor = facts.reading, facts.vendor
    whose = {
        "seller.tax_id": vendor.country if vendor else "",
        "buyer.tax_id": facts.entity.country if facts.entity else "",
    }
    for name, country in whose.items():
        stated = reading.text(name)
        if stated and holds(stated, country) is False:
            yield at_field(
                reading,
                name,
                code="tax.id_invalid",
                weight=Weight.WARN,
                message=f"The tax id {stated} does not pass the checksum of "
                f"{country_of(stated) or country}.",
                found=stated,
                letter=f"The tax id {stated} on it is not valid.",
            )
    said = taxed(facts)
    if not said.any_tax or reading.text("seller.tax_id") or reading.text("seller.registration"):
        return
    if said.seller in NO_RATES:
        return
    known = vendor is not None and bool(vendor.registered)
    kept = f"; {vendor.registered[0]} is known of {vendor.name}" if vendor and known else ""
    yield at_field(
        reading,
        "seller.tax_id",
        code="tax.no_id",
        weight=Weight.NOTE if known else Weight.BLOCK,
        message=f"{said.charged} tax are charged, and no tax id of the seller is stated{kept}.",
        also=("tax_total",),
        expected=vendor.registered[0] if vendor and known else None,
        found="",
        letter="It charges tax and states no tax id of yours.",
    )
