"""Which vendor sells: all that the bill and its mail say of it, weighed against the master data."""

import re
from collections.abc import Iterable
from dataclasses import dataclass

from rapidfuzz import fuzz

from veridox.core.locales.labels import fold
from veridox.core.matching.records import (
    PUBLIC_DOMAINS,
    SenderFact,
    VendorRecord,
    account_key,
)
from veridox.core.reading import Reading

NAME_THRESHOLD = 0.92
"""Similarity of names, and score of all evidence, from which a vendor counts as found."""
ALIKE = 0.75
"""Similarity of names from which a tax id and a name may speak of one company."""
CLOSE = 0.03
"""Two vendors nearer than this are too close for a machine to choose."""
SHOWN = 0.4
"""Similarity of names from which a vendor is worth showing as one who may be meant."""

STRENGTH = {
    "tax id": 0.97,
    "account": 0.95,
    "sender": 0.8,
    "domain": 0.4,
    "address": 0.35,
}
"""How much each kind of evidence says by itself, as a chance; a name says as much as it is alike
(`_by_name_alone`). Several together leave the chance that all of them err."""

_LEGAL = re.compile(
    r"\b(ltd|limited|plc|llp|llc|inc|gmbh|co|kg|ag|ohg|ug|se|b\.?v|n\.?v|s\.?a|sarl|"
    r"s\.?r\.?l|s\.?p\.?a|lda|ab|oy|aps)\b\.?"
)


@dataclass(frozen=True, kw_only=True, slots=True)
class Evidence:
    """One thing that speaks for a vendor, or against it.

    Attributes:
        what: `tax id`, `account`, `sender`, `domain`, `name`, `address`.
        said: what the bill or its mail says.
        ours: what the master data have; empty where the two are the same.
        strength: in [0, 1]; 0 for what is shown and proves nothing.
        against: whether it speaks against this vendor.
        note: why it counts less, or not at all.
    """

    what: str
    said: str
    ours: str = ""
    strength: float = 0.0
    against: bool = False
    note: str = ""

    def __str__(self) -> str:
        """As people read it in a list."""
        quoted = self.what not in ("tax id", "account", "lines", "total")
        said = repr(self.said) if quoted else self.said
        against = f" is not {self.ours}" if self.against else ""
        return f"{self.what} {said}{against}" + (f" ({self.note})" if self.note else "")


def together(reasons: Iterable[Evidence]) -> tuple[float, tuple[Evidence, ...]]:
    """What pieces of evidence say together, as a chance: none counts twice, and several weak ones
    make a strong one. With it the pieces, what counts most first."""
    told = sorted(reasons, key=lambda reason: -reason.strength)
    left = 1.0
    for reason in told:
        left *= 1 - reason.strength
    return round(1 - left, 4), tuple(told)


@dataclass(frozen=True, kw_only=True, slots=True)
class VendorMatch:
    """A vendor that may be the seller.

    Attributes:
        vendor: the record.
        score: in [0, 1].
        reasons: what speaks for it and against it, the strongest first.
    """

    vendor: VendorRecord
    score: float
    reasons: tuple[Evidence, ...] = ()

    @property
    def evidence(self) -> str:
        """What speaks for it, in one line."""
        return " and ".join(str(each) for each in self.reasons if not each.against)


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


def called_like(name: str, vendor: VendorRecord) -> float:
    """The same of a name and all that a vendor is called."""
    return max((names_alike(name, each) for each in vendor.called), default=0.0)


def _similar(name: str, vendor: VendorRecord) -> float:
    key = name_key(name)
    if not key:
        return 0.0
    return max(fuzz.token_sort_ratio(key, name_key(each)) / 100 for each in vendor.called)


def owns(vendor: VendorRecord, tax_id: str) -> bool:
    """Whether a tax id is one of the vendor's."""
    return any(same_tax_id(tax_id, each) for each in vendor.registered)


