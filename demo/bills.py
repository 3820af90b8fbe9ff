"""The documents of the scenario."""

from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal
from itertools import count

from demo import merrowmere as m
from demo.drawing import Bill, Charge
from demo.merrowmere import OrderLine

_ORDERS = {order.number: order for order in m.ORDERS}
TWENTY, NINETEEN = Decimal(20), Decimal(19)


def on_order(order_number: str, count: int | None = None) -> tuple[OrderLine, ...]:
    return _ORDERS[order_number].lines[:count]


def _line(item: str, description: str, quantity: str, unit: str, price: str) -> OrderLine:
    return OrderLine(
        item=item,
        description=description,
        quantity=Decimal(quantity),
        unit=unit,
        price=Decimal(price),
    )


KRILL = Bill(
    vendor=m.BRINEFOLD, buyer=m.TRUST, number="BF-2026-0413", issued=date(2026, 11, 2),
    due=date(2026, 12, 2), order="PO-26-0101", currency="GBP", lines=on_order("PO-26-0101"),
    tax_rate=TWENTY,
)  # fmt: skip
ROTOR = Bill(
    vendor=m.KORALLAN, buyer=m.MEERHAUS, number="RE-26-30871", issued=date(2026, 11, 3),
    due=date(2026, 12, 3), order="PO-26-0201", currency="EUR", lines=on_order("PO-26-0201"),
    tax_rate=NINETEEN,
)  # fmt: skip
SALT_SLIP = Bill(
    vendor=m.SALTGLASS, buyer=m.TRUST, number="SG/10442", issued=date(2026, 11, 5),
    due=date(2026, 12, 5), order="PO-26-0102", currency="GBP", lines=on_order("PO-26-0102"),
    tax_rate=TWENTY, charge=Charge(label="Carriage", amount=Decimal("36.00")),
    gross_slip=Decimal("60.00"),
)  # fmt: skip
"""Lines 1,148.40 + carriage 36.00 = 1,184.40; 20 % = 236.88; printed 1,481.28 is 60.00 too high."""
KIOSK = Bill(
    vendor=m.TIDEWRACK, buyer=m.TRUST, number="TW-5521", issued=date(2026, 11, 6),
    due=date(2026, 11, 20), order="", currency="GBP",
    lines=(_line("", "Paper cups, 8 oz, sleeve of 50", "24", "sleeve", "3.85"),
           _line("", "Oat drink, 1 litre, case of 12", "10", "case", "17.40")),
    tax_rate=TWENTY,
)  # fmt: skip
WRONG_ORDER = Bill(
    vendor=m.OSTREL, buyer=m.MEERHAUS, number="2026/7718", issued=date(2026, 11, 9),
    due=date(2026, 12, 9), order="PO-26-0202", currency="EUR",
    lines=(_line("OP-230", "Laufrad zu OP-118, Edelstahl", "2", "Stück", "187.50"),),
    tax_rate=NINETEEN,
)  # fmt: skip
"""Names an order that was placed with Korallan."""
VET_VISIT = Bill(
    vendor=m.QUILLFIN, buyer=m.TRUST, number="QV 20931", issued=date(2026, 11, 10),
    due=date(2026, 11, 24), order="", currency="GBP",
    lines=(_line("", "Monthly visit, penguins and otters", "1", "visit", "420.00"),
           _line("", "Blood panel, external laboratory", "3", "panel", "64.20")),
    tax_rate=TWENTY,
)  # fmt: skip
WATER = Bill(
    vendor=m.NORDRIFF, buyer=m.MEERHAUS, number="NW-8814", issued=date(2026, 11, 11),
    due=date(2026, 12, 11), order="PO-26-0204", currency="EUR", lines=on_order("PO-26-0204"),
    tax_rate=NINETEEN,
)  # fmt: skip
WATER_DAMAGED = Bill(
    vendor=m.NORDRIFF, buyer=m.MEERHAUS, number="NW-8815", issued=date(2026, 11, 11),
    due=date(2026, 12, 11), order="", currency="EUR",
    lines=(_line("NW-EIL", "Eilzuschlag", "1", "pausch.", "45.00"),), tax_rate=NINETEEN,
)  # fmt: skip
SKIMMER = Bill(
    vendor=m.SALTGLASS, buyer=m.TRUST, number="SG/10467", issued=date(2026, 11, 12),
    due=date(2026, 12, 12), order="PO-26-0103", currency="GBP", lines=on_order("PO-26-0103"),
    tax_rate=TWENTY,
)  # fmt: skip
"""Arrives as a scan."""
UPKEEP = Bill(
    vendor=m.KORALLAN, buyer=m.MEERHAUS, number="RE-26-30902", issued=date(2026, 11, 13),
    due=date(2026, 12, 13), order="PO-26-0202", currency="EUR", lines=on_order("PO-26-0202", 1),
    tax_rate=NINETEEN,
)  # fmt: skip
FLEECE = Bill(
    vendor=m.KORALLAN, buyer=m.MEERHAUS, number="RE-26-30903", issued=date(2026, 11, 13),
    due=date(2026, 12, 13), order="PO-26-0202", currency="EUR", lines=on_order("PO-26-0202")[1:],
    tax_rate=NINETEEN, charge=Charge(label="Versandkosten", amount=Decimal("9.80")),
)  # fmt: skip


_drawn = count(1)
_SLOTS = 40


def of_its_own(number: str) -> Bill:
    """The vet's bill under another number, that is no other bill once more: bills of one total and
    nearly one date would be taken for one."""
    drawn = next(_drawn)
    issued = VET_VISIT.issued - timedelta(days=6 * (drawn % _SLOTS))
    first, *others = VET_VISIT.lines
    dearer = replace(first, price=first.price + drawn // _SLOTS)
    return replace(VET_VISIT, number=number, issued=issued, due=issued + timedelta(days=14),
                   lines=(dearer, *others))  # fmt: skip
