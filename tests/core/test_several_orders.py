"""A bill that names several orders: which they are, which line is of which, how much of each."""

import re
from dataclasses import replace
from datetime import date
from decimal import Decimal

import pytest

from tests.core.test_checks import ENTITY, VENDOR, facts, gbp, line
from veridox.core.checks import run_checks
from veridox.core.checks.order_lines import taken
from veridox.core.checks.shares import shares
from veridox.core.facts import CheckSettings, MemoryKnown, OrderTolerance, gather
from veridox.core.language import Subject, compile_condition, evaluate, lists_of, values_of
from veridox.core.matching import (
    OrderedLine,
    OrderLineRecord,
    OrderRecord,
    Raised,
    candidates,
    named_orders,
    order_key,
    pair_with_orders,
)
from veridox.core.posting import Bill, bill_of_facts
from veridox.core.reading import Field, Kind, Origin


def ordered(number, *lines, total="9999", **more):
    return OrderRecord(number=number, vendor=VENDOR.code, net_total=gbp(total), invoiced=gbp("0"),
                       entity=ENTITY.code, lines=lines, **more)  # fmt: skip


def thing(position, code, text, price="42.00", quantity="10"):
    return OrderLineRecord(position=position, item_code=code, description=text, unit="piece",
                           unit_price=Decimal(price), quantity=Decimal(quantity))  # fmt: skip


KRILL, SQUID, SALT = (thing(1, "BF-KRL", "Frozen krill"), thing(2, "BF-SQD", "Squid rings"),
                      thing(1, "SG-SAL", "Reef salt"))  # fmt: skip
ONE = ordered("PO-26-0117", KRILL, SQUID, ordered_on=date(2026, 1, 5))
TWO = ordered("PO-26-0118", SALT, ordered_on=date(2026, 1, 7))
BY_TOTAL = ordered("PO-26-0120", total="100.00")
KNOWN = {order_key(each.number): each for each in (ONE, TWO, BY_TOTAL)}


def billed(quantity, code, text, price="42.00", **cells):
    row = line(quantity, price, f"{Decimal(quantity) * Decimal(price):.2f}", description=text,
               item_code=code)  # fmt: skip
    return row | {name: field if isinstance(field, Field) else Field(value=field)
                  for name, field in cells.items()}  # fmt: skip


def given(*lines, orders=(ONE, TWO), stated=None, net=None, **within):
    """Facts of a bill with these lines that names these orders."""
    made = sum((row["amount"].value.amount for row in lines), Decimal(0))
    there = facts(lines, settings=CheckSettings(order_total=OrderTolerance(**within)))
    total = gbp(str(net if net is not None else made))
    fields = {
        **there.reading.fields, "net_total": Field(value=total),
        "order_number": Field(value=stated or ", ".join(each.number for each in orders)),
    }  # fmt: skip
    fields.pop("charges", None)
    reading = replace(there.reading, fields=fields)
    return replace(there, reading=reading, order=orders[0], further_orders=orders[1:],
                   vendor=VENDOR, pairs=pair_with_orders(reading.lines, orders))  # fmt: skip


def told(there, prefix="order."):
    return {each.code: each for each in run_checks(there) if each.code.startswith(prefix)}


BOTH = (billed("10", "BF-KRL", "Frozen krill"), billed("5", "SG-SAL", "Reef salt"))


@pytest.mark.parametrize(("text", "numbers", "unknown"), [
    ("PO-26-0117", ["PO-26-0117"], []),
    ("po 26 0117", ["PO-26-0117"], []),
    ("PO-26-0117, PO-26-0118", ["PO-26-0117", "PO-26-0118"], []),
    ("PO-26-0118 und PO-26-0117", ["PO-26-0118", "PO-26-0117"], []),
    ("PO-26-0117 / PO-26-0118", ["PO-26-0117", "PO-26-0118"], []),
    ("PO-26-0117 PO-26-0118", ["PO-26-0117", "PO-26-0118"], []),
    ("PO-26-0117; PO-26-0118 & PO-26-0120",
     ["PO-26-0117", "PO-26-0118", "PO-26-0120"], []),
    ("PO-26-0117/0118", ["PO-26-0117", "PO-26-0118"], []),
    ("PO-26-0117/PO-26-0118", ["PO-26-0117", "PO-26-0118"], []),
    ("PO-26-0117/18/20", ["PO-26-0117", "PO-26-0118", "PO-26-0120"], []),
    ("PO-26-0117, -0118", ["PO-26-0117", "PO-26-0118"], []),
    ("PO-26-0117, PO-26-0117", ["PO-26-0117"], []),
    ("PO-26-0117, PO-26-0199", ["PO-26-0117"], ["PO-26-0199"]),
    ("PO-26-0117/0199", ["PO-26-0117"], ["0199"]),
    ("PO-26-0198, PO-26-0199", [], ["PO-26-0198, PO-26-0199"]),  # none is ours: told as it stands
    ("4711/12", [], ["4711/12"]),
    ("verbal", [], ["verbal"]), ("NA, PO-26-0117", ["PO-26-0117"], []),
])  # fmt: skip
def test_several_numbers_are_told_apart(text, numbers, unknown):
    found = named_orders([text], KNOWN)
    assert [each.number for each in found.known] == numbers
    assert list(found.unknown) == unknown


