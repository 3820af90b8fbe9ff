"""The demo's own documents: what is drawn must be what the scenario says."""

from decimal import Decimal

import pytest
from stdnum import iban
from stdnum.eu import vat as eu_vat
from stdnum.gb import vat as gb_vat

from demo import bills, merrowmere
from demo.drawing import LAYOUTS, amount, english, german, scanned, signature_picture, spaced
from demo.mails import DOMAIN, MAILS
from veridox.core.readers.files import OcrNeededError, read_pages
from veridox.core.readers.mail.read import read_mail

EVERY = [
    bills.KRILL, bills.ROTOR, bills.SALT_SLIP, bills.KIOSK, bills.WRONG_ORDER, bills.VET_VISIT,
    bills.WATER, bills.SKIMMER, bills.UPKEEP, bills.FLEECE,
]  # fmt: skip


def test_the_wrong_invoice_is_the_worked_example_of_the_domain():
    bill = bills.SALT_SLIP
    assert [amount(line) for line in bill.lines] == [Decimal("957.00"), Decimal("191.40")]
    assert (bill.net, bill.tax, bill.gross) == (
        Decimal("1184.40"), Decimal("236.88"), Decimal("1481.28"),
    )  # fmt: skip


@pytest.mark.parametrize("bill", [b for b in EVERY if b is not bills.SALT_SLIP],
                         ids=lambda bill: bill.number)  # fmt: skip
def test_all_others_add_up(bill):
    assert bill.net + bill.tax == bill.gross


def test_tax_ids_and_accounts_pass_their_checksums():
    for party in (*merrowmere.VENDORS, merrowmere.TIDEWRACK, *merrowmere.ENTITIES):
        check = gb_vat if party.tax_id.startswith("GB") else eu_vat
        assert check.is_valid(party.tax_id), party.name
    for vendor in (*merrowmere.VENDORS, merrowmere.TIDEWRACK):
        assert iban.is_valid(vendor.iban), vendor.name


def test_addresses_are_made_up():
    mails = [vendor.mail for vendor in (*merrowmere.VENDORS, merrowmere.TIDEWRACK)]
    assert all(mail.endswith(".example") for mail in mails)
    assert DOMAIN.endswith(".example")


def test_six_vendors_eight_orders_and_each_order_fits_its_parties():
    vendors = {vendor.code for vendor in merrowmere.VENDORS}
    entities = {entity.code: entity for entity in merrowmere.ENTITIES}
    assert (len(merrowmere.VENDORS), len(merrowmere.ORDERS)) == (6, 8)
    for order in merrowmere.ORDERS:
        assert order.vendor in vendors
        assert entities[order.entity].currency == order.currency


@pytest.mark.parametrize("layout", LAYOUTS)
def test_the_same_bill_gives_the_same_bytes(layout):
    assert LAYOUTS[layout](bills.KRILL) == LAYOUTS[layout](bills.KRILL)


@pytest.mark.parametrize("layout", LAYOUTS)
@pytest.mark.parametrize("bill", EVERY, ids=lambda bill: bill.number)
def test_every_figure_of_a_bill_stands_on_its_page(layout, bill):
    text = read_pages(LAYOUTS[layout](bill)).pages[0].text()
    write = german if layout == "window" else english
    for figure in (bill.net, bill.tax, bill.gross, *(amount(line) for line in bill.lines)):
        assert write(figure) in text
    assert bill.number in text
    assert bill.vendor.name in text


def test_numbers_are_written_as_each_language_does():
    assert english(Decimal("1234.5")) == "1,234.50"
    assert german(Decimal("1234.5")) == "1.234,50"
    assert spaced("GB220519011") == "GB 220 5190 11"


def test_the_scan_is_a_picture_without_any_text():
    with pytest.raises(OcrNeededError):
        read_pages(scanned(LAYOUTS["band"](bills.SKIMMER)), ocr=False)


def test_the_signature_is_a_small_picture():
    assert signature_picture().startswith(b"\x89PNG")
    assert len(signature_picture()) < 5_000


@pytest.mark.parametrize("mail", MAILS, ids=lambda mail: mail.name)
def test_each_mail_carries_its_files_by_name_and_type(mail):
    found = read_mail(mail.message().as_bytes())
    assert found.subject == mail.subject
    assert found.sender_address == mail.sender.mail
    assert [file.name for file in found.files] == [file.name for file in mail.files]
    assert all(file.content for file in found.files)
