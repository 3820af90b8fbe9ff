"""What is billed: parties, numbers, days, lines and sums, and how a supplier writes them."""

import random
from dataclasses import dataclass, field
from datetime import date, timedelta
from decimal import ROUND_HALF_UP, Decimal
from functools import cache, lru_cache
from pathlib import Path

from babel.dates import format_date

from tools.corpus.people import bill_number
from tools.grammar import vocabulary
from tools.grammar.people import CURRENCY, LANGUAGE, RATES, Party, party, word
from tools.grammar.speech import Speech
from veridox.core.extract.tagging.tags import KINDS

TOLD_BY_TITLE = frozenset(KINDS) - {"invoice", "till receipt", "terms", "other"}
"""Kinds that nobody could tell from another where the paper does not say what it is."""
SIGNS = {"EUR": "€", "GBP": "£", "USD": "$", "AUD": "$", "CAD": "$", "MXN": "$", "PLN": "zł", "SEK": "kr", "NOK": "kr", "DKK": "kr", "CZK": "Kč",
         "HUF": "Ft", "RON": "lei", "CHF": "Fr."}  # fmt: skip
NUMBERS = {
    "en": ((",", "."), (",", "."), ("", ".")), "de": ((".", ","), (".", ","), ("", ","), (" ", ",")), "fr": ((" ", ","), ("\u202f", ","), ("\u00a0", ","), ("", ","), (".", ",")),
    "sv": ((" ", ","), ("\u00a0", ","), ("", ","), (".", ",")), "pl": ((" ", ","), ("\u00a0", ","), ("", ",")),
}  # fmt: skip
DATES = ("d MMMM y", "d MMM y", "dd/MM/yyyy", "d/M/yyyy", "dd.MM.yyyy", "d.M.yyyy", "dd-MM-yyyy", "yyyy-MM-dd", "dd.MM.yy", "dd/MM/yy", "d. MMMM y", "d. M. y",
         "yyyy/MM/dd", "dd-MMM-yy", "dd MMM yyyy", "EEEE, d MMMM y", "dd.MM. yyyy", "yyyyMMdd", "d.M.yy", "yyyy.MM.dd")  # fmt: skip
LOCALE = {"no": "nb"}
UNITS = {
    "en": "pcs ea h kg m l box day set pack each hr hrs night nights bag roll sheet visit session hour pair month page word pallet tonne t m² lot ltr copy ton unit units bottle case tray dozen mile km yd sqm job person seat licence crate drum reel",
    "de": "Stk Stück Std. kg m l Karton Tag Psch. Stk. Std Stunde Stunden Probe Rolle Sack Nacht Nächte Paar Blatt Monat pauschal Satz Dose Flasche Palette t m² m³ kWh lfm Seite Zeile Fahrt Person Lizenz Kiste Bund Eimer Pkg Pck ST EA to",
    "fr": "pce h kg m l jour lot u nuit sac rouleau paire mois page kWh t m² forfait heure boîte palette ens. pièce carton bouteille ml mot séance pers. unité km litre", "es": "ud h kg m l día noche saco rollo caja mes página hora m² m³ palé uds ud. kWh t par paquete botella viaje pza",
    "it": "pz h kg m l gg nr notte sacco rotolo cf mese corpo ora mq mc n. conf. cartone bottiglia paio viaggio ore cad kWh t", "nl": "st uur kg m l dag nacht zak rol doos maand pak ton m² m³ stuk stuks uren paar pallet fles rit pers. kWh keer",
    "pl": "szt. godz. kg m l opak. kpl. rolka worek m² m³ mc usł. doba para t karton km szt", "pt": "un h kg m l noite saco rolo cx mês hora m² par garrafa un. dia viagem", "sv": "st tim kg m l natt säck rulle paket månad dag m² par ton kWh resa",
    "da": "stk time kg m l nat sæk rulle pakke måned dag m² timer ton kWh tur", "no": "stk time kg m l natt sekk rull pakke dag m² timer tonn", "fi": "kpl h kg m l yö säkki rulla pkt pv m² tunti", "cs": "ks hod kg m l noc pytel role bal. den m² pár", "hu": "db óra kg m l éj zsák csomag nap m² pár", "ro": "buc oră kg m l noapte sac rolă pachet zi mp set",
}  # fmt: skip
FLAT = {
    "en": "delivery|call-out|sundries|fuel surcharge|materials|packing|travel|trip charge|disposal|small parts|congestion charge|minimum charge|admin fee|carriage|standing charge",
    "de": "Fracht|Anfahrt pauschal|Kleinmaterial|Legierungszuschlag|Verpackung|Energiezuschlag|Entsorgung|Porto|Rüstkosten|Mautanteil|Nebenkosten|Auslagen", "fr": "frais de port|déplacement|fournitures diverses|forfait|éco-participation|emballage|frais de dossier",
    "es": "portes|desplazamiento|material vario|retirada de escombros|gastos", "it": "trasporto|spese varie|bolli|imballo|diritto di chiamata", "nl": "vrachtkosten|voorrijkosten|klein materiaal|toeslag brandstof|administratiekosten",
    "pl": "transport|materiały drobne|opłata", "pt": "portes|deslocação|taxas", "sv": "frakt|resa|förbrukningsmaterial|expeditionsavgift", "da": "fragt|kørsel|gebyr",
}  # fmt: skip
"""Lines for which suppliers print an amount and nothing else."""
CENT = Decimal("0.01")


