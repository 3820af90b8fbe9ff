"""Goods receipts, waiting, codes, rate cards and the ledger's records by the command line."""

from dataclasses import replace
from datetime import date
from decimal import Decimal

import pytest

from demo import bills
from demo import merrowmere as m
from demo.drawing import LAYOUTS
from demo.merrowmere import OrderLine
from tests.stack.test_command_line import veridox  # noqa: F401 - a fixture

pytestmark = pytest.mark.stack
ORDER = "PO-26-0114"


def handed_in(running, bill, layout="letterhead"):
    content = LAYOUTS[layout](bill)
    file = running.vx.files.upload(content, pipeline="supplier-invoices", name="x.pdf")
    (document,) = running.vx.files.wait(file.id).documents
    return document


def table(tmp_path, text):
    path = tmp_path / "table.csv"
    path.write_text(text)
    return str(path)


def test_a_bill_waits_is_called_and_goes_on_with_its_goods(running, veridox, tmp_path):  # noqa: F811
    head = "number,entity,order_number,line,quantity,unit,received_on\n"
    row = f"aquarium-trust,{ORDER},1"
    veridox("receipt", "import", table(tmp_path, f"{head}GR-C-1,{row},1,case,2026-11-20\n"))
    veridox("receipt", "import", table(tmp_path, f"{head}RT-C-1,{row},-2,tin,2026-11-21\n"))
    line = OrderLine(item="BF-CYC", description="Cyclops, 100 g tin", quantity=Decimal(12),
                     unit="tin", price=Decimal("3.95"))  # fmt: skip
    document = handed_in(running, replace(bills.KRILL, number="BF-CLI-1", order=ORDER,
                                          lines=(line,)))  # fmt: skip
    assert document.state == "waiting"
    number = str(document.id)
    assert "BF-CLI-1" in veridox("document", "list", "--state", "waiting")
    assert "wait for what comes by itself" in veridox("desk", "waiting")
    shown = veridox("order", "show", ORDER)
    assert "12 (2 back)" in shown
    assert "goods back\tRT-C-1\t2 tin of line 1" in shown
    assert "queue exceptions" in veridox("desk", "call", number, "--reason", "a look")
    assert "does not wait" in veridox("document", "why", number)
    assert f"document {number} waits" in veridox("desk", "wait", number)
    assert "Nobody called" not in veridox("document", "show", number)
    veridox("receipt", "import", table(tmp_path, f"{head}GR-C-2,{row},2,tin,2026-11-22\n"))
    running.posted("BF-CLI-1")
    assert "1 bill of PO-26-0114, 0 differ" in veridox("order", "recount", ORDER)
    assert "GR-C-2" in veridox("receipt", "list", "--order", ORDER)


def test_codes_are_listed_said_and_refused_with_the_nearest(running, veridox):  # noqa: F811
    bill = replace(
        bills.KRILL, vendor=m.WATTWERK, buyer=m.MEERHAUS, number="WW-CLI-1", order="",
        currency="EUR", tax_rate=Decimal(19), issued=date(2026, 11, 16), due=date(2026, 12, 16),
        lines=(OrderLine(item="", description="Netzentgelt", quantity=Decimal(1), unit="Monat",
                         price=Decimal("88.40")),),
    )  # fmt: skip
    document = handed_in(running, bill, "window")
    number = str(document.id)
    assert document.state == "at_desk"
    assert "6110\tEnergy and water" in veridox("gl-account", "list", "--search", "energy")
    assert "CC-50\tMeerhaus" in veridox("cost-centre", "list")
    assert "DE19\tInland 19 %" in veridox("tax-code", "list")
    assert "P-2604\tTunnel, second row" in veridox("project", "list")
    refused = veridox("desk", "code", number, "1", "--gl-account", "611", code=1)
    assert "the ledger has no GL account '611'; did you mean 6110?" in refused
    assert "give codes or shares" in veridox("desk", "code", number, "1", code=2)
    assert "is no code such as" in veridox("desk", "code", number, "1", "--share", "60 % x", code=2)
    said = veridox("desk", "code", number, "1", "--gl-account", "6110",
                   "--share", "60 % cost_centre=CC-50",
                   "--share", "rest project=P-2601")  # fmt: skip
    assert "53.04\t6110 (person)\tCC-50 (person)\tDE19 (table)" in said
    assert "35.36\t6110 (person)\t\tDE19 (table)\tP-2601 (person)" in said
    running.posted("WW-CLI-1")
    assert "line 1 gl_account 6110; 60 % cost_centre CC-50; the rest project P-2601" in veridox(
        "document", "history", number
    )
    (booked,) = running.bills("WW-CLI-1")
    assert [part["amount"] for part in booked["lines"][0]["coding"]] == ["53.04", "35.36"]
    assert booked["lines"][0]["coding"][0]["cost_centre"] == "CC-50"


def test_rate_cards_items_and_what_the_ledger_lists(running, veridox):  # noqa: F811
    assert "Dieselzuschlag*\t6 %" in veridox("card", "list", "--day", "2026-11-20")
    assert "Dieselzuschlag" not in veridox("card", "list", "--day", "2027-11-20")
    assert "case = 12, pallet = 720" in veridox("item", "list", "--search", "BF-ART")
    bill = replace(
        bills.KRILL, vendor=m.NORDRIFF, buyer=m.MEERHAUS, number="NW-8410", order="",
        currency="EUR", tax_rate=Decimal(19), issued=date(2026, 11, 17), due=date(2026, 12, 17),
        lines=(OrderLine(item="", description="Wasseranalyse", quantity=Decimal(1), unit="Probe",
                         price=Decimal("700.00")),),
    )  # fmt: skip
    document = handed_in(running, bill, "window")
    told = veridox("document", "in-ledger", str(document.id))
    assert "is open with 835.38 EUR; the bill asks for 833.00 EUR, 2.38 EUR less." in told
    assert "(found by number)" in told
