"""Who buys, who sells and what was ordered. All invented; tax ids pass their checksums."""

import csv
import io
from dataclasses import dataclass
from decimal import Decimal


@dataclass(frozen=True, kw_only=True)
class Entity:
    code: str
    name: str
    street: str
    town: str
    country: str
    currency: str
    tax_id: str


@dataclass(frozen=True, kw_only=True)
class Vendor:
    code: str
    name: str
    street: str
    town: str
    country: str
    tax_id: str
    mail: str
    iban: str
    needs_order: bool = True


@dataclass(frozen=True, kw_only=True)
class OrderLine:
    item: str
    description: str
    quantity: Decimal
    unit: str
    price: Decimal


@dataclass(frozen=True, kw_only=True)
class Order:
    number: str
    entity: str
    vendor: str
    currency: str
    lines: tuple[OrderLine, ...]
    ordered_on: str


TRUST = Entity(
    code="aquarium-trust", name="Merrowmere Aquarium Trust", street="2 Harbour Walk",
    town="Merrowmere MW1 4QA", country="GB", currency="GBP", tax_id="GB740175356",
)  # fmt: skip
MEERHAUS = Entity(
    code="meerhaus", name="Merrowmere Meerhaus GmbH", street="Am Siel 4",
    town="26999 Merrowhafen", country="DE", currency="EUR", tax_id="DE862541651",
)  # fmt: skip
ENTITIES = (TRUST, MEERHAUS)

BRINEFOLD = Vendor(
    code="V1001", name="Brinefold Feeds Ltd", street="Unit 7, Kelp Yard", town="Tarnsey TS3 8BF",
    country="GB", tax_id="GB411056167", mail="accounts@brinefold.example",
    iban="GB71MRWK99000010201531",
)  # fmt: skip
SALTGLASS = Vendor(
    code="V1002", name="Saltglass Systems Ltd", street="18 Foundry Lane", town="Orrowby OB2 6SG",
    country="GB", tax_id="GB220519011", mail="billing@saltglass.example",
    iban="GB51MRWK99000020304150",
)  # fmt: skip
QUILLFIN = Vendor(
    code="V1003", name="Quillfin Veterinary Services Ltd", street="The Old Slipway",
    town="Merrowmere MW3 1QV", country="GB", tax_id="GB595662546",
    mail="office@quillfin.example", iban="GB88MRWK99000030405161", needs_order=False,
)  # fmt: skip
KORALLAN = Vendor(
    code="V2001", name="Korallan Technik GmbH", street="Werftstraße 11", town="24999 Nordfleet",
    country="DE", tax_id="DE247191465", mail="rechnung@korallan.example",
    iban="DE77999900001234567890",
)  # fmt: skip
OSTREL = Vendor(
    code="V2002", name="Ostrel Pumpen AG", street="Industriering 3", town="89555 Quellbrunn",
    country="DE", tax_id="DE780026869", mail="buchhaltung@ostrel.example",
    iban="DE82999900009876543210",
)  # fmt: skip
NORDRIFF = Vendor(
    code="V2003", name="Nordriff Wasseranalytik GmbH", street="Laborweg 20", town="26888 Sielhorn",
    country="DE", tax_id="DE232728795", mail="labor@nordriff.example",
    iban="DE56999900005555123450",
)  # fmt: skip
VENDORS = (BRINEFOLD, SALTGLASS, QUILLFIN, KORALLAN, OSTREL, NORDRIFF)

TIDEWRACK = Vendor(
    code="", name="Tidewrack Kiosk Supplies Ltd", street="5 Pier Approach",
    town="Merrowmere MW1 9TK", country="GB", tax_id="GB224754018",
    mail="sales@tidewrack.example", iban="GB28MRWK99000040506172",
)  # fmt: skip
"""Sends invoices but is in nobody's master data."""


def _lines(*rows: tuple[str, str, str, str, str]) -> tuple[OrderLine, ...]:
    return tuple(
        OrderLine(item=i, description=d, quantity=Decimal(q), unit=u, price=Decimal(p))
        for i, d, q, u, p in rows
    )


