"""In the browser: what waits for goods, codes of lines, charges beside their rate card."""

from dataclasses import replace
from datetime import date
from decimal import Decimal

import pytest
from playwright.sync_api import expect

from demo import bills
from demo import merrowmere as m
from demo.drawing import LAYOUTS
from demo.merrowmere import OrderLine
from tests.console.conftest import AXE
from tests.stack.running import until

pytestmark = pytest.mark.stack

RECEIPT = "number,entity,order_number,line,quantity,received_on\n"


def handed_in(running, bill, layout="letterhead"):
    content = LAYOUTS[layout](bill)
    file = running.vx.files.upload(content, pipeline="supplier-invoices", name="x.pdf")
    (document,) = running.vx.files.wait(file.id).documents
    return document


def line(description, quantity, unit, price, item=""):
    return OrderLine(item=item, description=description, quantity=Decimal(quantity), unit=unit,
                     price=Decimal(price))  # fmt: skip


def accessible(page):
    page.evaluate(AXE())
    found = page.evaluate("axe.run(document, {resultTypes: ['violations']})")
    return [v["id"] for v in found["violations"] if v["impact"] in ("serious", "critical")]


def test_what_waits_is_called_let_wait_and_goes_on_with_its_goods(page, running):
    vx = running.vx
    receipt = f"{RECEIPT}GR-T-1,aquarium-trust,PO-26-0113,1,6,2026-11-02\n"
    vx.receipts.import_table(receipt.encode(), "r.csv")
    bill = replace(bills.KRILL, number="BF-WAITS-1", order="PO-26-0113",
                   lines=(line("Kelp meal, 10 kg bag", "10", "bag", "8.40", "BF-KLP"),))  # fmt: skip
    assert handed_in(running, bill).state == "waiting"
    page.goto(f"{running.stack.url}/desk")
    page.get_by_role("button", name="Goes on by itself").click()
    page.get_by_role("row").filter(has_text="BF-WAITS-1").get_by_role("link").first.click()
    expect(page.get_by_text("It waits for what is told below")).to_be_visible()
    expect(page.get_by_text("6 bag were received on line 1 of order PO-26-0113")).to_be_visible()
    assert accessible(page) == []
    page.keyboard.press("w")
    page.get_by_label("Why it is not waited for").fill("a look at it")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_role("button", name="Let it wait")).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("w")
    page.get_by_role("dialog").get_by_role("button", name="Let it wait").click()
    until(lambda: running.document("BF-WAITS-1").state == "waiting", "it to wait again")
    receipt = f"{RECEIPT}GR-T-2,aquarium-trust,PO-26-0113,1,4,2026-11-20\n"
    vx.receipts.import_table(receipt.encode(), "r.csv")
    assert running.posted("BF-WAITS-1").order == "PO-26-0113"
    page.goto(f"{running.stack.url}/orders/PO-26-0113?entity=aquarium-trust")
    for told in ("goods in, GR-T-1: 6 bag of line 1", "goods in, GR-T-2: 4 bag of line 1"):
        expect(page.get_by_text(told)).to_be_visible()


def test_a_code_is_typed_and_kept_and_the_bill_is_posted_with_it(page, running):
    bill = replace(
        bills.KRILL, vendor=m.WATTWERK, buyer=m.MEERHAUS, number="WW-CODES-1", order="",
        currency="EUR", tax_rate=Decimal(19), issued=date(2026, 11, 12), due=date(2026, 12, 12),
        lines=(line("Strom Becken 2", "700", "kWh", "0.33"),),
    )  # fmt: skip
    document = handed_in(running, bill, "window")
    assert [each["code"] for each in document.raw["findings"] if each["weight"] == "block"] == [
        "coding.missing"
    ]
    page.goto(f"{running.stack.url}/desk/{document.id}")
    account = page.get_by_label("GL account of line 1")
    account.fill("9999")
    page.keyboard.press("Enter")
    expect(page.get_by_text("the ledger has no GL account '9999'")).to_be_visible()
    assert accessible(page) == []
    account.fill("6110")
    page.keyboard.press("Enter")
    posted = running.posted("WW-CODES-1")
    assert posted.raw["coding"][0]["parts"][0]["gl_account"] == {
        "code": "6110", "source": "person", "chance": 1, "why": "",
    }  # fmt: skip


def test_each_charge_stands_beside_its_rate(page, running):
    bill = replace(
        bills.KRILL, vendor=m.SIEBENMEER, buyer=m.MEERHAUS, number="SL-CARD-1", order="",
        currency="EUR", tax_rate=Decimal(19), issued=date(2026, 11, 12), due=date(2026, 12, 12),
        lines=(line("Fracht Emhaven", "1", "Tour", "318.00"),
               line("Maut-Pauschale", "1", "", "14.00")),
    )  # fmt: skip
    document = handed_in(running, bill, "window")
    page.goto(f"{running.stack.url}/desk/{document.id}")
    card = page.get_by_role("region", name="Rate card")
    expect(card).to_contain_text("as agreed (318.00 EUR a Tour)")
    expect(card).to_contain_text("not on the card")
    page.goto(f"{running.stack.url}/masterdata?what=cards")
    expect(page.get_by_text("Dieselzuschlag*")).to_be_visible()
    assert accessible(page) == []
