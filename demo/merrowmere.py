"""Who buys, who sells and what was ordered. All invented; tax ids pass their checksums."""

import csv
import io
from dataclasses import dataclass
from decimal import Decimal
from typing import Any


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
    terms: str = "30 days net"
    treatment: str = "domestic"
    rates: tuple[str, ...] = ()
    group: str = ""
    names: tuple[str, ...] = ()
    payees: tuple[str, ...] = ()
    blocked: bool = False
    language: str = ""


@dataclass(frozen=True, kw_only=True)
class OrderLine:
    item: str
    description: str
    quantity: Decimal
    unit: str
    price: Decimal
    order: str = ""


@dataclass(frozen=True, kw_only=True)
class Order:
    number: str
    entity: str
    vendor: str
    currency: str
    lines: tuple[OrderLine, ...]
    ordered_on: str
    status: str = "open"


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
    terms="14 days net", group="veterinary",
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
    iban="DE56999900005555123450", group="laboratory",
)  # fmt: skip
VENDORS = (BRINEFOLD, SALTGLASS, QUILLFIN, KORALLAN, OSTREL, NORDRIFF)


def _more(
    code: str, name: str, address: str, country: str, tax_id: str, mail: str, iban: str,
    **more: Any,
) -> Vendor:  # fmt: skip
    street, _, town = address.partition(", ")
    return Vendor(code=code, name=name, street=street, town=town, country=country, tax_id=tax_id,
                  mail=mail, iban=iban, **more)  # fmt: skip


# fmt: off
KESTREL = _more("V1004", "Kestrel Acrylics Ltd", "9 Panel Road, Orrowby OB4 1RT", "GB",
                "GB111837731", "sales@kestrel-acrylics.example", "GB76MRWK99000050600001",
                terms="10 days 2 %, 30 days net", group="panels")
BRIGHTMARL = _more("V1005", "Brightmarl Energy Ltd", "1 Turbine Way, Tarnsey TS1 1BE", "GB",
                   "GB466133799", "bills@brightmarl.example", "GB49MRWK99000050600002",
                   needs_order=False, group="energy", rates=("20", "5"))
CLEANQUAY = _more("V1006", "Cleanquay Services Ltd", "14 Mop Street, Merrowmere MW2 8CQ", "GB",
                  "GB291784673", "accounts@cleanquay.example", "GB22MRWK99000050600003",
                  needs_order=False, group="cleaning", payees=("Ebbgeld Factoring AG",))
SEAGRASS = _more("V1007", "Seagrass Cafe Goods Ltd", "3 Crumb Court, Merrowmere MW4 2SG", "GB",
                 "GB918451556", "orders@seagrass.example", "GB92MRWK99000050600004",
                 needs_order=False, group="cafe", rates=("20", "0"), names=("Seagrass Pantry",))
ORLA = _more("V1008", "Orla Print and Sign Ltd", "22 Ink Lane, Orrowby OB1 9OP", "GB",
             "GB142166743", "studio@orlaprint.example", "GB65MRWK99000050600005", blocked=True)
TARNSEY = _more("V1009", "Tarnsey Water Board", "Reservoir House, Tarnsey TS9 4WB", "GB",
                "GB729925393", "billing@tarnsey-water.example", "GB38MRWK99000050600006",
                needs_order=False, group="water", treatment="zero rated")
SIEBENMEER = _more("V2004", "Siebenmeer Logistik GmbH", "Kaistraße 7, 26721 Emhaven", "DE",
                   "DE328805901", "fracht@siebenmeer.example", "DE56999900001111222001",
                   needs_order=False, group="carrier", language="de")
KLEINMANN = _more("V2005", "Taucharbeiten Kleinmann", "Am Deich 2, 26888 Sielhorn", "DE", "",
                  "jan@kleinmann.example", "DE29999900001111222002", needs_order=False,
                  treatment="small business", group="divers", language="de")