@cache
def goods(language: str) -> tuple[str, ...]:
    """What is sold where a language is spoken."""
    found: dict[str, list[str]] = {}
    own: list[str] = []
    for line in (Path(__file__).parent / "goods.txt").read_text(encoding="utf-8").splitlines():
        if line.startswith("  "):
            own += line.strip().split("|")
        elif not line.startswith("#"):
            own = found[line.strip(":")] = []
    return tuple(found[language])


def thing(chance: random.Random, language: str) -> str:
    """What a line is for: goods or work of a trade, or a few words about whatever."""
    roll = chance.random()
    if roll < 0.55:
        return chance.choice(goods(language))
    if roll < 0.7:
        return vocabulary.trade(chance, language)
    text = vocabulary.terms(chance, language, chance.choice([1, 1, 2, 2, 3, 4, 6]))
    return text.capitalize() if chance.random() < 0.6 else text


def cents(value: Decimal) -> Decimal:
    """To two decimals, half up."""
    return value.quantize(CENT, ROUND_HALF_UP)


@lru_cache(maxsize=60_000)
def _day(day: date, pattern: str, language: str) -> str:
    return format_date(day, pattern, locale=LOCALE.get(language, language))


@dataclass
class Item:
    """A line as it is billed."""

    text: str
    code: str
    unit: str
    quantity: Decimal
    price: Decimal
    discount: Decimal
    rate: str
    amount: Decimal
    flat: bool = False
    """Whether only its amount is told."""


