"""A bill against its order, line by line: one row for each way in which it may differ."""

from dataclasses import replace
from datetime import date
from decimal import Decimal

import pytest

from tests.core.test_checks import VENDOR, facts, gbp, line
from veridox.core.checks import run_checks
from veridox.core.checks.order_lines import is_freight, taken
from veridox.core.facts import CheckSettings, OrderTolerance
from veridox.core.language import Subject, compile_condition, evaluate, values_of
from veridox.core.locales.units import times
from veridox.core.matching import OrderLineRecord, OrderRecord, Raised, pair_with_orders
from veridox.core.money import Money
from veridox.core.reading import Field, Kind

KRILL = OrderLineRecord(
    position=1, item_code="BF-KRL", description="Frozen krill, 2 kg block", quantity=Decimal(10),
    unit="block", unit_price=Decimal("42.00"),
)  # fmt: skip
WATCH = OrderLineRecord(position=2, item_code="", description="Night watch, November",
                        unit_price=Decimal("1200.00"))  # fmt: skip
LINE_CODES = ("order.price", "order.quantity", "order.extra_line", "order.unit", "order.charges")


def given(*lines, order=(KRILL, WATCH), kind=Kind.INVOICE, vendor="V1", currency="GBP", **within):
    """Facts of a bill with these lines on an order with those."""
    there = facts(lines, settings=CheckSettings(order_total=OrderTolerance(**within)))
    record = OrderRecord(number="PO-1", vendor=vendor, net_total=Money.of("9999", currency),
                         invoiced=Money.of("0", currency), entity="trust", lines=order)  # fmt: skip
    reading = replace(there.reading, kind=kind)
    return replace(there, reading=reading, order=record, vendor=VENDOR,
                   pairs=pair_with_orders(reading.lines, (record,)))  # fmt: skip


def krill(quantity, price, **more):
    amount = Decimal(quantity) * Decimal(price)
    return line(quantity, price, f"{amount:.2f}", description="Frozen krill", item_code="BF-KRL",
                **more)  # fmt: skip


def told(there, *codes):
    return [each for each in run_checks(there) if each.code in (codes or LINE_CODES)]


def said(there):
    return [each.code for each in told(there)]


@pytest.mark.parametrize(("price", "within", "found"), [
    ("42.00", {}, []), ("42.01", {}, ["order.price"]), ("84.00", {}, ["order.price"]),
    ("42.84", {"price_percent": Decimal(2)}, []),
    ("42.85", {"price_percent": Decimal(2)}, ["order.price"]),
    ("42.50", {"price_amount": Decimal("0.50")}, []),
    ("42.51", {"price_amount": Decimal("0.50")}, ["order.price"]),
    ("42.50", {"price_percent": Decimal(1), "price_amount": Decimal("0.50")}, ["order.price"]),
    ("42.42", {"price_percent": Decimal(1), "price_amount": Decimal("0.50")}, []),
])  # fmt: skip
def test_a_price_is_that_of_the_order(price, within, found):
    assert said(given(krill("10", price), **within)) == found


def test_a_price_is_told_with_both_figures_and_the_limit_and_letters_tell_no_limit():
    (finding,) = told(given(krill("10", "43.00"), price_percent=Decimal(2)))
    assert finding.message == (
        "Line 1 (Frozen krill) costs 43.00 GBP each; ordered were 42.00 GBP (limit 42.84), line 1 "
        "of order PO-1."
    )
    assert (finding.expected, finding.found, finding.difference) == ("42.84", "43.00", "+1")
    assert (
        finding.letter == "Line 1 (Frozen krill) costs 43.00 GBP each; we ordered it at 42.00 GBP."
    )
    assert finding.blocks


def test_less_than_ordered_is_a_note():
    (finding,) = told(given(krill("10", "41.00")))
    assert (finding.code, finding.blocks, finding.letter) == ("order.price", False, "")


def test_a_price_is_what_is_really_charged():
    dear = line("10", "50.00", "420.00", description="Frozen krill", item_code="BF-KRL",
                discount=gbp("80.00"))  # fmt: skip
    assert said(given(dear)) == []


def test_a_price_taken_from_a_rounded_amount_may_be_off_by_its_share():
    cheap = replace(KRILL, quantity=Decimal(1000), unit_price=Decimal("0.0333"))
    row = line("100", "0.0333", "3.33", item_code="BF-KRL", description="Frozen krill")
    assert said(given(row, order=(cheap,))) == []
    assert said(given(line("100", "0.04", "4.00", item_code="BF-KRL", description="Frozen krill"),
                      order=(cheap,))) == ["order.price"]  # fmt: skip


