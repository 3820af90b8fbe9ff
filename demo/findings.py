"""Bills for each family of findings: what a check says of each is told beside it."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import date, timedelta
from decimal import Decimal
from email.message import EmailMessage

from demo import merrowmere as m
from demo.drawing import LAYOUTS, Bill
from demo.mails import ENGLISH, GERMAN, Attached, Mail
from demo.merrowmere import OrderLine

OTHER_ACCOUNT = "GB11MRWK99000050600007"
"""Nobody's here."""
NEW_ACCOUNT = "GB81MRWK99000050600008"
"""Seagrass's since a short while: a second person let it hold."""


@dataclass(frozen=True, kw_only=True)
class Case:
    """A mail, and the codes that the checks say of its bill beside others."""

    mail: Mail
    codes: tuple[str, ...]
    forged_by: str = ""

    def message(self) -> EmailMessage:
        return self.mail.message()


def _line(description: str, quantity: str, unit: str, price: str) -> OrderLine:
    return OrderLine(item="", description=description, quantity=Decimal(quantity), unit=unit,
                     price=Decimal(price))  # fmt: skip


def _bill(vendor: m.Vendor, number: str, day: int, *lines: OrderLine, **more: object) -> Bill:
    issued = date(2026, 11, day)
    buyer = m.MEERHAUS if vendor.code.startswith("V2") else m.TRUST
    usual = {
        "vendor": vendor, "buyer": buyer, "number": number, "issued": issued,
        "due": issued + timedelta(days=30), "order": "", "lines": lines,
        "currency": buyer.currency,
        "tax_rate": Decimal(19) if buyer is m.MEERHAUS else Decimal(20),
    }  # fmt: skip
    return Bill(**{**usual, **more})  # type: ignore[arg-type]


CLEAN = _bill(m.CLEANQUAY, "CQ-1291", 9, _line("Glass and floors, October", "1", "month", "800.00"))
POWER = _bill(m.BRIGHTMARL, "BM-88377", 12,
              _line("Electricity, pump house", "5400", "kWh", "0.31"))  # fmt: skip
ACCOUNT = _bill(m.CLEANQUAY, "CQ-1302", 16,
                _line("Deep clean, otter pool", "1", "job", "640.00"),
                account=OTHER_ACCOUNT)  # fmt: skip
PAYEE = _bill(m.CLEANQUAY, "CQ-1304", 17, _line("Windows, front house", "1", "job", "210.00"),
              remark="This debt has been assigned to Quickpay Settlement Partners")  # fmt: skip
RETYPED = replace(CLEAN, number="CQ1291", title="INVOICE COPY")
TWICE = _bill(m.BRIGHTMARL, "BM-88412", 13,
              _line("Electricity, pump house", "5400", "kWh", "0.31"))  # fmt: skip
IN_BOOKS = _bill(m.SIEBENMEER, "SL-55120", 18, _line("Fracht Emhaven", "1", "Tour", "318.00"))
ENTITY = _bill(m.WATTWERK, "WW-20117", 18, _line("Netznutzung", "1", "Monat", "412.00"),
               buyer=replace(m.MEERHAUS, name="Seebad Hotel GmbH"))  # fmt: skip
DIVERS = _bill(m.KLEINMANN, "2026-31", 19, _line("Beckeninspektion", "4", "Std", "65.00"))
"""A small business that charges tax all the same."""
RATE = _bill(m.WATTWERK, "WW-20140", 19, _line("Strom Becken 1", "900", "kWh", "0.33"),
             tax_rate=Decimal(16))  # fmt: skip
GLASS = _bill(m.VANTLIER, "VG-7012", 20, _line("Acrylpaneel 40 mm", "2", "stuk", "1180.00"),
              buyer=m.MEERHAUS, currency="EUR", tax_rate=Decimal(21))  # fmt: skip
"""Goods within the union, with Dutch tax on them."""
CREDIT = _bill(m.CLEANQUAY, "CQ-G77", 20, _line("Credit for works not done", "1", "", "5000.00"),
               title="CREDIT NOTE")  # fmt: skip
OVER_CREDITED = _bill(m.CLEANQUAY, "CQ-G78", 23,
                      _line("Credit for October, not cleaned", "1", "", "900.00"),
                      title="CREDIT NOTE", remark="Credits invoice: CQ-1291")  # fmt: skip
"""900.00 and tax on them, of a bill over 960.00."""
LAST_YEAR = _bill(m.BRIGHTMARL, "BM-80113", 1, _line("Electricity, winter quarters", "1100", "kWh",
                                                     "0.31"),
                  issued=date(2025, 12, 18), due=date(2026, 1, 17))  # fmt: skip
KRONOR = _bill(m.HALVARD, "HF-3307", 20, _line("Filtermatta 25 mm", "6", "st", "1450.00"),
               buyer=m.MEERHAUS, currency="SEK", tax_rate=Decimal(0),
               remark="Omvänd skattskyldighet, artikel 138")  # fmt: skip
RECENT = _bill(m.SEAGRASS, "SC-4421", 22, _line("Paper cups", "20", "box", "9.80"),
               account=NEW_ACCOUNT)  # fmt: skip
