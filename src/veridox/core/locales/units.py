"""Units of measure: a quantity as it is written, in the unit that somebody wants.

Factors are exact. Names are those of nine languages, folded (see `labels.fold`).
"""

import re
from decimal import Decimal
from typing import Final

from veridox.core.locales.labels import fold
from veridox.core.locales.numbers import NumberFormat, read_number


def _names(text: str) -> dict[str, Decimal]:
    """`factor: names` per line, as a factor by name."""
    found = {}
    for line in text.strip().splitlines():
        factor, _, names = line.partition(":")
        found.update({name: Decimal(factor.strip()) for name in names.split()})
    return found


UNITS: Final[tuple[dict[str, Decimal], ...]] = (
    _names("""
        60: h hr hrs hour hours std stunde stunden heure heures hora horas ora ore uur uren godz tim timmar
        1: min mins minute minutes minuten minuto minutos minuti minut minuter
        1440: d day days tag tage jour jours dia dias giorno giorni dag dagen dzien dni dagar
    """),
    _names("""
        1: g gr gram gramm gramme grammes gramo gramos grammi grama gramas
        1000: kg kilo kilos kilogram kilogramm
        1000000: t to tonne tonnes tonnen tonelada toneladas ton
    """),
    _names("""
        1: mm
        10: cm
        1000: m metre metres meter metri metros
        1000000: km
    """),
    _names("""
        1: ml
        10: cl
        1000: l ltr litre litres liter litri litros
        100000: hl
        1000000: m3 cbm
    """),
    _names("""
        1: wh
        1000: kwh
        1000000: mwh
    """),
)  # fmt: skip
"""Dimensions: time in minutes, mass in grams, length in millimetres, volume in millilitres, energy in Wh."""
_PART = re.compile(r"(\d[\d.,' \u00a0\u202f]*)\s*([^\W\d_][\w]*\.?)?")
_CLOCK = re.compile(r"(\d{1,3}):([0-5]\d)(?:\s*(?:h|std|hrs?)\.?)?")


def known_unit(name: str) -> bool:
    """Whether a unit can be converted."""
    return any(fold(name) in dimension for dimension in UNITS)


_PIECES: Final = frozenset(
    [
        "c62",
        "ea",
        "each",
        "h87",
        "nr",
        "pc",
        "pce",
        "pcs",
        "pezzi",
        "pezzo",
        "pieca",
        "piece",
        "pieces",
        "pieza",
        "piezas",
        "pz",
        "pza",
        "sht",
        "st",
        "stk",
        "stuck",
        "stucks",
        "styck",
        "stuks",
        "szt",
        "un",
        "und",
        "unid",
        "unidad",
        "unit",
        "units",
        "xpp",
    ]
)
"""Words and codes (UN/ECE Recommendation 20) for single things."""
_CODES: Final = {
    "hur": "h", "min": "min", "day": "day", "grm": "g", "kgm": "kg", "tne": "t", "mmt": "mm",
    "cmt": "cm", "mtr": "m", "kmt": "km", "mlt": "ml", "ltr": "l", "hlt": "hl", "mtq": "m3",
    "whr": "wh", "kwh": "kwh", "mwh": "mwh",
}  # fmt: skip
"""Codes of UN/ECE Recommendation 20 that are not also words of theirs."""


def times(one: str, other: str) -> Decimal | None:
    """How many of one unit of measure another one is: `times("kg", "g")` is 1000.

    An empty unit says nothing, so it is taken for the other one; forms of one word are the same.

    Returns:
        None where nothing is known of how many of one are in the other.
    """
    first, second = (_bare_unit(each) for each in (one, other))
    if not first or not second or first == second or {first, second} <= _PIECES:
        return Decimal(1)
    for dimension in UNITS:
        if first in dimension and second in dimension:
            return dimension[first] / dimension[second]
    return None


def beside(number: str, unit: str) -> str:
    """A quantity with its unit as one says it: `6 sack`, but `6` of single things."""
    return number if not unit or _bare_unit(unit) in _PIECES else f"{number} {unit}"


def _bare_unit(name: str) -> str:
    folded = fold(name.strip()).strip(".")
    folded = _CODES.get(folded, folded)
    if folded in _PIECES or any(folded in dimension for dimension in UNITS):
        return folded
    # Bag and bags, box and boxes: what is left out of both is left out of all.
    for ending in ("es", "s", "en", "n", "e"):
        if len(folded) > len(ending) + 2 and folded.endswith(ending):
            return folded.removesuffix(ending)
    return folded


def in_unit(text: str, unit: str, style: NumberFormat) -> Decimal | None:
    """A quantity in a unit: `1 h 37` is 97 in `min`, `1,5 h` is 90, `1:37` likewise 97.

    Args:
        text: begins with a number; units stand behind their numbers.
        unit: that the result is in; see `known_unit`.
        style: how the document writes numbers.

    Returns:
        None where the text names no unit of the same dimension.
    """
    wanted = fold(unit)
    dimension = next((each for each in UNITS if wanted in each), None)
    if dimension is None:
        return None
    clock = _CLOCK.fullmatch(text.strip())
    if clock is not None and dimension is UNITS[0]:
        return Decimal(int(clock[1]) * 60 + int(clock[2])) / dimension[wanted]
    total, last = Decimal(0), None
    for part in _PART.finditer(text):
        number = read_number(part[1].strip(), style)
        name = fold((part[2] or "").rstrip("."))
        if number is None:
            return None
        factor = dimension.get(name)
        if factor is None and not name and last == 60 and dimension is UNITS[0]:
            factor = Decimal(1)  # "1 h 37": minutes follow hours
        if factor is None:
            break
        total, last = total + number * factor, factor
    return total / dimension[wanted] if last is not None else None