@pytest.mark.parametrize(("quantity", "before", "within", "found"), [
    ("10", "0", {}, []), ("10.5", "0", {}, ["order.quantity"]), ("4", "6", {}, []),
    ("5", "6", {}, ["order.quantity"]), ("11", "0", {"quantity_percent": Decimal(10)}, []),
    ("12", "0", {"quantity_percent": Decimal(10)}, ["order.quantity"]), ("-2", "10", {}, []),
])  # fmt: skip
def test_no_more_than_was_ordered_is_billed_of_a_line(quantity, before, within, found):
    there = replace(KRILL, invoiced=Decimal(before))
    assert said(given(krill(quantity, "42.00"), order=(there,), **within)) == found


def test_lines_of_one_bill_count_together_with_what_others_billed():
    there = replace(KRILL, invoiced=Decimal(3))
    (finding,) = told(given(krill("4", "42.00"), krill("5", "42.00"), order=(there,)))
    assert finding.message == (
        "Lines 1, 2 (Frozen krill) bill 9 block with 3 billed before; line 1 of order PO-1 is for "
        "10 block, 2 too many (limit 10)."
    )
    assert (finding.expected, finding.found, finding.difference) == ("10", "9", "+2")
    assert "limit" not in finding.letter


@pytest.mark.parametrize(("amount", "before", "within", "found"), [
    ("1200.00", "0", {}, []), ("400.00", "800.00", {}, []), ("400.01", "800.00", {}, [
        "order.quantity"]), ("1224.00", "0", {"price_percent": Decimal(2)}, []),
    ("1224.01", "0", {"price_percent": Decimal(2)}, ["order.quantity"]),
])  # fmt: skip
def test_what_was_ordered_for_a_sum_is_billed_in_parts(amount, before, within, found):
    there = replace(WATCH, billed=Decimal(before), invoiced=Decimal(1))
    row = line("1", amount, amount, description="Night watch, November")
    assert said(given(row, order=(there,), **within)) == found


def test_a_line_that_states_no_quantity_is_compared_by_its_amount():
    row = {"description": Field(value="Frozen krill"), "item_code": Field(value="BF-KRL"),
           "amount": Field(value=gbp("420.00"))}  # fmt: skip
    assert said(given(row)) == []
    assert said(given({**row, "amount": Field(value=gbp("420.01"))})) == ["order.quantity"]


def test_what_is_not_on_the_order_stops_however_well_the_total_fits():
    extra = line("1", "5.00", "5.00", description="Paper cups")
    (finding,) = told(given(krill("2", "42.00"), extra))
    assert finding.code == "order.extra_line"
    assert finding.message == "Line 2 (Paper cups) over 5.00 GBP is not on order PO-1."
    assert finding.blocks
    assert said(given(krill("2", "42.00"), line("1", "-5.00", "-5.00", description="Rebate"))) == []
    assert said(given(krill("2", "42.00"), line("1", "0.00", "0.00", description="Note"))) == []


@pytest.mark.parametrize(("text", "freight"), [
    ("Carriage to Merrowmere", True), ("Versandkosten", True), ("Frais de port", True),
    ("Portes e embalagem", True), ("Frozen krill", False), ("", False),
])  # fmt: skip
def test_freight_is_known_in_nine_languages(text, freight):
    assert is_freight({"description": Field(value=text)}) is freight


def test_freight_as_a_line_has_the_limit_of_charges():
    freight = line("1", "36.00", "36.00", description="Carriage")
    assert said(given(krill("2", "42.00"), freight, charges=Decimal(50))) == []
    (finding,) = told(given(krill("2", "42.00"), freight, charges=Decimal(20)))
    assert (finding.code, finding.found, finding.expected) == ("order.charges", "36.00", "20.00")


@pytest.mark.parametrize(("unit", "found"), [
    ("block", []), ("blocks", []), ("", []), ("pallet", ["order.unit"]),
])  # fmt: skip
def test_a_unit_that_nothing_is_known_of_stops(unit, found):
    assert said(given(krill("8", "50.00" if found else "42.00", unit=unit))) == found


def test_two_words_for_one_thing_cost_the_same():
    assert said(given(krill("10", "42.00", unit="brick"))) == []
    assert said(given(krill("11", "42.00", unit="brick"))) == ["order.quantity"]