EARLY = _bill(m.SEAGRASS, "SC-4410", 20, _line("Coffee beans, 1 kg", "12", "bag", "14.50"),
              due=date(2026, 11, 25))  # fmt: skip
BEFORE = _bill(m.SEAGRASS, "SC-4417", 21, _line("Oat biscuits", "40", "box", "6.20"),
               due=date(2026, 11, 2))  # fmt: skip
BLOCKED = _bill(m.ORLA, "OP-118", 20, _line("Signs, car park", "6", "each", "85.00"),
                order="PO-26-0101")  # fmt: skip
FORGED = _bill(m.SEAGRASS, "SC-4480", 23, _line("Coffee machine service", "1", "job", "390.00"))
LOOKALIKE = _bill(m.TARNSEY, "TW-90211", 23, _line("Water, sea lion pool", "310", "m3", "1.85"),
                  tax_rate=Decimal(0), remark="Zero-rated supply of water")  # fmt: skip
_CLAMS = OrderLine(item="BF-CLM", description="Clam meat, frozen, 1 kg bag", quantity=Decimal(8),
                   unit="bag", price=Decimal("38.50"))  # fmt: skip
PART = _bill(m.BRINEFOLD, "BF-2026-0431", 16, _CLAMS, order="PO-26-0106")
"""Eight of the twenty bags: a part delivery, which goes through."""
TOO_MANY = _bill(m.BRINEFOLD, "BF-2026-0438", 20, replace(_CLAMS, quantity=Decimal(14)),
                 order="PO-26-0106")  # fmt: skip
DEARER = _bill(m.BRINEFOLD, "BF-2026-0440", 21,
               replace(_CLAMS, quantity=Decimal(4), price=Decimal("42.00")),
               order="PO-26-0106")  # fmt: skip
NOT_ORDERED = _bill(m.BRINEFOLD, "BF-2026-0444", 23, replace(_CLAMS, quantity=Decimal(2)),
                    _line("Krill oil, 1 l", "3", "bottle", "27.40"),
                    order="PO-26-0106")  # fmt: skip
NO_ORDER = _bill(m.BRINEFOLD, "BF-2026-0446", 23, replace(_CLAMS, quantity=Decimal(3)))
"""Names no order; its line and price are those of the clams'."""
AFTERWARDS = _bill(m.KESTREL, "KA-8102", 13, OrderLine(
    item="KA-PNL", description="Acrylic panel 20 mm, cut to size", quantity=Decimal(2),
    unit="each", price=Decimal("410.00")), order="PO-26-0105")  # fmt: skip
"""The order was raised a week later."""
_SALT = OrderLine(item="SG-SAL", description="Reef salt, 25 kg sack", quantity=Decimal(40),
                  unit="sack", price=Decimal("31.90"))  # fmt: skip
_CUPS = OrderLine(item="SG-SKM", description="Protein skimmer cup, 200 mm", quantity=Decimal(6),
                  unit="each", price=Decimal("86.50"))  # fmt: skip
NOT_THERE = _bill(m.SALTGLASS, "SG/10561", 20, _SALT, order="PO-26-0108")
"""Forty sacks, of which thirty-four came so far."""
WENT_BACK = _bill(m.SALTGLASS, "SG/10563", 21, _CUPS, order="PO-26-0109")
"""Six cups, of which two went back."""
CASES_OF_TINS = _bill(m.BRINEFOLD, "BF-2026-0451", 20, OrderLine(
    item="BF-ART", description="Brine shrimp eggs, 425 g, case of 12 tins", quantity=Decimal(4),
    unit="case", price=Decimal("223.20")), order="PO-26-0110")  # fmt: skip
"""Forty-eight tins were ordered: four cases of twelve."""
UNAPPROVED = _bill(m.KESTREL, "KA-8110", 20, OrderLine(
    item="KA-TUN", description="Tunnel segment, curved, 60 mm", quantity=Decimal(1), unit="each",
    price=Decimal("2150.00")), order="PO-26-0111")  # fmt: skip
CALLED_OFF = _bill(m.KESTREL, "KA-8114", 23,
                   _line("Polishing of panels as called off, November", "1", "", "750.00"),
                   order="PO-26-0112")  # fmt: skip
"""Of a blanket order."""
_HERRING = OrderLine(item="BF-HER", description="Herring, whole, 5 kg carton",
                     quantity=Decimal(10), unit="carton", price=Decimal("22.40"))  # fmt: skip
_MACKEREL = OrderLine(item="BF-MCK", description="Mackerel fillet, 5 kg carton",
                      quantity=Decimal(6), unit="carton", price=Decimal("27.60"))  # fmt: skip
TWO_ORDERS = _bill(m.BRINEFOLD, "BF-2026-0455", 20, replace(_HERRING, order="PO-26-0115"),
                   replace(_MACKEREL, order="PO-26-0116"),
                   order="PO-26-0115, PO-26-0116")  # fmt: skip
