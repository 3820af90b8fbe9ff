"""The account to pay to, by its checksum or its label."""

import pytest

from tests.core.paper import page_of, read

PLAIN = ((40, (50, "Invoice", 2.0)), (80, (50, "Saltglass Systems Ltd")))


@pytest.mark.parametrize(
    ("text", "account"),
    [
        ("IBAN: NL20 INGB 0001 2345 67", "NL20INGB0001234567"),
        ("Pay to NL20INGB0001234567, thank you", "NL20INGB0001234567"),
        ("Konto 61 1090 1014 0000 0712 1981 2874", "61109010140000071219812874"),
        ("Sort code 20-00-11 Account 55512347", "20-00-11 55512347"),
        ("Bankgiro 5050-1055", "5050-1055"),
    ],
)
def test_an_account_is_found(text, account):
    assert read(page_of(*PLAIN, (700, (50, text)))).text("account") == account


@pytest.mark.parametrize(
    "text",
    [
        "IBAN: NL21 INGB 0001 2345 67",  # its check digits are wrong
        "Order PO26 1090 1014",
        "Konto 61 1090 1014 0000 0712 1981 2875",
        "Bankgiro 5050-1056",
        "Phone 20-00-11 55512347",
    ],
)
def test_what_only_looks_like_an_account_is_none(text):
    assert read(page_of(*PLAIN, (700, (50, text)))).text("account") is None


def test_an_account_broken_over_two_rows_is_one():
    page = page_of(
        *PLAIN, (700, (50, "IBAN NL20 INGB"), (400, "Page 1")), (712, (50, "0001 2345 67"))
    )
    assert read(page).text("account") == "NL20INGB0001234567"


def test_of_several_accounts_the_others_are_kept_beside():
    page = page_of(
        *PLAIN,
        (700, (50, "IBAN NL20 INGB 0001 2345 67")),
        (712, (50, "IBAN DE89 3704 0044 0532 0130 00")),
    )
    field = read(page).fields["account"]
    assert field.value == "NL20INGB0001234567"
    assert [other.value for other in field.others] == ["DE89370400440532013000"]
    assert field.confidence < 0.96