def test_a_number_with_signs_in_it_is_one_number():
    odd = {order_key("PO/26, 4"): ordered("PO/26, 4")}
    assert [each.number for each in named_orders(["PO/26, 4"], odd).known] == ["PO/26, 4"]


def test_no_bill_names_more_orders_than_a_hundred():
    many = {f"PO{at:05}": ordered(f"PO{at:05}") for at in range(130)}
    found = named_orders([", ".join(many)], many)
    assert (len(found.known), len(found.unknown)) == (100, 30)


def test_lines_are_paired_over_all_orders_and_each_order_gets_what_its_lines_make():
    there = given(*BOTH)
    assert not told(there)
    assert [(each.order.number, each.line.position) for each in there.pairs] == [
        ("PO-26-0117", 1), ("PO-26-0118", 1),
    ]  # fmt: skip
    found = shares(there)
    assert found.of == {"PO-26-0117": gbp("420.00"), "PO-26-0118": gbp("210.00")}
    assert [(each.order.number, quantity) for each, quantity in taken(there)] == [
        ("PO-26-0117", 10), ("PO-26-0118", 5),
    ]  # fmt: skip


def test_the_number_at_a_line_decides_between_two_orders_of_one_thing():
    again = ordered("PO-26-0118", replace(KRILL, unit_price=Decimal("45.00")))
    row = billed("5", "BF-KRL", "Frozen krill")
    said = Field(value="PO-26-0118", origin=Origin.PERSON)
    assert given(row, orders=(ONE, again)).pairs[0].order is ONE  # its price
    at_hand = given(row | {"order_number": said}, orders=(ONE, again))
    assert at_hand.pairs[0].order is again
    short = replace(said, value="0118", origin=Origin.EMBEDDED)
    assert given(row | {"order_number": short}, orders=(ONE, again)).pairs[0].order is again
    # A person's word counts even where code and words speak for another order.
    (pair,) = given(row | {"order_number": said}, orders=(ONE, TWO)).pairs
    assert pair is None
    # A heading that was read is doubted: code and words of the other order win.
    read = replace(said, origin=Origin.TEXT)
    assert given(row | {"order_number": read}, orders=(ONE, TWO)).pairs[0].order is ONE


def test_each_order_has_its_own_limits():
    short = ordered("PO-26-0118", SALT, total="200.00")
    found = told(given(*BOTH, orders=(ONE, short)))
    assert list(found) == ["order.total"]
    assert found["order.total"].message == (
        "Order PO-26-0118 is for 200.00 GBP net; this invoice bills 210.00 GBP on it, which makes "
        "210.00 GBP, 10.00 GBP too much (limit 200.00 GBP)."
    )
    assert found["order.total"].about == "order PO-26-0118"
    found = told(given(billed("11", "BF-KRL", "Frozen krill"), BOTH[1]))
    assert "line 1 of order PO-26-0117 is for 10, 1 too many" in found["order.quantity"].message


@pytest.mark.parametrize(("change", "code", "said"), [
    ({"closed": True}, "order.closed", "Order PO-26-0118 is closed."),
    ({"gone": True}, "order.closed", "Order PO-26-0118 is not in the finance system any more."),
    ({"approved": False}, "order.not_approved", "Order PO-26-0118 is not approved yet."),
    ({"vendor": "V9"}, "order.vendor", "Order PO-26-0118 was placed with V9, not with"),
    ({"entity": "other"}, "order.entity", "Order PO-26-0118 was placed by other;"),
])  # fmt: skip
def test_the_second_order_is_looked_at_as_the_first(change, code, said):
    found = told(given(*BOTH, orders=(ONE, replace(TWO, **change))))
    assert found[code].message.startswith(said)
    assert found[code].about == "order PO-26-0118"


