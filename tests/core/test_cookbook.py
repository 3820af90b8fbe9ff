"""Every pipeline of the cookbook: checked, warned of nothing, and tried on what it is for."""

from pathlib import Path

import pytest

from veridox.core.pipeline import examine
from veridox.testing import invoice_pdf

FILES = sorted(Path("docs/cookbook").glob("*.pipeline.yaml"))
PARTS = {"house": Path("docs/cookbook/house.shared.yaml").read_text()}
BRINEFOLD = {
    "number": "BF-9", "issue_date": "2026-11-02", "seller.name": "Brinefold Feeds Ltd",
    "seller.tax_id": "GB411056167", "buyer.name": "Merrowmere Aquarium Trust", "currency": "GBP",
    "lines": [("Krill", "100.00"), ("Mysis", "300.00")], "tax_rate": "20",
}  # fmt: skip
NORDRIFF = {**BRINEFOLD, "seller.name": "Nordriff Wasseranalytik GmbH", "number": "NW-9",
            "seller.tax_id": "DE232728795"}  # fmt: skip
ORDERED = {**BRINEFOLD, "order_number": "PO-26-0101"}


def paper(**fields):
    return invoice_pdf(**fields)


def kit_of(veridox_kit, number):
    path = next(each for each in FILES if each.name.startswith(number))
    kit = veridox_kit(path)
    kit.entity("aquarium-trust", "Merrowmere Aquarium Trust", tax_id="GB740175356")
    kit.vendor("V1001", "Brinefold Feeds Ltd", tax_id="GB411056167",
               contact="accounts@brinefold.example")  # fmt: skip
    kit.vendor("V2003", "Nordriff Wasseranalytik GmbH", tax_id="DE232728795", needs_order=False)
    kit.order("PO-26-0101", "V1001", "1017.00 GBP", entity="aquarium-trust")
    return kit


def test_there_are_twelve_and_the_page_names_each():
    page = Path("docs/cookbook.md").read_text()
    assert len(FILES) == 12
    assert all(f"(cookbook/{path.name})" in page for path in FILES)


@pytest.mark.parametrize("path", FILES, ids=lambda path: path.name[:2])
def test_each_passes_its_check_without_a_warning(path):
    found = examine(path.read_text(), PARTS)
    assert (found.problems, found.warnings) == ((), ())
    assert found.definition.name


def one(found):
    (document,) = found.documents
    return document


def test_01_an_order_number_out_of_the_subject(veridox_kit):
    kit = kit_of(veridox_kit, "01")
    found = kit.mail(subject="Invoice for PO-26-0101", files={"a.pdf": paper(**BRINEFOLD)})
    document = one(found)
    assert (found.taken, document.state) == (True, "cleared"), document.reasons
    assert document.value("order_number") == "PO-26-0101"
    waiting = one(kit.mail(subject="Invoice", files={"a.pdf": paper(**BRINEFOLD)}))
    assert (waiting.state, waiting.sent[0]["channel"]) == ("at_desk", "ap")
    assert "waits in exceptions" in waiting.sent[0]["text"]


def test_02_a_scan_of_a_watched_folder(veridox_kit):
    kit = kit_of(veridox_kit, "02")
    assert one(kit.file("a.pdf", paper(**ORDERED))).state == "cleared"
    letter = one(kit.file("b.pdf", paper(**{**ORDERED, "seller.name": "Nobody Known Ltd",
                                            "seller.tax_id": ""})))  # fmt: skip
    assert (letter.state, letter.queue) == ("at_desk", "exceptions")


def test_03_tax_that_does_not_fit_is_mailed_with_both_figures(veridox_kit):
    kit = kit_of(veridox_kit, "03")
    document = one(kit.bill(**{**ORDERED, "tax_total": "95.00"}))
    assert (document.state, document.queue) == ("at_desk", "tax")
    (mail,) = document.sent
    assert mail["to"] == "tax@merrowmere.example"
    assert mail["subject"] == "Tax of BF-9 of Brinefold Feeds Ltd"
    assert "bills 495.00 GBP with tax of 95.00 GBP" in mail["text"]
    assert "80.00" in mail["text"].split("- ", 1)[1]
    good = one(kit.bill(**ORDERED))
    assert (good.state, good.sent) == ("cleared", [])
    # Another finding waits with the rest, and nobody who knows tax is written to.
    other = one(kit.bill(**{**ORDERED, "seller.name": "Harlequin Nets", "seller.tax_id": ""}))
    assert (other.queue, other.sent) == ("exceptions", [])
    assert any("tax" in each["when"] for each in other.not_sent)


