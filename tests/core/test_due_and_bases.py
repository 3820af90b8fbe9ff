"""One amount that is the total and what is due; prices for many; signs that several share."""

from dataclasses import replace
from decimal import Decimal

import pytest

from tests.core.paper import page_of, read, told
from tools.bench_reading import judge
from tools.grammar.pages import compose
from tools.grammar.speech import labels
from veridox.core.extract.hints import Hints
from veridox.core.extract.tagging.amounts import totals
from veridox.core.extract.tagging.currency import currency
from veridox.core.extract.tagging.header import decided
from veridox.core.extract.tagging.lines import lines
from veridox.core.extract.tagging.tokens import document_of
from veridox.core.money import Money
from veridox.core.pages.words import WordOrigin
from veridox.core.reading import Field, Reading

# -- words


@pytest.mark.parametrize(
    ("shown", "number", "sign"),
    [
        ("$12.50", "12.50", "$"), ("kr12,50", "12.50", "kr"), ("-$12.50", "-12.50", "$"),
        ("44.85T", "44.85", ""), ("4½", "4.5", ""), ("½", "0.5", ""),
    ],
)  # fmt: skip
def test_numbers_keep_the_sign_at_them_and_lose_letters_of_tax_rates(shown, number, sign):
    (token,) = document_of((page_of((20, (50, shown))),)).tokens
    assert (token.number, token.currency) == (Decimal(number), sign)


@pytest.mark.parametrize(
    ("text", "parts"),
    [
        ("48.00/hr", ["48.00/", "hr"]), ("£1.20/kg", ["£1.20/", "kg"]),
        ("12/26", ["12/26"]), ("48.00/QX", ["48.00/QX"]),
    ],
)  # fmt: skip
def test_a_price_is_cut_from_the_unit_it_is_for(text, parts):
    assert [token.text for token in document_of((page_of((20, (50, text))),)).tokens] == parts


# -- what is due


DUE = (
    (20, (50, "net"), (200, "100.00")), (40, (50, "tax"), (200, "20.00")),
    (60, (50, "pay"), (200, "120.00")),
)  # fmt: skip
NAMED_DUE = {"100.00": "net_total", "20.00": "tax_total", "120.00": "amount_due"}


def test_what_a_page_only_calls_due_is_the_total_and_its_equation_holds():
    fields, _, proved = totals(told(NAMED_DUE, *DUE), "GBP", (), billed=True)
    assert fields["gross_total"] == fields["amount_due"]
    assert fields["gross_total"].value == Money.of("120.00", "GBP")
    assert {"gross_total", "amount_due", "net_total"} <= proved


TAXED = {
    "400.00": "net_total",
    "20": "tax.rate",
    "80.00": "tax_total",
    "80.02": "tax_total",
    "999.00": "gross_total",
}


@pytest.mark.parametrize(("tax", "vouched"), [("80.00", True), ("80.02", False)])
def test_a_tax_that_its_only_rate_makes_of_the_net_is_vouched_for(tax, vouched):
    rows = (
        (20, (50, "Net"), (300, "400.00")),
        (40, (50, "VAT"), (100, "20 %"), (300, tax)),
        (60, (50, "Total"), (300, "999.00")),  # which makes no sum of them
    )
    fields, taxes, proved = totals(told(TAXED, *rows), "GBP", (), billed=True)
    assert str(fields["tax_total"].value) == f"{tax} GBP"
    assert len(taxes) == 1
    assert ("tax_total" in proved) is vouched


def test_what_is_due_is_no_total_where_something_was_paid_or_nothing_is_billed():
    paid = (*DUE, (80, (50, "paid"), (200, "30.00")))
    fields, _, _ = totals(told({**NAMED_DUE, "30.00": "prepaid"}, *paid), "GBP", (), billed=True)
    assert "gross_total" not in fields
    fields, _, _ = totals(told(NAMED_DUE, *DUE), "GBP", (), billed=False)
    assert "gross_total" not in fields


# -- lines