def test_a_currency_and_a_day_are_those_of_each_order():
    late = replace(TWO, ordered_on=date(2026, 12, 30))
    found = told(given(*BOTH, orders=(ONE, late)))["order.raised_afterwards"]
    assert found.message.startswith("Order PO-26-0118 is of 2026-12-30")
    assert given(*BOTH, orders=(ONE, late)).raised is Raised.AFTERWARDS
    assert given(*BOTH).raised is Raised.BEFORE
    other = replace(TWO, net_total=replace(TWO.net_total, currency="EUR"))
    found = told(given(*BOTH, orders=(ONE, other)))["order.currency"]
    assert found.message == "Order PO-26-0118 is in EUR, the invoice in GBP."
    assert given(*BOTH, orders=(ONE, other)).ordered is None


def test_a_number_that_is_none_is_told_alone_and_where_it_stands():
    there = given(*BOTH, stated="PO-26-0117, PO-26-0118, PO-26-0199")
    found = told(there)["order.unknown"]
    assert (found.found, found.about) == ("PO-26-0199", "order PO-26-0199")
    assert there.raised is None
    typed = Field(value="PO-7", origin=Origin.PERSON)
    at_line = given(*BOTH, billed("1", "X", "Something", order_number=typed))
    assert told(at_line)["order.unknown"].fields == ("lines[3].order_number",)
    assert "order.extra_line" not in told(at_line)  # it may be of the one that is not known
    # Vendors print numbers of their own within tables: what is read there and unknown is none.
    own = given(*BOTH, billed("1", "X", "Something", order_number="88123"))
    assert list(told(own)) == ["order.extra_line"]
    free = replace(
        own,
        order=None,
        further_orders=(),
        pairs=(),
        reading=replace(
            own.reading, fields={**own.reading.fields, "order_number": Field(value="")}
        ),
    )
    assert list(told(replace(free, vendor=replace(VENDOR, needs_order=True)))) == ["order.missing"]


def test_a_line_of_none_of_them_was_not_ordered():
    found = told(given(*BOTH, billed("1", "", "Wetsuit")))["order.extra_line"]
    assert found.message.endswith("over 42.00 GBP is not on order PO-26-0117 or PO-26-0118.")


def test_where_nothing_says_of_which_order_a_line_is_a_person_is_asked():
    lines = (BOTH[0], billed("2", "", "Night watch"))
    there = given(*lines, orders=(ONE, BY_TOTAL))
    found = told(there)
    assert list(found) == ["order.share"]
    assert found["order.share"].message == (
        "The bill names orders PO-26-0117 and PO-26-0120; of 84.00 GBP nothing says on which of "
        "them it is billed."
    )
    # It is counted all the same, and where there is room.
    assert shares(there).of["PO-26-0117"] == gbp("504.00")
    clear = lines[1] | {"order_number": Field(value="PO-26-0120", origin=Origin.PERSON)}
    there = given(lines[0], clear, orders=(ONE, BY_TOTAL))
    assert not told(there)
    assert shares(there).of == {"PO-26-0117": gbp("420.00"), "PO-26-0120": gbp("84.00")}


def test_a_bill_without_lines_fills_its_orders_one_after_the_other():
    there = given(orders=(BY_TOTAL, replace(BY_TOTAL, number="PO-26-0121")), net="170.00")
    assert shares(there).of == {"PO-26-0120": gbp("100.00"), "PO-26-0121": gbp("70.00")}
    assert list(told(there)) == ["order.share"]
    over = replace(there, reading=replace(there.reading, fields={
        **there.reading.fields, "net_total": Field(value=gbp("201.00")),
    }))  # fmt: skip
    assert set(told(over)) == {"order.share", "order.total"}


@pytest.mark.parametrize("net", ["629.99", "567.00", "0.01", "630.00", "700.00"])
def test_what_is_taken_off_the_whole_is_taken_off_each_to_the_cent(net):
    found = shares(given(*BOTH, net=net)).of
    assert sum(each.amount for each in found.values()) == Decimal(net)
    assert abs(found["PO-26-0117"].amount - 2 * found["PO-26-0118"].amount) <= Decimal("0.02")