def choose_vendor(
    reading: Reading,
    vendors: Iterable[VendorRecord],
    sender: SenderFact | None = None,
    text: str = "",
) -> VendorChoice:
    """The vendor that all that is known of the seller speaks for together.

    Tax id and name never override each other: a tax id under a name that is not its owner's,
    or a name with a tax id that is not its own, contradict each other and are left to a person;
    so does an account under a name that is not its owner's. A sender counts only where the
    receiving server proved its domain, and never alone.

    Args:
        reading: of the bill.
        vendors: who may be meant.
        sender: of its mail.
        text: words of its pages, in which a vendor's address may stand.
    """
    every = tuple(vendors)
    stated, name = reading.text("seller.tax_id") or "", reading.text("seller.name") or ""
    owners = [each for each in every if owns(each, stated)]
    near = _near(every, reading, sender, fold(text))
    if not owners:
        return _without_owner(near, stated, name)
    named = [m.vendor for m in near if _similar(name, m.vendor) >= NAME_THRESHOLD]
    fitting = [each for each in owners if not name or called_like(name, each) >= ALIKE]
    others = [each for each in named if each not in owners]
    exact = [each for each in owners if each in named]
    if not fitting or (others and not exact):
        return VendorChoice(near=near, contradiction=_both_sides(stated, name, owners, others))
    best = exact if len(exact) == 1 else _best_of(fitting, near)
    return VendorChoice(vendor=best[0] if len(best) == 1 else None, near=near)


def _best_of(fitting: list[VendorRecord], near: tuple[VendorMatch, ...]) -> list[VendorRecord]:
    """Of several with the same tax id the one whom account or address single out."""
    if len(fitting) < 2:
        return fitting
    singled = [
        match.vendor
        for match in near
        if match.vendor in fitting
        and any(each.what in ("account", "address") and each.strength for each in match.reasons)
    ]
    return singled if len(singled) == 1 else fitting


def _near(
    every: tuple[VendorRecord, ...], reading: Reading, sender: SenderFact | None, text: str
) -> tuple[VendorMatch, ...]:
    shared = _shared_accounts(every)
    matches = []
    for each in every:
        score, reasons = together(_reasons(each, reading, sender, text, shared))
        matches.append(VendorMatch(vendor=each, score=score, reasons=reasons))
    ranked = sorted(matches, key=lambda match: (-match.score, match.vendor.code))
    return tuple(match for match in ranked if any(not e.against for e in match.reasons))[:5]


def _shared_accounts(every: tuple[VendorRecord, ...]) -> frozenset[str]:
    """Accounts of several vendors that are not one company: a factor's, which says nothing."""
    owners: dict[str, set[str]] = {}
    for each in every:
        whose = registration(each.tax_id) or each.code
        for account in each.accounts:
            owners.setdefault(account.number, set()).add(whose)
    return frozenset(number for number, whose in owners.items() if len(whose) > 1)


def _reasons(
    vendor: VendorRecord,
    reading: Reading,
    sender: SenderFact | None,
    text: str,
    shared: frozenset[str],
) -> Iterable[Evidence]:
    stated = reading.text("seller.tax_id") or ""
    if owns(vendor, stated):
        yield Evidence(what="tax id", said=tax_key(stated), strength=STRENGTH["tax id"])
    elif tax_key(stated) and vendor.registered:
        yield Evidence(
            what="tax id", said=tax_key(stated), ours=tax_key(vendor.registered[0]), against=True
        )
    account = account_key(reading.text("account") or "")
    if account and vendor.account(account):
        if account in shared:
            note = "of several vendors, so it singles out none"
            yield Evidence(what="account", said=account, note=note)
        else:
            yield Evidence(what="account", said=account, strength=STRENGTH["account"])
    yield from _of_name(vendor, reading.text("seller.name") or "")
    yield from _of_sender(vendor, sender)
    stated_at = fold(reading.text("seller.address") or "") or text
    for address in vendor.addresses:
        if stands_in(address, stated_at):
            yield Evidence(what="address", said=address, strength=STRENGTH["address"])
            break