WATTWERK = _more("V2006", "Wattwerk Strom GmbH", "Netzplatz 1, 26999 Merrowhafen", "DE",
                 "DE531359627", "abrechnung@wattwerk.example", "DE02999900001111222003",
                 needs_order=False, group="energy", language="de")
VANTLIER = _more("V3001", "Vantlier Glas B.V.", "Havenkade 18, 3011 Waterdam", "NL",
                 "NL945807302B02", "facturen@vantlier.example", "NL10MRWK0999123456",
                 treatment="intra-community", language="nl")
LUMIQUET = _more("V3002", "Lumiquet SARL", "8 quai des Phares, 29200 Brestmer", "FR",
                 "FR31590026142", "compta@lumiquet.example", "FR4799999000011234567890189",
                 treatment="export", language="fr")
MAREGNO = _more("V3003", "Maregno Forniture S.r.l.", "Via del Molo 4, 16100 Genmare", "IT",
                "IT40064010024", "fatture@maregno.example", "IT45X9999900001000000123456",
                treatment="intra-community", language="it")
PEIXORIA = _more("V3004", "Peixoria Lda", "Rua da Lota 12, 4450 Matosmar", "PT", "PT563822392",
                 "faturas@peixoria.example", "PT59999900001234567890154",
                 treatment="intra-community", language="pt")
HALVARD = _more("V3005", "Halvard Filtermedia AB", "Filtervägen 3, 41101 Västhamn", "SE",
                "SE557604277301", "faktura@halvard.example", "SE3799900000058398257466",
                treatment="intra-community", language="sv")
ALPSEE = _more("V4001", "Alpsee Messtechnik AG", "Uferweg 5, 6003 Luzmatt", "CH",
               "CHE922583052MWST", "rechnung@alpsee.example", "CH8599999000012345678",
               treatment="export", language="de")
NORSUND = _more("V4002", "Norsund Saltkompani AS", "Saltbryggen 1, 5003 Bergvik", "NO",
                "NO669950152MVA", "faktura@norsund.example", "NO6499990012345",
                treatment="export")
UMIHAMA = _more("V4003", "Umihama Aquatics K.K.", "2-4 Minato, 231 Hamasaki", "JP",
                "T9341862477710", "export@umihama.example", "", treatment="export")
