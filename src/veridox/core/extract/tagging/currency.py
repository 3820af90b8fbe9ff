"""The currency of a document: by what its amounts name, else by where it comes from."""

import re
from collections import Counter
from dataclasses import replace
from itertools import pairwise

from veridox.core.extract.tagging.choices import Choice, as_field
from veridox.core.extract.tagging.tagged import Span, Tagged
from veridox.core.extract.tagging.tags import TOTALS
from veridox.core.extract.tagging.tokens import Token
from veridox.core.extract.thresholds import NAMED, SPELT
from veridox.core.locales.currencies import SIGNS, currency_of
from veridox.core.locales.labels import fold
from veridox.core.money import is_currency
from veridox.core.reading import Field, Origin

SIGN_OF = {
    "$": {"": "USD", "US": "USD", "AU": "AUD", "CA": "CAD", "MX": "MXN"},
    "kr": {"": "SEK", "da": "DKK", "no": "NOK", "sv": "SEK", "DK": "DKK", "NO": "NOK", "SE": "SEK"},
    "kč": {"": "CZK"},
    "ft": {"": "HUF"},
    "lei": {"": "RON"},
    "fr": {"": "CHF"},
}
"""Signs of several currencies: by country or language, the usual one otherwise."""


HOME = {
    "AU": ("abn",),
    "CA": ("hst", "qst", "tvq"),
    "MX": ("rfc",),
    "DK": ("cvr", "cvr-nr"),
    "NO": ("mva", "foretaksregisteret"),
    "SE": ("bankgiro", "plusgiro", "f-skatt"),
}
"""Words, folded, by which sellers of one of the countries that share a sign register, are taxed or
paid, and others do not. Names of countries are none: the buyer's may be the only one printed."""
_HOME_OF = {word: country for country, words in HOME.items() for word in words}
PLACES = 2
"""Places of one country from which it is the seller's: one may be the buyer's."""


def home_of(tagged: Tagged) -> str:
    """The one country that words of a document speak of, empty where none or several do."""
    tokens = tagged.tokens
    said = {_HOME_OF.get(fold(token.text).strip(".,:;()"), "") for token in tokens}
    places = {(_by_place(one, other), other.text) for one, other in pairwise(tokens)}
    counted = Counter(country for country, _ in places if country)
    if len(counted) > 1:
        return ""
    said |= {country for country, count in counted.items() if count >= PLACES}
    said.discard("")
    return said.pop() if len(said) == 1 and not counted.keys() - said else ""


STATES = re.compile(
    r"A[KLRZ]|C[AOT]|DC|FL|GA|HI|I[ADLN]|K[SY]|LA|M[ADEINOST]|N[CDEHJMVY]|O[HKR]|PA|RI|S[CD]"
    r"|T[NX]|UT|V[AT]|W[AIVY]"
)
"""Of the United States, as addresses have them; DE is a country, too."""
_ZIP, _AUSTRALIAN = re.compile(r"\d{5}(?:-\d{4})?"), re.compile(r"NSW|VIC|QLD|TAS")
_CANADIAN = (re.compile(r"[A-Z]\d[A-Z]"), re.compile(r"\d[A-Z]\d"))


def _by_place(one: Token, other: Token) -> str:
    """The country whose addresses have two such words side by side; empty for others."""
    if one.row != other.row:
        return ""
    first, second = one.text.strip(",."), other.text.strip(",.")
    if STATES.fullmatch(first) and _ZIP.fullmatch(second):
        return "US"
    if _AUSTRALIAN.fullmatch(first) and re.fullmatch(r"\d{4}", second):
        return "AU"
    if _CANADIAN[0].fullmatch(first) and _CANADIAN[1].fullmatch(second):
        return "CA"
    return ""