@dataclass
class Deal:
    """A document's facts. What is None is not stated."""

    chance: random.Random
    held: bool
    kind: str
    language: str
    currency: str
    seller: Party
    buyer: Party
    ship: Party | None
    facts: dict[str, str] = field(default_factory=dict)
    days: dict[str, date] = field(default_factory=dict)
    items: list[Item] = field(default_factory=list)
    sums: dict[str, Decimal] = field(default_factory=dict)
    taxes: list[tuple[str, Decimal, Decimal]] = field(default_factory=list)
    """Rate, base and tax."""
    inclusive: bool = False
    base: int = 1
    """How many units prices are for."""
    strange: float = 1.0
    """How many labels of the held side are from there."""
    truth: dict[str, str] = field(default_factory=dict)
    """What is printed of the header, as manifests write it."""
    lines: list[dict[str, str]] = field(default_factory=list)

    def __post_init__(self) -> None:
        chance = self.chance
        self.speech = Speech(
            chance, self.language, held=self.held, currency=self.currency, strange=self.strange
        )
        style = NUMBERS.get(
            self.language,
            NUMBERS["sv"]
            if self.language in ("da", "no", "fi", "cs", "hu", "ro")
            else NUMBERS["de"],
        )
        self.group, self.mark = (
            ("'", ".") if self.currency == "CHF" and chance.random() < 0.7 else chance.choice(style)
        )
        if chance.random() < 0.04:
            self.group, self.mark = chance.choice([(",", "."), (".", ","), (" ", "."), ("", ".")])
        self.dates = chance.choice(DATES)
        if self.language == "en" and self.seller.country == "US":
            self.dates = chance.choice(
                ["MM/dd/yyyy", "M/d/yyyy", "MMM d, y", "MMMM d, y", "MM-dd-yyyy", "MM/dd/yy"]
            )
        if self.language == "hu" and chance.random() < 0.6:
            self.dates = chance.choice(["y. MM. dd.", "yyyy.MM.dd.", "y. MMMM d."])
        self.place = chance.choices(
            ["", "before", "after", "code before", "code after", "glued after"],
            [8, 4, 3, 1.2, 1.5, 1.5],
        )[0]
        self.line_place = self.place if chance.random() < 0.35 else ""
        self.bare = chance.choices(["", "whole", "cents"], [18, 1, 0.7])[0]
        """How amounts without cents are printed: with two noughts, without them, as they come."""
        self.minus = chance.choices(
            ["-{}", "- {}", "{}-", "({})", "\u2212{}", "{} CR"], [14, 2, 2, 1, 1, 0.5]
        )[0]

    # -- how it is written

    def number(self, value: Decimal, places: int = 2) -> str:
        """Digits with the document's marks."""
        text = f"{abs(value):,.{places}f}"
        if self.bare and places == 2 and text.endswith("0"):
            # As a spreadsheet shows it, or somebody writes it: no more decimals than it has.
            text = text[:-1] if self.bare == "cents" and text[-2] != "0" else text
            text = text.removesuffix(".00")
        text = text.replace(",", "\0").replace(".", self.mark).replace("\0", self.group)
        return self.minus.format(text) if value < 0 else text

    def money(self, value: Decimal, *, line: bool = False) -> str:
        """An amount, with or without its currency."""
        text, sign = self.number(value), SIGNS.get(self.currency, self.currency)
        place = self.line_place if line else self.place
        if place == "before":
            return (
                f"{sign}{text}"
                if len(sign) == 1 or self.chance.random() < 0.3
                else f"{sign} {text}"
            )
        return {
            "after": f"{text} {sign}",
            "glued after": f"{text}{sign}",
            "code before": f"{self.currency} {text}",
            "code after": f"{text} {self.currency}",
        }.get(place, text)

    def date(self, day: date) -> str:
        """A day."""
        return _day(day, self.dates, self.language)

    def quantity(self, value: Decimal) -> str:
        """A count: whole ones without decimals, most often."""
        if value == value.to_integral_value():
            return self.number(value, self._places)
        return self.number(value, max(2, -int(value.as_tuple().exponent)))

    @property
    def _places(self) -> int:
        if not hasattr(self, "_whole"):
            self._whole = self.chance.choices([0, 2, 3], [8, 2, 1])[0]
        return self._whole

    def price(self, value: Decimal) -> str:
        """A price with its own decimals."""
        return self.number(value, max(2, -int(value.as_tuple().exponent)))


