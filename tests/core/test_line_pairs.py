import random
import time
from dataclasses import replace
from decimal import Decimal

import pytest

from veridox.core.matching import OrderLineRecord
from veridox.core.matching import pair_lines as places
from veridox.core.reading import Field

ORDER = (
    OrderLineRecord(position=1, item_code="SG-SAL", description="Reef salt, 25 kg sack",
                    unit_price=Decimal("31.90")),
    OrderLineRecord(position=2, item_code="SG-HYD", description="Hydrometer, glass, calibrated",
                    unit_price=Decimal("31.90")),
    OrderLineRecord(position=3, item_code="", description="Delivery to the quay",
                    unit_price=Decimal(45)),
)  # fmt: skip


def pair_lines(lines, ordered):
    """The positions of the ordered lines that lines speak of."""
    found = places(lines, ordered)
    return tuple(ordered[at].position if at is not None else None for at in found)


def row(**cells):
    return {name: Field(value=value) for name, value in cells.items()}


@pytest.mark.parametrize(("line", "position"), [
    (row(item_code="sg sal", description="salt"), 1),
    (row(description="Hydrometer, calibrated, glass"), 2),
    (row(description="Reef salt 25kg sack", unit_price=Decimal("31.90")), 1),
    (row(description="delivery, quay", unit_price=Decimal("45.00")), 3),
    (row(item_code="SG-HYD", description="Reef salt, 25 kg sack"), 2),  # the code decides
    (row(description="Paper cups"), None),
    (row(unit_price=Decimal("31.90")), None),  # a price alone says nothing
    (row(item_code="XX-1", description="Reef salt, 25 kg sack"), None),  # stated to be another
    (row(), None),
])  # fmt: skip
def test_a_line_finds_its_line_on_the_order_or_none(line, position):
    assert pair_lines([line], ORDER) == (position,)


def test_part_deliveries_share_a_line_and_twins_take_one_each():
    salt = row(item_code="SG-SAL")
    assert pair_lines([salt, salt], ORDER) == (1, 1)
    twin = replace(ORDER[1], position=9)
    hydrometer = row(item_code="SG-HYD")
    assert pair_lines([hydrometer, hydrometer], (ORDER[1], twin)) == (2, 9)
    full = replace(ORDER[1], invoiced=ORDER[1].quantity)
    assert pair_lines([hydrometer], (full, twin)) == (9,)  # of the first all is billed already


def test_pairs_are_best_together_not_one_by_one():
    # Alone both lines would take the first: its words are nearest to either.
    order = (
        OrderLineRecord(position=1, item_code="", description="Pump, 230 V, with hose",
                        unit_price=Decimal(90)),
        OrderLineRecord(position=2, item_code="", description="Pump, 230 V",
                        unit_price=Decimal(70)),
    )  # fmt: skip
    lines = [row(description="Pump 230 V", unit_price=Decimal(70)),
             row(description="Pump 230 V hose", unit_price=Decimal(90))]  # fmt: skip
    assert pair_lines(lines, order) == (2, 1)


def test_the_line_of_the_order_that_is_stated_decides():
    assert pair_lines([row(description="Reef salt", order_line="003")], ORDER) == (3,)
    assert pair_lines([row(order_line="77")], ORDER) == (None,)


@pytest.mark.parametrize("alike", [False, True])
def test_long_orders_take_their_bounded_time(alike):
    chance = random.Random(5)
    words = ["salt", "krill", "pump", "filter", "glass", "hose", "valve", "tank", "light"]
    order = [
        OrderLineRecord(
            position=at, item_code="" if alike else f"IT-{at}", unit_price=Decimal(at),
            description="Reef salt" if alike else f"{' '.join(chance.sample(words, 4))} {at}",
        )
        for at in range(1, 501)
    ]  # fmt: skip
    lines = [
        row(description=line.description, item_code=line.item_code, unit_price=line.unit_price)
        for line in order
    ]
    pair_lines(lines[:2], order[:2])  # what is slow to import is there
    began = time.perf_counter()
    assert pair_lines(lines, order) == tuple(range(1, 501))
    assert time.perf_counter() - began < 5  # 0.2 s alone; the machine may be busy


def test_no_lines_no_pairs():
    assert pair_lines([], ORDER) == ()
    assert pair_lines([row(description="x")], ()) == (None,)