def stands_in(address: str, folded: str) -> bool:
    """Whether all parts of an address (between commas) stand in a folded text."""
    parts = [" ".join(fold(part).split()) for part in address.split(",") if part.strip()]
    return len("".join(parts)) >= 8 and all(part in folded for part in parts)


def _of_name(vendor: VendorRecord, name: str) -> Iterable[Evidence]:
    similar = _similar(name, vendor)
    if similar > SHOWN:
        closest = max(vendor.called, key=lambda each: names_alike(name, each))
        ours = "" if closest == name else closest
        yield Evidence(what="name", said=name, ours=ours, strength=_by_name_alone(similar))
    elif name:
        yield Evidence(what="name", said=name, ours=vendor.name, against=True)


def _by_name_alone(similar: float) -> float:
    """What a name says by itself: as much as it is alike where it is all but the same, little
    where it is another one; never as much as a tax id."""
    if similar >= NAME_THRESHOLD:
        return min(similar, 0.96)
    if similar >= ALIKE:
        return 0.35 + (similar - ALIKE) / (NAME_THRESHOLD - ALIKE) * 0.45
    return similar * 0.4


def _of_sender(vendor: VendorRecord, sender: SenderFact | None) -> Iterable[Evidence]:
    if sender is None or not sender.domain:
        return
    address, domain = sender.address.lower(), sender.domain
    known = address in {each.lower() for each in vendor.senders}
    own = domain in {each.lower() for each in vendor.domains} and domain not in PUBLIC_DOMAINS
    if not known and not own:
        return
    what = "sender" if known else "domain"
    said = address if known else domain
    if not sender.proves:
        note = "in a forwarded mail, so it proves nothing" if sender.forwarded else "not proven"
        yield Evidence(what=what, said=said, note=note)
    else:
        yield Evidence(what=what, said=said, strength=STRENGTH[what])


def _without_owner(near: tuple[VendorMatch, ...], stated: str, name: str) -> VendorChoice:
    """Nobody has the tax id, or none is stated: all other evidence together."""
    if not near or near[0].score < NAME_THRESHOLD:
        return VendorChoice(near=near)
    if len(near) > 1 and near[0].score - near[1].score < CLOSE and not _named_exactly(near, name):
        return VendorChoice(near=near)
    vendor = near[0].vendor
    account = next((e for e in near[0].reasons if e.what == "account" and e.strength), None)
    if account is not None and name and called_like(name, vendor) < ALIKE:
        said = (
            f"The account {account.said} is that of {vendor.name} ({vendor.code}); "
            f"the bill names {name!r} as its seller."
        )
        return VendorChoice(near=near, contradiction=said)
    if tax_key(stated) and vendor.registered:
        said = (
            f"The name {name!r} is that of {vendor.name} ({vendor.code}), whose tax id is "
            f"{vendor.registered[0]}; the bill states {tax_key(stated)}, which is nobody's here."
        )
        return VendorChoice(near=near, contradiction=said)
    return VendorChoice(vendor=vendor, near=near)


def _named_exactly(near: tuple[VendorMatch, ...], name: str) -> bool:
    """Whether the best of several that are close is the only one that is called just so."""
    exact = [match for match in near if _similar(name, match.vendor) == 1.0]
    return len(exact) == 1 and exact[0] is near[0]


def _both_sides(
    stated: str, name: str, owners: list[VendorRecord], others: list[VendorRecord]
) -> str:
    of_id = " or ".join(f"{each.name} ({each.code})" for each in owners)
    of_name = " or ".join(f"{each.name} ({each.code})" for each in others) or "nobody here"
    return (
        f"The name {name!r} is that of {of_name}; the tax id {tax_key(stated)} is that of {of_id}."
    )