def test_units_are_converted():
    feed = replace(KRILL, unit="kg", unit_price=Decimal("4.00"), quantity=Decimal(500))
    tonnes = line("0.5", "4000.00", "2000.00", item_code="BF-KRL", description="Frozen krill",
                  unit="t")  # fmt: skip
    assert said(given(tonnes, order=(feed,))) == []
    more = line("0.6", "4000.00", "2400.00", item_code="BF-KRL", description="Frozen krill",
                unit="t")  # fmt: skip
    assert said(given(more, order=(feed,))) == ["order.quantity"]


@pytest.mark.parametrize(("one", "other", "factor"), [
    ("kg", "g", 1000), ("h", "min", 60), ("KGM", "kg", 1), ("C62", "Stück", 1), ("ea", "pcs", 1),
    ("Bags", "bag", 1), ("boxes", "box", 1), ("", "kg", 1), ("Stk.", "each", 1),
    ("kg", "l", None), ("pallet", "piece", None), ("kg", "piece", None),
])  # fmt: skip
def test_units_of_measure(one, other, factor):
    assert times(one, other) == factor


@pytest.mark.parametrize("more", [
    {"kind": Kind.CREDIT_NOTE}, {"vendor": "V9"}, {"currency": "EUR"}, {"order": ()},
])  # fmt: skip
def test_lines_are_compared_on_orders_of_this_vendor_in_its_currency_only(more):
    wrong = given(krill("99", "99.00"), line("1", "5.00", "5.00", description="Cups"), **more)
    assert said(wrong) == []


def test_what_a_bill_takes_is_in_the_unit_of_the_order():
    feed = replace(KRILL, unit="kg", unit_price=Decimal("4.00"))
    tonnes = line("0.5", "4000.00", "2000.00", item_code="BF-KRL", description="Frozen krill",
                  unit="t")  # fmt: skip
    ((billed, quantity),) = taken(given(tonnes, order=(feed,)))
    assert (billed.at, billed.line.position, quantity, billed.amount) == (
        1, 1, Decimal(500), gbp("2000.00"),
    )  # fmt: skip
    unknown = line("3", "700.00", "2100.00", item_code="BF-KRL", description="Frozen krill",
                   unit="pallet")  # fmt: skip
    ((_, quantity),) = taken(given(unknown, order=(feed,)))
    assert quantity == 525  # what its amount buys at the ordered price


# -- the order's date


@pytest.mark.parametrize(("ordered", "raised", "code", "blocks"), [
    (date(2026, 11, 1), Raised.BEFORE, None, None),
    (date(2026, 11, 5), Raised.SAME_DAY, "order.same_day", False),
    (date(2026, 11, 9), Raised.AFTERWARDS, "order.raised_afterwards", False),
    (None, None, None, None),
])  # fmt: skip
def test_orders_come_before_their_bills(ordered, raised, code, blocks):
    there = given(krill("1", "42.00"))
    there = replace(there, order=replace(there.order, ordered_on=ordered))
    assert there.raised is raised
    found = told(there, "order.same_day", "order.raised_afterwards")
    assert [(each.code, each.blocks) for each in found] == ([(code, blocks)] if code else [])


def test_an_order_that_was_raised_afterwards_is_told_with_both_days():
    there = given(krill("1", "42.00"))
    late = replace(there, order=replace(there.order, ordered_on=date(2026, 11, 9)))
    (finding,) = told(late, "order.raised_afterwards")
    assert finding.message == "Order PO-1 is of 2026-11-09, 4 days after the bill of 2026-11-05."
    assert finding.difference == "+4"
    credit = replace(late, reading=replace(late.reading, kind=Kind.CREDIT_NOTE))
    assert told(credit, "order.raised_afterwards") == []


def test_a_bill_without_an_order_has_none_and_one_of_an_unknown_order_nobody_knows():
    there = facts()
    assert replace(there, order=None).raised is None  # it names one
    without = facts(without=("order_number",))
    assert replace(without, order=None).raised is Raised.NONE


def test_rules_may_ask_when_the_order_was_raised():
    there = given(krill("1", "42.00"))
    late = replace(there, order=replace(there.order, ordered_on=date(2026, 11, 9)))
    asked = compile_condition('order.raised == "raised afterwards"')
    assert evaluate(asked, values_of(Subject(facts=late))) is True
    assert evaluate(asked, values_of(Subject(facts=replace(there, order=None, reading=facts(
        without=("order_number",)).reading)))) is False  # fmt: skip
