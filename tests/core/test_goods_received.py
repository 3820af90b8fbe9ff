"""Order, bill and goods receipt; packs; what is waited for."""

from dataclasses import replace
from decimal import Decimal

import pytest

from tests.core.test_checks import line
from tests.core.test_order_lines import KRILL, WATCH, given, krill
from veridox.core.checks import CODES, run_checks
from veridox.core.facts import Match
from veridox.core.findings import Weight
from veridox.core.matching import ItemRecord, packed, pair_lines
from veridox.core.pipeline import Case, Checked, Definition, Said, State, Statement, advance
from veridox.core.pipeline.definition import WAITS, DeskRule, Wait
from veridox.core.pipeline.file.load import examine
from veridox.core.reading import Field

BOX = ItemRecord(code="4711", vendor_code="BF-KRL", unit="block",
                 packs={"box": Decimal(12), "pallet": Decimal(480)})  # fmt: skip


def came(received=None, back="0", needs=None, line=KRILL, **more):
    number = None if received is None else Decimal(received)
    return replace(line, received=number, returned=Decimal(back), needs_receipt=needs, **more)


def found(there, code="order.not_received"):
    return [each for each in run_checks(there) if each.code == code]


def three_way(there, match=Match.THREE_WAY):
    return replace(there, settings=replace(there.settings, match=match))


@pytest.mark.parametrize(("received", "back", "before", "billed", "stops"), [
    ("10", "0", "0", "10", False), ("8", "0", "0", "8", False), ("8", "0", "0", "9", True),
    ("10", "2", "0", "8", False), ("10", "2", "0", "9", True),
    ("8", "0", "5", "3", False), ("8", "0", "5", "4", True),
    ("0", "3", "0", "1", True), (None, "0", "0", "10", False),
])  # fmt: skip
def test_no_more_is_paid_than_came_in_and_stayed(received, back, before, billed, stops):
    ordered = came(received, back, invoiced=Decimal(before))
    assert bool(found(given(krill(billed, "42.00"), order=(ordered, WATCH)))) is stops


def test_the_worked_example_stops_for_price_and_for_what_is_not_there():
    there = given(krill("10", "43.00"), order=(came("8"),), price_percent=Decimal(2))
    codes = [each.code for each in run_checks(there) if each.code.startswith("order.")]
    assert codes == ["order.price", "order.not_received"]
    (missing,) = found(there)
    assert missing.message == (
        "Line 1 (Frozen krill) bills 10 block; 8 block were received on line 1 of order PO-1, "
        "2 block are not there."
    )
    assert (missing.expected, missing.found, missing.difference) == ("8", "10",
                                                                     "+2")  # fmt: skip
    assert missing.fields == ("lines[1].quantity", "lines[1].amount")
    assert "we have received 8 block" in missing.letter
    assert "limit" not in missing.letter


@pytest.mark.parametrize(("needs", "match", "booked", "stops"), [
    (None, Match.AS_BOOKED, False, False), (None, Match.AS_BOOKED, True, True),
    (None, Match.THREE_WAY, False, True), (None, Match.TWO_WAY, True, False),
    (True, Match.TWO_WAY, False, True), (False, Match.THREE_WAY, True, False),
])  # fmt: skip
def test_what_the_order_says_of_its_line_comes_before_what_the_pipeline_says(
    needs, match, booked, stops
):
    there = given(krill("10", "42.00"), order=(came("8" if booked else None, needs=needs),))
    assert bool(found(three_way(there, match))) is stops


def test_it_is_told_that_nothing_came_what_went_back_and_what_nobody_can_count():
    def message(ordered, billed="10"):
        (finding,) = found(three_way(given(krill(billed, "42.00"), order=(ordered,))))
        return finding.message.partition("; ")[2]

    assert message(came()).startswith("nothing was received on line 1")
    assert message(came("10", "2")).startswith("10 block were received and 2 sent back on line 1")
    lost = came("4", unclear=((Decimal(3), "crate"),))
    assert message(lost).startswith("3 crate were received that nobody can count in block; 4 block")


