"""Invoice numbers compared as people compare them."""

import re
from dataclasses import dataclass
from datetime import date


def number_key(number: str) -> str:
    """Upper case, separators as one dash, leading zeros off each part.

    `re 2026/0017` and `RE-2026-17` are the same number; `RE202617` is not.
    """
    parts = re.findall(r"[A-Z0-9]+", number.upper())
    return "-".join(part.lstrip("0") or "0" for part in parts)


def number_bare(number: str) -> str:
    """Letters and digits alone, leading zeros off: what is left when a number is typed anew.

    `QV-4415` and `QV 4415` become `QV4415`.
    """
    bare = re.sub(r"[^A-Z0-9]", "", number.upper())
    return bare.lstrip("0") or bare[:1]


@dataclass(frozen=True, kw_only=True, slots=True)
class EarlierDocument:
    """A document that came before and has the same vendor, kind and year, and its number.

    Attributes:
        reference: our id of it.
        number: as stated there.
        issued: its issue date.
        state: where it stands, for the message.
        posted_as: the ledger's number, empty when not posted.
    """

    reference: str
    number: str
    issued: date | None
    state: str
    posted_as: str = ""
