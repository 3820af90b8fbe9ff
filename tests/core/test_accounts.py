"""The account to pay to, by its checksum or its label."""

import pytest

from tests.core.paper import page_of, read

PLAIN = ((40, (50, "Invoice", 2.0)), (80, (50, "Saltglass Systems Ltd")))


@pytest.mark.parametrize(
    ("text", "account"),
    [
        ("IBAN: NL56 XMRW 0001 2345 67", "NL56XMRW0001234567"),
        ("Pay to NL56XMRW0001234567, thank you", "NL56XMRW0001234567"),
        ("Konto 57 9999 9999 0000 0000 1234 5678", "57999999990000000012345678"),
        ("Sort code 20-00-11 Account 55512347", "20-00-11 55512347"),
        ("Bankgiro 9990-0011", "9990-0011"),
    ],
)
def test_an_account_is_found(text, account):
    assert read(page_of(*PLAIN, (700, (50, text)))).text("account") == account


@pytest.mark.parametrize(
    "text",
    [
        "IBAN: NL57 XMRW 0001 2345 67",  # its check digits are wrong
        "Order PO26 9999 9999",
        "Konto 57 9999 9999 0000 0000 1234 5679",
        "Bankgiro 9990-0012",
        "Phone 20-00-11 55512347",
    ],
)
def test_what_only_looks_like_an_account_is_none(text):
    assert read(page_of(*PLAIN, (700, (50, text)))).text("account") is None


def test_an_account_broken_over_two_rows_is_one():
    page = page_of(
        *PLAIN, (700, (50, "IBAN NL56 XMRW"), (400, "Page 1")), (712, (50, "0001 2345 67"))
    )
    assert read(page).text("account") == "NL56XMRW0001234567"


def test_of_several_accounts_the_others_are_kept_beside():
    page = page_of(
        *PLAIN,
        (700, (50, "IBAN NL56 XMRW 0001 2345 67")),
        (712, (50, "IBAN DE77 9999 0000 1234 5678 90")),
    )
    field = read(page).fields["account"]
    assert field.value == "NL56XMRW0001234567"
    assert [other.value for other in field.others] == ["DE77999900001234567890"]
    assert field.confidence < 0.96


def test_an_account_may_be_broken_in_a_centred_line():
    page = page_of(
        (700, (100, "Ring 0421 / Bank IBAN NL97 XMRW 0417")),
        (712, (166.5, "1643 00")),
    )  # fmt: skip
    assert str(read(page).value("account")) == "NL97XMRW0417164300"


def test_a_currency_s_code_with_a_sentence_at_its_heels_is_known():
    page = page_of(
        (300, (50, "Total"), (500, "66.00")), (400, (50, "All amounts in GBPStrictly 14 days")),
    )  # fmt: skip
    assert read(page).currency == "GBP"
    assert str(read(page).money("gross_total")) == "66.00 GBP"