# fmt: on
EVERY_VENDOR = (
    *VENDORS,
    KESTREL,
    BRIGHTMARL,
    CLEANQUAY,
    SEAGRASS,
    ORLA,
    TARNSEY,
    SIEBENMEER,
    KLEINMANN,
    WATTWERK,
    VANTLIER,
    LUMIQUET,
    MAREGNO,
    PEIXORIA,
    HALVARD,
    ALPSEE,
    NORSUND,
    UMIHAMA,
)  # fmt: skip
"""All that the finance system has; `VENDORS` are those of the ten mails."""

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
MORE_ORDERS = (
    Order(number="PO-26-0106", entity="aquarium-trust", vendor="V1001", currency="GBP",
          ordered_on="2026-10-28", lines=_lines(
              ("BF-CLM", "Clam meat, frozen, 1 kg bag", "20", "bag", "38.50"),)),
    Order(number="PO-26-0107", entity="aquarium-trust", vendor="V1001", currency="GBP",
          ordered_on="2026-10-29", lines=_lines(
              ("BF-SEA", "Dried seaweed, 500 g", "30", "pack", "6.45"),)),
    Order(number="PO-26-0105", entity="aquarium-trust", vendor="V1004", currency="GBP",
          ordered_on="2026-11-20", lines=_lines(
              ("KA-PNL", "Acrylic panel 20 mm, cut to size", "2", "each", "410.00"),)),
    Order(number="PO-26-0108", entity="aquarium-trust", vendor="V1002", currency="GBP",
          ordered_on="2026-10-30", lines=_lines(
              ("SG-SAL", "Reef salt, 25 kg sack", "40", "sack", "31.90"),)),
    Order(number="PO-26-0109", entity="aquarium-trust", vendor="V1002", currency="GBP",
          ordered_on="2026-11-02", lines=_lines(
              ("SG-SKM", "Protein skimmer cup, 200 mm", "6", "each", "86.50"),)),
    Order(number="PO-26-0110", entity="aquarium-trust", vendor="V1001", currency="GBP",
          ordered_on="2026-11-03", lines=_lines(
              ("BF-ART", "Brine shrimp eggs, 425 g tin", "48", "tin", "18.60"),)),
    Order(number="PO-26-0111", entity="aquarium-trust", vendor="V1004", currency="GBP",
          ordered_on="2026-11-09", status="not approved", lines=_lines(
              ("KA-TUN", "Tunnel segment, curved, 60 mm", "3", "each", "2150.00"),)),
    Order(number="PO-26-0113", entity="aquarium-trust", vendor="V1001", currency="GBP",
          ordered_on="2026-11-10", lines=_lines(
              ("BF-KLP", "Kelp meal, 10 kg bag", "10", "bag", "8.40"),)),
    Order(number="PO-26-0114", entity="aquarium-trust", vendor="V1001", currency="GBP",
          ordered_on="2026-11-10", lines=_lines(
              ("BF-CYC", "Cyclops, 100 g tin", "12", "tin", "3.95"),)),
    Order(number="PO-26-0115", entity="aquarium-trust", vendor="V1001", currency="GBP",
          ordered_on="2026-11-09", lines=_lines(
              ("BF-HER", "Herring, whole, 5 kg carton", "16", "carton", "22.40"),)),
    Order(number="PO-26-0116", entity="aquarium-trust", vendor="V1001", currency="GBP",
          ordered_on="2026-11-12", lines=_lines(
              ("BF-MCK", "Mackerel fillet, 5 kg carton", "10", "carton", "27.60"),
              ("BF-SPT", "Sprats, 2 kg bag", "12", "bag", "9.80"))),
    Order(number="PO-26-0112", entity="aquarium-trust", vendor="V1004", currency="GBP",
          ordered_on="2026-01-12", lines=_lines(
              ("", "Polishing of panels as called off, 2026", "1", "", "6000.00"),)),
)  # fmt: skip
"""Those that the ten mails are not of; the last one was raised when its bill was there already."""


RECEIPTS = (
    ("GR-26-0711", "PO-26-0108", "24", "", "2026-11-05", ""),
    ("GR-26-0719", "PO-26-0108", "10", "", "2026-11-17", "the rest is to follow"),
    ("GR-26-0714", "PO-26-0109", "6", "", "2026-11-10", ""),
    ("RT-26-0031", "PO-26-0109", "-2", "", "2026-11-12", "cracked"),
    ("GR-26-0722", "PO-26-0110", "4", "case", "2026-11-18", ""),
)
"""Goods receipts, all of the first line of their orders: number, order, quantity, unit, day, note;
below zero is what went back."""
CARDS = (
    ("SML 2026", "Fracht Nordfleet", "Tour", "240.00", "", "", "2026-01-01", "2026-12-31"),
    ("SML 2026", "Fracht Emhaven", "Tour", "318.00", "", "", "2026-01-01", "2026-12-31"),
    ("SML 2026", "Palettenplatz*", "Palette", "19.50", "", "", "2026-01-01", "2026-12-31"),
    ("SML 2026", "Palettenplatz*", "Palette", "16.80", "", "10", "2026-01-01", "2026-12-31"),
    ("SML 2026", "Dieselzuschlag*", "", "", "6", "", "2026-01-01", "2026-12-31"),
)
"""Rate card of the carrier: card, charge, unit, price, percent, from so many on, first and last
day."""
ITEMS = (
    ("V1001", "BF-ART", "", "Brine shrimp eggs, 425 g tin", "tin", "case = 12 | pallet = 720"),
    ("V1001", "BF-CYC", "", "Cyclops, 100 g tin", "tin", "case = 12"),
    ("V1002", "SG-SAL", "10025", "Reef salt, 25 kg sack", "sack", "pallet = 40"),
)
"""Vendor, our code, the vendor's, what it is, its unit, its packs."""