_OFTEN_KINDS = (62, 7, 9, 3, 2.5, 3, 3.5, 2.5, 2.5, 1.2, 3)
COUNTRIES = (
    "GB",
    "DE",
    "FR",
    "NL",
    "ES",
    "IT",
    "PL",
    "PT",
    "SE",
    "DK",
    "NO",
    "FI",
    "AT",
    "CH",
    "BE",
    "US",
    "CZ",
    "HU",
    "RO",
    "IE",
    "LU",
    "AU",
    "CA",
    "SK",
    "SI",
    "EE",
    "LT",
    "GR",
    "HR",
    "MX",
)
_OFTEN = (
    16,
    14,
    9,
    7,
    6,
    6,
    6,
    4,
    5,
    4,
    3,
    3,
    3,
    3,
    3,
    7,
    3,
    2,
    2,
    2,
    1,
    2,
    1,
    1,
    1,
    1,
    1,
    1,
    1,
    1,
)


def deal(seed: str, *, held: bool, kind: str = "", longest: int = 26, strange: float = 1.0) -> Deal:
    """A document's facts by seed."""
    chance = random.Random(seed)
    kind = kind or chance.choices(KINDS, _OFTEN_KINDS)[0]
    country = chance.choices(COUNTRIES, _OFTEN)[0]
    seller = party(chance, country, held)
    abroad = chance.random() < 0.2
    buyer = party(
        chance, chance.choices(COUNTRIES, _OFTEN)[0] if abroad else country, held, buyer=True
    )
    ship = party(chance, buyer.country, held, buyer=True) if chance.random() < 0.15 else None
    language = LANGUAGE[country]
    if abroad and chance.random() < 0.25:
        language = chance.choice(["en", LANGUAGE[buyer.country]])
    currency = CURRENCY.get(country, "EUR")
    if abroad and chance.random() < 0.3:
        currency = chance.choice(["EUR", "USD", CURRENCY.get(buyer.country, "EUR")])
    made = Deal(
        chance=chance,
        held=held,
        kind=kind,
        language=language,
        currency=currency,
        seller=seller,
        buyer=buyer,
        ship=ship,
        strange=strange,
    )
    _facts(made)
    _items(made, abroad, longest)
    return made


def _facts(made: Deal) -> None:
    chance = made.chance
    issued = date(2024, 1, 2) + timedelta(days=chance.randrange(1100))
    made.days["issued"] = issued
    if chance.random() < 0.55:
        made.days["due"] = issued + timedelta(
            days=chance.choice([7, 8, 10, 14, 14, 21, 30, 30, 30, 45, 60, 0])
        )
    if chance.random() < 0.3:
        made.days["delivered"] = issued - timedelta(days=chance.randrange(0, 25))
    if chance.random() < 0.35:
        made.days["date"] = issued - timedelta(days=chance.randrange(1, 60))
    made.facts["number"] = bill_number(chance)
    if chance.random() < 0.15:
        made.facts["number"] = (
            made.facts["number"].replace("-", chance.choice([" ", "/", ".", ""])) or "1"
        )
    if chance.random() < 0.08:
        series = chance.choice(
            ["FT", "FA", "FAC", "RE", "CN", "INV", "SI", "F", "NC", "R", "FV", "AR", "MB", "KR"]
        )
        count = chance.choice(["2026/{}", "A/{}", "{}", "26-{}", "0{}", "B{}", "1/{}"]).format(chance.randrange(10, 9999))  # fmt: skip
        made.facts["number"] = f"{series} {count}"
    elif chance.random() < 0.03:
        made.facts["number"] = f"{chance.randrange(100, 999)} {chance.randrange(100, 999)} {chance.randrange(10, 999)}"  # fmt: skip
    share = {"order": 0.45, "note": 0.22, "customer": 0.4, "quote": 0.35}
    for name, often in share.items():
        if chance.random() < often:
            made.facts[name] = _reference(chance)
    if made.kind == "credit note":
        made.facts["preceding"] = bill_number(chance)
    if made.kind == "delivery note":
        made.facts["note"] = made.facts["number"]
    if made.kind in ("purchase order", "order confirmation"):
        made.facts["order"] = made.facts["number"]
    if chance.random() < 0.6:
        made.facts["phone"] = (
            chance.choice(["+44 ", "0", "+49 ", "Tel. 0"])
            + f"{chance.randrange(10**3, 10**4)} {chance.randrange(10**4, 10**6)}"
        )


