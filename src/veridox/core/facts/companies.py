"""Our own companies, and which of them is billed."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, timedelta

from rapidfuzz import fuzz

from veridox.core.matching import Evidence, OrderRecord, name_key, same_tax_id, tax_key, together
from veridox.core.reading import Reading

ALIKE = 90
"""Similarity of names from which one of ours is meant, of 100."""
STRENGTH = {"tax id": 0.97, "name": 0.95, "order": 0.8, "recipient": 0.7, "only one": 0.5}
"""How much each kind of evidence says by itself, as a chance."""


@dataclass(frozen=True, kw_only=True, slots=True)
class ClosedPeriod:
    """Days on which nothing may be booked any more, both among them."""

    first: date
    last: date


@dataclass(frozen=True, kw_only=True, slots=True)
class EntityRecord:
    """One of our own companies.

    Attributes:
        code: in its ledger.
        name, names: as it is called, and what else bills call it.
        tax_id, tax_ids: its tax id, and others of it.
        country: ISO 3166 code, empty when not known.
        currency: of its books (ISO 4217), empty when not known.
        recipients: mail addresses that its bills are sent to.
        closed: periods of its books that are closed.
    """

    code: str
    name: str
    tax_id: str = ""
    names: tuple[str, ...] = ()
    tax_ids: tuple[str, ...] = ()
    country: str = ""
    currency: str = ""
    recipients: tuple[str, ...] = ()
    closed: tuple[ClosedPeriod, ...] = ()

    @property
    def called(self) -> tuple[str, ...]:
        """All names, the first one first."""
        return (self.name, *self.names)

    def owns(self, tax_id: str) -> bool:
        """Whether a tax id is one of its own."""
        return any(same_tax_id(tax_id, each) for each in (self.tax_id, *self.tax_ids))

    def first_open(self, day: date) -> date:
        """The day itself, or the first one after it that lies in no closed period."""
        for _ in self.closed:
            for period in self.closed:
                if period.first <= day <= period.last:
                    day = period.last + timedelta(days=1)
        return day


@dataclass(frozen=True, kw_only=True, slots=True)
class EntityMatch:
    """One of ours that may be billed, with what speaks for it and against it."""

    entity: EntityRecord
    score: float
    reasons: tuple[Evidence, ...] = ()


@dataclass(frozen=True, kw_only=True, slots=True)
class EntityChoice:
    """What the bill says of its buyer, weighed.

    Attributes:
        entity: ours that is billed, None when none fits or the bill contradicts itself.
        contradiction: both sides of what does not go together, as a sentence; else empty.
        other: ours that is billed, where the pipeline does not work for it.
        near: candidates with evidence, best first.
    """

    entity: EntityRecord | None = None
    contradiction: str = ""
    other: EntityRecord | None = None
    near: tuple[EntityMatch, ...] = ()


def choose_entity(
    reading: Reading,
    entities: Iterable[EntityRecord],
    order: OrderRecord | None,
    *,
    others: Iterable[EntityRecord] = (),
    recipients: Iterable[str] = (),
) -> EntityChoice:
    """Our entity that is billed: by name and tax id together; where the bill names nobody, by the
    order, else by the address that the mail went to, else the only one.

    A tax id that stands as the seller's, too, says nothing of the buyer.

    Args:
        reading: of the bill.
        entities: that the pipeline works for.
        order: that the bill names.
        others: ours that the pipeline does not work for.
        recipients: addresses that the mail went to.
    """
    every, beside = tuple(entities), tuple(others)
    stated, name = reading.text("buyer.tax_id") or "", reading.text("buyer.name") or ""
    if same_tax_id(stated, reading.text("seller.tax_id") or ""):
        stated = ""
    near = _near(every, stated, name, order, {each.lower() for each in recipients})
    owner = next((each for each in (*every, *beside) if each.owns(stated)), None)
    named = _named(name, (*every, *beside))
    if named is None and name and owner is None:
        return EntityChoice(near=near)  # somebody is named, and it is none of us
    contradiction = _contradiction(name, stated, named, owner)
    if contradiction:
        return EntityChoice(contradiction=contradiction, near=near)
    found = named or owner
    if found is not None:
        if found not in every:
            return EntityChoice(other=found, near=near)
        return EntityChoice(entity=found, near=near)
    if order is not None and order.entity:
        whose = next((e for e in every if e.code == order.entity), None)
        return EntityChoice(entity=whose, near=near)
    addressed = [m.entity for m in near if any(e.what == "recipient" for e in m.reasons)]
    if len(addressed) == 1:
        return EntityChoice(entity=addressed[0], near=near)
    return EntityChoice(entity=every[0] if len(every) == 1 else None, near=near)


def _contradiction(
    name: str, stated: str, named: EntityRecord | None, owner: EntityRecord | None
) -> str:
    if name and owner is not None and named is not owner:
        whose = f"{named.name} ({named.code})" if named else "none of ours"
        return (
            f"The buyer's name {name!r} is {whose}; the tax id {tax_key(stated)} is that of "
            f"{owner.name} ({owner.code})."
        )
    if named is not None and owner is None and tax_key(stated) and tax_key(named.tax_id):
        return (
            f"The buyer's name {name!r} is {named.name} ({named.code}), whose tax id is "
            f"{named.tax_id}; the bill states {tax_key(stated)} as the buyer's."
        )
    return ""


def _alike(name: str, entity: EntityRecord) -> float:
    key = name_key(name)
    return max(fuzz.ratio(key, name_key(each)) for each in entity.called) if key else 0.0


def _named(name: str, every: tuple[EntityRecord, ...]) -> EntityRecord | None:
    fitting = [each for each in every if _alike(name, each) >= ALIKE]
    return fitting[0] if len(fitting) == 1 else None


def _near(
    every: tuple[EntityRecord, ...],
    stated: str,
    name: str,
    order: OrderRecord | None,
    recipients: set[str],
) -> tuple[EntityMatch, ...]:
    found = []
    for each in every:
        score, reasons = together(_reasons(each, stated, name, order, recipients))
        found.append(EntityMatch(entity=each, score=score, reasons=reasons))
    return tuple(sorted(found, key=lambda match: (-match.score, match.entity.code)))


def _reasons(
    entity: EntityRecord,
    stated: str,
    name: str,
    order: OrderRecord | None,
    recipients: set[str],
) -> Iterable[Evidence]:
    if tax_key(stated) and entity.tax_id:
        own = entity.owns(stated)
        yield Evidence(
            what="tax id", said=tax_key(stated), ours="" if own else tax_key(entity.tax_id),
            strength=STRENGTH["tax id"] if own else 0.0, against=not own,
        )  # fmt: skip
    if name:
        alike = _alike(name, entity)
        strength = STRENGTH["name"] if alike >= ALIKE else 0.0
        ours = "" if entity.name == name else entity.name
        yield Evidence(what="name", said=name, ours=ours, strength=strength, against=alike < ALIKE)
    if order is not None and order.entity:
        own = order.entity == entity.code
        yield Evidence(
            what="order", said=order.number, ours="" if own else entity.code,
            strength=STRENGTH["order"] if own else 0.0, against=not own,
        )  # fmt: skip
    for address in sorted(recipients & {each.lower() for each in entity.recipients}):
        yield Evidence(what="recipient", said=address, strength=STRENGTH["recipient"])
