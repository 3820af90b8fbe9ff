"""What bills take of an order line by line: kept with each, and summed anew whatever happens."""

from dataclasses import replace
from decimal import Decimal

from demo import bills
from tests.service.caller import Caller
from tests.service.conftest import SYSTEM, carry_through, table
from veridox.service.accounts.actors import Actor
from veridox.service.desk.actions.discard import discard
from veridox.service.desk.actions.take import take
from veridox.service.documents.models import Document, OrderUse, State
from veridox.service.documents.orders import order_lines
from veridox.service.flow.actions.advance import advance
from veridox.service.masterdata.models import Order

KRILL = bills.KRILL
BLOCK = KRILL.lines[0]


def part(number, quantity, price=None, **more):
    """A bill of a part of the first line."""
    line = replace(BLOCK, quantity=Decimal(quantity), price=Decimal(price or BLOCK.price))
    return replace(KRILL, number=number, lines=(line,), **more)


def left():
    """What is open of each line of the order."""
    return [int(line.open) for line in order_lines(Order.objects.get(number=KRILL.order))]


def codes(document):
    document.refresh_from_db()
    return {each["code"] for each in document.findings if each["weight"] == "block"}


def test_a_bill_takes_what_it_bills_once_it_is_cleared(installation):
    assert left() == [40, 25, 12]
    document = installation.checked(part("BF-1", 10))
    assert document.state == State.CLEARED
    assert left() == [30, 25, 12]
    (use,) = document.uses.all()
    assert (use.line, use.position, use.quantity, use.amount) == (1, 1, 10, Decimal("142.00"))
    carry_through(str(document.posting.pk))
    assert left() == [30, 25, 12]


def test_part_deliveries_go_through_until_the_line_is_used_up(installation):
    for number, quantity in (("BF-1", 15), ("BF-2", 25)):
        assert installation.checked(part(number, quantity)).state == State.CLEARED
    assert left() == [0, 25, 12]
    late = installation.checked(part("BF-3", 1))
    assert (late.state, codes(late)) == (State.AT_DESK, {"order.quantity"})
    assert left() == [0, 25, 12]  # what stops takes nothing


def test_twice_the_price_and_what_nobody_ordered_stop_though_the_total_fits(installation):
    dear = installation.checked(part("BF-1", 10, "28.40"))
    assert codes(dear) == {"order.price"}
    cups = replace(BLOCK, item="", description="Paper cups", quantity=Decimal(1))
    extra = installation.checked(replace(KRILL, number="BF-2", lines=(*KRILL.lines[1:], cups)))
    assert codes(extra) == {"order.extra_line"}


def test_a_price_that_the_order_gets_later_lets_the_bill_go_on(installation):
    document = installation.checked(part("BF-1", 10, "28.40"))
    table("orders", _orders(price="28.40"))
    advance(SYSTEM, document.pk)
    assert codes(document) == set()


def _orders(price="14.20", quantity="40", also=""):
    return (
        "number,entity,vendor,currency,line,item_code,description,quantity,unit,unit_price\n"
        f'PO-26-0101,aquarium-trust,V1001,GBP,1,BF-KRL,"Frozen krill, 2 kg block",{quantity},'
        f"block,{price}\n{also}"
    )


def test_a_line_that_is_taken_out_of_the_order_stays_billed(installation):
    assert installation.checked(part("BF-1", 10)).state == State.CLEARED
    table("orders", _orders().replace(",1,BF-KRL", ",7,BF-KRL"))  # it has another number now
    assert left() == [40]
    assert OrderUse.objects.get().position == 1
    table("orders", _orders())
    assert left() == [30]


def test_an_order_that_is_lowered_while_a_bill_waits_stops_it(installation):
    document = installation.arrive(part("BF-1", 10))
    table("orders", _orders(quantity="8"))
    advance(SYSTEM, document.pk)
    assert "order.quantity" in codes(document)
    table("orders", _orders(quantity="10"))
    advance(SYSTEM, document.pk)
    document.refresh_from_db()
    assert document.state == State.CLEARED