def _reference(chance: random.Random) -> str:
    count = chance.randrange(10, 999_999)
    return chance.choice([f"PO-{count}", f"{count}", f"45{count:08d}", f"PO{count:06d}", f"{chance.choice('ABKMX')}{count}", f"{count % 9999}/{chance.randrange(20, 27)}",
                          f"PO-26-{count % 9999:04d}", f"B-{count}", f"{chance.choice(['BC', 'AB', 'WE', 'LS', 'REQ', 'K'])} {count}", f"{chance.choice(['BC', 'AB', 'LS'])}{count}",
                          bill_number(chance)])  # fmt: skip


def _items(made: Deal, abroad: bool, longest: int) -> None:
    chance, rates = made.chance, RATES[made.seller.country]
    untaxed = chance.random() < (0.35 if abroad else 0.1)
    count = chance.choices([1, 2, 3, 4, 6, 9, 14, longest], [5, 6, 5, 4, 4, 3, 2, 1.5])[0]
    count = chance.randrange(max(1, count // 2), count + 1)
    several = len(rates) > 1 and chance.random() < 0.25
    made.inclusive = made.kind == "till receipt" or (not untaxed and chance.random() < 0.07)
    units = UNITS[made.language].split()
    discounts = chance.random() < 0.12
    made.base = chance.choice([10, 100, 100, 100, 1000]) if chance.random() < 0.05 else 1
    for _ in range(count):
        text = thing(chance, made.language)
        if chance.random() < 0.4:
            text += " " + chance.choice(
                [
                    _code(chance),
                    f"{chance.randrange(2, 90)} mm",
                    thing(chance, made.language),
                    f"{chance.randrange(1, 13)}/{chance.randrange(24, 27)}",
                    f"{chance.randrange(2, 60)} kg",
                    f"{chance.choice(['/', '-', '–', 'to'])} {word(chance, made.language)}",
                    f"{word(chance, made.language)} {chance.choice(['/', '-', '–', '>'])} {word(chance, made.language)}",
                ]
            )
        quantity = Decimal(
            chance.choice(
                [
                    1,
                    1,
                    1,
                    2,
                    3,
                    4,
                    5,
                    6,
                    8,
                    10,
                    12,
                    20,
                    24,
                    50,
                    100,
                    250,
                    1000,
                    chance.randrange(1, 4000),
                ]
            )
        )
        if chance.random() < 0.2:
            quantity = Decimal(chance.randrange(25, 9000)) / (4 if chance.random() < 0.5 else 100)
            quantity = quantity.quantize(CENT)
        price = Decimal(chance.randrange(20, 10 ** chance.randrange(3, 6))) / 100
        if chance.random() < 0.08:
            price = Decimal(chance.randrange(10, 99_999)) / chance.choice([1000, 10_000])
        off = (
            Decimal(chance.choice([5, 10, 15, 20, 25, 30]))
            if discounts and chance.random() < 0.6
            else Decimal(0)
        )
        amount = cents(quantity * price * (100 - off) / 100 / made.base)
        rate = "0" if untaxed else chance.choice(rates) if several else rates[0]
        made.items.append(
            Item(text, _code(chance), chance.choice(units), quantity, price, off, rate, amount)
        )
    if chance.random() < 0.14 and len(made.items) > 1:
        for item in made.items[-chance.choice([1, 1, 2]) :]:
            item.text = chance.choice(FLAT.get(made.language, FLAT["en"]).split("|"))
            item.quantity, item.discount, item.flat = Decimal(1), Decimal(0), True
            item.price = item.amount = Decimal(chance.randrange(200, 40_000)) / 100
    if chance.random() < 0.05 and made.items:
        made.items[-1].amount += chance.choice([1, -1]) * Decimal(chance.randrange(10, 900)) / 100
    _sums(made)


LETTERS = "ABCDEFGHKLMNPRSTUVWXZ"


def _letters(chance: random.Random, least: int, most: int) -> str:
    return "".join(chance.choice(LETTERS) for _ in range(chance.randint(least, most)))


def _code(chance: random.Random) -> str:
    """What a supplier calls an item: digits, letters, or both."""
    if chance.random() < 0.35:
        count = chance.randrange(1, 9999)
        return chance.choice([
            f"{_letters(chance, 2, 3)}-{_letters(chance, 2, 4)}", f"{_letters(chance, 2, 3)}{count % 100}", f"{_letters(chance, 1, 3)}-{count}", f"{_letters(chance, 2, 4)}-{_letters(chance, 1, 3)}-{count % 1000}",
            _letters(chance, 3, 6), f"{_letters(chance, 2, 2)}.{count % 1000}", f"{_letters(chance, 1, 2)}/{count % 1000}", f"#{count}", f"{count % 100:02d}-{_letters(chance, 1, 3)}", f"{_letters(chance, 2, 4)}_{count % 100}",
            f"{count}{_letters(chance, 1, 1)}", f"{_letters(chance, 3, 5).capitalize()}{count % 100}",
        ])  # fmt: skip
    return chance.choice([f"{chance.randrange(1000, 999_999)}", f"{chance.choice('ABCDEFGHK')}{chance.choice('XYZRS')}-{chance.randrange(10, 999)}", f"{chance.randrange(10, 99)}.{chance.randrange(100, 999)}",
                          f"{chance.choice('KLMNPR')}{chance.randrange(100, 99999)}", f"{chance.randrange(10**11, 10**12)}"])  # fmt: skip


def _sums(made: Deal) -> None:
    chance, sums = made.chance, made.sums
    goods = sum((item.amount for item in made.items), Decimal(0))
    sums["lines_total"] = goods
    net = goods
    if chance.random() < 0.1:
        sums["allowances"] = cents(goods * Decimal(chance.choice([2, 3, 5, 10])) / 100)
        net -= sums["allowances"]
    if chance.random() < 0.15:
        sums["charges"] = Decimal(chance.choice([450, 600, 990, 1500, 2450, 7500, 12_000])) / 100
        net += sums["charges"]
    bases: dict[str, Decimal] = {}
    for item in made.items:
        bases[item.rate] = bases.get(item.rate, Decimal(0)) + item.amount
    first = max(bases, key=lambda rate: bases[rate])
    bases[first] += net - goods
    for rate, base in sorted(bases.items(), key=lambda each: -float(each[0])):
        part = Decimal(rate)
        if made.inclusive:
            tax = cents(base * part / (100 + part))
            made.taxes.append((rate, base - tax, tax))
        else:
            made.taxes.append((rate, base, cents(base * part / 100)))
    tax = sum((each[2] for each in made.taxes), Decimal(0))
    if made.inclusive:
        sums["gross"], net = net, net - tax
    else:
        sums["gross"] = net + tax
    sums["net"], sums["tax"] = net, tax
    if chance.random() < 0.04:
        sums["gross"] += chance.choice(
            [Decimal("1.00"), Decimal("-10.00"), Decimal("0.50"), Decimal(60)]
        )
    due = sums["gross"]
    if chance.random() < 0.03:
        sums["rounding"] = (due * 20).quantize(Decimal(1)) / 20 - due
        due += sums["rounding"]
        sums["gross"] = due
    if chance.random() < 0.08:
        sums["prepaid"] = chance.choice(
            [due, cents(due * Decimal("0.3")), cents(due / 2), Decimal(100)]
        )
        due -= sums["prepaid"]
    if chance.random() < 0.05:
        sums["withheld"] = cents(net * Decimal(chance.choice([15, 20, 7])) / 100)
        due -= sums["withheld"]
    sums["due_amount"] = due
