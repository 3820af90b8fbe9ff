"""Goods receipts and items come in; what waits for goods goes on alone; what waits long is told."""

from dataclasses import replace
from datetime import timedelta
from decimal import Decimal

import pytest

from demo import bills
from tests.service.caller import Caller
from tests.service.conftest import PIPELINE, SYSTEM, carry_through, go_on, table
from veridox.service.accounts.actors import Actor
from veridox.service.desk.actions.correct import correct
from veridox.service.desk.actions.post import post as clear
from veridox.service.desk.actions.take import take
from veridox.service.documents.models import Document, State
from veridox.service.documents.orders import order_lines
from veridox.service.errors import BadInputError, WrongStateError
from veridox.service.flow.actions import waiting
from veridox.service.flow.actions.recheck import recheck_waiting
from veridox.service.masterdata.models import GoodsReceipt, Item, Order
from veridox.service.notices.models import Notice
from veridox.service.pipelines.actions.publish import publish
from veridox.service.upkeep.waits import tend_waits

KRILL = bills.KRILL
BLOCK = KRILL.lines[0]
HEAD = "number,entity,order_number,line,quantity,unit,received_on,note\n"


def part(number, quantity, **more):
    line = replace(BLOCK, quantity=Decimal(quantity), **more)
    return replace(KRILL, number=number, lines=(line,))


def receipts(*rows):
    """Each `number,quantity,unit`: of the first line of the order."""
    lines = "".join(
        f"{number},aquarium-trust,{KRILL.order},1,{quantity},{unit},2026-11-02,\n"
        for number, quantity, unit in (row.split(",") for row in rows)
    )
    return table("receipts", HEAD + lines)


def first():
    return order_lines(Order.objects.get(number=KRILL.order))[0]


def at(document):
    document.refresh_from_db()
    return State(document.state)


def test_a_bill_waits_for_its_goods_and_goes_on_alone(installation):
    receipts("GR-1,8,")
    document = installation.checked(part("BF-1", 10))
    assert at(document) is State.WAITING
    assert "8 block were received on line 1" in document.reasons[0]
    assert first().invoiced == 0  # what waits takes nothing
    receipts("GR-2,1,")
    recheck_waiting("receipts")
    go_on()
    assert at(document) is State.WAITING
    assert "9 block were received" in document.reasons[0]
    receipts("GR-3,1,")
    recheck_waiting("receipts")
    go_on()
    assert at(document) is State.CLEARED
    carry_through(str(document.posting.pk))
    assert at(document) is State.POSTED
    assert (first().received, first().invoiced, first().receivable) == (10, 10, 0)


def test_an_import_of_receipts_has_what_waits_checked_again(installation):
    receipts("GR-1,8,")
    document = installation.checked(part("BF-1", 10))
    receipts("GR-2,2,")
    go_on()
    assert at(document) is State.CLEARED


def test_what_came_and_went_back_is_not_paid(installation):
    receipts("GR-1,10,", "RT-1,-2,")
    assert at(installation.checked(part("BF-1", 9))) is State.WAITING
    assert at(installation.checked(part("BF-2", 8))) is State.CLEARED
    assert (first().received, first().returned, first().receivable) == (10, 2, 0)


def test_goods_may_be_booked_in_before_their_order_comes(installation):
    table("receipts", HEAD + "GR-9,aquarium-trust,PO-26-0999,1,5,,2026-11-02,\n")
    head = "number,entity,vendor,currency,line,item_code,description,quantity,unit,unit_price\n"
    table("orders", head + "PO-26-0999,aquarium-trust,V1001,GBP,1,BF-KRL,Krill,5,block,14.20\n")
    (line,) = order_lines(Order.objects.get(number="PO-26-0999"))
    assert line.received == 5
    assert at(installation.checked(replace(part("BF-1", 5), order="PO-26-0999"))) is State.CLEARED


def test_two_bills_of_the_last_goods_do_not_both_go(installation):
    receipts("GR-1,10,")
    assert at(installation.checked(part("BF-1", 6))) is State.CLEARED
    second = installation.checked(part("BF-2", 5))
    assert at(second) is State.WAITING
    assert "with 6 billed before" in second.reasons[0]