def test_a_bill_that_was_posted_before_is_not_posted_again(veridox_kit):
    kit = kit_of(veridox_kit, "03")
    kit.billed_before("V1001", "BF-9", reference="41")
    document = one(kit.bill(**ORDERED))
    assert (document.state, document.queue) == ("at_desk", "exceptions")
    assert any("41" in reason and "BF-9" in reason for reason in document.reasons)
    with pytest.raises(LookupError, match="nothing would be posted"):
        _ = document.bill


def test_04_what_does_not_add_up_waits_to_go_back(veridox_kit):
    kit = kit_of(veridox_kit, "04")
    document = one(kit.bill(**{**ORDERED, "gross_total": "490.00"}))
    assert (document.state, document.queue) == ("at_desk", "back-to-vendor")
    assert "It does not add up; the vendor is asked for a corrected one." in document.reasons


def test_05_receipts_are_never_posted_unseen(veridox_kit):
    kit = kit_of(veridox_kit, "05")
    found = kit.mail(subject="receipt", sender="Cleo <cleo@merrowmere.example>",
                     files={"r.pdf": paper(**{**BRINEFOLD, "title": "Receipt"})})  # fmt: skip
    assert found.taken
    assert one(found).state == "at_desk"
    assert one(found).value("spent_by") == "Cleo"
    other = kit.mail(subject="receipt", files={"r.pdf": b"%PDF"})
    assert not other.taken


def test_06_an_order_that_is_billed_in_full_is_released_by_a_person(veridox_kit):
    kit = kit_of(veridox_kit, "06")
    kit.order("PO-26-0102", "V1001", "400.00 GBP", invoiced="400.00 GBP", entity="aquarium-trust")
    document = one(kit.bill(**{**ORDERED, "order_number": "PO-26-0102"}))
    assert (document.state, document.queue) == ("at_desk", "to-release")
    assert any("is billed in full; the paper says 480.00 GBP" in r for r in document.reasons)


def test_07_a_contract_that_is_missing_blocks(veridox_kit):
    kit = kit_of(veridox_kit, "07")
    document = one(kit.bill(**NORDRIFF))
    assert any("bills under a contract; none is named on NW-9." in r for r in document.reasons)
    assert "rule.told" not in one(kit.bill(**{**NORDRIFF, "contract_number": "C-77"})).codes


def test_08_bills_without_an_order_are_told(veridox_kit):
    kit = kit_of(veridox_kit, "08")
    document = one(kit.bill(**BRINEFOLD))
    assert (document.state, document.queue) == ("at_desk", "no-order")
    assert one(kit.bill(**ORDERED)).state == "cleared"


@pytest.mark.parametrize(("subject", "queue"), [
    ("Correction of our invoice", "corrections"), ("A question", "questions"),
    ("2nd reminder", "reminders"),
])  # fmt: skip
def test_09_what_a_mail_asks_for_decides_who_gets_it(veridox_kit, subject, queue):
    kit = kit_of(veridox_kit, "09")
    document = one(kit.mail(subject=subject, files={"a.pdf": paper(**ORDERED)}))
    assert (document.state, document.queue) == ("at_desk", queue)
    assert bool(document.sent) is (queue == "reminders")


@pytest.mark.parametrize(("limit", "state"), [("100 GBP", "at_desk"), ("9000 GBP", "cleared")])
def test_10_the_limit_is_said_for_the_run(veridox_kit, limit, state):
    kit = kit_of(veridox_kit, "10")
    kit.parameters = {"limit": limit}
    document = one(kit.bill(**ORDERED))
    assert document.state == state, document.reasons
    told = [each["channel"] or each["to"] for each in document.sent]
    assert told == (["ap"] if state == "at_desk" else [])


def test_11_each_mailbox_knows_who_may_send_to_it(veridox_kit):
    kit = kit_of(veridox_kit, "11")
    found = kit.mail(subject="Invoice", files={"a.pdf": paper(**ORDERED)})
    taken = {each["source"]: each["taken"] for each in found.raw["collect"]}
    assert taken == {
        "ap-inbox Vendors/Brinefold": True, "ap-inbox Vendors/Korallan": False,
        "ap-inbox Vendors/Ostrel": False,
    }  # fmt: skip
    document = one(found)
    assert document.state == "cleared", document.reasons
    assert document.sent[0]["to"] == "accounts@brinefold.example"


def test_12_a_page_is_looked_at_and_a_structured_invoice_is_not(veridox_kit):
    kit = kit_of(veridox_kit, "12")
    page = one(kit.mail(subject="x", files={"a.pdf": paper(**ORDERED)}))
    assert (page.state, page.queue) == ("at_desk", "on-paper")
    xml = Path("tests/data/invoice-ubl.xml").read_bytes()
    structured = one(kit.mail(subject="x", files={"a.xml": xml}))
    assert "on-paper" not in structured.queue
    assert 'file.type "application/xml" != "application/xml": no' in structured.steps["desk"]
