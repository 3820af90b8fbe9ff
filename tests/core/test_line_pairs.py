from decimal import Decimal

import pytest

from veridox.core.matching import OrderLineRecord, pair_lines
from veridox.core.reading import Field

ORDER = (
    OrderLineRecord(position=1, item_code="SG-SAL", description="Reef salt, 25 kg sack",
                    unit_price=Decimal("31.90")),
    OrderLineRecord(position=2, item_code="SG-HYD", description="Hydrometer, glass, calibrated",
                    unit_price=Decimal("31.90")),
    OrderLineRecord(position=3, item_code="", description="Delivery to the quay",
                    unit_price=Decimal(45)),
)  # fmt: skip


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


def test_part_deliveries_share_a_line_and_twins_are_left_to_people():
    salt = row(item_code="SG-SAL")
    assert pair_lines([salt, salt], ORDER) == (1, 1)
    twins = (ORDER[1], OrderLineRecord(position=9, item_code="SG-HYD",
             description="Hydrometer, glass, calibrated", unit_price=Decimal("31.90")))  # fmt: skip
    assert pair_lines([row(item_code="SG-HYD")], twins) == (None,)


def test_no_lines_no_pairs():
    assert pair_lines([], ORDER) == ()
    assert pair_lines([row(description="x")], ()) == (None,)
