"""A house's own suite: its plug-ins and its pipeline, without a service."""

import pytest

PIPELINE = """
pipeline: house
collect: [{mailbox: ap-inbox}]
desk:
  - {when: blocked, queue: exceptions}
  - {when: fiscal_year(issue_date) != 2027, queue: old-year}
  - {when: risk > 50 %, queue: unsure}
post: {ledger: main-books}
tell:
  - on: at the desk
    mail: {to: ap-team@merrowmere.example, template: at-the-desk}
"""


@pytest.fixture
def house(veridox_kit):
    """The pipeline with this package's plug-ins and a vendor that it knows."""
    kit = veridox_kit(PIPELINE, plugins=["house-checks"])
    kit.entity("aquarium-trust", "Merrowmere Aquarium Trust", tax_id="GB740175356")
    kit.vendor("V1", "Brinefold Feeds Ltd", tax_id="GB411056167", needs_order=False)
    return kit


BILL = {
    "number": "BF-1", "issue_date": "2026-11-02", "seller.name": "Brinefold Feeds Ltd",
    "seller.tax_id": "GB411056167", "buyer.name": "Merrowmere Aquarium Trust", "currency": "GBP",
    "lines": [("Krill", "100.00"), ("Mysis", "300.00"), ("Spirulina", "700.00")],
}  # fmt: skip


def test_a_usual_bill_goes_through(house):
    (document,) = house.bill(**BILL).documents
    assert document.state == "cleared"
    assert document.bill["gross_total"] == "1100.00"


def test_a_round_sum_is_told(house):
    (document,) = house.bill(**BILL).documents
    (finding,) = document.told_by("round_total")
    assert finding["message"] == "3 lines come to exactly 1,100.00 GBP."
    assert finding["weight"] == "warn"


@pytest.mark.parametrize(("day", "codes"), [("2026-11-01", 1), ("2026-11-02", 0)])
def test_a_sunday_is_told(house, day, codes):
    (document,) = house.bill(**{**BILL, "issue_date": day}).documents
    assert len(document.told_by("weekend")) == codes


def test_a_bill_of_another_year_is_looked_at(house):
    (document,) = house.bill(**{**BILL, "issue_date": "2026-03-02"}).documents
    assert (document.state, document.queue) == ("at_desk", "old-year")
    (sent,) = document.sent
    assert sent["to"] == "ap-team@merrowmere.example"


def test_a_mail_with_a_tide_list(house):
    tide = b"TIDE;F-7;2026-11-02;GBP;Brinefold Feeds Ltd\nNoon crossing;12.50\nTOTAL;12.50\n"
    found = house.mail(subject="Invoice", files={"november.tide": tide})
    (document,) = found.documents
    assert document.value("number") == "F-7"
    assert document.value("gross_total") == {"amount": "12.50", "currency": "GBP"}
    assert found.files == {"november.tide": ""}


def test_a_broken_tide_list_stops_its_document_with_the_reason(house):
    (document,) = house.mail(subject="x", files={"a.tide": b"nothing"}).documents
    assert document.state == "at_desk"
    assert any("a.tide is no tide list" in reason for reason in document.reasons)
