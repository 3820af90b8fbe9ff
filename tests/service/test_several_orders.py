"""Bills of several orders in the service: what each order is billed, and who is asked."""

from dataclasses import replace
from decimal import Decimal

import pytest

from demo import bills
from tests.service.caller import Caller
from tests.service.conftest import SYSTEM
from veridox.service.accounts.actors import Actor
from veridox.service.desk.actions.correct import correct
from veridox.service.desk.actions.take import take
from veridox.service.documents.actions.recount import recount
from veridox.service.documents.models import Document, OrderUse, State
from veridox.service.documents.orders import order_record
from veridox.service.masterdata.models import Order

KRILL = bills.KRILL
BLOCK = KRILL.lines[0]
SQUID = bills.on_order("PO-26-0104")[0]
BOTH = "PO-26-0101, PO-26-0104"
TWO = replace(
    KRILL, number="BF-2", order=BOTH,
    lines=(replace(BLOCK, quantity=Decimal(10)), replace(SQUID, quantity=Decimal(4))),
)  # fmt: skip


def order(number):
    return Order.objects.get(number=number)


def billed(number):
    """What is billed of an order in all, and what is left of each line."""
    record = order_record(order(number))
    return record.invoiced.amount, [int(line.open) for line in record.lines]


def test_each_order_is_billed_what_is_of_it(installation):
    document = installation.checked(TWO)
    assert (document.state, document.order_numbers) == (
        State.CLEARED, ["PO-26-0101", "PO-26-0104"],
    )  # fmt: skip
    assert document.order.number == "PO-26-0101"
    assert billed("PO-26-0101") == (Decimal("142.00"), [30, 25, 12])
    assert billed("PO-26-0104") == (Decimal("155.00"), [16])
    lines = document.posting.bill["lines"]
    assert document.posting.bill["order_number"] is None
    assert [(each["order_number"], each["order_line"]) for each in lines] == [
        ("PO-26-0101", "1"), ("PO-26-0104", "1"),
    ]  # fmt: skip


def test_the_second_order_has_its_limit(installation):
    over = replace(TWO, lines=(TWO.lines[0], replace(SQUID, quantity=Decimal(21))))
    document = installation.checked(over)
    assert document.state == State.AT_DESK
    found = {each["code"]: each["message"] for each in document.findings}
    assert "line 1 of order PO-26-0104 is for 20 carton, 1 too many" in found["order.quantity"]
    assert billed("PO-26-0104") == (Decimal(0), [20])


def test_a_number_that_is_none_is_corrected_beside_the_other(installation, clerk):
    document = installation.checked(replace(TWO, order="PO-26-0101, PO-26-0140"))
    assert [each["message"] for each in document.findings if each["weight"] == "block"] == [
        "Order PO-26-0140 is not known."
    ]
    assert document.evidence["instead"] == "PO-26-0140"
    assert document.evidence["orders"][0]["number"] == "PO-26-0104"
    take(Actor.of(clerk), document.pk)
    document.refresh_from_db()
    change = {"fields": {"order_number": BOTH}}
    document = correct(Actor.of(clerk), document.pk, document.version, change)
    assert document.state == State.CLEARED
    assert billed("PO-26-0104") == (Decimal("155.00"), [16])


def test_where_an_order_has_no_lines_a_person_says_of_which_a_line_is(installation, clerk):
    order("PO-26-0104").lines.all().delete()
    watch = replace(SQUID, item="", description="Night watch at the pool", unit="")
    both = replace(TWO, lines=(TWO.lines[0], watch))
    document = installation.checked(both)
    assert {each["code"] for each in document.findings if each["weight"] == "block"} == {
        "order.share"
    }
    take(Actor.of(clerk), document.pk)
    document.refresh_from_db()
    rows = [
        {"was": at, **{name: cell["value"] for name, cell in row.items()}}
        for at, row in enumerate(document.readings.latest("number").reading["lines"], 1)
    ]
    rows[1]["order_number"] = "PO-26-0104"
    change = {"lines": rows}
    document = correct(Actor.of(clerk), document.pk, document.version, change)
    assert (document.state, document.reasons) == (State.CLEARED, [])
    assert billed("PO-26-0104")[0] == 20 * SQUID.price


def test_a_recount_of_one_order_leaves_the_other_as_it_is(installation):
    document = installation.checked(TWO)
    (row,) = recount(SYSTEM, order("PO-26-0104"))
    assert row.equal
    assert row.kept == ((2, 1, Decimal(4), Decimal("155.00")),)
    OrderUse.objects.filter(document=document, order=order("PO-26-0104")).delete()
    (row,) = recount(SYSTEM, order("PO-26-0104"), mend=True)
    assert (row.equal, row.kept) == (False, ())
    assert billed("PO-26-0104") == (Decimal("155.00"), [16])
    assert billed("PO-26-0101") == (Decimal("142.00"), [30, 25, 12])


def test_lists_timeline_and_desk_know_all_orders(installation, clerk):
    document = installation.checked(TWO)
    alone = installation.checked(replace(KRILL, number="BF-1", lines=(BLOCK,)))
    read = Caller(clerk, "read")
    for number, found in (("PO-26-0104", [document.pk]), ("PO-26-0101", [document.pk, alone.pk])):
        rows = read.get("/documents", order=number).json()["results"]
        assert sorted(row["id"] for row in rows) == sorted(found)
        rows = read.get("/documents", search=number).json()["results"]
        assert sorted(row["id"] for row in rows) == sorted(found)
    row = read.get(f"/documents/{document.pk}").json()
    assert (row["order"], row["orders"]) == ("PO-26-0101", ["PO-26-0101", "PO-26-0104"])
    beside = read.get(f"/documents/{document.pk}/orders").json()
    assert [each["number"] for each in beside["orders"]] == ["PO-26-0101", "PO-26-0104"]
    assert beside["pairs"][1] == {"order": "PO-26-0104", "position": 1}
    assert [each["id"] for each in beside["others"]] == [alone.pk]
    events = read.get("/orders/PO-26-0104").json()["timeline"]
    assert events[-1]["text"] == "over 297.00 GBP net, 155.00 GBP of it on this order"
    text = b"".join(read.get("/documents/export").streaming_content).decode()
    assert '"PO-26-0101, PO-26-0104"' in text


@pytest.mark.parametrize("ends", [State.DISCARDED, State.RETURNED])
def test_what_ends_without_posting_takes_nothing_of_either(installation, ends):
    document = installation.checked(TWO)
    Document.objects.filter(pk=document.pk).update(state=ends)
    assert billed("PO-26-0101") == (Decimal(0), [40, 25, 12])
    assert billed("PO-26-0104") == (Decimal(0), [20])
