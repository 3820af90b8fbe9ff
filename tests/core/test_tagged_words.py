"""Words parsed, numbered and decided on: what comes before the network and what comes behind it."""

import io
from datetime import date
from decimal import Decimal

import numpy as np
import pytest

from tests.core.paper import page_of, told
from veridox.core.extract.hints import Hints, KnownParty
from veridox.core.extract.tagging import features, network
from veridox.core.extract.tagging.amounts import named_twice, totals
from veridox.core.extract.tagging.currency import currency
from veridox.core.extract.tagging.header import accounts, decided
from veridox.core.extract.tagging.lines import lines
from veridox.core.extract.tagging.parties import compact
from veridox.core.extract.tagging.sums import SUMS, summed
from veridox.core.extract.tagging.tagged import AT, Tagged
from veridox.core.extract.tagging.tags import KINDS, TAGS
from veridox.core.extract.tagging.tokens import document_of


def texts(*rows):
    return [token.text for token in document_of((page_of(*rows),)).tokens]


# -- words


def test_groups_of_digits_are_one_number_where_spaces_group_them():
    document = document_of((page_of((40, (50, "Netto 1 234,56 EUR"), (300, "12 345,00"))),))
    numbers = [token.number for token in document.tokens if token.number is not None]
    assert numbers == [Decimal("1234.56"), Decimal("12345.00")]


def test_a_count_beside_a_price_stays_apart_where_marks_group():
    rows = ((40, (50, "4"), (60, "118.83")), (60, (50, "Total"), (300, "1,475.32")))
    assert texts(*rows)[:2] == ["4", "118.83"]


@pytest.mark.parametrize(
    ("shown", "number", "places"),
    [
        ("(12.50)", "-12.50", 2),
        ("12.50-", "-12.50", 2),
        ("-£12.50", "-12.50", 2),
        ("$1,204.00", "1204.00", 2),
        ("12.5%", "12.5", 1),
    ],
)
def test_amounts_are_read_with_sign_and_currency(shown, number, places):
    rows = ((20, (50, "1,234.00")), (40, (50, shown)))
    token = document_of((page_of(*rows),)).tokens[1]
    assert (str(token.number), token.places, token.percent) == (number, places, "%" in shown)


def test_a_label_is_parted_from_the_value_at_its_colon():
    assert texts((40, (50, "Nr.:4711-26"), (200, "https://a.example/b:1"))) == [
        "Nr.:",
        "4711-26",
        "https://a.example/b:1",
    ]


def test_the_words_of_a_day_know_it():
    tokens = document_of((page_of((40, (50, "vom 3. November 2026 an"))),)).tokens
    assert [token.day for token in tokens] == [None, *[date(2026, 11, 3)] * 3, None]
    assert [token.first for token in tokens] == [False, True, False, False, False]


# -- sums


LINES = (
    (20, (50, "hose"), (200, "3", "right"), (300, "12.40", "right"), (400, "37.20", "right")),
    (40, (50, "salt"), (200, "12", "right"), (300, "1.15", "right"), (400, "13.80", "right")),
    (
        60,
        (50, "rope"),
        (200, "7", "right"),
        (300, "20.00", "right"),
        (400, "126.00", "right"),
        (450, "10%"),
    ),
    (90, (50, "goods"), (400, "177.00", "right")),
    (110, (50, "VAT"), (200, "20%"), (400, "35.40", "right")),
    (130, (50, "all"), (400, "212.40", "right")),
)


def figures_of(name):
    tokens = document_of((page_of(*LINES),)).tokens
    column = summed(tokens)[:, SUMS.index(name)]
    return {token.text for token, value in zip(tokens, column, strict=True) if value}


@pytest.mark.parametrize(
    ("name", "those"),
    [
        ("product", {"37.20", "13.80", "126.00"}),
        ("factor", {"3", "12.40", "12", "1.15", "7", "20.00"}),
        ("percent product", {"10%"}),
        ("column sum", {"177.00", "212.40"}),
        ("sum of products", {"177.00"}),
        ("is a rate of another", {"35.40"}),
        ("has a rate", {"177.00"}),
        ("whole with its tax", {"212.40"}),
        ("greatest", {"212.40"}),
    ],
)
def test_numbers_are_told_what_they_are_made_of(name, those):
    assert figures_of(name) == those


def test_every_token_gets_all_figures_and_pieces():
    document = document_of((page_of(*LINES),))
    (page,) = features.inputs(document)
    assert page.figures.shape == (len(document.tokens), len(features.FEATURES))
    assert page.pieces.shape == (len(document.tokens), features.PIECES)
    assert np.isfinite(page.figures).all()
    assert features.pieces_of("Rechnung") == features.pieces_of("RECHNUNG")
    assert features.pieces_of("4711") == features.pieces_of("9999") != features.pieces_of("47a1")


# -- the network


@pytest.fixture
def some_network():
    count = len(features.FEATURES)
    made = network.fresh(
        np.random.default_rng(3), np.zeros(count, np.float32), np.ones(count, np.float32)
    )
    return network.Network(made)