STEEL = {
    "pipe": "line.description", "12": {"line.other": 0.9, "line.quantity": 0.05},
    "1137.6": {"line.other": 0.6, "line.quantity": 0.3}, "98.50": "line.unit_price",
    "1120.54": "line.amount", "EUR/100": "header.unit_price",
}  # fmt: skip
ROW = (40, (50, "pipe"), (150, "12"), (220, "1137.6"), (320, "98.50"), (420, "1120.54"))


def test_prices_are_for_as_many_as_the_head_of_their_column_says():
    (row,) = lines(told(STEEL, (20, (320, "EUR/100")), ROW), "EUR")
    figures = [row[name].value for name in ("quantity", "unit_price", "price_base")]
    assert figures == [Decimal("1137.6"), Decimal("98.50"), Decimal(100)]


def test_a_unit_that_reads_like_cents_takes_no_base_from_the_head_of_the_column():
    tags = {**STEEL, "gr": "line.unit"}
    row = (*ROW[:3], (260, "gr"), *ROW[3:])
    (read,) = lines(told(tags, (20, (320, "EUR/100")), row), "EUR")
    figures = [read[name].value for name in ("quantity", "unit_price", "price_base")]
    assert figures == [Decimal("1137.6"), Decimal("98.50"), Decimal(100)]


def test_without_that_head_the_product_does_not_hold_and_nothing_is_made_up():
    (row,) = lines(told(STEEL, (20, (320, "EUR")), ROW), "EUR")
    assert "price_base" not in row


# -- currency


@pytest.mark.parametrize(
    ("word", "code", "shared"),
    [
        ("ABN", "AUD", False), ("HST:", "CAD", False), ("R.F.C. RFC", "MXN", False),
        ("Dry Fork, AZ 85999 Mesa, AZ 85811", "USD", False), ("Dry Fork, AZ 85999", "USD", True),
        ("Sydney NSW 2000 Perth NSW 2001", "AUD", False), ("DATA PROTECTION ACT 2018", "USD", True),
        ("ABN Dry Fork, AZ 85999", "USD", True), ("Norge", "USD", True), ("ein", "USD", True),
        ("DE 85999 DE 85998", "USD", True), ("Ltd", "USD", True), ("XX 85999", "USD", True),
    ],
)  # fmt: skip
def test_a_shared_sign_is_the_one_of_the_country_that_words_speak_of(word, code, shared):
    tagged = told({"$12.50": "gross_total"}, (20, (50, word), (400, "$12.50")))
    field, others = currency(tagged, "", "en")
    assert (field.value, others) == (code, shared)


def test_a_swedish_register_number_makes_no_crowns_norwegian():
    tagged = told({"kr12,50": "gross_total"}, (20, (50, "Orgnr 556677-8899"), (400, "kr12,50")))
    field, others = currency(tagged, "", "sv")
    assert (field.value, others) == ("SEK", True)


def test_words_of_two_countries_tell_nothing():
    tagged = told({"$12.50": "gross_total"}, (20, (50, "ABN"), (100, "HST"), (200, "$12.50")))
    assert currency(tagged, "", "en")[1]


# -- names


def test_a_name_ends_before_a_bracket_that_it_does_not_close():
    rows = ((20, (50, "Tidewell Trust (registered")),)
    tags = dict.fromkeys(("Tidewell", "Trust", "(registered"), "seller.name")
    assert decided(told(tags, *rows), Hints())["seller.name"].value == "Tidewell Trust"
    rows = ((20, (50, "Tidewell UG (haftungsbeschränkt)")),)
    tags = dict.fromkeys(("Tidewell", "UG", "(haftungsbeschränkt)"), "seller.name")
    found = decided(told(tags, *rows), Hints())["seller.name"].value
    assert found == "Tidewell UG (haftungsbeschränkt)"


# -- how it is measured, and what the network learns from


def test_a_line_with_a_missing_cell_is_incomplete_and_not_a_mistake():
    stated = {"quantity": "3", "unit_price": "4.00", "amount": "12.00"}
    truth = {"fields": {}, "kind": "invoice", "lines": [stated, stated]}
    amount = Field(value=Money.of("12.00", "GBP"))
    lacking, swapped = {"amount": amount}, {"amount": amount, "quantity": Field(value=Decimal(4))}
    judged = judge(Reading(lines=(lacking, swapped)), truth)
    assert judged.lines_right == 0
    assert judged.true_lines == {0}


