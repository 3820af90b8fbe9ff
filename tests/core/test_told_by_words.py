"""Whole pages, read by what their words state."""

from datetime import date
from decimal import Decimal

import pytest

from tests.core.paper import page_of, read
from tools.bench_reading import plain, same
from tools.corpus.make import HELD_BACK, HTML, MADE, TRAINING, TUNING
from tools.corpus.wording import phrases, wording
from tools.grammar.pages import compose
from tools.teach.samples import pages_of
from veridox.core.checks import run_checks
from veridox.core.extract import assemble
from veridox.core.extract.hints import Hints, KnownParty
from veridox.core.extract.tagging.features import FEATURES, inputs
from veridox.core.extract.tagging.network import shipped
from veridox.core.extract.tagging.read import renamed, told
from veridox.core.extract.tagging.tokens import document_of
from veridox.core.extract.thresholds import STATED
from veridox.core.facts import CheckSettings, Facts
from veridox.core.locales.labels import normalise
from veridox.core.money import Money
from veridox.core.reading import Field, Kind, Origin, Reading


def test_on_composed_bills_never_trained_on_most_of_the_header_is_told():
    right = stated = 0
    for seed in range(12):
        made = compose(f"told {seed}", held=True, kind="invoice")
        found = told(pages_of(made), Hints(), shipped())
        for name in ("number", "seller.name", "seller.tax_id", "gross_total", "issue_date"):
            if name in made.truth:
                stated += 1
                field = found.fields.get(name)
                right += field is not None and same(name, made.truth[name], plain(field.value))
    assert right > 0.85 * stated > 20


def test_what_is_rather_wrong_than_right_is_not_stated(monkeypatch):
    pages = pages_of(compose("filled 1", held=True, kind="invoice"))
    assert read(*pages).fields
    monkeypatch.setattr(assemble, "with_chances", lambda fields, group, signs: {
        name: Field(value=field.value, confidence=STATED - 0.01, origin=field.origin)
        for name, field in fields.items()
    })  # fmt: skip
    assert set(read(*pages).fields) <= {"currency"}


def test_the_number_of_an_order_is_no_invoices():
    number = {"number": Field(value="PO-7")}
    assert renamed(number, Kind.PURCHASE_ORDER) == {"order_number": number["number"]}
    assert renamed(number, Kind.INVOICE) == number


def test_a_currency_that_is_printed_nowhere_waits_for_a_person():
    field = Field(value="DKK", confidence=0.8, origin=Origin.DERIVED)
    facts = Facts(
        reading=Reading(kind=Kind.INVOICE, fields={"currency": field}), settings=CheckSettings()
    )
    said = [each.message for each in run_checks(facts) if each.code == "field.unsure"]
    assert said == ["No currency is printed; DKK is the one of the seller's country."]


def test_values_glued_to_their_labels_are_read():
    reading = read(page_of(
        (40, (50, "Invoice", 2.0)), (80, (50, "Saltglass Systems Ltd")),
        (100, (50, "Invoice no.:SG/10467")), (120, (50, "Invoice date:12/11/2026")),
        (140, (50, "Due date.................12/12/2026")), (300, (300, "Total"), (500, "£66.00")),
    ))  # fmt: skip
    assert reading.text("number") == "SG/10467"
    assert reading.day("issue_date") == date(2026, 11, 12)
    assert reading.day("due_date") == date(2026, 12, 12)


def test_a_page_without_anything_sought_states_nothing():
    reading = read(page_of((60, (50, "The aquarium is closed on Mondays.")), (90, (50, "Regards"))))
    assert not set(reading.fields) - {"seller.name", "buyer.name", "currency"}
    assert reading.lines == ()


def test_the_buyer_is_one_of_ours_where_ours_are_known():
    page = page_of(
        (40, (50, "Kelpwick Supplies Ltd", 1.6)), (60, (50, "4 Dock Lane")),
        (120, (50, "Merrowmere Aquarium Trust")), (140, (50, "The Old Slipway")),
        (180, (50, "Invoice no. K-77")), (300, (300, "Total"), (500, "£66.00")),
    )  # fmt: skip
    ours = Hints(buyers=(KnownParty(name="Merrowmere Aquarium Trust"),))
    assert read(page, hints=ours).text("buyer.name") == "Merrowmere Aquarium Trust"
    assert read(page, hints=ours).text("seller.name") == "Kelpwick Supplies Ltd"


def test_one_of_ours_is_named_whole_where_others_have_as_many_words():
    page = page_of(
        (40, (50, "Kelpwick Supplies Ltd", 1.6)), (60, (50, "4 Dock Lane")),
        (120, (50, "Merrowmere Harbour Services Ltd")), (140, (50, "The Old Slipway")),
        (180, (50, "Invoice no. K-77")), (300, (300, "Total"), (500, "£66.00")),
    )  # fmt: skip
    names = ("Merrowmere Aquarium Trust", "Merrowmere Harbour Services Ltd")
    ours = Hints(buyers=tuple(KnownParty(name=name) for name in names))
    assert read(page, hints=ours).text("buyer.name") == "Merrowmere Harbour Services Ltd"


