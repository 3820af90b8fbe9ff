"""Charges against what was agreed: one row for each way in which they may differ."""

from dataclasses import replace
from datetime import date
from decimal import Decimal

import pytest

from tests.core.test_checks import VENDOR, facts, line
from veridox.core.checks import run_checks
from veridox.core.facts import CardTolerance, MailFact, MemoryKnown, gather
from veridox.core.findings import Weight
from veridox.core.matching import (
    AgreedRate,
    OrderedLine,
    OrderLineRecord,
    OrderRecord,
    Verdict,
    audit,
)
from veridox.core.money import Money
from veridox.core.pipeline.file.load import examine
from veridox.core.reading import Field, Kind


def rate(wording="Tour*", price="240.00", **more):
    given = {"card": "2026", "currency": "GBP", "wording": wording,
             "price": Decimal(price) if price else None}  # fmt: skip
    return AgreedRate(**{**given, **more})


def charge(description, quantity, price, amount, **more):
    return line(quantity, price, amount, description=description, **more)


TOUR = charge("Tour Nordfleet", "1", "240.00", "240.00")


def verdict(row, *rates, rows=()):
    found = {each.at: each for each in audit([row, *rows], rates)}
    return found[1].verdict


USUAL = (rate(),)


def given(*lines, rates=USUAL, **card):
    there = facts(lines)
    settings = replace(there.settings, card=CardTolerance(**card))
    return replace(there, vendor=VENDOR, agreed=rates, settings=settings, order=None, pairs=())


def said(there):
    return [each for each in run_checks(there) if each.code.startswith("card.")]


@pytest.mark.parametrize(("amount", "is_"), [
    ("240.00", Verdict.AGREED), ("240.01", Verdict.AGREED), ("240.02", Verdict.ABOVE),
    ("239.99", Verdict.AGREED), ("239.98", Verdict.BELOW),
])  # fmt: skip
def test_an_amount_may_be_off_by_one_minor_unit(amount, is_):
    assert verdict(charge("Tour Nordfleet", "1", amount, amount), rate()) is is_


@pytest.mark.parametrize(("row", "is_"), [
    (charge("TOUR  nordfleet", "1", "240.00", "240.00"), Verdict.AGREED),
    (charge("Toll", "1", "25.00", "25.00"), Verdict.NOT_LISTED),
    (charge("Detour", "1", "240.00", "240.00"), Verdict.NOT_LISTED),
    (charge("Something", "1", "240.00", "240.00", item_code="t-1"), Verdict.AGREED),
])  # fmt: skip
def test_a_charge_is_known_by_its_wording_or_its_code(row, is_):
    assert verdict(row, rate(), rate(wording="", code="T1")) is is_


def test_only_the_star_stands_for_anything():
    assert verdict(charge("Tour [A]?", "1", "9.00", "9.00"), rate("Tour [A]?", "9.00")) is (
        Verdict.AGREED
    )
    assert verdict(charge("Tour AB", "1", "9.00", "9.00"), rate("Tour [A]?", "9.00")) is (
        Verdict.NOT_LISTED
    )


def test_what_names_a_charge_more_closely_counts():
    night = rate("Tour * night", "310.00")
    assert verdict(charge("Tour Nordfleet night", "1", "310.00", "310.00"), rate(), night) is (
        Verdict.AGREED
    )


@pytest.mark.parametrize(("quantity", "price", "is_"), [
    ("9", "19.50", Verdict.AGREED), ("10", "16.80", Verdict.AGREED), ("10", "19.50", Verdict.ABOVE),
    ("9", "16.80", Verdict.BELOW),
])  # fmt: skip
def test_the_highest_band_counts_that_is_reached(quantity, price, is_):
    amount = f"{Decimal(quantity) * Decimal(price):.2f}"
    bands = (rate("Place*", "19.50"), rate("Place*", "16.80", from_quantity=Decimal(10)))
    assert verdict(charge("Place in store", quantity, price, amount), *bands) is is_


def test_units_of_measure_are_turned_into_each_other_and_others_are_told():
    by_tonne = rate("Salt", "100.00", unit="t")
    assert verdict(charge("Salt", "500", "0.10", "50.00", unit="kg"), by_tonne) is Verdict.AGREED
    assert verdict(charge("Salt", "5", "10.00", "50.00", unit="bag"), by_tonne) is (
        Verdict.OTHER_UNIT
    )


