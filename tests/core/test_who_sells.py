"""Who sells and who buys: rivals, brands, addresses that are called like a name."""

import pytest

from tests.core.paper import page_of, told
from veridox.core.extract.hints import Hints
from veridox.core.extract.tagging.choices import Choice, share_of
from veridox.core.extract.tagging.header import decided
from veridox.core.extract.tagging.hosts import called_like, hosts_of
from veridox.core.extract.tagging.tagged import Span
from veridox.core.extract.tagging.tokens import document_of


def choice(value, chance):
    return Choice(value, Span((), (), chance), chance)


@pytest.mark.parametrize(
    ("own", "others", "low", "high"),
    [
        (0.99, (), 0.989, 0.991),
        (0.999, (0.84, 0.79), 0.98, 1.0),
        (0.9, (0.9,), 0.45, 0.5),
        (0.6, (0.95,), 0.0, 0.1),
    ],
)
def test_a_rival_takes_as_much_as_it_is_likely(own, others, low, high):
    one = choice("one", own)
    every = [one, *(choice(f"other {at}", each) for at, each in enumerate(others))]
    assert low <= share_of(one, every) <= high


def test_a_name_that_is_all_but_sure_is_stated_beside_some_that_are_possible():
    rows = ((20, (50, "Quillfin")), (60, (50, "Drybrook")), (90, (50, "Kelpworks")))
    tags = {
        "Quillfin": {"buyer.name": 0.995},
        "Drybrook": {"buyer.name": 0.8},
        "Kelpworks": {"seller.name": 0.9},
    }
    found = decided(told(tags, *rows), Hints())
    assert (found["buyer.name"].value, found["seller.name"].value) == ("Quillfin", "Kelpworks")
    assert found["buyer.name"].confidence > 0.95


def test_a_name_with_its_legal_form_stands_for_the_brand_it_begins_with():
    rows = ((20, (50, "Aldermoor Water")), (90, (50, "Aldermoor Water Services Ltd")))
    tags = dict.fromkeys(("Aldermoor", "Water", "Services", "Ltd"), "seller.name")
    found = decided(told(tags, *rows), Hints())["seller.name"]
    assert found.value == "Aldermoor Water Services Ltd"
    assert found.confidence > 0.9


def test_a_longer_name_without_legal_form_is_another():
    rows = ((20, (50, "Aldermoor")), (90, (50, "Aldermoor Lane")))
    tags = {"Aldermoor": {"seller.name": 0.9}, "Lane": {"seller.name": 0.6}}
    found = decided(told(tags, *rows), Hints())["seller.name"]
    assert found.value == "Aldermoor"
    assert "Aldermoor Lane" in [each.value for each in found.others]


def test_a_name_that_stands_twice_below_itself_is_printed_once():
    rows = ((20, (50, "Jor Foods plc")), (34, (50, "Jor Foods plc")))
    tags = dict.fromkeys(("Jor", "Foods", "plc"), "seller.name")
    assert decided(told(tags, *rows), Hints())["seller.name"].value == "Jor Foods plc"


def test_of_two_names_as_likely_the_one_sells_that_the_address_is_called_like():
    rows = ((20, (50, "Brightside")), (60, (50, "Kelpworks")))
    tags = {name: {"seller.name": 0.5, "buyer.name": 0.5} for name in ("Brightside", "Kelpworks")}
    for host, seller, buyer in (
        ("www.kelpworks.example", "Kelpworks", "Brightside"),
        ("post@brightside.example", "Brightside", "Kelpworks"),
    ):
        found = decided(told(tags, *rows, (90, (50, host))), Hints())
        assert (found["seller.name"].value, found["buyer.name"].value) == (seller, buyer)


@pytest.mark.parametrize(
    ("shown", "host"),
    [
        ("www.blue-mesa.example", {"bluemesa"}),
        ("accounts@shop.krill.example,", {"krill"}),
        ("https://abc.example/pay", {"abc"}),
        ("quillfin.co.example", {"quillfin"}),
        ("12.05.2026", set()),
        ("S.r.l.", set()),
        ("z.B.", set()),
        ("1.234.567,00", set()),
    ],
)
def test_addresses_are_known_from_what_only_has_points(shown, host):
    assert hosts_of(document_of((page_of((20, (50, shown))),)).tokens) == host


@pytest.mark.parametrize(
    ("name", "host", "like"),
    [
        ("Blue Mesa Air Ltd", "bluemesa", True),
        ("Hartwell & Sons Joinery", "hartwell", True),
        ("Aldermoor Water Services Ltd", "aws", True),
        ("Aldermoor Water", "aldermoorwaterservices", True),
        ("Merrowmere Ltd", "hartwell", False),
        ("The Old Mill", "mail", False),
        ("Ltd", "ltd", False),
    ],
)
def test_an_address_is_called_like_a_name_by_its_first_words_or_initials(name, host, like):
    assert called_like(name, {host}) is like