GL_ACCOUNTS = (
    ("4310", "Animal feed", False, True),
    ("4320", "Salt and water treatment", False, True),
    ("4330", "Veterinary supplies", False, True),
    ("4410", "Pumps and spare parts", False, True),
    ("4420", "Acrylic and glass", False, True),
    ("4510", "Goods for the cafe", False, True),
    ("6110", "Energy and water", False, False),
    ("6120", "Cleaning", False, True),
    ("6130", "Repairs and maintenance", False, True),
    ("6210", "Laboratory and vets", False, True),
    ("6310", "Freight", False, False),
    ("6410", "Print and signs", True, False),
)
"""Code, name, closed, needs a cost centre."""
COST_CENTRES = (
    ("CC-10", "Tanks", "bo@merrowmere.example"),
    ("CC-20", "Life support", "bo@merrowmere.example"),
    ("CC-30", "Front house", "cleo@merrowmere.example"),
    ("CC-40", "Cafe", "cleo@merrowmere.example"),
    ("CC-50", "Meerhaus", "bo@merrowmere.example"),
)
TAX_CODES = (
    ("GB20", "UK standard", "GB", "S", "20"),
    ("GB05", "UK reduced", "GB", "S", "5"),
    ("GB00", "UK zero", "GB", "Z", "0"),
    ("DE19", "Inland 19 %", "DE", "S", "19"),
    ("DE07", "Inland 7 %", "DE", "S", "7"),
    ("EUAE", "Reverse charge", "", "AE", "0"),
    ("EUK", "Intra-community", "", "K", "0"),
    ("EXPO", "From abroad", "", "G", "0"),
    ("EXEM", "Exempt", "", "E", "0"),
    ("NL21", "Dutch 21 %", "NL", "S", "21"),
)
"""Code, name, country, category, rate."""
PROJECTS = (
    ("P-2601", "Otter pool, new front", "cleo@merrowmere.example", False),
    ("P-2604", "Tunnel, second row", "cleo@merrowmere.example", False),
    ("P-2517", "Kiosk refit", "bo@merrowmere.example", True),
)
"""Code, name, who leads it, closed."""
CODED_ORDERS = {
    "PO-26-0105": {"gl_account": "4420", "cost_centre": "CC-30", "project": "P-2601"},
    "PO-26-0111": {"gl_account": "4420", "cost_centre": "CC-30", "project": "P-2604"},
    "PO-26-0112": {"gl_account": "6130", "cost_centre": "CC-30"},
}
"""Orders whose lines say under what they are booked."""
USUAL = {
    "V1001": ("4310", "CC-10"),
    "V1002": ("4320", "CC-20"),
    "V1003": ("6210", "CC-10"),
    "V1005": ("6110", ""),
    "V1007": ("4510", "CC-40"),
    "V1009": ("6110", ""),
    "V2001": ("4410", "CC-50"),
    "V2002": ("4410", "CC-50"),
    "V2003": ("6210", "CC-50"),
    "V2004": ("6310", ""),
}
"""GL account and cost centre under which a vendor's lines are usually booked."""


def _domestic(vendor: Vendor) -> list[str]:
    usual = {"GB": ["20"], "DE": ["19"]}.get(vendor.country, [])
    return list(vendor.rates) or (usual if vendor.treatment == "domestic" else [])


