"""Words as people use them, by language: family and first names, places, trades, things.

They come from the lists of Faker (an extra, `train` and `dev`), so that what the network learns of
words is not what one hand could think of. Who is called so is nobody: names are put together here.
"""

import random
import zlib
from functools import cache

from faker import Faker

LOCALES = {
    "en": ("en_GB", "en_US", "en_IE"), "de": ("de_DE", "de_AT", "de_CH"), "fr": ("fr_FR", "fr_CH"), "es": ("es_ES", "es_MX"), "it": ("it_IT",),
    "nl": ("nl_NL", "nl_BE"), "pl": ("pl_PL",), "pt": ("pt_PT",), "sv": ("sv_SE",), "da": ("da_DK",), "no": ("no_NO",), "fi": ("fi_FI",),
    "cs": ("cs_CZ", "sk_SK"), "hu": ("hu_HU",), "ro": ("ro_RO",),
}  # fmt: skip
SPOKEN = frozenset({"en", "de", "fr", "es", "it", "nl", "pl", "da", "cs"})
"""Languages of whose everyday words there is a list; the others have names and trades alone."""
OTHERWISE = {("it_IT", "city"): "state"}
"""What is drawn instead where the list has no order of its own: nothing would be repeatable."""
DRAWN = 2500
HELD = 5
"""One name in so many is kept for pages that are only measured on."""


@cache
def _drawn(language: str, what: str) -> tuple[str, ...]:
    """All different ones of many draws, in an order that does not change."""
    found: set[str] = set()
    for locale in LOCALES[language]:
        if what == "word" and (language not in SPOKEN or locale in ("de_CH", "fr_CH", "en_GB", "en_IE", "sk_SK")):  # fmt: skip
            continue
        source = Faker(locale)
        source.seed_instance(7)
        draw = getattr(source, OTHERWISE.get((locale, what), what))
        found.update(draw() for _ in range(DRAWN))
    return tuple(sorted(text for text in found if _usable(text, language, what)))


def _usable(text: str, language: str, what: str) -> bool:
    if "\n" in text or len(text) > 48 or "(" in text or "@" in text:
        return False
    if what == "word":
        # Capitals are names of somebody or something, but for German.
        return len(text) > 2 and text.isalpha() and (language == "de" or text.islower())
    return what == "job" or len(text) > 1


@cache
def _side(language: str, what: str, held: bool) -> tuple[str, ...]:
    both = _drawn(language, what)
    return tuple(text for text in both if (zlib.crc32(text.encode()) % HELD == 0) == held) or both


def surname(chance: random.Random, language: str, held: bool = False) -> str:
    """A family name."""
    return chance.choice(_side(language, "last_name", held))


def first(chance: random.Random, language: str) -> str:
    """A first name."""
    return chance.choice(_drawn(language, "first_name"))


def town(chance: random.Random, language: str, held: bool = False) -> str:
    """A place."""
    return chance.choice(_side(language, "city", held))


def term(chance: random.Random, language: str) -> str:
    """An everyday word; of a trade where the language has no list of words."""
    if language in SPOKEN:
        return chance.choice(_drawn(language, "word"))
    return chance.choice(trade(chance, language).split()).strip(",;/")


def trade(chance: random.Random, language: str) -> str:
    """What somebody does for a living, in one to five words."""
    return chance.choice(_drawn(language, "job"))


def terms(chance: random.Random, language: str, count: int) -> str:
    """So many everyday words."""
    return " ".join(term(chance, language) for _ in range(count))


def sentence(chance: random.Random, language: str) -> str:
    """Words in a row that begin and end as sentences do."""
    text = terms(chance, language, chance.randrange(4, 15))
    return text[:1].upper() + text[1:] + chance.choice([".", ".", ".", "!", "?", ":", ""])