"""One bill of two orders, each of which is the heading of its lines."""
_SPRATS = OrderLine(item="BF-SPT", description="Sprats, 2 kg bag", quantity=Decimal(12),
                    unit="bag", price=Decimal("9.80"))  # fmt: skip
THE_REST = _bill(m.BRINEFOLD, "BF-2026-0459", 23, replace(_HERRING, quantity=Decimal(6)),
                 replace(_MACKEREL, quantity=Decimal(4)), _SPRATS,
                 order="PO-26-0151, PO-26-0116")  # fmt: skip
"""The rest of both; in the number of the first two figures are exchanged."""
FREIGHT = _bill(m.SIEBENMEER, "SL-55302", 23,
                _line("Fracht Nordfleet", "1", "Tour", "240.00"))  # fmt: skip

CARD = _bill(m.SIEBENMEER, "SL-55318", 24,
             _line("Fracht Emhaven", "1", "Tour", "342.00"),
             _line("Palettenplatz Kühlhaus", "12", "Palette", "16.80"),
             _line("Dieselzuschlag 6 %", "1", "", "32.62"),
             _line("Maut-Pauschale", "1", "", "25.00"))  # fmt: skip
"""A tour above the card, places on it at the rate of a dozen, a surcharge that counts the toll,
and the toll, which nobody agreed."""


def _mail(bill: Bill, layout: str = "letterhead", sender: m.Vendor | None = None) -> Mail:
    name = bill.number.replace("/", "-").replace(" ", "-").lower() + ".pdf"
    draw: Callable[[], bytes] = lambda: LAYOUTS[layout](bill)  # noqa: E731 - drawn when it is sent
    german = bill.buyer.country == "DE"
    word = "credit note" if "CREDIT" in bill.title else "Rechnung" if german else "Invoice"
    return Mail(
        name=bill.number, sender=sender or bill.vendor, subject=f"{word} {bill.number}",
        text=GERMAN if german else ENGLISH, files=(Attached(name=name, content=draw),), expect=(),
    )  # fmt: skip


_IMPOSTOR = replace(m.TARNSEY, mail="billing@tarnsey-vvater.example")

CASES = (
    Case(mail=_mail(CLEAN), codes=()),
    Case(mail=_mail(POWER), codes=()),
    Case(mail=_mail(FREIGHT, "window"), codes=()),
    Case(mail=_mail(PART), codes=()),
    Case(mail=_mail(TOO_MANY), codes=("order.quantity",)),
    Case(mail=_mail(DEARER), codes=("order.price",)),
    Case(mail=_mail(NOT_ORDERED), codes=("order.extra_line",)),
    Case(mail=_mail(NO_ORDER), codes=("order.missing",)),
    Case(mail=_mail(CARD, "window"), codes=("card.above", "card.not_listed")),
    Case(mail=_mail(NOT_THERE), codes=("order.not_received",)),
    Case(mail=_mail(WENT_BACK), codes=("order.not_received",)),
    Case(mail=_mail(CASES_OF_TINS), codes=()),
    Case(mail=_mail(TWO_ORDERS), codes=()),
    Case(mail=_mail(THE_REST), codes=("order.unknown",)),
    Case(mail=_mail(UNAPPROVED), codes=("order.not_approved",)),
    Case(mail=_mail(CALLED_OFF), codes=()),
    Case(mail=_mail(AFTERWARDS), codes=("order.raised_afterwards",)),
    Case(mail=_mail(ACCOUNT), codes=("bank.changed",)),
    Case(mail=_mail(PAYEE), codes=("payee.other",)),
    Case(mail=_mail(RETYPED), codes=("duplicate.near",)),
    Case(mail=_mail(TWICE), codes=("duplicate.near",)),
    Case(mail=_mail(IN_BOOKS, "window"), codes=("duplicate.exact",)),
    Case(mail=_mail(ENTITY, "window"), codes=("entity.unknown",)),
    Case(mail=_mail(DIVERS, "window"), codes=("tax.unexpected",)),
    Case(mail=_mail(RATE, "window"), codes=("tax.rate", "tax.unexpected")),
    Case(mail=_mail(GLASS, "window"), codes=("tax.unexpected", "order.missing")),
    Case(mail=_mail(CREDIT), codes=("credit.unknown",)),
    Case(mail=_mail(OVER_CREDITED), codes=("credit.above",)),
    Case(mail=_mail(LAST_YEAR), codes=("date.closed",)),
    Case(mail=_mail(KRONOR), codes=("rate.missing",)),
    Case(mail=_mail(RECENT), codes=("bank.recent",)),
    Case(mail=_mail(EARLY), codes=("terms.shorter",)),
    Case(mail=_mail(BEFORE), codes=("date.due_before",)),
    Case(mail=_mail(BLOCKED), codes=("vendor.blocked", "order.vendor")),
    Case(mail=_mail(FORGED), codes=("sender.unproven",), forged_by="bulk@parcelmailer.example"),
    Case(mail=_mail(LOOKALIKE, sender=_IMPOSTOR), codes=("sender.lookalike",)),
)
"""Each file of the list is one bill; those without codes go straight through."""
