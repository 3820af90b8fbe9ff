"""What names of parties are known by: legal forms, and our own entities."""

import re

from rapidfuzz import fuzz

from veridox.core.extract.hints import Hints
from veridox.core.locales.labels import fold

LEGAL_FORM = re.compile(
    r"(?<!\w)(ltd|limited|plc|llp|llc|inc|corp|gmbh(?: & co\.? kg)?|mbh|ag|kg|ohg|gbr|e\.k|e\.u|"
    r"ug|se|b\.?v|n\.?v|v\.?o\.?f|s\.?a|s\.?a\.?s|sasu|eurl|s\.?a\.?r\.?l|s\.?l|s\.?l\.?u|"
    r"s\.?r\.?l|s\.?p\.?a|s\.?n\.?c|lda|unipessoal|ab|hb|kb|oy|as|a/s|aps|sp\. ?z ?o\. ?o|"
    r"sp\. ?j|trust|& co|& sons|& sohne|& fils|et fils|& hijos|e hijos|& figli|e figli|& zonen|"
    r"en zonen|i synowie|& filhos|& soner)(?![\w-])\.?"
)
"""Legal forms of companies, folded."""


def is_ours(text: str, hints: Hints) -> bool:
    """Whether a text is the name of one of our entities, give or take a letter misread."""
    folded = fold(text)
    return any(
        abs(len(text) - len(buyer.name)) <= 0.2 * len(buyer.name)
        and fuzz.ratio(folded, fold(buyer.name)) >= 90
        for buyer in hints.buyers
    )