def test_packs_of_an_item_count_in_bills_and_in_receipts(installation):
    table("items", "vendor,code,vendor_code,unit,packs\n"
                   "V1001,BF-KRL,KRL,block,case = 20 | pallet = 400\n")  # fmt: skip
    receipts("GR-1,1,case", "GR-2,20,block")
    assert first().received == 40
    cases = part("BF-1", 2, unit="case", price=Decimal("284.00"))
    document = installation.checked(cases)
    assert (at(document), document.reasons) == (State.CLEARED, [])
    assert first().invoiced == 40
    receipts("GR-3,1,crate")
    assert first().unclear == ((1, "crate"),)


def test_wrong_rows_of_receipts_are_told_and_nothing_comes_in(installation):
    rows = (
        "GR-1,aquarium-trust,PO-26-0101,1,0,,2026-11-02,\n"
        "GR-2,nowhere,PO-26-0101,1,5,,2026-11-02,\n"
        "GR-3,aquarium-trust,PO-26-0101,0,5,,2026-11-02,\n"
        "GR-4,aquarium-trust,PO-26-0101,1,5,,soon,\n"
        "GR-5,aquarium-trust,PO-26-0101,1,5,,2026-11-02,\n"
        "GR-5,aquarium-trust,PO-26-0101,1,6,,2026-11-02,\n"
    )
    with pytest.raises(BadInputError) as refused:
        table("receipts", HEAD + rows)
    told = " ".join(f"{each['path']} {each['message']}" for each in refused.value.extra["errors"])
    assert "row 2, quantity nothing that came in" in told
    assert "row 4, line '0' is not the number of a line" in told
    assert "row 5, received_on 'soon' is not a date" in told
    assert "aquarium-trust / GR-5 / PO-26-0101 / 1 stands in row 6, too" in told
    assert not GoodsReceipt.objects.exists()
    with pytest.raises(BadInputError) as unknown:
        table("receipts", HEAD + "GR-2,nowhere,PO-26-0101,1,5,,2026-11-02,\n")
    assert "'nowhere' is not known here" in unknown.value.extra["errors"][0]["message"]


@pytest.mark.parametrize(("packs", "message"), [
    ("case", "'case' is no pack such as box = 12"), ("case = 0", "it holds more than nothing"),
    ("case = many", "'many' is not a number"),
])  # fmt: skip
def test_a_pack_says_how_many_it_holds(installation, packs, message):
    with pytest.raises(BadInputError) as refused:
        table("items", f"vendor,code,unit,packs\nV1001,BF-KRL,block,{packs}\n")
    assert message in refused.value.extra["errors"][0]["message"]
    assert not Item.objects.exists()


def test_a_receipt_that_comes_once_more_changes_what_it_said(installation):
    receipts("GR-1,8,")
    done = receipts("GR-1,6,")
    assert (done.loading.changed, done.loading.new) == (1, 0)
    (change,) = done.loading.changes
    assert (change.key, change.column, change.before, change.after) == (
        f"{KRILL.order} 1 GR-1", "quantity", "8", "6",
    )  # fmt: skip
    assert receipts("GR-1,6,").loading.same == 1
    assert first().received == 6


# -- people and time


@pytest.fixture
def cleo(clerk):
    return Actor.of(clerk)


@pytest.fixture
def waits(installation):
    """A bill that waits for its goods."""
    receipts("GR-1,8,")
    document = installation.checked(part("BF-1", 10))
    assert at(document) is State.WAITING
    return document


def test_who_calls_it_works_on_it_and_may_let_it_wait_again(installation, waits, cleo):
    with pytest.raises(BadInputError, match="Say why"):
        waiting.call(cleo, waits.pk, waits.version, " ")
    waiting.call(cleo, waits.pk, waits.version, "the rest is lost")
    assert (at(waits), waits.queue) == (State.AT_DESK, "exceptions")
    recheck_waiting("receipts")
    go_on()
    assert at(waits) is State.AT_DESK  # until somebody lets it
    take(cleo, waits.pk)
    waits.refresh_from_db()
    waiting.let_wait(cleo, waits.pk, waits.version)
    assert (at(waits), waits.taken_by) == (State.WAITING, None)
    with pytest.raises(WrongStateError):
        waiting.let_wait(cleo, waits.pk, waits.version)


