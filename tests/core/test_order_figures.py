"""Figures behind the comparison with orders, one row for each way in which they are made."""

from dataclasses import replace
from decimal import Decimal

import pytest

from tests.core.test_checks import gbp, line
from tests.core.test_goods_received import came
from tests.core.test_order_lines import KRILL, WATCH, given, krill, told
from veridox.core.checks.order_lines import amount_without_tax, billed_lines, taken
from veridox.core.matching import ItemRecord, came_in
from veridox.core.reading import Field

D = Decimal


def stating(there, **totals):
    fields = {**there.reading.fields, **{name: Field(value=gbp(v)) for name, v in totals.items()}}
    for name, value in totals.items():
        if value == "":
            fields.pop(name)
    return replace(there, reading=replace(there.reading, fields=fields))


def without(there, *names):
    fields = {name: field for name, field in there.reading.fields.items() if name not in names}
    return replace(there, reading=replace(there.reading, fields=fields))


@pytest.mark.parametrize(("rate", "net", "gross", "bare"), [
    ("20", "500.00", "600.00", "100.00"), ("5", "500.00", "600.00", "114.29"),
    ("0", "500.00", "600.00", "120.00"), (None, "500.00", "600.00", "100.00"),
    (None, "400.00", "600.00", "80.00"), (None, None, "600.00", "120.00"),
    (None, "500.00", None, "120.00"), (None, "0.00", "0.00", "120.00"),
])  # fmt: skip
def test_tax_is_taken_out_of_a_price_at_its_own_rate_else_as_the_totals_are(rate, net, gross, bare):
    row = line("1", "120.00", "120.00", description="Krill")
    row |= {"tax_rate": Field(value=D(rate))} if rate else {}
    there = given(row)
    stated = {"net_total": net, "gross_total": gross}
    there = stating(there, **{name: value for name, value in stated.items() if value})
    there = without(there, *(name for name, value in stated.items() if not value))
    assert amount_without_tax(there, row, gbp("120.00")) == gbp(bare)


def test_prices_with_tax_are_compared_without_it():
    there = stating(given(krill("10", "50.40")), net_total="420.00", gross_total="504.00")
    (billed,) = billed_lines(there)
    assert (billed.amount, billed.price) == (gbp("420.00"), D(42))
    assert not told(there)


@pytest.mark.parametrize(("quantity", "price", "takes"), [
    (D(3), "42.00", D(3)), (None, "42.00", D(10)), (None, "0.00", None),
])  # fmt: skip
def test_a_line_without_a_quantity_takes_what_its_amount_buys(quantity, price, takes):
    row = krill("10", "42.00")
    row = row | {"quantity": Field(value=quantity)} if quantity else {
        name: cell for name, cell in row.items() if name != "quantity"
    }  # fmt: skip
    there = given(row, order=(replace(KRILL, unit_price=D(price)),))
    assert [quantity for _, quantity in taken(there)] == [takes]


@pytest.mark.parametrize(("ordered", "billed", "said"), [
    ("drum", "pallet", "is billed by the pallet, ordered by the drum (line 1 of order PO-1)."),
    ("drum", "kg", "is billed by the kg, ordered by the drum (line 1 of order PO-1)."),
])  # fmt: skip
def test_both_units_are_named(ordered, billed, said):
    row = krill("10", "43.00") | {"unit": Field(value=billed)}
    (found,) = told(given(row, order=(replace(KRILL, unit=ordered),)), "order.unit")
    assert found.message.endswith(said)
    assert (found.expected, found.found) == (ordered, billed)


def test_what_others_billed_of_a_sum_counts_with_it_and_its_excess_is_told():
    half = replace(WATCH, billed=D("700.00"), invoiced=D(1))
    row = line("1", "600.00", "600.00", description="Night watch, November")
    (found,) = told(given(row, order=(half,)), "order.quantity")
    assert "bills 600.00 GBP with 700.00 billed before" in found.message
    assert "is for 1,200.00 GBP, 100.00 too much (limit 1,200.00)" in found.message
    assert not told(given(row, order=(replace(half, billed=D("600.00")),)), "order.quantity")


@pytest.mark.parametrize("quantity", ["-1", "0"])
def test_what_takes_nothing_is_not_too_much_of_a_line_that_is_used_up(quantity):
    used = replace(KRILL, invoiced=D(12))
    row = line(quantity, "42.00", str(D(quantity) * 42), description="Frozen krill",
               item_code="BF-KRL")  # fmt: skip
    assert not told(given(row, order=(used,)), "order.quantity")


@pytest.mark.parametrize(("off", "stops"), [("0.01", False), ("0.02", True)])
def test_a_price_may_be_off_by_the_rounding_of_its_amount_and_no_more(off, stops):
    amount = D("42.00") + D(off)
    row = line("1", str(amount), str(amount), description="Frozen krill", item_code="BF-KRL")
    there = given(row, order=(KRILL,))
    assert bool(told(there, "order.price")) is stops


@pytest.mark.parametrize(("percent", "billed", "stops"), [
    ("0", "8", False), ("0", "9", True), ("12.5", "9", False), ("12.4", "9", True),
])  # fmt: skip
def test_more_than_came_in_is_within_the_percent_of_quantities(percent, billed, stops):
    there = given(krill(billed, "42.00"), order=(came("8"),), quantity_percent=D(percent))
    assert bool(told(there, "order.not_received")) is stops


BOX = ItemRecord(unit="piece", packs={"box": D(12)})


@pytest.mark.parametrize(("booked", "received", "returned", "unclear"), [
    ([], 0, 0, ()),
    ([("box", D(2), D(0)), ("piece", D(5), D(3))], 29, 3, ()),
    ([("", D(4), D(1))], 4, 1, ()),
    ([("drum", D(5), D(2)), ("box", D(1), D(1))], 12, 12, ((D(3), "drum"),)),
])  # fmt: skip
def test_what_came_in_is_turned_into_the_orders_unit(booked, received, returned, unclear):
    found = came_in(BOX, "piece", booked)
    assert (found.received, found.returned, found.unclear) == (received, returned, unclear)
