"""What made-up suppliers bill: typed contents with every truth, in nine languages."""

import random
from dataclasses import dataclass, field
from datetime import date, timedelta
from decimal import ROUND_HALF_UP, Decimal

from tools.corpus.content import account, phone
from tools.corpus.people import bill_number, supplier, tax_id

COUNTRIES = {
    "en": ("GBP", "GB", (20, 5, 0)), "de": ("EUR", "DE", (19, 7)), "fr": ("EUR", "FR", (20, 10)),
    "es": ("EUR", "ES", (21, 10)), "it": ("EUR", "IT", (22, 10)), "nl": ("EUR", "NL", (21, 9)),
    "pl": ("PLN", "PL", (23, 8)), "pt": ("EUR", "PT", (23, 13)), "sv": ("SEK", "SE", (25, 12)),
}  # fmt: skip
"""By language: usual currency, country of tax ids, tax rates in percent."""
LANGUAGES = tuple(COUNTRIES)
BUYERS = (
    ("Merrowmere Aquarium Trust", "The Old Slipway 3", "MW1 4QD Merrowmere"),
    ("Merrowmere Harbour Services Ltd", "2 Harbour Walk", "MW1 4QA Merrowmere"),
    ("Norrland Akvariet AB", "Kajgatan 14", "981 32 Norrhamn"),
    ("Aquarium Felsbucht GmbH", "Hafenstr. 8", "24937 Felsbucht"),
)
UNITS = {
    "en": ("pcs", "kg", "m", "h", "box"), "de": ("Stk", "kg", "m", "Std", "Pkg"),
    "fr": ("pce", "kg", "m", "h", "boîte"), "es": ("ud", "kg", "m", "h", "caja"),
    "it": ("pz", "kg", "m", "h", "sc"), "nl": ("st", "kg", "m", "uur", "doos"),
    "pl": ("szt.", "kg", "m", "godz.", "op."), "pt": ("un", "kg", "m", "h", "cx"),
    "sv": ("st", "kg", "m", "tim", "frp"),
}  # fmt: skip
GOODS = {
    "en": ("Sand filter", "Circulation pump", "Pressure hose", "Frozen krill", "Sea salt, fine",
           "LED lamp", "Service visit", "Acrylic panel", "Rope", "Annual inspection"),
    "de": ("Sandfilter", "Umwälzpumpe", "Druckschlauch", "Krill gefroren", "Meersalz fein",
           "LED-Leuchte", "Wartungseinsatz", "Acrylscheibe", "Tauwerk", "Jährliche Prüfung"),
    "fr": ("Filtre à sable", "Pompe de circulation", "Tuyau pression", "Krill surgelé",
           "Sel marin fin", "Lampe LED", "Visite d'entretien", "Panneau acrylique", "Cordage",
           "Contrôle annuel"),
    "es": ("Filtro de arena", "Bomba de circulación", "Manguera", "Krill congelado",
           "Sal marina fina", "Lámpara LED", "Visita técnica", "Panel acrílico", "Cabo",
           "Inspección anual"),
    "it": ("Filtro a sabbia", "Pompa di circolazione", "Tubo flessibile", "Krill congelato",
           "Sale marino fino", "Lampada LED", "Intervento tecnico", "Pannello acrilico", "Corda",
           "Controllo annuale"),
    "nl": ("Zandfilter", "Circulatiepomp", "Drukslang", "Krill diepvries", "Zeezout fijn",
           "Ledlamp", "Onderhoudsbezoek", "Acrylpaneel", "Touw", "Jaarlijkse keuring"),
    "pl": ("Filtr piaskowy", "Pompa obiegowa", "Wąż ciśnieniowy", "Kryl mrożony",
           "Sól morska drobna", "Lampa LED", "Wizyta serwisowa", "Płyta akrylowa", "Lina",
           "Przegląd roczny"),
    "pt": ("Filtro de areia", "Bomba de circulação", "Mangueira", "Krill congelado",
           "Sal marinho fino", "Lâmpada LED", "Visita técnica", "Painel acrílico", "Corda",
           "Inspeção anual"),
    "sv": ("Sandfilter", "Cirkulationspump", "Tryckslang", "Fryst krill", "Havssalt fint",
           "LED-lampa", "Servicebesök", "Akrylskiva", "Rep", "Årlig besiktning"),
}  # fmt: skip
MORE = ("20 mm", "type C", "12 V", "DN 50", "40 W", "blue", "no. 7", "300 x 200", "IP 65", "2026")


