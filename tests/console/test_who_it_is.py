"""Who a bill is from, letters on their way, imports with a preview, reports that take long."""

import re
from dataclasses import replace
from decimal import Decimal

import pytest
from playwright.sync_api import expect

from demo import bills
from demo.drawing import LAYOUTS
from demo.merrowmere import OrderLine
from tests.console.conftest import AXE
from tests.stack.running import until

pytestmark = pytest.mark.stack
VET = bills.VET_VISIT


@pytest.fixture
def impostor(running, fresh_bill):
    """A bill under the vet's name with the tax id of the feed vendor."""
    vendor = replace(VET.vendor, tax_id=bills.KRILL.vendor.tax_id)
    content = LAYOUTS["letterhead"](replace(fresh_bill, vendor=vendor))
    file = running.vx.files.upload(content, pipeline="supplier-invoices", name="who.pdf")
    (document,) = running.vx.files.wait(file.id).documents
    assert document.state == "at_desk"
    return document


def test_a_bill_that_contradicts_itself_is_settled_by_a_click(page, running, impostor):
    page.goto(f"{running.stack.url}/desk/{impostor.id}")
    both = page.get_by_label("Findings")
    expect(both).to_contain_text(VET.vendor.name)
    expect(both).to_contain_text(bills.KRILL.vendor.name)
    expect(page.get_by_role("button", name="Post")).to_have_count(0)
    who = page.get_by_label("Who it is")
    page.evaluate(AXE())
    found = page.evaluate("axe.run(document, {resultTypes: ['violations']})")
    assert [v["id"] for v in found["violations"] if v["impact"] in ("serious", "critical")] == []
    who.get_by_role("button", name=VET.vendor.code).click()
    posted = running.posted(impostor.number)
    assert posted.vendor == VET.vendor.code
    page.goto(f"{running.stack.url}/documents/{impostor.id}")
    expect(page.get_by_text("ada said who it is")).to_be_visible()


def test_another_vendor_is_chosen_by_code_and_one_that_is_none_is_told(page, running, impostor):
    page.goto(f"{running.stack.url}/desk/{impostor.id}")
    code = page.get_by_label("Another vendor, by code")
    code.fill("V9999")
    page.get_by_role("button", name="Choose").click()
    expect(page.get_by_label("Who it is")).to_contain_text("That cannot be chosen")


def test_the_order_that_is_meant_is_taken_with_one_key(page, running):
    seaweed = OrderLine(item="BF-SEA", description="Dried seaweed, 500 g", quantity=Decimal(3),
                        unit="pack", price=Decimal("6.45"))  # fmt: skip
    bill = replace(bills.KRILL, number="BF-NOORDER-1", order="", lines=(seaweed,))
    content = LAYOUTS["letterhead"](bill)
    file = running.vx.files.upload(content, pipeline="supplier-invoices", name="no-order.pdf")
    (document,) = running.vx.files.wait(file.id).documents
    assert document.state == "at_desk"
    page.goto(f"{running.stack.url}/desk/{document.id}")
    meant = page.get_by_label("Orders that may be meant")
    expect(meant).to_contain_text("PO-26-0107")
    expect(meant).to_contain_text("lines 1 of 1 at its prices")
    page.evaluate(AXE())
    found = page.evaluate("axe.run(document, {resultTypes: ['violations']})")
    assert [v["id"] for v in found["violations"] if v["impact"] in ("serious", "critical")] == []
    page.keyboard.press("Escape")
    page.keyboard.press("m")
    expect(page.get_by_label("Order number")).to_have_value("PO-26-0107")
    expect(meant).to_contain_text("taken; save it")
    page.keyboard.press("Control+s")
    assert running.posted(bill.number).order == "PO-26-0107"


