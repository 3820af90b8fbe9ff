"""From what was said to chances: groups, rising maps, risk; and how the maps are made."""

from decimal import Decimal

import pytest

from tools.teach.calibrate import FEWEST, Tried, all_right, chances_of, rising, weights_of
from veridox.core.extract.confidence import (
    RISK,
    Maps,
    Vouched,
    chance,
    group_of,
    lines_with_chances,
    risk_of,
    shipped_maps,
    with_chances,
)
from veridox.core.money import Money
from veridox.core.reading import FIELDS, Candidate, Field, Origin

POINTS = Maps({"number": [(0.6, 0.5), (0.8, 0.9), (0.99, 0.995)]})


@pytest.mark.parametrize(
    ("said", "right"),
    [(0.6, 0.5), (0.7, 0.7), (0.8, 0.9), (0.99, 0.995), (1.0, 0.995), (0.3, 0.25)],
)
def test_what_was_said_becomes_how_often_that_was_right(said, right):
    assert chance("number", (said,), POINTS) == pytest.approx(right)


def test_a_group_that_nothing_was_learned_of_keeps_what_was_said():
    assert chance("tip", (0.97,), POINTS) == 0.97


def test_the_shipped_maps_rise_and_promise_nothing_for_certain():
    wanted = {name for name, spec in FIELDS.items() if spec.posted} | {RISK, "kind"}
    assert wanted <= set(shipped_maps().points)
    for name, points in shipped_maps().points.items():
        assert [x for x, _ in points] == sorted(x for x, _ in points), name
        assert [y for _, y in points] == sorted(y for _, y in points), name
        assert all(0 < y < 1 for _, y in points), name


def test_risk_rises_with_doubt_and_is_nothing_where_a_person_entered_all():
    assert risk_of(0.0) == 0.0
    risks = [risk_of(doubt) for doubt in (0.001, 0.01, 0.05, 0.2, 0.6)]
    assert risks == sorted(risks)
    assert risks[0] > 0


def test_what_is_vouched_for_and_what_has_a_rival_are_groups_of_their_own():
    rival = Field(value="A", others=(Candidate(value="B", confidence=0.4),))
    weak = Field(value="A", others=(Candidate(value="B", confidence=0.1),))
    assert group_of("number", rival, frozenset()) == "number, doubted"
    assert group_of("number", weak, frozenset()) == "number"
    assert group_of("net_total", weak, frozenset({"net_total"})) == "net_total, proved"
    assert group_of("net_total", rival, frozenset({"net_total"})) == "net_total, doubted"
    odd = Field(value="DE123456789")
    assert group_of("seller.tax_id", odd, frozenset()) == "seller.tax_id, not proved"


def test_what_is_derived_keeps_its_own_chance():
    fields = {
        "currency": Field(value="EUR", confidence=0.4, origin=Origin.DERIVED),
        "number": Field(value="R-1", confidence=0.8),
    }
    found = with_chances(fields, lambda name: name, lambda name: (fields[name].confidence,), POINTS)
    assert found["currency"].confidence == 0.4
    assert found["number"].confidence == 0.9


def test_the_figures_of_a_line_share_a_chance_and_its_words_keep_theirs():
    line = {
        "amount": Field(value=Money.of("10.00", "EUR"), confidence=0.6),
        "quantity": Field(value=Decimal(2), confidence=0.9),
        "unit_price": Field(value=Decimal(5), confidence=0.8),
        "description": Field(value="rope", confidence=0.7),
    }
    maps = Maps({"line, holds, with a total": [(0.5, 0.9), (0.7, 0.98)]})
    (found,) = lines_with_chances([line], "EUR", Vouched(summed=True, headed=True), 0.9, maps)
    figures = {found[name].confidence for name in ("amount", "quantity", "unit_price")}
    assert len(figures) == 1
    assert figures.pop() == pytest.approx(0.94)
    assert found["description"].confidence == 0.7


# -- how maps are made


def test_a_map_rises_by_steps_of_enough_values_and_is_never_certain():
    said = [(at / 400, at % 10 > 0 or at > 300) for at in range(400)]
    points = rising(said)
    assert len(points) <= 400 / FEWEST
    rights = [right for _, right in points]
    assert rights == sorted(rights)
    assert 0.8 < rights[0] < 0.95
    assert 0.99 < rights[-1] < 1


def tried(said, *, right):
    return Tried(
        said={"number": [((said,), right)]},
        posted=[("number", (said,))],
        wrong=not right,
        bill=True,
    )


def test_the_map_of_documents_says_how_often_documents_of_such_a_doubt_were_wrong():
    every = [tried(0.99, right=at % 100 > 0) for at in range(400)]
    every += [tried(0.4, right=at % 2 > 0) for at in range(100)]
    maps = chances_of(every)
    sure, unsure = tried(0.99, right=True), tried(0.4, right=True)
    assert chance(RISK, (1 - all_right(sure, maps),), maps) == pytest.approx(0.01, abs=0.005)
    assert chance(RISK, (1 - all_right(unsure, maps),), maps) == pytest.approx(0.5, abs=0.05)


def test_what_is_no_bill_says_nothing_of_the_risk_of_bills():
    every = [tried(0.99, right=True) for _ in range(100)]
    others = [Tried(wrong=True) for _ in range(100)]
    assert chances_of([*every, *others]).points[RISK] == chances_of(every).points[RISK]


def test_signs_count_by_what_they_told_and_none_speaks_against_itself():
    # The second sign tells all, the first nothing, the third the contrary of what it should.
    said = [
        ((0.9 if at % 3 else 0.95, 0.99 if right else 0.6, 0.6 if right else 0.99), right)
        for at in range(600)
        for right in (at % 5 > 0,)
    ]
    first, second, third = weights_of(said)
    assert second > 1
    assert third == 0
    assert first < second / 3
    maps = Maps({}, {"number": (first, second, third)})
    assert maps.said("number", (0.9, 0.99, 0.6)) > maps.said("number", (0.9, 0.6, 0.6))


def test_few_values_or_no_mistakes_give_no_weights():
    assert weights_of([((0.9, 0.9, 0.9), at % 2 > 0) for at in range(50)]) is None
    assert weights_of([((0.9, 0.9, 0.9), True)] * 1000) is None


def test_what_was_said_counts_alone_where_no_weights_were_learned():
    assert Maps({}).said("number", (0.7, 0.1, 0.2)) == 0.7