@pytest.mark.parametrize("language", ["en", "de", "fr", "nl", "pl", "sv", "cs"])
def test_words_for_what_is_due_are_no_words_for_the_total(language):
    for held in (False, True):
        named, due = (set(labels(language, name, held)) for name in ("gross", "due_amount"))
        assert named
        assert due
        assert not named & due


def test_a_composed_page_that_only_says_what_is_due_states_the_total_too():
    made = [compose(f"due {at}", kind="invoice") for at in range(60)]
    only = [
        each for each in made
        if "amount_due" in (tags := {word.tag for word in each.words})
        and not tags & {"gross_total", "prepaid", "withheld"}
    ]  # fmt: skip
    assert len(only) > 5
    assert all(each.truth["gross_total"] == each.truth["amount_due"] for each in only)


# -- recognised numbers


def recognised(*rows):
    page = page_of(*rows)
    words = tuple(replace(word, origin=WordOrigin.OCR) for word in page.words)
    return replace(page, words=words)


GROUPS = [(y, (50, "Hose"), (200, "3 975,30"), (300, "Stk")) for y in range(20, 100, 20)]


def test_groups_of_digits_are_one_number_though_recognition_lost_some_spaces():
    rows = (*GROUPS, (120, (50, "Summe"), (200, "15901,20")))
    numbers = [
        token.number for token in document_of((recognised(*rows),)).tokens if token.places == 2
    ]
    assert numbers == [Decimal("3975.30")] * 4 + [Decimal("15901.20")]


def test_one_space_among_many_whole_numbers_groups_nothing():
    rows = (GROUPS[0], *((y, (50, "Rohr"), (200, "15901,20")) for y in range(120, 200, 20)))
    tokens = document_of((recognised(*rows),)).tokens
    assert [token.text for token in tokens if token.number is not None][:2] == ["3", "975,30"]


def test_doubt_of_recognition_makes_a_value_less_sure():
    rows = (
        (40, (50, "Invoice", 2.0)), (60, (50, "Kelpwick Supplies Ltd")),
        (80, (50, "Invoice no. K-7712")), (300, (300, "Total"), (500, "£66.00")),
    )  # fmt: skip
    sure = recognised(*rows)
    doubtful = tuple(
        replace(word, confidence=0.7) if word.text == "K-7712" else word for word in sure.words
    )
    found = read(sure).fields["number"], read(replace(sure, words=doubtful)).fields["number"]
    assert found[0].value == found[1].value == "K-7712"
    assert found[1].confidence == pytest.approx(0.7 * found[0].confidence, rel=0.01)


# -- numbers


@pytest.mark.parametrize(
    ("shown", "number"),
    [
        ("Bon 8841", "8841"),
        ("RECEIPT 558120", "558120"),
        ("FT 2026/88", "FT 2026/88"),
        ("INV 155", "INV 155"),
    ],
)
def test_a_series_belongs_to_a_number_and_a_word_that_names_it_does_not(shown, number):
    tags = dict.fromkeys(shown.split(), "number")
    assert decided(told(tags, (20, (50, shown))), Hints())["number"].value == number


def test_an_earlier_bill_that_nothing_names_raises_doubt_and_never_becomes_the_number():
    one, other = (20, (50, "No"), (100, "A-1")), (60, (50, "for"), (100, "B-2"))
    tags = {"No": "label.number", "A-1": "number", "B-2": "preceding_number"}
    assert decided(told(tags, one), Hints())["number"].confidence > 0.85
    both = decided(told(tags, one, other), Hints())["number"]
    assert both.confidence < 0.6
    assert {both.value, *(each.value for each in both.others)} == {"A-1", "B-2"}
    alone = decided(told(tags, other), Hints())
    assert (alone.get("number"), alone["preceding_number"].value) == (None, "B-2")
    named = decided(told({**tags, "for": "label.preceding_number"}, one, other), Hints())
    assert (named["number"].value, named["preceding_number"].value) == ("A-1", "B-2")
    assert named["number"].confidence > 0.85
