"""Vendors by tax id, then by name."""

import re
from collections.abc import Iterable
from dataclasses import dataclass

from rapidfuzz import fuzz

from veridox.core.locales.labels import fold
from veridox.core.reading import Reading

NAME_THRESHOLD = 0.92
"""Similarity of names from which a vendor counts as found."""
ALIKE = 0.75
"""Similarity of names from which a tax id and a name may speak of one company."""
CLOSE = 0.03
"""Two vendors nearer than this are too close for a machine to choose."""

_LEGAL = re.compile(
    r"\b(ltd|limited|plc|llp|llc|inc|gmbh|co|kg|ag|ohg|ug|se|b\.?v|n\.?v|s\.?a|sarl|"
    r"s\.?r\.?l|s\.?p\.?a|lda|ab|oy|aps)\b\.?"
)


@dataclass(frozen=True, kw_only=True, slots=True)
class VendorRecord:
    """A vendor of the master data, as far as matching needs it; `contact` is a mail address."""

    code: str
    name: str
    tax_id: str = ""
    needs_order: bool = True
    blocked: bool = False
    contact: str = ""


@dataclass(frozen=True, kw_only=True, slots=True)
class VendorMatch:
    """A vendor that may be the seller.

    Attributes:
        vendor: the record.
        score: in [0, 1].
        evidence: what speaks for it and against it, for people.
    """

    vendor: VendorRecord
    score: float
    evidence: str


@dataclass(frozen=True, kw_only=True, slots=True)
class VendorChoice:
    """What the bill says of its seller, weighed.

    Attributes:
        vendor: the seller; None when nobody fits, several do, or the bill contradicts itself.
        near: candidates with evidence, best first.
        contradiction: both sides of what does not go together, as a sentence; else empty.
    """

    vendor: VendorRecord | None = None
    near: tuple[VendorMatch, ...] = ()
    contradiction: str = ""


def name_key(name: str) -> str:
    """A name without legal form, accents, case and punctuation."""
    bare = _LEGAL.sub(" ", fold(name))
    return " ".join(re.findall(r"[a-z0-9ß]+", bare))


def tax_key(tax_id: str) -> str:
    """A tax id without blanks and punctuation, upper case."""
    return re.sub(r"[^A-Z0-9]", "", tax_id.upper())


def registration(tax_id: str) -> str:
    """What a tax id names; British ones are printed with and without GB."""
    return tax_key(tax_id).removeprefix("GB")


def same_tax_id(one: str, other: str) -> bool:
    """Whether both name the same registration."""
    first, second = registration(one), registration(other)
    return bool(first) and first == second


def names_alike(one: str, other: str) -> float:
    """In [0, 1]: how far two names may mean one company, legal forms and order of words aside."""
    first, second = name_key(one), name_key(other)
    if not first or not second:
        return 0.0
    return max(fuzz.token_sort_ratio(first, second), fuzz.token_set_ratio(first, second)) / 100


def _similar(name: str, vendor: VendorRecord) -> float:
    return fuzz.token_sort_ratio(name_key(name), name_key(vendor.name)) / 100 if name else 0.0


def choose_vendor(reading: Reading, vendors: Iterable[VendorRecord]) -> VendorChoice:
    """The vendor that the bill's tax id and name speak for together.

    Neither overrides the other: a tax id under a name that is not its owner's, or a
    name with a tax id that is not its own, contradict each other and are left to a person.
    """
    every = tuple(vendors)
    stated, name = reading.text("seller.tax_id") or "", reading.text("seller.name") or ""
    owners = [each for each in every if same_tax_id(stated, each.tax_id)]
    near = _near(every, stated, name)
    if not owners:
        return _by_name(near, stated, name)
    named = [m.vendor for m in near if _similar(name, m.vendor) >= NAME_THRESHOLD]
    fitting = [each for each in owners if not name or names_alike(name, each.name) >= ALIKE]
    others = [each for each in named if each not in owners]
    exact = [each for each in owners if each in named]
    if not fitting or (others and not exact):
        return VendorChoice(near=near, contradiction=_both_sides(stated, name, owners, others))
    best = exact if len(exact) == 1 else fitting
    return VendorChoice(vendor=best[0] if len(best) == 1 else None, near=near)


def _near(every: tuple[VendorRecord, ...], stated: str, name: str) -> tuple[VendorMatch, ...]:
    matches = []
    for each in every:
        similar, owner = _similar(name, each), same_tax_id(stated, each.tax_id)
        evidence = [f"tax id {tax_key(stated)}"] if owner else []
        if similar > 0.4 or not evidence:
            evidence.append(f"name {name!r}")
        score = 1.0 if owner else similar
        matches.append(VendorMatch(vendor=each, score=score, evidence=" and ".join(evidence)))
    ranked = sorted(matches, key=lambda match: (-match.score, match.vendor.code))
    return tuple(match for match in ranked if match.score > 0.4)[:5]


def _by_name(near: tuple[VendorMatch, ...], stated: str, name: str) -> VendorChoice:
    """Nobody has the tax id, or none is stated: the name alone."""
    if not near or near[0].score < NAME_THRESHOLD:
        return VendorChoice(near=near)
    if len(near) > 1 and near[0].score - near[1].score < CLOSE:
        return VendorChoice(near=near)
    vendor = near[0].vendor
    if tax_key(stated) and tax_key(vendor.tax_id):
        said = (
            f"The name {name!r} is that of {vendor.name} ({vendor.code}), whose tax id is "
            f"{vendor.tax_id}; the bill states {tax_key(stated)}, which is nobody's here."
        )
        return VendorChoice(near=near, contradiction=said)
    return VendorChoice(vendor=vendor, near=near)


def _both_sides(
    stated: str, name: str, owners: list[VendorRecord], others: list[VendorRecord]
) -> str:
    of_id = " or ".join(f"{each.name} ({each.code})" for each in owners)
    of_name = " or ".join(f"{each.name} ({each.code})" for each in others) or "nobody here"
    return (
        f"The name {name!r} is that of {of_name}; the tax id {tax_key(stated)} is that of {of_id}."
    )