def test_a_percentage_is_of_what_stands_on_the_card_or_of_what_it_names():
    toll = charge("Toll", "1", "25.00", "25.00")
    place = charge("Place", "1", "60.00", "60.00")
    fuel = rate("Fuel", None, percent=Decimal(6))
    right = charge("Fuel", "1", "18.00", "18.00")
    rates = (rate(), rate("Place", "60.00"), fuel)
    assert verdict(right, *rates, rows=(TOUR, place, toll)) is Verdict.AGREED
    of_tours = replace(fuel, of="Tour*")
    assert verdict(right, rate(), of_tours, rows=(TOUR, place)) is Verdict.ABOVE
    assert verdict(charge("Fuel", "1", "14.40", "14.40"), rate(), of_tours,
                   rows=(TOUR, place)) is Verdict.AGREED  # fmt: skip


def test_rates_of_another_currency_say_nothing():
    assert verdict(TOUR, rate(currency="EUR")) is Verdict.NOT_LISTED


def test_a_charge_above_is_told_with_both_figures_the_limit_and_the_rate():
    (finding,) = said(given(charge("Tour Nordfleet", "2", "270.00", "540.00"),
                            percent=Decimal(5)))  # fmt: skip
    assert finding.message == (
        "Line 1 (Tour Nordfleet) costs 540.00 GBP; agreed are 480.00 GBP (limit 504.00) by rate "
        "card 2026, 240.00 GBP each, 60.00 too much."
    )
    assert (finding.code, finding.weight) == ("card.above", Weight.BLOCK)
    assert (finding.expected, finding.found, finding.difference) == ("504.00", "540.00", "+60.00")
    assert "limit" not in finding.letter
    assert "agreed are 480.00 GBP" in finding.letter


@pytest.mark.parametrize(("amount", "within", "codes"), [
    ("252.00", {"percent": Decimal(5)}, []), ("252.01", {"percent": Decimal(5)}, ["card.above"]),
    ("242.00", {"amount": Decimal(2)}, []), ("242.01", {"amount": Decimal(2)}, ["card.above"]),
    ("244.00", {"percent": Decimal(5), "amount": Decimal(2)}, ["card.above"]),
    ("230.00", {}, ["card.below"]),
])  # fmt: skip
def test_limits_are_of_percent_and_amount_the_narrower(amount, within, codes):
    there = given(charge("Tour Nordfleet", "1", amount, amount), **within)
    assert [each.code for each in said(there)] == codes


def test_what_nobody_agreed_stops_and_a_rebate_is_a_note():
    codes = {each.code: each.weight for each in said(given(
        TOUR, charge("Toll", "1", "25.00", "25.00"), charge("Tour B", "1", "200.00", "200.00")
    ))}  # fmt: skip
    assert codes == {"card.not_listed": Weight.BLOCK, "card.below": Weight.NOTE}


def test_lines_of_an_order_credits_and_vendors_without_a_card_are_left_alone():
    toll = charge("Toll", "1", "25.00", "25.00")
    assert not said(given(toll, rates=None))
    there = given(toll)
    assert not said(replace(there, reading=replace(there.reading, kind=Kind.CREDIT_NOTE)))
    ordered = OrderLineRecord(position=1, item_code="", description="Toll",
                              unit_price=Decimal("25.00"))  # fmt: skip
    order = OrderRecord(number="PO-1", vendor=VENDOR.code, net_total=Money.of("25", "GBP"),
                        invoiced=Money.of("0", "GBP"), lines=(ordered,))  # fmt: skip
    assert not said(replace(there, order=order, pairs=(OrderedLine(order=order, line=ordered),)))


def test_a_card_holds_from_its_first_to_its_last_day():
    year = rate(first=date(2026, 1, 1), last=date(2026, 12, 31))
    known = MemoryKnown(every_vendor=[VENDOR], cards={VENDOR.code: [year]})
    there = facts([TOUR])

    def on(day):
        fields = {**there.reading.fields, "issue_date": Field(value=day),
                  "seller.name": Field(value=VENDOR.name),
                  "seller.tax_id": Field(value=VENDOR.tax_id)}  # fmt: skip
        return gather(known, replace(there.reading, fields=fields), settings=there.settings,
                      chosen={}, mail=MailFact())  # fmt: skip

    assert on(date(2026, 1, 1)).agreed == (year,)
    assert on(date(2026, 12, 31)).agreed == (year,)
    late = on(date(2027, 1, 1))
    assert late.agreed == ()
    (finding,) = said(late)
    assert finding.message == f"No rate card of {VENDOR.name} is in force on 2027-01-01."


def test_a_pipeline_gives_limits_over_the_card():
    said = examine("pipeline: p\ncollect: [{mailbox: m}]\npost: {ledger: l}\n"
                   "check: {card: {percent: 2, amount: 1.50}}\n")  # fmt: skip
    assert said.definition.check.card == CardTolerance(percent=Decimal(2), amount=Decimal("1.50"))
