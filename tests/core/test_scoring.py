"""The scorer: labels by their parts, trees as arrays, chances from what was said, fields chosen."""

from datetime import date

import numpy as np
import pytest

from tests.core.paper import page_of, read
from tools.corpus.make import HELD_BACK, HTML, MADE, TRAINING, TUNING
from tools.corpus.wording import phrases, wording
from veridox.core.extract.confidence import chance, group_of, risk_of, shipped_points
from veridox.core.extract.hints import Hints
from veridox.core.extract.scoring.choose import by_value, chosen, others_of
from veridox.core.extract.scoring.model import Scored, shipped
from veridox.core.extract.scoring.phrases import LEARNED, NAMED, plain
from veridox.core.extract.scoring.spots import Spot, spots
from veridox.core.extract.scoring.trees import Trees
from veridox.core.extract.sheet import prepare
from veridox.core.extract.values import Found
from veridox.core.locales.labels import normalise
from veridox.core.pages import Box

# -- labels


@pytest.mark.parametrize(
    ("text", "name"),
    [
        ("Invoice number", "number"), ("Rechnungsnummer", "number"), ("Zahltermin", "due_date"),
        ("Date d'échéance", "due_date"), ("Número de su pedido", "order_number"),
        ("Saldo restante", "amount_due"), ("Kundennummer", "customer"),
        ("Uw btw-nummer", "buyer.tax_id"), ("Kwota podatku VAT 23 %", "tax_total"),
        ("Leveransdatum", "delivery_date"),
    ],
)  # fmt: skip
def test_labels_are_known_by_their_parts(text, name):
    chances = shipped().phrases.chances(text)
    assert NAMED[int(chances.argmax())] == name


@pytest.mark.parametrize(
    ("text", "name"),
    [("Prix à l'unité", "unit_price"), ("Gelieferte Stückzahl", "quantity"),
     ("Wartość netto pozycji", "amount"), ("Descripción de los trabajos", "description")],
)  # fmt: skip
def test_headers_of_columns_are_known_too(text, name):
    assert shipped().phrases.column(text)[0] == name


@pytest.mark.parametrize("text", ["", " - ", "...", "12345", "2026-11-05"])
def test_what_has_no_words_names_nothing(text):
    assert shipped().phrases.chances(text).sum() == 0


def test_probabilities_are_probabilities():
    for text in ("Total", "Betreff", "Sehr geehrte Damen und Herren"):
        assert shipped().phrases.chances(text).sum() == pytest.approx(1, abs=1e-4)
    assert len(shipped().phrases.each("Total")) == len(LEARNED)


def test_figures_and_accents_do_not_tell_labels_apart():
    assert plain("MwSt. 19,00 %") == plain("mwst 07.00 %")
    assert plain("Échéance") == plain("echeance")


# -- trees


def test_trees_give_what_their_leaves_say():
    stump = Trees(
        feature=np.array([[1, 0, 0]], np.int16), least=np.array([[2.5, 0, 0]], np.float32),
        left=np.array([[1, 1, 2]], np.int16), right=np.array([[2, 1, 2]], np.int16),
        value=np.array([[0, -3.0, 3.0]], np.float32), group=np.array([1], np.int16),
        start=np.zeros(2, np.float32), depth=1,
    )  # fmt: skip
    low, high = stump.chances(np.array([[9, 1.0], [0, 4.0]], np.float32))[:, 1]
    assert low == pytest.approx(1 / (1 + np.e**3))
    assert high == pytest.approx(1 / (1 + np.e**-3))


# -- chances


POINTS = {"number": [(0.6, 0.5), (0.8, 0.9), (0.99, 0.995)]}


@pytest.mark.parametrize(
    ("said", "right"),
    [(0.6, 0.5), (0.7, 0.7), (0.8, 0.9), (0.99, 0.995), (1.0, 0.995), (0.3, 0.25)],
)
def test_what_was_said_becomes_how_often_that_was_right(said, right):
    assert chance("number", said, POINTS) == pytest.approx(right)


def test_a_group_that_nothing_was_learned_of_keeps_what_was_said():
    assert chance("tip", 0.97, POINTS) == 0.97


def test_the_shipped_maps_rise_and_promise_nothing_for_certain():
    assert {"number", "issue_date", group_of("gross_total", frozenset({"gross_total"}))} <= set(
        shipped_points()
    )
    for name, points in shipped_points().items():
        assert [x for x, _ in points] == sorted(x for x, _ in points), name
        assert [y for _, y in points] == sorted(y for _, y in points), name
        assert all(0 < y < 1 for _, y in points), name