ORDERS = (
    Order(number="PO-26-0101", entity="aquarium-trust", vendor="V1001", currency="GBP",
          ordered_on="2026-10-02", lines=_lines(
              ("BF-KRL", "Frozen krill, 2 kg block", "40", "block", "14.20"),
              ("BF-MYS", "Mysis shrimp, gamma treated, 1 kg", "25", "bag", "11.60"),
              ("BF-SPR", "Spirulina flake 500 g", "12", "tub", "13.25"))),
    Order(number="PO-26-0102", entity="aquarium-trust", vendor="V1002", currency="GBP",
          ordered_on="2026-10-05", lines=_lines(
              ("SG-SAL", "Reef salt, 25 kg sack", "30", "sack", "31.90"),
              ("SG-HYD", "Hydrometer, glass, calibrated", "6", "each", "31.90"))),
    Order(number="PO-26-0103", entity="aquarium-trust", vendor="V1002", currency="GBP",
          ordered_on="2026-10-19", lines=_lines(
              ("SG-SKM", "Protein skimmer cup, 200 mm", "4", "each", "86.50"),)),
    Order(number="PO-26-0104", entity="aquarium-trust", vendor="V1001", currency="GBP",
          ordered_on="2026-10-26", lines=_lines(
              ("BF-SQD", "Squid, whole, 5 kg carton", "20", "carton", "38.75"),)),
    Order(number="PO-26-0201", entity="meerhaus", vendor="V2001", currency="EUR",
          ordered_on="2026-10-06", lines=_lines(
              ("KT-4410", "Eiweißabschäumer Rotor 44", "2", "Stück", "618.00"),
              ("KT-0071", "Dichtungssatz EPDM", "10", "Satz", "23.40"))),
    Order(number="PO-26-0202", entity="meerhaus", vendor="V2001", currency="EUR",
          ordered_on="2026-10-12", lines=_lines(
              ("KT-9002", "Wartung Filterstraße Becken 3", "6", "Std", "94.00"),
              ("KT-0090", "Filtervlies G4, Rolle 20 m", "8", "Rolle", "41.15"))),
    Order(number="PO-26-0203", entity="meerhaus", vendor="V2002", currency="EUR",
          ordered_on="2026-10-14", lines=_lines(
              ("OP-118", "Kreiselpumpe OP-118, 230 V", "3", "Stück", "1249.00"),)),
    Order(number="PO-26-0204", entity="meerhaus", vendor="V2003", currency="EUR",
          ordered_on="2026-10-20", lines=_lines(
              ("NW-STD", "Wasseranalyse Standard, 14 Parameter", "12", "Probe", "58.50"),
              ("NW-MIB", "Mikrobiologie Zusatz", "4", "Probe", "36.00"))),
)  # fmt: skip


def _csv(header: list[str], rows: list[list[object]]) -> str:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(header)
    writer.writerows(rows)
    return out.getvalue()


def entities_csv() -> str:
    return _csv(
        ["code", "name", "country", "currency", "tax_id"],
        [[e.code, e.name, e.country, e.currency, e.tax_id] for e in ENTITIES],
    )


def vendors_csv() -> str:
    return _csv(
        ["code", "name", "tax_id", "country", "email", "needs_order", "blocked"],
        [
            [v.code, v.name, v.tax_id, v.country, v.mail, "yes" if v.needs_order else "no", "no"]
            for v in VENDORS
        ],
    )


def orders_csv() -> str:
    header = ["number", "entity", "vendor", "currency", "ordered_on", "status", "line",
              "item_code", "description", "quantity", "unit", "unit_price"]  # fmt: skip
    return _csv(
        header,
        [
            [o.number, o.entity, o.vendor, o.currency, o.ordered_on, "open", position,
             line.item, line.description, line.quantity, line.unit, line.price]
            for o in ORDERS
            for position, line in enumerate(o.lines, start=1)
        ],
    )  # fmt: skip
