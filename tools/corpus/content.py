"""What stands on a made-up invoice, in nine languages and their forms of numbers and dates."""

import random
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import ROUND_HALF_UP, Decimal
from pathlib import Path

import yaml

CENT = Decimal("0.01")
MONTHS = {
    "en": "January February March April May June July August September October November December",
    "de": "Januar Februar März April Mai Juni Juli August September Oktober November Dezember",
    "fr": "janvier février mars avril mai juin juillet août septembre octobre novembre décembre",
}
LABELS: dict[str, dict[str, str]] = yaml.safe_load(
    (Path(__file__).parent / "labels.yaml").read_text(encoding="utf-8")
)
"""Labels by language."""
_START = ("Brine", "Quill", "Kelp", "Tide", "Marl", "Fen", "Osprey", "Cobble", "Lantern", "Wick",
          "Harrow", "Sedge", "Plover", "Tansy", "Grim", "Alder", "Rook", "Shale")  # fmt: skip
_END = ("fold", "mere", "fin", "haven", "stead", "wick", "holm", "ford", "bury", "gate")
_FORMS = ("Ltd", "GmbH", "SARL", "S.L.", "S.r.l.", "B.V.", "Sp. z o.o.", "Lda", "AB", "& Sons")
_THINGS = ("Filter", "Pump", "Hose", "Valve", "Panel", "Gasket", "Krill", "Salt", "Lamp", "Cable",
           "Glass", "Seal", "Meter", "Sensor", "Paint", "Rope", "Crate", "Pellet")  # fmt: skip
_KINDS = ("sand", "carbon", "double", "stainless", "reinforced", "frozen", "marine", "narrow",
          "spare", "grade A", "12 V", "blue", "20 mm", "type C", "coated", "long")  # fmt: skip


@dataclass(frozen=True, kw_only=True, slots=True)
class Line:
    """One line; amounts as they are printed."""

    code: str
    name: str
    quantity: str
    price: str
    amount: str


@dataclass(frozen=True, kw_only=True, slots=True)
class Invoice:
    """All that is printed."""

    language: str
    labels: dict[str, str]
    seller: tuple[str, ...]
    buyer: tuple[str, ...]
    number: str
    issued: str
    due: str
    order: str
    customer: str
    tax_id: str
    account: str
    phone: str
    lines: tuple[Line, ...]
    net: str
    rate: str
    tax: str
    gross: str


def invoice(seed: int) -> Invoice:
    """The invoice of this seed."""
    chance = random.Random(f"content {seed}")
    language = chance.choice(sorted(LABELS))
    number = _numbers(chance, language)
    currency = chance.choice(["EUR", "€", "GBP", "£", "SEK", "PLN"])
    day = date(2026, 1, 1) + timedelta(days=chance.randrange(330))
    style = chance.randrange(4)
    lines, net = [], Decimal(0)
    for _ in range(chance.choice([2, 3, 4, 6, 9, 14, 20])):
        count = Decimal(chance.choice([1, 2, 3, 5, 8, 10, 12, 24, 48, 120]))
        price = Decimal(chance.randrange(35, 90_000)) / 100
        amount = (count * price).quantize(CENT, ROUND_HALF_UP)
        net += amount
        code = f"{chance.choice('ABKMRX')}{chance.choice('BDHLT')}-{chance.randrange(100, 9999)}"
        lines.append(
            Line(
                code=code,
                name=f"{chance.choice(_THINGS)} {chance.choice(_KINDS)}",
                quantity=str(count),
                price=number(price),
                amount=number(amount),
            )
        )
    rate = chance.choice([7, 10, 19, 20, 21, 22, 23, 25])
    tax = (net * rate / 100).quantize(CENT, ROUND_HALF_UP)
    return Invoice(
        language=language,
        labels=LABELS[language],
        seller=party(chance),
        buyer=("Merrowmere Aquarium Trust", "The Old Slipway 3", "MW1 4QD Merrowmere"),
        number=document_number(chance),
        issued=_date(day, style, language),
        due=_date(day + timedelta(days=chance.choice([10, 14, 30, 45])), style, language),
        order=f"PO-{chance.randrange(10_000, 99_999)}",
        customer=str(chance.randrange(10_000, 999_999)),
        tax_id=f"{chance.choice(['GB', 'DE', 'FR', 'ES', 'PL'])}{chance.randrange(10**8, 10**9)}",
        account=account(chance),
        phone=phone(chance),
        lines=tuple(lines),
        net=number(net),
        rate=f"{rate} %",
        tax=number(tax),
        gross=f"{number(net + tax)} {currency}" if len(currency) > 1 or chance.random() < 0.5
        else f"{currency}{number(net + tax)}",
    )  # fmt: skip


def phone(chance: random.Random) -> str:
    """A telephone number of nobody."""
    country, area = chance.randrange(30, 49), chance.randrange(100, 999)
    return f"+{country} {area} {chance.randrange(10**5, 10**6)}"


def party(chance: random.Random) -> tuple[str, ...]:
    """Name and address of nobody."""
    name = f"{chance.choice(_START)}{chance.choice(_END)} {chance.choice(_FORMS)}"
    street = f"{chance.choice(_START)} {chance.choice(['Lane', 'Quay', 'Row', 'Weg', 'Hof'])}"
    return (
        name, f"{street} {chance.randrange(1, 180)}",
        f"{chance.randrange(10_000, 99_999)} {chance.choice(_START)}{chance.choice(_END)}",
    )  # fmt: skip


def document_number(chance: random.Random) -> str:
    """The number of a bill, in one of many forms."""
    year, count = chance.choice(["2026", "26"]), chance.randrange(1, 99_999)
    return chance.choice(
        [f"{count:05d}", f"RE-{year}-{count:04d}", f"{year}/{count:05d}", f"INV{count:06d}",
         f"F{year}{count:05d}", f"{chance.choice('BCGOSZ')}{count:05d}-{chance.choice('ISQ')}"]
    )  # fmt: skip


_ACCOUNTS = {"DE": "9" * 18, "GB": "AAAA" + "9" * 14, "FR": "9" * 23, "ES": "9" * 20,
             "NL": "AAAA" + "9" * 10, "PL": "9" * 24, "SE": "9" * 20, "PT": "9" * 21,
             "IT": "A" + "9" * 22}  # fmt: skip
"""What follows the check digits of an IBAN: a letter for A, a digit for 9."""


def account(chance: random.Random) -> str:
    """An IBAN of nobody, its check digits right, in groups of four."""
    country, form = chance.choice(sorted(_ACCOUNTS.items()))
    bare = "".join(chance.choice("BCDFGKLMNX" if sign == "A" else "0123456789") for sign in form)
    number = int("".join(str(int(sign, 36)) for sign in f"{bare}{country}00"))
    whole = f"{country}{98 - number % 97:02d}{bare}"
    return " ".join(whole[at : at + 4] for at in range(0, len(whole), 4))


def _date(day: date, style: int, language: str) -> str:
    if style == 0 and language in MONTHS:
        return f"{day.day} {MONTHS[language].split()[day.month - 1]} {day.year}"
    return [f"{day:%d.%m.%Y}", f"{day:%d/%m/%Y}", f"{day:%Y-%m-%d}", f"{day:%d.%m.%y}"][style]


def _numbers(chance: random.Random, language: str):
    """How this invoice prints amounts."""
    if language == "en":
        return lambda value: f"{value:,.2f}"
    group = chance.choice([".", ".", " ", "'", ""])
    return lambda value: f"{value:,.2f}".replace(",", "_").replace(".", ",").replace("_", group)