@dataclass(frozen=True, kw_only=True, slots=True)
class Item:
    """One line. Money without currency; `discount` and `rate` in percent."""

    code: str
    name: str
    more: str
    quantity: Decimal
    unit: str
    price: Decimal
    discount: Decimal
    rate: Decimal
    amount: Decimal


@dataclass(frozen=True, kw_only=True, slots=True)
class Tax:
    """The tax of one rate (percent)."""

    rate: Decimal
    base: Decimal
    amount: Decimal


@dataclass(frozen=True, kw_only=True, slots=True)
class Bill:
    """All that a supplier could print; a family of layouts prints some of it."""

    language: str
    currency: str
    kind: str
    seller: tuple[str, ...]
    buyer: tuple[str, ...]
    number: str
    issued: date
    due: date
    days: int
    order: str
    note: str
    delivered: date
    preceding: str
    customer: str
    tax_id: str
    buyer_tax_id: str
    account: str
    phone: str
    items: tuple[Item, ...]
    lines_total: Decimal
    allowance: Decimal
    charge: Decimal
    taxes: tuple[Tax, ...]
    net: Decimal
    tax: Decimal
    gross: Decimal
    prepaid: Decimal
    withheld: Tax | None
    reverse: bool
    negative: bool = False
    """A credit note whose amounts are printed with a minus."""
    quote: str = ""
    ship: tuple[str, ...] = field(default=())


def money(value: Decimal, currency: str) -> Decimal:
    """Rounded to the currency's smallest unit."""
    return value.quantize(Decimal(1) if currency == "JPY" else Decimal("0.01"), ROUND_HALF_UP)


def bill(seed: int, language: str = "", *, most: int = 14) -> Bill:
    """The bill of a seed.

    Args:
        seed: any whole number; the same gives the same bill.
        language: of `LANGUAGES`; drawn when empty.
        most: lines at most.
    """
    chance = random.Random(f"bill {seed} {language}")
    language = language or chance.choice(LANGUAGES)
    usual, country, rates = COUNTRIES[language]
    currency = chance.choice([usual] * 7 + ["EUR", "CHF" if language in ("de", "fr") else "USD",
                                            "JPY" if language == "en" else usual])  # fmt: skip
    reverse = chance.random() < 0.06
    several = chance.random() < 0.2
    items = tuple(
        _item(chance, language, currency, rates, several=several, reverse=reverse)
        for _ in range(
            chance.choice([n for n in (1, 1, 2, 3, 3, 4, 5, 7, 9, 14, 30, 60, 110) if n <= most])
        )
    )
    lines = sum((item.amount for item in items), Decimal(0))
    allowance = money(lines * chance.choice([2, 5, 10]) / 100, currency) if (
        chance.random() < 0.12 and not several
    ) else Decimal(0)  # fmt: skip
    charge = money(Decimal(chance.randrange(500, 9_000)) / 100, currency) if (
        chance.random() < 0.25
    ) else Decimal(0)  # fmt: skip
    net = lines - allowance + charge
    taxes = _taxes(items, net - lines, currency)
    tax = sum((each.amount for each in taxes), Decimal(0))
    gross = net + tax
    if chance.random() < 0.02:  # somebody has miscalculated
        gross += chance.choice([Decimal(10), Decimal(60), Decimal("-1")])
    withheld = None
    if language in ("es", "it", "pt") and chance.random() < 0.2 and not reverse:
        rate = Decimal({"es": 15, "it": 20, "pt": 25}[language])
        withheld = Tax(rate=rate, base=net, amount=money(net * rate / 100, currency))
    issued = date(2025, 11, 1) + timedelta(days=chance.randrange(380))
    days = chance.choice([7, 14, 14, 30, 30, 45, 60])
    kind = "credit note" if chance.random() < 0.1 else "invoice"
    return Bill(
        language=language, currency=currency, kind=kind, seller=supplier(chance, language),
        buyer=chance.choice(BUYERS), number=bill_number(chance), issued=issued,
        due=issued + timedelta(days=days), days=days,
        order=chance.choice(["PO-26-{:04d}", "45{:06d}", "B{:05d}", "{:05d}/26", "MM-{:04d}-A", "{}", "PO{:06d}", "P-{:04d}",
                         "26-{:05d}", "{:04d}.1"])
        .format(chance.randrange(1, 9_999)),
        note=f"{chance.choice(['LS', 'D', '', 'WZ/'])}{chance.randrange(10_000, 99_999)}",
        delivered=issued - timedelta(days=chance.randrange(0, 12)),
        preceding=bill_number(chance), customer=f"{chance.choice(['', 'K', 'C-'])}"
        f"{chance.randrange(1_000, 99_999)}",
        tax_id=_printed(chance, tax_id(chance, country)), buyer_tax_id=tax_id(chance, "GB"), account=account(chance),
        phone=phone(chance), items=items, lines_total=lines, allowance=allowance, charge=charge,
        taxes=taxes, net=net, tax=tax, gross=gross,
        prepaid=money(gross * chance.choice([20, 30, 50]) / 100, currency)
        if chance.random() < 0.08 and withheld is None else Decimal(0),
        withheld=withheld, reverse=reverse, negative=chance.random() < 0.4,
        quote=f"Q{chance.randrange(1000, 9999)}", ship=chance.choice(BUYERS),
    )  # fmt: skip


