"""Numbers of orders within the table of a bill that is of several, and side by side at its head."""

import time

import pytest

from tests.core.paper import page_of, read
from tests.core.paper import told as tagged_as
from veridox.core.extract.tagging.orders import with_orders
from veridox.core.money import Money
from veridox.core.reading import Field

HEAD = (
    (40, (60, "Brinefold Feeds Ltd", 1.6)), (60, (60, "12 Quay Road, Saltmouth")),
    (90, (60, "INVOICE", 1.8)), (120, (60, "Invoice no: BF-2026-0500")),
    (134, (60, "Invoice date: 3 November 2026")), (148, (60, "Bill to: Merrowmere Aquarium Trust")),
)  # fmt: skip
LINES = (("BF-KRL", "Frozen krill", "10", "420.00"), ("BF-SQD", "Squid rings", "5", "210.00"),
         ("SG-SAL", "Reef salt", "3", "126.00"))  # fmt: skip
PLACES = {"item": 60, "text": 130, "count": 360, "price": 430, "amount": 540}
COLUMNS = (200, (60, "Item"), (130, "Description"), (360, "Qty", "right"),
           (430, "Price", "right"), (540, "Amount", "right"))  # fmt: skip


def line(y, at):
    item, text, count, amount = LINES[at]
    return (y, (60, item), (130, text), (360, count, "right"), (430, "42.00", "right"),
            (540, amount, "right"))  # fmt: skip


def foot(y):
    return ((y, (340, "Net total"), (540, "756.00", "right")),
            (y + 14, (340, "VAT 20%"), (540, "151.20", "right")),
            (y + 28, (340, "Total GBP"), (540, "907.20", "right")))  # fmt: skip


def told(*rows):
    """The order's number and the description of each line."""
    reading = read(page_of(*HEAD, *rows))
    return [
        (row["order_number"].value if "order_number" in row else None, row["description"].value)
        for row in reading.lines
    ]


@pytest.mark.parametrize("said", [
    "Your order {}", "Order {}", "Your order {} of 20 October 2026", "PO no {}",
    "Ihre Bestellung: {} vom 20.10.2026, Lieferschein 4412",
])  # fmt: skip
def test_a_heading_is_said_of_the_lines_below_it(said):
    found = told(COLUMNS, (220, (60, said.format("PO-26-0117"))), line(236, 0), line(252, 1),
                 (268, (60, said.format("PO-26-0118"))), line(284, 2), *foot(320))  # fmt: skip
    assert found == [("PO-26-0117", "Frozen krill"), ("PO-26-0117", "Squid rings"),
                     ("PO-26-0118", "Reef salt")]  # fmt: skip


def test_words_of_a_description_stay_though_a_heading_beside_it_has_them_too():
    calendar = (236, (60, "A-1"), (130, "Calendar 2026"), (360, "10", "right"),
                (430, "42.00", "right"), (540, "420.00", "right"))  # fmt: skip
    found = told(COLUMNS, (220, (60, "Your order PO-26-0117 of 20 October 2026")), calendar,
                 line(252, 1), line(268, 2), *foot(320))  # fmt: skip
    assert found[0] == ("PO-26-0117", "Calendar 2026")


def test_what_stands_below_each_line_is_said_of_it():
    found = told(
        COLUMNS, line(220, 0), (234, (130, "Your order: PO-26-0117")),
        line(252, 1), (266, (130, "Your order: PO-26-0118")),
        line(284, 2), (298, (130, "Your order: PO-26-0118")), *foot(330),
    )  # fmt: skip
    assert found == [("PO-26-0117", "Frozen krill"), ("PO-26-0118", "Squid rings"),
                     ("PO-26-0118", "Reef salt")]  # fmt: skip


@pytest.mark.parametrize("numbers", [
    ("PO-26-0117", "PO-26-0117", "PO-26-0118"), ("4500117", "4500118", "4500118"),
])  # fmt: skip
def test_a_column_of_its_own_is_read(numbers):
    columns = (200, (60, "Item"), (130, "Description"), (290, "Order no"), (400, "Qty", "right"),
               (460, "Price", "right"), (540, "Amount", "right"))  # fmt: skip
    rows = [
        (220 + 16 * at, (60, item), (130, text), (290, numbers[at]), (400, count, "right"),
         (460, "42.00", "right"), (540, amount, "right"))
        for at, (item, text, count, amount) in enumerate(LINES)
    ]  # fmt: skip
    assert [number for number, _ in told(columns, *rows, *foot(300))] == list(numbers)


def test_what_the_head_says_alone_is_said_of_no_line():
    rows = (line(220, 0), line(236, 1), line(252, 2), *foot(300))
    found = told((162, (60, "Your order no: PO-26-0117")), COLUMNS, *rows)
    assert [number for number, _ in found] == [None, None, None]


@pytest.mark.parametrize("said", [
    "PO-26-0117, PO-26-0118", "PO-26-0117 / PO-26-0118", "PO-26-0117 and PO-26-0118",
    "PO-26-0117 & PO-26-0118",
])  # fmt: skip
def test_numbers_side_by_side_are_one_value(said):
    rows = (line(220, 0), line(236, 1), line(252, 2), *foot(300))
    reading = read(page_of(*HEAD, (162, (60, f"Your order no: {said}")), COLUMNS, *rows))
    assert reading.text("order_number") == "PO-26-0117, PO-26-0118"


def test_another_number_behind_an_order_is_none():
    rows = (line(220, 0), line(236, 1), line(252, 2), *foot(300))
    said = "Your order no: PO-26-0117 / 20 October 2026"
    reading = read(page_of(*HEAD, (162, (60, said)), COLUMNS, *rows))
    assert reading.text("order_number") == "PO-26-0117"


def test_thousands_of_lines_with_a_number_each_take_no_time():
    rows = [
        (20 + 12 * at, (60, f"A-{at:04}"), (130, f"Thing Your order PO-26-{at:04}"),
         (360, "10", "right"), (430, "42.00", "right"), (540, "420.00", "right"))
        for at in range(2_000)
    ]  # fmt: skip
    tagged = tagged_as({}, *rows)
    lines = [
        {"amount": Field(value=Money.of("420.00", "GBP"), box=token.box, page=token.page)}
        for token in tagged.tokens
        if token.text == "420.00"
    ]
    assert tagged.cells
    assert tagged.best
    began = time.perf_counter()
    found = with_orders(tagged, lines)
    assert time.perf_counter() - began < 2
    assert [row["order_number"].value for row in found[:2]] == ["PO-26-0000", "PO-26-0001"]