def test_what_fills_a_page_up_changes_no_answer(some_network):
    (page,) = features.inputs(document_of((page_of(*LINES),)))
    alone, kind = some_network.of(page)
    count, more = len(page.at), 7
    padded = [
        np.concatenate([part, np.full((more, *part.shape[1:]), fill, part.dtype)])[None]
        for part, fill in (
            (page.figures, 0),
            (page.pieces, 0),
            (page.place, -50),
            (page.near, -1),
            (page.row, -9),
        )
    ]
    there = np.concatenate([np.ones(count), np.zeros(more)]).astype(np.float32)[None]
    tags, kinds = network.answers(np, some_network.weights, *padded, there)
    assert np.abs(network.softmax(tags[0, :count]) - alone).max() < 1e-4
    assert np.abs(network.softmax(kinds[0]) - kind).max() < 1e-4


def test_weights_of_other_features_are_refused(some_network):
    stored = io.BytesIO()
    np.savez(stored, fingerprint=np.array("others"), **some_network.weights)
    stored.seek(0)
    with pytest.raises(network.WrongWeightsError, match="bin/train"):
        network.loaded(stored)


def test_the_networks_weights_fit_the_features():
    shipped = network.shipped()
    assert shipped.weights["tags"].shape[1] == len(TAGS)
    assert shipped.weights["kinds"].shape[1] == len(KINDS)


# -- what is decided


def test_a_party_is_not_seller_and_buyer_at_once_and_ours_never_sells():
    rows = ((20, (50, "Kelpworks")), (60, (50, "Merrowmere")), (90, (50, "Quillfin")))
    tags = {
        "Kelpworks": {"seller.name": 0.5, "buyer.name": 0.45},
        "Merrowmere": {"seller.name": 0.9, "buyer.name": 0.05},
        "Quillfin": {"buyer.name": 0.6},
    }
    unknown = decided(told(tags, *rows), Hints())
    assert (unknown["seller.name"].value, unknown["buyer.name"].value) == ("Merrowmere", "Quillfin")
    known = decided(told(tags, *rows), Hints(buyers=(KnownParty(name="Merrowmere"),)))
    assert (known["seller.name"].value, known["buyer.name"].value) == ("Kelpworks", "Merrowmere")


def test_a_greeting_is_no_party_and_a_label_no_part_of_its_name():
    greeting = ((20, (50, "Dear Merrowmere,")),)
    tags = {"Dear": "seller.name", "Merrowmere,": "seller.name"}
    assert "seller.name" not in decided(told(tags, *greeting), Hints())
    labelled = ((20, (50, "Eladó: Quillfin Kft.")),)
    tags = dict.fromkeys(("Eladó:", "Quillfin", "Kft."), "seller.name")
    assert decided(told(tags, *labelled), Hints())["seller.name"].value == "Quillfin Kft."


def test_a_place_states_one_field_and_places_of_a_value_speak_together():
    rows = ((20, (50, "A-1")), (60, (50, "B-2")), (90, (50, "B-2")))
    found = decided(
        told({"A-1": {"number": 0.6, "order_number": 0.5}, "B-2": {"order_number": 0.4}}, *rows),
        Hints(),
    )
    assert (found["number"].value, found["order_number"].value) == ("A-1", "B-2")
    assert {each.value for each in found["order_number"].others} == {"A-1"}


def test_what_is_unlikely_is_not_stated():
    assert decided(told({"A-1": {"number": 0.3}}, (20, (50, "A-1"))), Hints()) == {}


def test_an_account_is_as_long_as_its_checksum_says():
    tagged = told({}, (20, (50, "IBAN DE89 3704 0044 0532 0130 00 1234")))
    assert [each.value for each in accounts(tagged)] == ["DE89370400440532013000"]
    british = told(
        {"20-14-77": "account", "59257692": "account"}, (20, (50, "20-14-77"), (150, "59257692"))
    )
    assert [each.value for each in accounts(british)] == ["20-14-77 59257692"]


def test_a_tax_id_is_compared_without_what_groups_and_follows_it():
    assert compact("CHE-123.456.788 MWST") == "CHE123456788"
    assert compact("GB 411 0561 67") == "GB411056167"


SUMS_PRINTED = (
    (20, (50, "goods"), (200, "100.00 EUR")),
    (40, (50, "tax"), (200, "20.00")),
    (60, (50, "all"), (200, "120.00")),
    (80, (50, "due"), (200, "120.00")),
)


def test_an_equation_outweighs_a_likelier_amount_that_fits_nothing():
    rows = (*SUMS_PRINTED[:3], (80, (50, "last year"), (200, "150.00")))
    tags = {
        "100.00": "net_total",
        "20.00": "tax_total",
        "120.00": {"gross_total": 0.45},
        "150.00": {"gross_total": 0.55},
    }
    fields, _, proved = totals(told(tags, *rows), "EUR", (), billed=True)
    assert fields["gross_total"].value.amount == Decimal("120.00")
    assert {"net_total", "tax_total", "gross_total"} <= proved