def test_risk_rises_with_doubt_and_is_nothing_where_a_person_entered_all():
    assert risk_of(0.0) == 0.0
    risks = [risk_of(doubt) for doubt in (0.001, 0.01, 0.05, 0.2, 0.6)]
    assert risks == sorted(risks)
    assert risks[0] > 0


# -- choosing


def spot(value, left, top=100.0):
    box = Box(left, top, left + 40, top + 10)
    found = Found(value=value, text=str(value), page=1, box=box, trust=1.0)
    return Spot(kind="id", found=found, row=0, segment=0, first=0, last=0)


def scored(value, left, chance_):
    return Scored(spot=spot(value, left), chance=chance_)


def test_a_value_that_stands_twice_is_likelier_for_it():
    (twice, _) = by_value([scored("A-1", 10, 0.5), scored("A-1", 60, 0.5), scored("B-2", 90, 0.6)])
    assert (twice.value, twice.chance) == ("A-1", 0.75)


def test_a_place_states_one_field_only():
    found = chosen(
        {"number": [scored("A-1", 10, 0.9)], "order_number": [scored("A-1", 10, 0.8)]},
        ("number", "order_number"),
    )
    assert list(found) == ["number"]


def test_what_is_less_than_likely_is_not_stated():
    assert chosen({"number": [scored("A-1", 10, 0.3)]}, ("number",)) == {}


def test_other_candidates_are_kept_likeliest_first():
    found = chosen(
        {"number": [scored("A-1", 10, 0.9), scored("C-3", 90, 0.2), scored("B-2", 50, 0.4)]},
        ("number",),
    )["number"]
    assert [other.value for other in found.others] == ["B-2", "C-3"]
    more = others_of([scored("D-4", 10, 0.1)], found)
    assert [other.value for other in more] == ["D-4", "B-2", "C-3"]


# -- spots


def test_dates_ids_amounts_and_names_are_spots_and_lines_have_none():
    sheet = prepare((page_of(
        (40, (50, "Saltglass Systems Ltd")),
        (60, (50, "Invoice RE 2026-118"), (300, "5 November 2026")),
        (200, (50, "Rope"), (300, "3"), (400, "84.50"), (500, "253.50")),
        (300, (300, "Total"), (500, "£253.50")),
    ),))  # fmt: skip
    found = spots(sheet, "GBP", {2: (40, 560)})
    said = {(each.kind, str(each.found.value)) for each in found}
    assert ("date", "2026-11-05") in said
    assert {("id", "RE 2026-118"), ("id", "2026-118")} <= said
    assert ("amount", "253.50 GBP") in said
    assert ("name", "Saltglass Systems Ltd") in said
    assert not [each for each in found if each.row == 2]


@pytest.mark.parametrize("text", ["VAT GB123456789", "IBAN 12345678", "PO 4500123"])
def test_a_word_that_names_a_number_is_no_part_of_it(text):
    sheet = prepare((page_of((60, (50, text))),))
    ids = [each.found.value for each in spots(sheet, "GBP", {}) if each.kind == "id"]
    assert ids == [text.split()[1]]


# -- whole pages


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
    assert not set(reading.fields) - {"seller.name", "buyer.name"}
    assert reading.lines == ()


def test_the_buyer_is_one_of_ours_where_ours_are_known():
    from veridox.core.extract import KnownParty

    page = page_of(
        (40, (50, "Kelpwick Supplies Ltd", 1.6)), (60, (50, "4 Dock Lane")),
        (120, (50, "Merrowmere Aquarium Trust")), (140, (50, "The Old Slipway")),
        (180, (50, "Invoice no. K-77")), (300, (300, "Total"), (500, "£66.00")),
    )  # fmt: skip
    ours = Hints(buyers=(KnownParty(name="Merrowmere Aquarium Trust"),))
    assert read(page, hints=ours).text("buyer.name") == "Merrowmere Aquarium Trust"
    assert read(page, hints=ours).text("seller.name") == "Kelpwick Supplies Ltd"


# -- what trains, what measures


def test_a_family_serves_one_purpose_and_none_is_forgotten():
    every = [*TRAINING, *TUNING, *HELD_BACK]
    assert len(every) == len(set(every)) >= 80
    assert set(every) == {*HTML, *MADE}


def test_no_label_of_held_back_families_is_put_together_for_training():
    for language, words in wording().items():
        held = {normalise(text) for _, texts in words.values() for text in texts}
        made = {normalise(text) for texts in phrases()[language].values() for text in texts}
        assert not held & made, language
