"""Which order may be meant: from its number, its lines, its total, and what stands on the page."""

from dataclasses import replace
from decimal import Decimal

import pytest

from tests.core.test_checks import ENTITY, VENDOR, facts, gbp, line
from veridox.core.checks import run_checks
from veridox.core.facts import CheckSettings, MailFact, MemoryKnown, gather
from veridox.core.matching import OrderLineRecord, OrderRecord, propose_orders
from veridox.core.money import Money
from veridox.core.reading import Field


def order(number, *lines, **more):
    usual = {"vendor": "V1", "net_total": gbp("500.00"), "invoiced": gbp("0"), "entity": "trust"}
    return OrderRecord(**{**usual, "number": number, "lines": lines, **more})


def ordered(position, description, quantity, price):
    return OrderLineRecord(
        position=position, item_code="", description=description, quantity=Decimal(quantity),
        unit_price=Decimal(price),
    )  # fmt: skip


SQUID = order("PO-26-0104", ordered(1, "Squid, whole, 5 kg carton", "20", "38.75"))
CUPS = order("PO-26-0117", ordered(1, "Paper cups", "100", "0.40"))
BOTH = (SQUID, CUPS)


def bill(*lines, stated=None, net="116.25"):
    there = facts(lines, net_total=gbp(net), without=("order_number",)).reading
    return there.with_fields({"order_number": Field(value=stated)}) if stated else there


def squid(quantity="3", price="38.75"):
    return line(quantity, price, f"{Decimal(quantity) * Decimal(price):.2f}",
                description="Squid whole 5 kg carton")  # fmt: skip


def proposed(reading, orders=BOTH, text=""):
    stated = reading.text("order_number") or ""
    return [each.order.number for each in propose_orders(reading, orders, text, stated)]


@pytest.mark.parametrize(("stated", "found"), [
    ("PO-26-0140", ["PO-26-0104"]),  # two signs exchanged
    ("PO-26-O1O4", ["PO-26-0104"]), ("P0-26-0117", ["PO-26-0117"]),  # letters for digits
    ("PO-26-010", ["PO-26-0104"]),  # one is missing
    ("0104", ["PO-26-0104"]), ("PO-26-0999", []), ("4", []),
])  # fmt: skip
def test_a_misread_or_shortened_number_finds_its_order(stated, found):
    assert proposed(bill(stated=stated)) == found


def test_open_lines_at_their_price_find_their_order():
    (first,) = propose_orders(bill(squid()), BOTH)
    assert first.order is SQUID
    assert [str(each) for each in first.reasons] == ["lines 1 of 1 at its prices"]
    assert proposed(bill(squid(price="40.00"))) == []  # another price
    assert proposed(bill(squid(quantity="21"))) == []  # more than is open
    used = replace(SQUID, lines=(replace(SQUID.lines[0], invoiced=Decimal(18)),))
    assert proposed(bill(squid()), (used, CUPS)) == []


def test_a_number_that_stands_on_the_page_counts_wherever_it_stands():
    assert proposed(bill(), text="As agreed with PO 26 0117 of May") == ["PO-26-0117"]


def test_the_open_total_counts_and_pieces_add_up():
    (first,) = propose_orders(bill(squid("20"), net="775.00"), BOTH)
    assert {each.what for each in first.reasons} == {"lines", "total"}
    assert first.score == pytest.approx(1 - 0.2 * 0.4)


@pytest.mark.parametrize("more", [
    {"closed": True}, {"gone": True}, {"net_total": Money.of("500", "EUR")},
])  # fmt: skip
def test_what_cannot_be_billed_on_is_not_proposed(more):
    assert proposed(bill(squid()), (replace(SQUID, **more),)) == []


def test_at_most_three_are_shown_the_likeliest_first():
    many = tuple(replace(SQUID, number=f"PO-9{at}") for at in range(5))
    assert proposed(bill(squid()), many) == ["PO-90", "PO-91", "PO-92"]


# -- as facts, and in what is said


KNOWN = MemoryKnown(every_vendor=(VENDOR,), every_entity=(ENTITY,), every_order=(*BOTH, replace(
    SQUID, number="PO-26-0500", vendor="V9")))  # fmt: skip


def gathered(reading, vendor=VENDOR, text=""):
    there = replace(KNOWN, every_vendor=(vendor,))
    return gather(there, reading, settings=CheckSettings(), chosen={}, mail=MailFact(text=text))


@pytest.mark.parametrize(("stated", "asked"), [
    (None, True), ("PO-26-0999", True), ("PO-26-0500", True),  # none, unknown, another vendor's
    ("PO-26-0117", False),
])  # fmt: skip
def test_orders_are_proposed_where_the_one_named_is_none_of_the_vendors(stated, asked):
    found = gathered(bill(squid(), stated=stated))
    assert [each.order.number for each in found.near_orders] == (["PO-26-0104"] if asked else [])


def test_a_vendor_that_needs_no_order_is_asked_for_none():
    free = replace(VENDOR, needs_order=False)
    assert gathered(bill(squid()), free).near_orders == ()
    assert gathered(bill(squid(), stated="PO-26-0999"), free).near_orders != ()


@pytest.mark.parametrize(("stated", "code"), [
    (None, "order.missing"), ("PO-26-0999", "order.unknown"), ("PO-26-0500", "order.vendor"),
])  # fmt: skip
def test_what_may_be_meant_is_told_with_its_reasons_and_no_letter_tells_it(stated, code):
    found = {each.code: each for each in run_checks(gathered(bill(squid(), stated=stated)))}
    assert found[code].hint == "PO-26-0104 may be meant (80%): lines 1 of 1 at its prices."
    assert "0104" not in found[code].letter