def test_a_row_of_a_legal_form_alone_ends_the_name_above_and_is_none():
    rows = ((20, (50, "Hering & Leertquist,")), (32, (50, "GbR")))
    tags = {
        **{word: {"seller.name": 0.6} for word in ("Hering", "&", "Leertquist,")},
        "GbR": "seller.name",
    }
    found = decided(told(tags, *rows), Hints())["seller.name"]
    assert found.value == "Hering & Leertquist, GbR"
    alone = told({"GbR": "seller.name"}, (20, (50, "Hering")), (90, (50, "GbR")))
    assert "seller.name" not in decided(alone, Hints())


def test_a_name_ends_with_its_cell_where_the_rest_may_be_of_it():
    tags = {
        **{word: {"seller.name": 0.97} for word in ("Tierarztpraxis", "Tierarztpraxis,")},
        **{word: {"seller.name": 0.16, "seller.address": 0.8} for word in ("am", "Weiher", "Weg")},
    }
    for shown, name in (
        ("Tierarztpraxis am Weiher", "Tierarztpraxis am Weiher"),
        ("Tierarztpraxis Weg 7", "Tierarztpraxis"),
        ("Tierarztpraxis, Weiher", "Tierarztpraxis"),
    ):
        found = decided(told(tags, (20, (50, shown))), Hints())["seller.name"].value
        assert found.rstrip(",") == name, shown


def test_the_form_that_ends_the_name_to_the_left_begins_none():
    rows = ((20, (50, "Alborada, S.L."), (300, "Merrowmere Ibérica, S.A.")),)
    tags = {
        "Alborada,": "seller.name",
        "S.L.": {"buyer.name": 0.8, "seller.name": 0.2},
        **dict.fromkeys(("Merrowmere", "Ibérica,", "S.A."), "buyer.name"),
    }
    found = decided(told(tags, *rows), Hints())
    assert found["buyer.name"].value == "Merrowmere Ibérica, S.A."
    assert found["seller.name"].value == "Alborada, S.L."


def test_small_words_of_a_sentence_are_nobody():
    tags = dict.fromkeys(("water", "test", "as"), "buyer.name")
    sentence = told(tags, (20, (50, "we bill for your water test as agreed.")))
    assert "buyer.name" not in decided(sentence, Hints())
    # Some write all of themselves small.
    alone = told(
        dict.fromkeys(("drukkerij", "letter"), "buyer.name"), (20, (50, "drukkerij letter"))
    )
    assert decided(alone, Hints())["buyer.name"].value == "drukkerij letter"


def test_a_name_begins_with_its_cell_where_the_rest_may_be_of_it():
    aside = {"buyer.name": 0.2, "other.party": 0.75}
    tags = {"Merrowmere": aside, "(Schweiz)": {"buyer.name": 0.4, "other.party": 0.59},
            "AG": {"buyer.name": 0.93}, "Kai": aside}  # fmt: skip
    for shown, name in (
        ("Merrowmere (Schweiz) AG", "Merrowmere (Schweiz) AG"),
        ("Kai 7 (Schweiz) AG", "(Schweiz) AG"),
        ("Kai, (Schweiz) AG", "(Schweiz) AG"),
    ):
        found = decided(told(tags, (20, (50, shown))), Hints())["buyer.name"].value
        assert found == name, shown


def test_no_name_begins_behind_a_sign_that_joins():
    tags = {"Schwital": {"seller.name": 0.93}, "e.V.": "seller.name"}
    rows = ((20, (565, "Textor & Schwital", "right")), (32, (565, "e.V.", "right")))
    # The form in the row below ends it, flush right as the name is.
    found = decided(told(tags, *rows), Hints())["seller.name"]
    assert found.value == "Textor & Schwital e.V."
    listed = told(tags, (20, (50, "Notes: & Schwital e.V.")))
    assert decided(listed, Hints())["seller.name"].value == "Schwital e.V."


@pytest.mark.parametrize(("last", "name"), [(0.98, "Harper & Voss, Piano Tuners"), (0.5, "Harper")])
def test_a_name_of_sure_words_stands_for_the_shorter_one_it_begins_with(last, name):
    whole = {word: {"seller.name": 0.95} for word in ("Harper", "&", "Voss,", "Piano")}
    whole["Tuners"] = {"seller.name": last}
    rows = ((20, (50, "Harper & Voss, Piano Tuners")), (300, (50, "Pay"), (90, "Harper")))
    tags = {**whole, "Harper": {"seller.name": 0.99}}
    assert decided(told(tags, *rows), Hints())["seller.name"].value == name


def test_a_name_ends_without_the_mark_of_a_greeting():
    tags = dict.fromkeys(("Ardelean", "SRL!"), "buyer.name")
    found = decided(told(tags, (20, (50, "Ardelean SRL!"))), Hints())["buyer.name"]
    assert found.value == "Ardelean SRL"


def test_a_question_is_nobody_and_no_rival():
    rows = ((20, (50, "Brinefold Feeds Ltd")), (300, (50, "Questions?"), (160, "0123 456")))
    tags = {
        **dict.fromkeys(("Brinefold", "Feeds", "Ltd"), "seller.name"),
        "Questions?": {"seller.name": 0.87},
    }
    found = decided(told(tags, *rows), Hints())["seller.name"]
    assert (found.value, found.others) == ("Brinefold Feeds Ltd", ())