def test_a_credit_gives_back_what_it_credits(installation):
    assert installation.checked(part("BF-1", 40)).state == State.CLEARED
    credit = installation.checked(part("BF-C1", 15, title="CREDIT NOTE"))
    Document.objects.filter(pk=credit.pk).update(state=State.POSTED)
    assert left() == [15, 25, 12]
    assert installation.checked(part("BF-2", 15)).state == State.CLEARED
    assert left() == [0, 25, 12]


def test_what_is_discarded_takes_nothing(installation, clerk):
    document = installation.checked(part("BF-1", 41))
    assert codes(document) == {"order.quantity"}
    whoever = Actor.of(clerk)
    take(whoever, document.pk)
    document.refresh_from_db()
    discard(whoever, document.pk, document.version, "sent in error")
    assert left() == [40, 25, 12]


def test_order_and_desk_tell_what_is_open(installation, clerk):
    installation.checked(part("BF-1", 10))
    waiting = installation.checked(part("BF-2", 31))
    read = Caller(clerk, "read")
    line = read.get("/orders/PO-26-0101").json()["lines"][0]
    assert (line["invoiced"], line["open"], line["billed"]) == (
        "10.000000", "30.000000", "142.0000",
    )  # fmt: skip
    beside = read.get(f"/documents/{waiting.pk}/orders").json()
    assert beside["pairs"] == [{"order": KRILL.order, "position": 1}]
    assert beside["orders"][0]["lines"][0]["open"] == "30.000000"  # without what it takes itself
    own = Document.objects.get(number="BF-1")
    (order,) = read.get(f"/documents/{own.pk}/orders").json()["orders"]
    assert order["lines"][0]["open"] == "40.000000"


# -- which order may be meant


def test_a_bill_that_names_no_order_is_told_which_may_be_meant(installation):
    document = installation.checked(part("BF-1", 10, order=""))
    (meant,) = document.evidence["orders"]
    assert (meant["number"], meant["entity"]) == ("PO-26-0101", "aquarium-trust")
    assert [each["what"] for each in meant["reasons"]] == ["lines"]
    (finding,) = (each for each in document.findings if each["code"] == "order.missing")
    assert finding["hint"].startswith("PO-26-0101 may be meant (80%)")


def test_what_others_took_is_not_open_to_be_meant(installation):
    assert installation.checked(part("BF-1", 35)).state == State.CLEARED
    document = installation.checked(part("BF-2", 10, order=""))
    assert document.evidence["orders"] == []
    fitting = installation.checked(part("BF-3", 5, order=""))
    assert [each["number"] for each in fitting.evidence["orders"]] == ["PO-26-0101"]


def test_orders_of_others_and_closed_ones_are_never_meant(installation):
    Order.objects.filter(number="PO-26-0101").update(closed=True)
    assert installation.checked(part("BF-1", 10, order="")).evidence["orders"] == []


def test_a_recount_is_what_is_kept_until_the_order_changes_and_mends_what_differs(
    installation, clerk
):
    first = installation.checked(part("BF-1", 10))
    installation.checked(part("BF-2", 5))
    call = Caller(clerk, "read", "work")
    rows = call.send("post", f"/orders/{KRILL.order}/recount", {}).json()
    assert [(row["document"], row["equal"]) for row in rows] == [(first.pk, True),
                                                                 (first.pk + 1, True)]  # fmt: skip
    first.uses.all().delete()  # as of a bill from before lines were compared
    assert left() == [35, 25, 12]
    (row, _) = call.send("post", f"/orders/{KRILL.order}/recount", {}).json()
    assert (row["equal"], row["kept"]) == (False, [])
    assert row["counted"] == [{"line": 1, "position": 1, "quantity": "10", "amount": "142.00"}]
    assert left() == [35, 25, 12]
    call.send("post", f"/orders/{KRILL.order}/recount", {"mend": True})
    assert left() == [25, 25, 12]
    again = call.send("post", f"/orders/{KRILL.order}/recount", {}).json()
    assert all(each["equal"] for each in again)
