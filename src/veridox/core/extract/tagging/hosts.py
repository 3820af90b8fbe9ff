"""Mail and web addresses of a page: who sends a bill prints its own, called as it is itself."""

import re
from collections.abc import Iterable, Sequence

from veridox.core.extract.parties import LEGAL_FORM
from veridox.core.extract.tagging.tokens import Token
from veridox.core.locales.labels import fold

_HOST = re.compile(r"(?:[\w.+-]+@|https?://|www\.)?((?:[a-z0-9-]+\.)+)[a-z]{2,10}(?:/\S*)?")
_PARTS = frozenset(("www", "mail", "shop", "co", "com", "org", "net", "info", "invoice", "billing"))
"""Parts of an address that name nobody."""
SHORTEST = 4
"""Letters from which a part of an address is more than initials."""


def hosts_of(tokens: Iterable[Token]) -> frozenset[str]:
    """What the addresses of a document are called, letters alone: `www.blue-mesa.example`
    gives `bluemesa`."""
    found = set()
    for token in tokens:
        text = fold(token.text).strip(".,;:()<>[]|·")
        if "." not in text or token.number is not None or token.day is not None:
            continue
        match = _HOST.fullmatch(text)
        plain = match is not None and ("@" in text or "www." in text or "//" in text)
        # `a.s.r.l` has dots, too: without a sign of its own an address has a long part.
        if match is None or not (plain or len(max(match[1].split("."), key=len)) > SHORTEST):
            continue
        parts = [part for part in match[1].split(".") if part and part not in _PARTS]
        if parts:
            found.add(re.sub(r"[^a-z0-9]", "", parts[-1]))
    return frozenset(found - {""})


def called_like(name: str, hosts: Iterable[str]) -> bool:
    """Whether an address is made of a name: all of it, its first words, one long word, initials."""
    words = re.findall(r"[a-z0-9]+", LEGAL_FORM.sub(" ", fold(name)))
    if not words:
        return False
    return any(_made_of(host, words) for host in hosts)


def _made_of(host: str, words: Sequence[str]) -> bool:
    whole = "".join(words)
    if len(host) < SHORTEST:
        return len(words) > 1 and host == "".join(word[0] for word in words)
    if host in whole or (len(whole) > SHORTEST and whole in host):
        return True
    long = [word for word in words if len(word) > SHORTEST]
    return any(host.startswith(word) for word in long)