def test_freight_has_its_limit_once_for_each_order_that_is_billed():
    freight = line("1", "70.00", "70.00", description="Freight")
    there = given(*BOTH, freight, charges=Decimal(40))
    assert not told(there)
    assert shares(there).of["PO-26-0117"] == gbp("420.00")
    found = told(given(*BOTH, freight, charges=Decimal(30)))["order.charges"]
    assert found.message == (
        "Charges of 70.00 GBP are billed on top of orders PO-26-0117 and PO-26-0118; 60.00 GBP are "
        "accepted."
    )
    only_one = given(BOTH[0], freight, charges=Decimal(40))  # the other is named and not billed
    assert "40.00 GBP are accepted" in told(only_one)["order.charges"].message


def test_the_bill_says_at_each_line_of_which_order_it_is():
    bill = bill_of_facts(given(*BOTH, line("1", "7.00", "7.00", description="Freight")))
    assert bill.order_number == ""
    assert [(each.order_number, each.order_line) for each in bill.lines] == [
        ("PO-26-0117", "1"), ("PO-26-0118", "1"), ("", ""),
    ]  # fmt: skip
    assert Bill.from_json(bill.to_json()) == bill
    one = bill_of_facts(given(BOTH[0], orders=(ONE,)))
    assert (one.order_number, one.lines[0].order_number) == ("PO-26-0117", "")


def test_rules_see_all_orders():
    there = given(*BOTH)
    subject = Subject(facts=there)
    said = compile_condition('any(order.number == "PO-26-0118" for order in orders)')
    assert evaluate(said, values_of(subject), lists=lists_of(subject)) is True
    assert there.ordered == gbp("19998")


def test_orders_are_gathered_from_the_head_and_from_lines():
    there = given(*BOTH, stated="PO-26-0117")
    lines = (there.reading.lines[0], there.reading.lines[1]
             | {"order_number": Field(value="PO-26-0118", origin=Origin.EMBEDDED)})  # fmt: skip
    known = MemoryKnown(every_vendor=(VENDOR,), every_entity=(ENTITY,),
                        every_order=(TWO, ONE, BY_TOTAL))  # fmt: skip
    reading = replace(there.reading, lines=lines)
    found = gather(known, reading, settings=CheckSettings(), chosen={})
    assert [each.number for each in found.orders] == ["PO-26-0117", "PO-26-0118"]
    assert found.pairs[1] == OrderedLine(order=TWO, line=SALT)
    # Of a number that is none the likeliest other order is shown, and none that is named already.
    wrong = replace(reading, lines=(lines[0], lines[1] | {
        "order_number": Field(value="PO-26-0181", origin=Origin.PERSON),
    }))  # fmt: skip
    found = gather(known, wrong, settings=CheckSettings(), chosen={})
    assert [each.order.number for each in found.near_orders] == ["PO-26-0118"]


def test_a_credit_of_several_orders_reopens_each():
    there = given(*BOTH)
    credit = replace(there, reading=replace(there.reading, kind=Kind.CREDIT_NOTE))
    assert shares(credit).of["PO-26-0118"] == gbp("210.00")
    assert not told(credit)
    # Without lines it takes back what was billed, of the order named first before the others.
    billed_before = (replace(ONE, invoiced=gbp("100.00")), replace(TWO, invoiced=gbp("50.00")))
    whole = given(orders=billed_before, net="120.00")
    whole = replace(whole, reading=replace(whole.reading, kind=Kind.CREDIT_NOTE))
    assert shares(whole).of == {"PO-26-0117": gbp("100.00"), "PO-26-0118": gbp("20.00")}
    assert not told(whole)


def test_numbers_that_lines_prove_are_not_doubted():
    doubted = Field(value="PO-26-0117, PO-26-0118", text="PO-26-0117, PO-26-0118", confidence=0.6,
                    origin=Origin.TEXT)  # fmt: skip
    there = given(*BOTH)
    reading = replace(there.reading, fields={**there.reading.fields, "order_number": doubted})
    assert not told(replace(there, reading=reading), "field.")
    one = replace(there, reading=reading, pairs=there.pairs[:1])
    assert list(told(one, "field.")) == ["field.unsure"]
    stranger = replace(TWO, vendor="V9")
    other = replace(there, reading=reading, further_orders=(stranger,))
    assert list(told(other, "field.")) == ["field.unsure"]


