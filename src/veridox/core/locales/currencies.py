"""Currency signs and codes in running text."""

import re
from functools import lru_cache
from typing import Final

from veridox.core.money import is_currency

SIGNS: Final[dict[str, str]] = {
    "€": "EUR",
    "£": "GBP",
    "¥": "JPY",
    "US$": "USD",
    "zł": "PLN",
    "EURO": "EUR",
    "Euro": "EUR",
    "Fr.": "CHF",
}
"""Signs that mean one currency."""
SHARED_SIGNS: Final[dict[str, dict[str, str]]] = {"kr": {"sv": "SEK"}, "$": {"": "USD"}}
"""Signs that mean several, by language; the empty one stands for all others."""


@lru_cache(maxsize=20_000)
def currency_of(token: str) -> str | None:
    """The currency that a token like `€`, `GBP` or `(EUR)` names, None otherwise."""
    bare = token.strip("()[]:,;")
    bare = bare.rstrip(".").rstrip(")") if bare.rstrip(".)")[-3:].isupper() else bare
    if bare in SIGNS:
        return SIGNS[bare]
    if re.fullmatch(r"[A-Z]{3}", bare) and is_currency(bare):
        return bare
    return None


@lru_cache(maxsize=20_000)
def split_sign(token: str) -> tuple[str | None, str]:
    """A token like `£1,254.00` or `1.254,00€` as its currency and the rest."""
    for sign in SHARED_SIGNS:
        if token.lower().startswith(sign) and token[len(sign) :][:1].isdigit():
            return None, token[len(sign) :]
    for sign, code in SIGNS.items():
        if token.startswith(sign) and len(token) > len(sign):
            return code, token[len(sign) :]
        if token.endswith(sign) and len(token) > len(sign):
            return code, token[: -len(sign)]
    match = re.fullmatch(r"([A-Z]{3})([-(\d].*)", token)
    if match and is_currency(match[1]):
        return match[1], match[2]
    match = re.fullmatch(r"(.*\d[-)]?)([A-Z]{3})", token)
    if match and is_currency(match[2]):
        return match[2], match[1]
    return None, token