def lists() -> dict[str, list[dict[str, Any]]]:
    """Everything as the finance system lists it."""
    domain = "merrowmere.example"
    return {
        "entities": [
            {"code": e.code, "name": e.name, "country": e.country, "currency": e.currency,
             "tax_id": e.tax_id, "recipients": [f"ap-{e.code}@{domain}"],
             "closed": ["2025-01-01 to 2025-12-31"]}
            for e in ENTITIES
        ],
        "vendors": [
            {"code": v.code, "name": v.name, "tax_id": v.tax_id, "country": v.country,
             "email": v.mail, "needs_order": v.needs_order, "blocked": v.blocked,
             "terms": v.terms, "treatment": v.treatment, "rates": _domestic(v),
             "group": v.group, "language": v.language, "names": list(v.names),
             "accounts": [v.iban] if v.iban else [], "senders": [v.mail],
             "domains": [v.mail.partition("@")[2]], "addresses": [f"{v.street}, {v.town}"],
             "payees": list(v.payees), "gl_account": USUAL.get(v.code, ("", ""))[0],
             "cost_centre": USUAL.get(v.code, ("", ""))[1]}
            for v in EVERY_VENDOR
        ],
        "orders": [
            {"number": o.number, "entity": o.entity, "vendor": o.vendor, "currency": o.currency,
             "ordered_on": o.ordered_on, "status": o.status, "lines": [
                 {"line": at, "item_code": line.item, "description": line.description,
                  "quantity": str(line.quantity), "unit": line.unit,
                  "unit_price": str(line.price), **CODED_ORDERS.get(o.number, {})}
                 for at, line in enumerate(o.lines, start=1)]}
            for o in (*ORDERS, *MORE_ORDERS)
        ],
        "receipts": [
            {"number": number, "entity": "aquarium-trust", "order_number": order, "line": 1,
             "quantity": quantity, "unit": unit, "received_on": day, "note": note}
            for number, order, quantity, unit, day, note in RECEIPTS
        ],
        "items": [
            {"vendor": vendor, "code": code, "vendor_code": theirs, "description": text,
             "unit": unit, "packs": packs}
            for vendor, code, theirs, text, unit, packs in ITEMS
        ],
        "gl-accounts": [
            {"code": code, "name": name, "entity": "", "closed": closed,
             "needs_cost_centre": needs}
            for code, name, closed, needs in GL_ACCOUNTS
        ],
        "cost-centres": [
            {"code": code, "name": name, "entity": "", "owner": owner, "closed": False}
            for code, name, owner in COST_CENTRES
        ],
        "tax-codes": [
            {"code": code, "name": name, "entity": "", "country": country, "category": category,
             "rate": rate, "closed": False}
            for code, name, country, category, rate in TAX_CODES
        ],
        "projects": [
            {"code": code, "name": name, "entity": "", "owner": owner, "closed": closed}
            for code, name, owner, closed in PROJECTS
        ],
        "cards": [
            {"vendor": "V2004", "card": card, "code": "", "wording": wording, "currency": "EUR",
             "unit": unit, "price": price, "percent": percent, "from_quantity": begin,
             "first": first, "last": last}
            for card, wording, unit, price, percent, begin, first, last in CARDS
        ],
        "rates": [
            {"currency": "EUR", "into": into, "day": day, "rate": rate,
             "source": "Merrowmere treasury"}
            for day in ("2026-11-02", "2026-11-09", "2026-11-16", "2026-11-23")
            for into, rate in (("GBP", "0.8560"), ("CHF", "0.9430"), ("JPY", "163.40"),
                               ("NOK", "11.62"), ("USD", "1.0870"))
        ],
    }  # fmt: skip


HISTORY = (
    ("V1001", "BF-2026-0288", "2026-08-04", "GBP", "812.40"),
    ("V1001", "BF-2026-0351", "2026-09-15", "GBP", "640.00"),
    ("V1002", "SG/10301", "2026-08-20", "GBP", "1033.20"),
    ("V1003", "QV 20611", "2026-09-10", "GBP", "420.00"),
    ("V1004", "KA-7731", "2026-07-30", "GBP", "2210.00"),
    ("V1005", "BM-88012", "2026-10-01", "GBP", "1904.16"),
    ("V1006", "CQ-1207", "2026-10-01", "GBP", "960.00"),
    ("V2001", "RE-26-28810", "2026-08-12", "EUR", "1470.00"),
    ("V2002", "2026/6120", "2026-07-07", "EUR", "3747.00"),
    ("V2003", "NW-8410", "2026-09-02", "EUR", "702.00"),
    ("V2004", "SL-55120", "2026-10-20", "EUR", "318.00"),
)
"""Bills that stand in the books already, net of tax: entered before Veridox was there."""


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