def test_who_called_it_may_accept_what_is_missing_with_a_reason(installation, waits, cleo):
    waiting.call(cleo, waits.pk, waits.version, "the rest is lost")
    waits.refresh_from_db()
    clear(cleo, waits.pk, waits.version, "paid in full, the carrier pays us back")
    assert at(waits) is State.CLEARED
    assert first().invoiced == 10


def test_a_correction_of_what_was_called_leaves_it_at_the_desk(installation, waits, cleo):
    waiting.call(cleo, waits.pk, waits.version, "a look")
    waits.refresh_from_db()
    correct(cleo, waits.pk, waits.version, {"fields": {"due_date": "2026-12-31"}})
    assert at(waits) is State.AT_DESK


def test_what_else_stops_it_meanwhile_does_not_wait(installation, waits, cleo):
    waiting.call(cleo, waits.pk, waits.version, "a look")
    table("orders", _dearer())
    waits.refresh_from_db()
    with pytest.raises(WrongStateError, match="does not come by itself"):
        waiting.let_wait(cleo, waits.pk, waits.version)
    assert at(waits) is State.AT_DESK


def _dearer():
    head = "number,entity,vendor,currency,line,item_code,description,quantity,unit,unit_price\n"
    return head + (f'{KRILL.order},aquarium-trust,V1001,GBP,1,BF-KRL,"Frozen krill, 2 kg block",'
                   "40,block,9.10\n")  # fmt: skip


def timed(installation, wait):
    installation.version = publish(
        SYSTEM,
        PIPELINE.replace("\ndesk:", f"\nwait: {wait}\n\ndesk:", 1)
        + "\n  - on: still waiting\n    mail: {to: stores@merrowmere.example,"
        " template: still-waiting}\n",
    )
    receipts("GR-1,8,")
    document = installation.checked(part("BF-1", 10))
    assert at(document) is State.WAITING
    return document


def since(document, days):
    at_ = document.state_at - timedelta(days=days)
    Document.objects.filter(pk=document.pk).update(state_at=at_)


def told():
    return list(Notice.objects.filter(event="still waiting").values_list("recipient", flat=True))


def test_people_are_told_once_of_what_waits_long_then_it_goes_to_the_desk(installation):
    document = timed(installation, "{tell_after: 3 days, at_most: 9 days}")
    tend_waits()
    assert told() == []
    since(document, 3)
    tend_waits()
    tend_waits()
    assert told() == ["stores@merrowmere.example"]
    letter = Notice.objects.get(event="still waiting")
    assert "8 block were received on line 1" in letter.text
    assert at(document) is State.WAITING
    since(document, 6)
    tend_waits()
    assert at(document) is State.AT_DESK
    assert "it waited 9 days" in str(document.walks.latest("pk").trace)
    recheck_waiting("receipts")
    go_on()
    assert at(document) is State.AT_DESK


def test_who_was_told_once_is_told_again_when_it_waits_again(installation, cleo):
    document = timed(installation, "{tell_after: 3 days}")
    since(document, 3)
    tend_waits()
    document.refresh_from_db()
    waiting.call(cleo, document.pk, document.version, "a look")
    document.refresh_from_db()
    waiting.let_wait(cleo, document.pk, document.version)
    tend_waits()
    assert len(told()) == 1
    document.refresh_from_db()
    since(document, 4)
    Document.objects.filter(pk=document.pk).update(
        reminded_at=document.state_at - timedelta(days=5)
    )
    tend_waits()
    assert len(told()) == 2


def test_without_a_word_of_it_nothing_waits_shorter_and_nobody_is_told(installation, waits):
    since(waits, 400)
    tend_waits()
    assert (at(waits), told()) == (State.WAITING, [])


# -- as it is seen