def test_lines_of_one_order_line_are_taken_together_within_the_limit_of_quantities():
    two = (krill("5", "42.00"), krill("5", "42.00"))
    (finding,) = found(given(*two, order=(came("9"),)))
    assert finding.message.startswith("Lines 1, 2 (Frozen krill) bill 10 block; 9 block")
    assert not found(given(*two, order=(came("9"),), quantity_percent=Decimal(12)))


def test_what_was_ordered_for_a_sum_is_received_by_its_share():
    half = came("0.5", line=WATCH)
    paid = line("1", "600.00", "600.00", description="Night watch, November")
    more = line("1", "700.00", "700.00", description="Night watch, November")
    assert not found(given(paid, order=(half,)))
    (finding,) = found(given(more, order=(half,)))
    assert "bills 700.00 GBP; 600.00 GBP were received" in finding.message
    assert finding.difference == "+100.00"


@pytest.mark.parametrize(("one", "other", "times"), [
    ("boxes", "block", 12), ("block", "box", Decimal(1) / 12), ("pallet", "box", 40),
    ("box", "box", 1), ("kg", "g", 1000), ("crate", "block", None), ("", "block", 1),
])  # fmt: skip
def test_packs_are_counted_in_their_items_unit(one, other, times):
    assert packed(BOX, one, other) == (None if times is None else Decimal(times))


def test_without_an_item_only_units_of_measure_are_known():
    assert packed(None, "box", "block") is None
    assert packed(None, "kg", "g") == 1000


def test_two_boxes_of_twelve_are_twenty_four_pieces_at_the_price_of_each():
    ordered = replace(KRILL, quantity=Decimal(24), item=BOX, received=Decimal(24))
    billed = line("2", "504.00", "1008.00", description="Frozen krill", item_code="BF-KRL",
                  unit="boxes")  # fmt: skip
    there = given(billed, order=(ordered,))
    assert not [each for each in run_checks(there) if each.code.startswith("order.")]
    nothing_known = given(billed, order=(replace(ordered, item=None),))
    assert [each.code for each in run_checks(nothing_known)
            if each.code.startswith("order.")] == ["order.unit"]  # fmt: skip
    dear = line("2", "516.00", "1032.00", description="Frozen krill", item_code="BF-KRL",
                unit="boxes")  # fmt: skip
    (price,) = found(given(dear, order=(ordered,)), "order.price")
    assert "costs 43.00 GBP each; ordered were 42.00 GBP" in price.message


def test_a_line_is_paired_by_any_code_of_its_item():
    ours = replace(KRILL, item_code="4711", description="Krill, frozen", item=BOX)
    other = replace(KRILL, position=2, item_code="9", description="Krill, freeze dried")
    (row,) = given(krill("1", "42.00"), order=(ours,)).reading.lines
    assert pair_lines([row], (other, ours)) == (1,)  # by place: the second


# -- waiting


USUAL = Wait()


def at(there, wait=USUAL, rules=(), **case):
    definition = Definition(name="p", wait=wait, desk=rules, check=there.settings)
    return advance(definition, Case(facts=there, **case))


def only_missing(**more):
    """Facts of which only the goods are missing."""
    there = given(krill("10", "42.00"), order=(came("8", **more),))
    stopped = {each.code for each in run_checks(there) if each.weight is Weight.BLOCK}
    weights = dict.fromkeys(stopped - {"order.not_received"}, Weight.NOTE)
    return replace(there, settings=replace(there.settings, weights=weights))


def test_what_only_waits_for_goods_waits_and_nobody_is_asked():
    result = at(only_missing())
    assert result.state is State.WAITING
    assert not result.queue
    assert [reason.startswith("Line 1 (Frozen krill) bills 10") for reason in result.reasons]
    (step,) = [step for step in result.trace if step.stage == "wait"]
    assert step.looked[0].startswith("waits: Line 1")


def test_what_something_else_stops_goes_to_the_desk_with_all_reasons():
    there = only_missing()
    dear = replace(there, settings=replace(there.settings, weights={}))
    result = at(dear)
    assert result.state is State.AT_DESK
    assert any("not there" in reason for reason in result.reasons)