# -- words cut into what they state


@pytest.mark.parametrize(
    ("text", "parts"),
    [
        ("(5", ["(", "5"]), ("87,62)", ["87,62", ")"]), ("28,08/100", ["28,08/", "100"]),
        ("48m", ["48", "m"]), ("3Stk", ["3", "Stk"]), ("3M", ["3M"]), ("(12)", ["(12)"]),
        ("Total:12.00", ["Total:", "12.00"]), ("12.00", ["12.00"]),
    ],
)  # fmt: skip
def test_a_word_of_two_things_is_cut(text, parts):
    document = document_of((page_of((60, (50, text))),))
    assert [token.text for token in document.tokens] == parts


@pytest.mark.parametrize(("text", "code"), [("Fr", "fr"), ("FR", ""), ("kr", "kr"), ("$", "$")])
def test_a_countrys_letters_are_no_currencys_sign(text, code):
    (token,) = document_of((page_of((60, (50, text))),)).tokens
    assert token.currency == code


def test_the_network_is_told_which_words_are_labels_of_the_lexicon():
    (page,) = inputs(document_of((page_of((60, (50, "Invoice number"), (200, "K-77"))),)))
    column = FEATURES.index("label number")
    assert page.figures[:, column].tolist() == [1.0, 1.0, 0.0]


# -- what a page may be read as in two ways


def bill(*rows):
    return page_of(
        (40, (50, "Invoice", 2.0)), (60, (50, "Kelpwick Supplies Ltd")),
        (80, (50, "Invoice no. K-77")), *rows,
    )  # fmt: skip


def test_a_date_that_may_be_two_is_less_sure_than_one_that_may_not():
    def sure(day):
        total = (300, (300, "Total"), (500, "$66.00"))
        reading = read(bill((100, (50, f"Invoice date: {day}")), total))
        return reading.fields["issue_date"].confidence

    assert sure("03/04/2026") < sure("25/04/2026")


def test_an_account_goes_on_below_in_its_own_column():
    reading = read(page_of(
        (40, (50, "Invoice", 2.0)), (60, (50, "Kelpwick Supplies Ltd")),
        (80, (50, "IBAN DE89 3704 0044"), (400, "Merrowmere Aquarium Trust")),
        (92, (50, "0532 0130 00"), (400, "The Old Slipway 3")),
        (300, (300, "Total"), (500, "66.00 EUR")),
    ))  # fmt: skip
    assert reading.text("account") == "DE89370400440532013000"


def table(head, *rows):
    return page_of(
        (40, (50, "Invoice", 2.0)), (60, (50, "Kelpwick Supplies Ltd")),
        (80, (50, "Invoice no. K-77")), (100, (50, "Invoice date: 25 April 2026")),
        (200, *head), *rows,
    )  # fmt: skip


def test_a_discount_in_percent_becomes_money():
    reading = read(table(
        ((50, "Description"), (250, "Qty"), (310, "Price"), (380, "Discount %"), (480, "Amount")),
        (220, (50, "Feed for seals"), (250, "10"), (310, "5.00"), (380, "10"), (480, "45.00")),
        (240, (50, "Reef salt"), (250, "4"), (310, "2.50"), (380, "20"), (480, "8.00")),
        (280, (400, "Total"), (480, "53.00 GBP")),
    ))  # fmt: skip
    first = reading.lines[0]
    assert first["discount"].value == Money.of("5.00", "GBP")
    assert first["unit_price"].value == Decimal("5.00")


def test_a_price_for_a_hundred_says_so():
    reading = read(table(
        ((50, "Description"), (250, "Qty"), (310, "Price"), (380, "per"), (480, "Amount")),
        (220, (50, "Cable tie"), (250, "250"), (310, "8.40"), (380, "100"), (480, "21.00")),
        (240, (50, "Hose clamp"), (250, "40"), (310, "55.00"), (380, "100"), (480, "22.00")),
        (280, (400, "Total"), (480, "43.00 GBP")),
    ))  # fmt: skip
    assert [line["price_base"].value for line in reading.lines] == [100, 100]


# -- what is measured on


def test_a_family_serves_one_purpose_and_none_is_forgotten():
    every = [*TRAINING, *TUNING, *HELD_BACK]
    assert len(every) == len(set(every)) >= 80
    assert set(every) == {*HTML, *MADE}


def test_no_label_of_held_back_families_is_put_together_for_training():
    for language, words in wording().items():
        held = {normalise(text) for _, texts in words.values() for text in texts}
        made = {normalise(text) for texts in phrases()[language].values() for text in texts}
        assert not held & made, language