def test_receipts_items_and_the_story_of_an_order_are_told_over_the_api(installation, waits, clerk):
    table("items", "vendor,code,unit,packs\nV1001,BF-KRL,block,case = 20\n")
    receipts("RT-1,-1,")
    call = Caller(clerk, "read")
    (item,) = call.get("/items?search=krl").json()["results"]
    assert (item["code"], item["packs"]) == ("BF-KRL", {"case": "20"})
    rows = call.get(f"/receipts?order={KRILL.order}").json()["results"]
    assert [(row["number"], row["quantity"]) for row in rows] == [
        ("RT-1", "-1.000000"), ("GR-1", "8.000000"),
    ]  # fmt: skip
    order = call.get(f"/orders/{KRILL.order}").json()
    line = order["lines"][0]
    assert [Decimal(line[name]) for name in ("received", "returned", "receivable")] == [8, 1, 7]
    assert [(each["what"], each["number"]) for each in order["timeline"]] == [
        ("ordered", KRILL.order), ("goods in", "GR-1"), ("goods back", "RT-1"), ("bill", "BF-1"),
    ]  # fmt: skip
    assert order["timeline"][1]["text"] == "8 block of line 1"
    assert order["timeline"][3]["state"] == "waiting"


def test_what_waits_is_counted_apart_from_the_desk_and_called_over_the_api(
    installation, waits, clerk
):
    call = Caller(clerk, "read", "work")
    counted = call.get("/desk/waiting").json()
    assert (counted["count"], counted["by_itself"]["count"]) == (0, 1)
    assert counted["by_itself"]["reasons"][0]["code"] == "order.not_received"
    shown = call.get(f"/documents/{waits.pk}").json()
    assert (shown["state"], "call" in shown["may"]) == ("waiting", True)
    done = call.send(
        "post", f"/documents/{waits.pk}/call", {"reason": "a look"},
        If_Match=f'"{waits.version}"',
    )  # fmt: skip
    assert (done.json()["state"], "let_wait" in done.json()["may"]) == ("at_desk", True)
    assert Actor.of(clerk).name in {row.by for row in waits.statements.all()}


# -- what is shown of the ledger, and what is learned of items


def test_what_stands_in_the_ledger_is_found_by_number_or_by_order(installation, clerk):
    head = "booked_as,vendor,number,issue_date,currency,gross_total,open_amount,order_number\n"
    table("books", head + f"BL-7,V1001,BF-9,2026-11-01,GBP,170.40,100.00,{KRILL.order}\n"
                          "BL-8,V1002,BF-9,2026-11-01,GBP,170.40,100.00,\n",
          ledger="main-books")  # fmt: skip
    document = installation.checked(part("BF-9", 10))
    call = Caller(clerk, "read")
    (found,) = call.get(f"/documents/{document.pk}/in-ledger").json()
    assert (found["booked_as"], found["how"], found["equal"], found["own"]) == (
        "BL-7", "number", False, False,
    )  # fmt: skip
    assert "is open with 100.00 GBP; the bill asks for 170.40 GBP, 70.40 GBP more" in found["said"]
    other = installation.checked(part("BF-10", 9))
    (by_order,) = call.get(f"/documents/{other.pk}/in-ledger").json()
    assert (by_order["booked_as"], by_order["how"]) == ("BL-7", "order and vendor")


def test_a_line_that_a_person_pairs_teaches_the_vendors_code(installation, cleo):
    line = replace(BLOCK, item="X-77", description="Euphausia, deep frozen")
    document = installation.checked(replace(KRILL, number="BF-1", lines=(line,)))
    assert "order.extra_line" in {each["code"] for each in document.findings}
    change = {"lines": [{"was": 1, "order_line": "1", "item_code": "X-77",
                         "description": "Euphausia, deep frozen", "quantity": "40",
                         "unit_price": "14.20", "amount": "568.00"}]}  # fmt: skip
    correct(cleo, document.pk, document.version, change)
    assert at(document) is State.CLEARED
    item = Item.objects.get()
    assert (item.code, item.vendor_code, item.vendor.code) == ("BF-KRL", "X-77", "V1001")
    Document.objects.filter(pk=document.pk).update(state=State.DISCARDED)
    later = installation.checked(replace(KRILL, number="BF-2", lines=(line,)))
    assert "order.extra_line" not in {each["code"] for each in later.findings}
    assert Item.objects.count() == 1