EURO_COUNTRIES = (
    *("AT", "BE", "BG", "CY", "DE", "EE", "EL", "ES", "FI", "FR", "GR"),
    *("HR", "IE", "IT", "LT", "LU", "LV", "MT", "NL", "PT", "SI", "SK"),
)
OF_COUNTRY = {
    "GB": "GBP",
    "US": "USD",
    "AU": "AUD",
    "CA": "CAD",
    "CH": "CHF",
    "MX": "MXN",
    "PL": "PLN",
    "SE": "SEK",
    "DK": "DKK",
    "NO": "NOK",
    "CZ": "CZK",
    "HU": "HUF",
    "RO": "RON",
    **dict.fromkeys(EURO_COUNTRIES, "EUR"),
}
OF_LANGUAGE = {
    "pl": "PLN",
    "sv": "SEK",
    "da": "DKK",
    "no": "NOK",
    "cs": "CZK",
    "hu": "HUF",
    "ro": "RON",
    **dict.fromkeys(("de", "fr", "es", "it", "nl", "pt", "fi"), "EUR"),
    "en": "GBP",
}
BY_COUNTRY, BY_LANGUAGE, ENGLISH = 0.8, 0.6, 0.4
"""How surely a bill that names no currency is in that of its seller's country, or language; English
is written in many countries. A person looks at each of them."""
COMMON = frozenset(("EUR", "GBP", "USD", "CHF", "PLN", "SEK", "DKK", "NOK", "CZK", "HUF", "RON"))


def usual_currency(country: str, language: str) -> Field | None:
    """The currency of a document that names none: a person should look at it."""
    code = OF_COUNTRY.get(country) or OF_LANGUAGE.get(language)
    if code is None:
        return None
    said = BY_COUNTRY if country in OF_COUNTRY else ENGLISH if language == "en" else BY_LANGUAGE
    return Field(value=code, confidence=said, origin=Origin.DERIVED)


def currency(tagged: Tagged, country: str, language: str) -> tuple[Field, bool] | None:
    """The currency that most amounts name, and whether its sign is that of others, too, and neither
    country nor language tells which is meant."""
    country = country or home_of(tagged)
    votes: Counter[str] = Counter()
    places: dict[str, tuple[float, int]] = {}
    known: dict[str, bool] = {}
    money = (
        tagged.of("currency")
        + sum(tagged.of(name) for name in TOTALS)
        + tagged.of("line.amount")
        + tagged.of("line.unit_price")
    )
    for at, token in enumerate(tagged.tokens):
        code, certain = _code(token, country, language)
        if not code:
            continue
        known.setdefault(code, False)
        known[code] |= certain
        weight = float(min(money[at], 1.0)) + 0.05
        if token.number is None and code in COMMON and token.text.strip("()[]:,;.") == code:
            weight = max(weight, SPELT)
        if code not in COMMON and token.number is None and weight < NAMED:
            continue
        votes[code] += weight  # type: ignore[assignment]
        if code not in places or places[code][0] < weight:
            places[code] = (weight, at)
    if not votes:
        return None
    code, most = votes.most_common(1)[0]
    weight, at = places[code]
    share = most / sum(votes.values())
    token = tagged.tokens[at]
    field = as_field(
        Choice(code, Span((at,), (token,), min(weight, 1.0)), 1.0),
        [],
        min(0.999, share * (0.75 + 0.25 * min(weight, 1.0))),
    )
    return replace(field, text=token.text), not known[code]


def _spelled(text: str) -> str:
    """The currency whose code a short word of capitals is, but for the signs beside it."""
    bare = re.sub(r"[^A-Z]", "", text) if text.isupper() and len(text) <= 6 else ""
    return currency_of(bare) or "" if len(bare) == 3 else ""


def _code(token: Token, country: str, language: str) -> tuple[str, bool]:
    """The code that a token names, and whether nothing else can be meant."""
    named = token.currency or _spelled(token.text)
    if named in SIGNS.values() or (
        len(named) == 3 and is_currency(named.upper()) and named.isupper()
    ):
        return named, True
    low = named.lower().rstrip(".")
    if low in SIGN_OF:
        by = SIGN_OF[low]
        at_home = by.get(country) if country else None
        spoken = by.get(language) if language else None
        # What is written in one language of the north looks like the others: only a country tells.
        return at_home or spoken or by[""], at_home is not None or len(by) == 1
    return "", False
