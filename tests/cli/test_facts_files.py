"""Files of facts: orders with lines, receipts, items, rate cards and codes, as text."""

from datetime import date
from decimal import Decimal

import pytest

from demo.samples import facts as merrowmere
from veridox.core.money import Money
from veridox.trials import FactsError, known_from

ORDER = """orders:
  - {number: PO-1, vendor: V1, currency: GBP, approved: false, ordered_on: 2026-10-02}
order_lines:
  - {order: PO-1, line: 1, item_code: A, description: Tins, quantity: 48, unit: tin,
     unit_price: 18.60, invoiced: 12, needs_receipt: true, project: P-1}
  - {order: PO-1, line: 2, description: Freight, quantity: 1, unit_price: 40}
receipts:
  - {order_number: PO-1, line: 1, quantity: 4, unit: case}
  - {order_number: PO-1, line: 1, quantity: -3, unit: tin}
  - {order_number: PO-1, line: 1, quantity: 2, unit: drum}
items:
  - {vendor: V1, code: A, vendor_code: "77", unit: tin, packs: "case = 12 | pallet = 720"}
"""


def test_an_order_has_its_lines_with_what_came_in_and_went_back():
    (order,) = known_from(ORDER).every_order
    assert order.net_total == Money.of("932.80", "GBP")
    assert order.invoiced == Money.of("223.20", "GBP")
    assert (order.approved, order.ordered_on) == (False, date(2026, 10, 2))
    first, second = order.lines
    assert (first.received, first.returned, first.open) == (48, 3, 36)
    assert first.unclear == ((Decimal(2), "drum"),)
    assert (first.needs_receipt, first.codes, first.project) == (True, ("A", "77"), "P-1")
    assert (second.received, second.needs_receipt, second.item) == (None, None, None)


def test_rate_cards_and_projects_are_read():
    known = known_from("""cards:
  - {vendor: V1, card: C, wording: "Tour*", currency: EUR, price: 240, first: 2026-01-01}
  - {vendor: V1, card: C, code: TOLL, currency: EUR, percent: 6, of: "Tour*"}
projects:
  - {code: P-1, name: Pool, closed: true}
""")
    tour, toll = known.cards["V1"]
    assert (tour.price, tour.first, tour.last) == (240, date(2026, 1, 1), None)
    assert (toll.percent, toll.of, toll.price) == (6, "Tour*", None)
    assert known.codes.projects["P-1"].closed


@pytest.mark.parametrize(("text", "said"), [
    ("orders: [{number: A, vendor: V}]", "order A needs a net_total, or a currency and lines"),
    ("order_lines: [{order: B, line: 1, quantity: 1, unit_price: 2}]",
     "order_lines: there is no order 'B'"),
    ("receipts: [{order_number: B, line: 1, quantity: 1}]", "receipts: there is no order 'B'"),
    (ORDER.replace("quantity: 48", "quantity: many"), "quantity is a number, not 'many'"),
    (ORDER.replace("quantity: 48", "quantity: NaN"), "quantity is a number, not 'NaN'"),
    (ORDER.replace("line: 2,", "line: two,"), "'two': invalid literal"),
    (ORDER.replace("case = 12", "case of 12"), "'case of 12' is no pack; write it as case = 12"),
    (ORDER.replace("needs_receipt: true", "needs_receipt: yes"),
     "needs_receipt is true or false, not 'yes'"),
    (ORDER.replace("unit_price: 40", "price: 40"), "unknown key 'price'"),
    ("cards: [{vendor: V, card: C, currency: EUR, price: 1}]", "has a code or a wording"),
    ("cards: [{vendor: V, card: C, currency: EUR, code: A}]", "has a price or a percentage"),
    ("cards: [{vendor: V, card: C, currency: EUR, code: A, price: 1, first: May}]", "'May'"),
    ("cards: [{vendor: V, card: C, code: A, price: 1}]", "cards[1] needs 'currency'"),
])  # fmt: skip
def test_what_cannot_be_used_is_told_with_its_place(text, said):
    with pytest.raises(FactsError) as refused:
        known_from(text)
    assert said in str(refused.value)


def test_the_demos_facts_hold_all_of_its_orders():
    known = known_from(merrowmere())
    salt = next(each for each in known.every_order if each.number == "PO-26-0108")
    assert (salt.lines[0].received, salt.lines[0].receivable) == (34, 34)
    tins = next(each for each in known.every_order if each.number == "PO-26-0110")
    assert tins.lines[0].received == 48  # four cases of twelve
    assert set(known.cards) == {"V2004"}