def test_what_may_be_of_an_unknown_order_is_not_held_against_another():
    full = ordered("PO-26-0118", SALT, total="210.00")
    there = given(*BOTH, orders=(full,), stated="PO-26-0171, PO-26-0118")
    assert list(told(there)) == ["order.unknown"]
    found = shares(there)
    assert (found.of, found.unclear) == ({"PO-26-0118": gbp("210.00")}, gbp("420.00"))


def test_a_head_that_says_not_applicable_is_no_order_where_lines_name_theirs():
    lines = [row | {"order_number": Field(value=number, origin=Origin.EMBEDDED)}
             for row, number in zip(BOTH, ("PO-26-0117", "PO-26-0118"), strict=True)]  # fmt: skip
    there = given(*lines, stated="NA")
    assert not told(there)
    alone = replace(there, order=None, further_orders=(), pairs=(None, None))
    assert "order.unknown" in told(alone)


def test_what_was_billed_before_takes_room_of_what_is_unclear():
    used = replace(BY_TOTAL, invoiced=gbp("40.00"))
    there = given(orders=(used, replace(BY_TOTAL, number="PO-26-0121")), net="110.00")
    assert shares(there).of == {"PO-26-0120": gbp("60.00"), "PO-26-0121": gbp("50.00")}
    three = (BY_TOTAL, *(replace(BY_TOTAL, number=f"PO-26-013{at}") for at in range(2)))
    found = shares(given(orders=three, net="350.00")).of
    assert list(found.values()) == [gbp("100.00"), gbp("100.00"), gbp("150.00")]


def test_freight_as_a_line_and_charges_at_the_foot_count_together():
    freight = line("1", "30.00", "30.00", description="Freight")
    there = given(*BOTH, freight, net="675.00", charges=Decimal(20))
    fields = {**there.reading.fields, "charges": Field(value=gbp("15.00"))}
    there = replace(there, reading=replace(there.reading, fields=fields))
    found = told(there)["order.charges"]
    assert found.found == "45.00"
    assert found.about == "orders PO-26-0117 and PO-26-0118"
    assert shares(there).of["PO-26-0118"] == gbp("210.00")


def test_of_one_order_findings_say_nothing_of_which_and_charges_are_of_an_order():
    freight = line("1", "70.00", "70.00", description="Freight")
    found = told(given(BOTH[0], freight, orders=(replace(ONE, closed=True),), charges=Decimal(1)))
    assert found["order.closed"].about == ""
    assert found["order.charges"].about == "order PO-26-0117"
    assert found["order.charges"].letter == (
        "Charges of 70.00 GBP are billed that order PO-26-0117 does not name."
    )


def test_where_the_head_names_none_a_finding_points_at_the_line():
    typed = Field(value="PO-26-0118", origin=Origin.PERSON)
    there = given(BOTH[1] | {"order_number": typed}, orders=(replace(TWO, closed=True),))
    fields = {name: f for name, f in there.reading.fields.items() if name != "order_number"}
    there = replace(there, reading=replace(there.reading, fields=fields))
    assert told(there)["order.closed"].fields == ("lines[1].order_number",)


@pytest.mark.parametrize(("text", "found"), [
    ("PO/26/0117", ()), ("A1/22", ()), ("12/34", ()), ("PO-26-0117/A7", ()),
    ("PO-26-0117/12", ("PO-26-0117", "12", "PO-26-0112")),
    ("4711, 4712", ("4711", "4712")),
])  # fmt: skip
def test_only_a_few_digits_behind_a_longer_number_are_its_end(text, found):
    tried = candidates(text)
    assert tried[0] == text
    assert set(found) <= set(tried)
    if not found:
        assert not [each for each in tried if each not in (text, *re.split(r"[/ ]", text))]


@pytest.mark.parametrize("orders", [(ONE,), (ONE, TWO)])
def test_a_bill_of_nothing_but_freight_has_its_limit_once(orders):
    freight = line("1", "70.00", "70.00", description="Freight")
    found = told(given(freight, orders=orders, charges=Decimal(40)))["order.charges"]
    assert "on top of order PO-26-0117; 40.00 GBP are accepted" in found.message
    assert not told(given(freight, orders=orders, charges=Decimal(70)))