def test_one_of_two_orders_is_put_right_and_the_other_stays(page, running):
    """Lines of both orders stand below the bill's; the bill in the ledger names them by line."""
    herring = OrderLine(item="BF-HER", description="Herring, whole, 5 kg carton",
                        quantity=Decimal(2), unit="carton", price=Decimal("22.40"))  # fmt: skip
    sprats = OrderLine(item="BF-SPT", description="Sprats, 2 kg bag", quantity=Decimal(3),
                       unit="bag", price=Decimal("9.80"))  # fmt: skip
    bill = replace(bills.KRILL, number="BF-TWO-1", order="PO-26-0151, PO-26-0116",
                   lines=(herring, sprats))  # fmt: skip
    content = LAYOUTS["letterhead"](bill)
    file = running.vx.files.upload(content, pipeline="supplier-invoices", name="two.pdf")
    (document,) = running.vx.files.wait(file.id).documents
    assert (document.state, document.orders) == ("at_desk", ("PO-26-0116",))
    page.goto(f"{running.stack.url}/desk/{document.id}")
    expect(page.get_by_label("Findings")).to_contain_text("Order PO-26-0151 is not known.")
    lines = page.get_by_role("table", name="Lines", exact=True)
    expect(lines).to_contain_text("No line of the order fits this one.")
    page.keyboard.press("Escape")
    page.keyboard.press("m")
    expect(page.get_by_label("Order number")).to_have_value("PO-26-0115, PO-26-0116")
    page.keyboard.press("Control+s")
    posted = running.posted(bill.number)
    assert posted.orders == ("PO-26-0115", "PO-26-0116")
    page.goto(f"{running.stack.url}/desk/{document.id}")
    expect(lines).to_contain_text("PO-26-0115, line 1: Herring")
    expect(lines).to_contain_text("PO-26-0116, line 2: Sprats")
    page.goto(f"{running.stack.url}/orders/PO-26-0116")
    expect(page.get_by_text("over 74.20 GBP net, 29.40 GBP of it on this order")).to_be_visible()


def test_a_refused_letter_is_sent_again_from_today(page, running, slip):
    number = slip.number
    letter = running.vx.documents.letter(slip.id)
    running.vx.documents.send_back(slip, {**letter, "to": "billing@nowhere.invalid"})
    until(lambda: running.document(number).reasons[0].startswith("The letter to"), "the refusal")
    page.goto(running.stack.url)
    row = page.get_by_role("listitem").filter(has_text=number)
    expect(row).to_contain_text("550 no mail for billing@nowhere.invalid here")
    row.get_by_role("button", name="Send again").click()
    expect(page.get_by_text("It is sent to billing@nowhere.invalid again.")).to_be_visible()
    until(lambda: len(failed(running, number)) == 1, "the second refusal")


def failed(running, number):
    return [row for row in running.vx.notices("failed") if row["document_number"] == number]


def test_an_import_shows_what_it_would_change_first(page, running, tmp_path):
    table = tmp_path / "vendors.csv"
    table.write_text("code,name,country\nV8001,Console Import Ltd,GB\n")
    running.vx.vendors.import_table(table)
    table.write_text("code,name,email\nV8001,Console Imports Ltd,a@imports.example\nV8002,B,\n")
    page.goto(f"{running.stack.url}/vendors")
    page.get_by_label("Table of vendors").set_input_files(table)
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("2 records: 1 new, 1 changed, 0 as before")
    expect(dialog).to_contain_text("of 1 a part waits for a second person")
    expect(dialog.get_by_role("row").filter(has_text="a@imports")).to_contain_text("V8001")
    assert running.vx.vendors.get("V8001")["name"] == "Console Import Ltd"
    dialog.get_by_role("button", name="Import it").click()
    expect(page.get_by_text("2 records imported; 1 with a part that waits")).to_be_visible()
    now = running.vx.vendors.get("V8001")
    assert (now["name"], now["email"]) == ("Console Imports Ltd", "")


def test_what_the_ledger_says_of_a_vendor_no_table_changes(page, running, tmp_path):
    table = tmp_path / "vendors.csv"
    table.write_text("code,name\nV1003,Somebody Else Ltd\n")
    page.goto(f"{running.stack.url}/vendors")
    page.get_by_label("Table of vendors").set_input_files(table)
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("The table was not imported")
    expect(dialog).to_contain_text("row 2, name: comes from main-books by sync")


def test_the_trail_is_checked_by_a_worker_and_against_a_kept_head(page, running, tmp_path):
    head = tmp_path / "head.json"
    import json

    head.write_text(json.dumps(running.vx.trail_head()))
    page.goto(f"{running.stack.url}/trail")
    page.get_by_role("button", name="Verify").click()
    expect(page.get_by_text("nothing was changed, taken out or put in")).to_be_visible()
    page.get_by_label("A kept head").set_input_files(head)
    expect(page.get_by_text(re.compile("kept heads? agrees?"))).to_be_visible()
    head.write_text("no head")
    page.get_by_label("A kept head").set_input_files(head)
    expect(page.get_by_text("is no head of a trail")).to_be_visible()