def _printed(chance: random.Random, number: str) -> str:
    """A tax id as suppliers print it: at home often without the country."""
    country, bare = number[:2], number[2:]
    if country in ("ES", "IT", "PL", "PT") and chance.random() < 0.6:
        return bare
    return number


def _item(
    chance: random.Random, language: str, currency: str, rates: tuple[int, ...], *,
    several: bool, reverse: bool,
) -> Item:  # fmt: skip
    quantity = Decimal(chance.choice(["1", "1", "2", "3", "4", "6", "10", "12", "25", "48", "120",
                                      "0.5", "1.5", "2.25", "7.5"]))  # fmt: skip
    places = 0 if currency == "JPY" else chance.choice([2, 2, 2, 2, 2, 3, 4])
    price = Decimal(chance.randrange(40, 60_000)) / 100
    price = price.quantize(Decimal(1).scaleb(-places), ROUND_HALF_UP) + (
        Decimal(chance.randrange(1, 9)).scaleb(-places) if places > 2 else 0
    )
    discount = Decimal(chance.choice([5, 10, 20])) if chance.random() < 0.12 else Decimal(0)
    amount = money(quantity * price * (100 - discount) / 100, currency)
    rate = Decimal(0 if reverse else chance.choice(rates) if several else rates[0])
    return Item(
        code=f"{chance.choice('ABKMRX')}{chance.choice('BDHLT')}-{chance.randrange(100, 9999)}",
        name=chance.choice(GOODS[language]),
        more=chance.choice(MORE), quantity=quantity, unit=chance.choice(UNITS[language]),
        price=price, discount=discount, rate=rate, amount=amount,
    )  # fmt: skip


def _taxes(items: tuple[Item, ...], more: Decimal, currency: str) -> tuple[Tax, ...]:
    """Charges and allowances go to the rate of the first line."""
    found = []
    for rate in sorted({item.rate for item in items}, reverse=True):
        base = sum((item.amount for item in items if item.rate == rate), Decimal(0))
        base += more if rate == items[0].rate else 0
        found.append(Tax(rate=rate, base=base, amount=money(base * rate / 100, currency)))
    return tuple(found)
