"""Vendors by tax id, then by name."""

import re
from collections.abc import Iterable
from dataclasses import dataclass

from rapidfuzz import fuzz

from veridox.core.locales.labels import fold
from veridox.core.reading import Reading

NAME_THRESHOLD = 0.92
"""Similarity of names from which a vendor counts as found."""
CLOSE = 0.03
"""Two vendors nearer than this are too close for a machine to choose."""

_LEGAL = re.compile(
    r"\b(ltd|limited|plc|llp|llc|inc|gmbh|co|kg|ag|ohg|ug|se|b\.?v|n\.?v|s\.?a|sarl|"
    r"s\.?r\.?l|s\.?p\.?a|lda|ab|oy|aps)\b\.?"
)


@dataclass(frozen=True, kw_only=True, slots=True)
class VendorRecord:
    """A vendor of the master data, as far as matching needs it."""

    code: str
    name: str
    tax_id: str = ""
    needs_order: bool = True
    blocked: bool = False


@dataclass(frozen=True, kw_only=True, slots=True)
class VendorMatch:
    """A vendor that may be the seller.

    Attributes:
        vendor: the record.
        score: in [0, 1].
        evidence: what speaks for it and against it, for people.
        contradiction: the tax id says another company than the name.
    """

    vendor: VendorRecord
    score: float
    evidence: str
    contradiction: bool = False


def name_key(name: str) -> str:
    """A name without legal form, accents, case and punctuation."""
    bare = _LEGAL.sub(" ", fold(name))
    return " ".join(re.findall(r"[a-z0-9ß]+", bare))


def tax_key(tax_id: str) -> str:
    """A tax id without blanks and punctuation, upper case."""
    return re.sub(r"[^A-Z0-9]", "", tax_id.upper())


def _match(reading: Reading, vendor: VendorRecord) -> VendorMatch:
    stated = tax_key(reading.text("seller.tax_id") or "")
    known = tax_key(vendor.tax_id)
    name = reading.text("seller.name") or ""
    similar = fuzz.token_sort_ratio(name_key(name), name_key(vendor.name)) / 100 if name else 0.0
    # GB ids are printed with and without their prefix.
    if stated and known and stated.removeprefix("GB") == known.removeprefix("GB"):
        return VendorMatch(vendor=vendor, score=1.0, evidence=f"tax id {stated}")
    if stated and known and similar >= NAME_THRESHOLD:
        return VendorMatch(
            vendor=vendor,
            score=similar * 0.5,
            evidence=f"name {name!r}, but tax id {stated} is not {known}",
            contradiction=True,
        )
    return VendorMatch(vendor=vendor, score=similar, evidence=f"name {name!r}")


def choose_vendor(
    reading: Reading, vendors: Iterable[VendorRecord]
) -> tuple[VendorRecord | None, tuple[VendorMatch, ...]]:
    """The vendor, if exactly one is good enough, and all that were near, best first."""
    matches = sorted(
        (match for match in (_match(reading, vendor) for vendor in vendors) if match.score > 0.4),
        key=lambda match: (-match.score, match.vendor.code),
    )
    near = tuple(matches[:5])
    if not near or near[0].score < NAME_THRESHOLD:
        return None, near
    if len(near) > 1 and near[0].score - near[1].score < CLOSE:
        return None, near
    return near[0].vendor, near