def test_whoever_calls_it_and_a_pipeline_that_waits_for_nothing_end_the_waiting():
    from datetime import UTC, datetime

    there = only_missing()
    assert at(there, Wait(codes=frozenset())).state is State.AT_DESK
    called = Statement(what=Said.CALLED, by="person:cleo", at=datetime(2026, 11, 1, tzinfo=UTC),
                       reason="the goods are lost")  # fmt: skip
    result = at(there, statements=(called,))
    assert result.state is State.AT_DESK
    assert any("the goods are lost" in said for step in result.trace for said in step.looked)


def test_a_condition_of_the_desk_comes_before_waiting():
    from veridox.core.language import compile_condition

    rule = DeskRule(when=compile_condition("gross_total > 1 GBP"), source="gross_total > 1 GBP")
    result = at(only_missing(), rules=(rule,))
    assert result.state is State.AT_DESK


def test_an_order_that_is_not_approved_is_waited_for():
    there = only_missing(needs=False)
    assert at(there).state is not State.WAITING
    fields = {**there.reading.fields, "order_number": Field(value="PO-1")}
    unapproved = replace(there, order=replace(there.order, approved=False),
                         reading=replace(there.reading, fields=fields))  # fmt: skip
    (finding,) = found(unapproved, "order.not_approved")
    assert finding.message == "Order PO-1 is not approved yet."
    assert at(unapproved).state is State.WAITING


PIPELINE = """
pipeline: p
collect: [{mailbox: m}]
post: {ledger: l}
"""


def test_a_pipeline_says_what_is_waited_for_and_how_long():
    said = examine(PIPELINE + "wait: {for: [order.not_received], tell_after: 5 days, at_most: 30}")
    assert said.problems == ()
    assert said.definition.wait == Wait(
        codes=frozenset({"order.not_received"}), tell_after=5, at_most=30
    )
    assert examine(PIPELINE).definition.wait.codes == WAITS
    assert examine(PIPELINE + "wait: {for: []}").definition.wait.codes == frozenset()


@pytest.mark.parametrize(("said", "message"), [
    ("wait: {for: [order.price]}", "finding that can be waited for"),
    ("wait: {tell_after: soon}", "'soon' is not a number of days"),
    ("check: {order: {match: four-way}}", "'four-way'"),
])  # fmt: skip
def test_what_cannot_be_waited_for_is_told_with_its_place(said, message):
    (problem,) = examine(PIPELINE + said).problems
    assert message in problem.message
    assert problem.line == 5


def test_who_is_told_after_it_went_to_the_desk_is_warned_of():
    (warning,) = [each for each in examine(
        PIPELINE + "wait: {tell_after: 9 days, at_most: 9 days}").warnings
        if "already" in each.message]  # fmt: skip
    assert "after 9 days it is at the desk already" in warning.message


@pytest.mark.parametrize(("said", "message"), [
    ("wait: {tell_after: 5 days}", "nobody is told after these days"),
    ("tell: [{on: still waiting, mail: {to: a@b.example, template: still-waiting}}]",
     "nothing says after how many days"),
])  # fmt: skip
def test_who_is_to_be_told_and_when_go_together(said, message):
    assert any(message in each.message for each in examine(PIPELINE + said).warnings)
    both = ("wait: {tell_after: 5 days}\ntell: [{on: still waiting, mail: {to: a@b.example, "
            "template: still-waiting}}]")  # fmt: skip
    assert not [w for w in examine(PIPELINE + both).warnings if w.path.startswith(("wait", "tell"))]


def test_codes_that_wait_are_helped_by_what_they_wait_for():
    assert {"order.not_received", "order.not_approved"} == WAITS
    assert all(CODES[code].helped_by and CODES[code].alone for code in WAITS)


def test_nothing_waits_that_nobody_checked():
    from veridox.core.pipeline.stages.wait import wait

    case = Case(facts=only_missing(), checked=Checked(findings=(), open=(), risk=None))
    assert wait(Definition(name="p"), case).stop is None