def test_a_clear_label_outweighs_a_chance_equation():
    rows = (
        *SUMS_PRINTED[:2],
        (60, (50, "all"), (200, "130.00")),
        (80, (50, "other"), (200, "120.00")),
    )
    tags = {
        "100.00": "net_total",
        "20.00": "tax_total",
        "130.00": {"gross_total": 0.98},
        "120.00": {"gross_total": 0.05},
    }
    fields, _, proved = totals(told(tags, *rows), "EUR", (), billed=True)
    assert fields["gross_total"].value.amount == Decimal("130.00")
    assert "gross_total" not in proved


def test_what_is_due_is_stated_also_when_it_equals_the_total():
    document = document_of((page_of(*SUMS_PRINTED),))
    chances = np.full((len(document.tokens), len(TAGS)), 0.001, dtype=np.float32)
    amounts = [at for at, token in enumerate(document.tokens) if token.places == 2]
    for at, name in zip(
        amounts, ("net_total", "tax_total", "gross_total", "amount_due"), strict=True
    ):
        chances[at, AT[name]] = 0.9
    fields, _, _ = totals(Tagged(document, chances, np.zeros(len(KINDS))), "EUR", (), billed=True)
    assert fields["amount_due"].value == fields["gross_total"].value
    assert fields["amount_due"].box != fields["gross_total"].box


def test_a_sign_of_several_currencies_is_read_by_where_the_seller_is():
    rows = ((20, (50, "$"), (80, "100.00")),)
    tags = {"$": "currency", "100.00": "gross_total"}
    field, shared = currency(told(tags, *rows), "AU", "en")
    assert (field.value, shared) == ("AUD", False)
    field, shared = currency(told(tags, *rows), "", "en")
    assert (field.value, shared) == ("USD", True)


CELLS = {
    "hose": "line.description",
    "salt": "line.description",
    "blue": "line.description",
    "37.20": "line.amount",
    "13.80": "line.amount",
    "3": {"line.quantity": 0.8},
    "12.40": {"line.unit_price": 0.8},
    "12": {"line.unit_price": 0.5, "line.quantity": 0.45},
    "1.15": {"line.quantity": 0.5, "line.unit_price": 0.4},
}


def test_cells_hang_on_the_amount_of_their_row_and_products_tell_factors_apart():
    rows = (LINES[0], (31, (50, "blue")), (60, *LINES[1][1:]))
    found = lines(told(CELLS, *rows), "EUR")
    assert [row["description"].value for row in found] == ["hose blue", "salt"]
    assert [row["quantity"].value for row in found] == [Decimal(3), Decimal("1.15")]
    assert [row["unit_price"].value for row in found] == [Decimal("12.40"), Decimal(12)]
    assert [row["amount"].value.amount for row in found] == [Decimal("37.20"), Decimal("13.80")]


def test_without_amounts_lines_hang_on_quantities():
    rows = ((20, (50, "hose"), (200, "3")), (40, (50, "salt"), (200, "10")))
    found = lines(
        told(
            {
                "hose": "line.description",
                "salt": "line.description",
                "3": "line.quantity",
                "10": "line.quantity",
            },
            *rows,
        ),
        "EUR",
    )
    assert [str(row["quantity"].value) for row in found] == ["3", "10"]


def test_an_amount_that_is_labelled_as_due_is_the_total_and_what_is_due():
    rows = ((20, (50, "lessons"), (200, "120.00 EUR")), (60, (50, "outstanding"), (200, "120.00")))
    tags = {"outstanding": "label.amount_due"}
    tagged = told(tags, *rows)
    last = len(tagged.tokens) - 1
    tagged.chances[last, AT["gross_total"]] = 0.9
    fields, _, _ = totals(tagged, "EUR", (), billed=True)
    both = named_twice(tagged, fields)
    assert both["amount_due"].box == both["gross_total"].box == tagged.tokens[last].box
    unlabelled = named_twice(told({}, *rows), fields)
    assert "amount_due" not in unlabelled


def test_what_is_due_after_a_deposit_is_not_the_total():
    field = {"amount_due": object(), "prepaid": object()}
    assert named_twice(told({}, (20, (50, "x"))), field) == field


@pytest.mark.parametrize(
    ("shown", "day"),
    [
        ("2026/11/03", date(2026, 11, 3)),
        ("2026.11.03.", date(2026, 11, 3)),
        ("2026. november 3.", date(2026, 11, 3)),
        ("3. listopadu 2026", date(2026, 11, 3)),
        ("3. marraskuuta 2026", date(2026, 11, 3)),
        ("20261103", date(2026, 11, 3)),
        ("20261303", None),
        ("192.168.1.12", None),
        ("2026/11/0314", None),
    ],
)
def test_days_are_known_in_every_order_and_by_the_months_of_europe(shown, day):
    tokens = document_of((page_of((40, (50, shown))),)).tokens
    assert {token.day for token in tokens if token.day is not None} == ({day} if day else set())
