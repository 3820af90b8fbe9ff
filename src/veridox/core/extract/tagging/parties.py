"""Who sells and who buys, with their tax ids, decided together."""

import re
from collections.abc import Sequence
from dataclasses import replace
from itertools import product

from rapidfuzz import fuzz

from veridox.core.extract.checksums import tax_id_holds
from veridox.core.extract.hints import Hints
from veridox.core.extract.odds import chance_of, log_odds
from veridox.core.extract.parties import is_ours
from veridox.core.extract.tagging.choices import Choice, as_field, merged, share_of
from veridox.core.extract.tagging.hosts import called_like, hosts_of
from veridox.core.extract.tagging.names import names
from veridox.core.extract.tagging.tagged import Span, Tagged, box_gap
from veridox.core.extract.thresholds import (
    ADDRESSED,
    BUYS,
    GROW,
    LEAST_PARTY,
    NAMES_TRIED,
    ONE_NAME,
    OURS,
    START,
    SWAPPED,
    VALUE,
)
from veridox.core.locales.labels import fold
from veridox.core.reading import Field, Value


def compact(text: str) -> str:
    """A tax id without what groups it and what follows it."""
    bare = re.sub(r"[\s.\-/]", "", text).upper().strip(",;:()")
    return re.sub(r"(MWST|TVA|IVA|MVA|VAT)$", "", bare)


def _checked(tagged: Tagged, span: Span) -> Span:
    """A tax id with one or two words more on one side, where only then its check digits hold."""
    if tax_id_holds(compact(span.text)):
        return span
    tokens = tagged.tokens
    for step, own in ((1, span.at[-1]), (-1, span.at[0])):
        longer = span
        for at in (own + step, own + 2 * step):
            if not 0 <= at < len(tokens) or tokens[at].row != tokens[own].row:
                break
            if box_gap(tokens[at].box, tokens[at - step].box) > 1.2 * tagged.letter:
                break
            every = sorted((*longer.at, at))
            longer = Span(tuple(every), tuple(tokens[each] for each in every), span.chance)
            if tax_id_holds(compact(longer.text)):
                return longer
    return span


def tax_ids(tagged: Tagged, name: str) -> list[Choice]:
    """Tax ids, compact."""
    found: list[tuple[Value, Span]] = []
    for cut in tagged.spans(name, START, GROW, gap=1.2):
        span = _checked(tagged, cut)
        value = compact(span.text)
        if 7 <= len(value) <= 16 and sum(map(str.isdigit, value)) >= 6:
            found.append((value, span))
    return merged(found, lambda value: re.sub(r"^[A-Z]{2}(?=\d)", "", str(value)))


def parties(tagged: Tagged, hints: Hints) -> dict[str, Field]:
    """Seller and buyer with their tax ids, as the set that is likeliest together."""
    sellers, buyers, known = _likely_parties(tagged, hints)
    seller, buyer = _together(sellers, buyers)
    fields: dict[str, Field] = {}
    for name, choice, other, every in (
        ("seller.name", seller, buyer, sellers),
        ("buyer.name", buyer, seller, buyers),
    ):
        if choice is None or choice.chance < VALUE:
            continue
        # Who is the other party is no rival, nor the same name with a word more or less.
        rivals = [
            each
            for each in every
            if not (other is not None and _are_one(each, other)) and not _same_name(each, choice)
        ]
        share = share_of(choice, rivals)
        sure = known and name == "buyer.name"
        fields[name] = as_field(choice, every, choice.chance if sure else share)
    return fields | _their_tax_ids(tagged, hints)


def _likely_parties(tagged: Tagged, hints: Hints) -> tuple[list[Choice], list[Choice], bool]:
    """Who may sell, who may buy, and whether the buyer is one of our entities."""
    hosts = hosts_of(tagged.tokens)
    named = _by_hosts(names(tagged, "seller.name"), hosts, ADDRESSED)
    buyers = _by_hosts(names(tagged, "buyer.name"), hosts, -ADDRESSED)
    sellers = [each for each in named if not is_ours(str(each.value), hints)]
    ours = [replace(each, chance=max(each.chance, OURS)) for each in _ours(tagged, hints)]
    if ours and not any(each.chance >= VALUE for each in sellers):
        # Words took us for the seller: then whom they took for the buyer sells.
        swapped = [each for each in buyers if not is_ours(str(each.value), hints)]
        sellers = [replace(each, chance=SWAPPED * each.chance) for each in swapped]
    return sellers, ours or [each for each in buyers if each.chance >= BUYS], bool(ours)


def _by_hosts(choices: Sequence[Choice], hosts: frozenset[str], worth: float) -> list[Choice]:
    """The same, those that the page's addresses are called like surer, or less sure, to be one."""
    if not hosts:
        return list(choices)
    found = [
        replace(each, chance=chance_of(log_odds(each.chance, LEAST_PARTY) + worth))
        if called_like(str(each.value), hosts)
        else each
        for each in choices
    ]
    return sorted(found, key=lambda each: -each.chance)


def _together(
    sellers: Sequence[Choice], buyers: Sequence[Choice]
) -> tuple[Choice | None, Choice | None]:
    """The likeliest seller and buyer that are two, each perhaps none."""
    best: tuple[float, tuple[Choice | None, Choice | None]] = (-1e9, (None, None))
    for seller, buyer in product([*sellers[:NAMES_TRIED], None], [*buyers[:NAMES_TRIED], None]):
        if seller is not None and buyer is not None and _are_one(seller, buyer):
            continue
        score = sum(
            log_odds(each.chance, LEAST_PARTY) + 0.5 for each in (seller, buyer) if each is not None
        )
        if score > best[0]:
            best = (score, (seller, buyer))
    return best[1]


def _are_one(one: Choice, other: Choice) -> bool:
    """Whether two parties stand at one place or are called alike."""
    if set(one.span.at) & set(other.span.at):
        return True
    return fuzz.ratio(fold(str(one.value)), fold(str(other.value))) > ONE_NAME


def _same_name(one: Choice, other: Choice) -> bool:
    """Whether one of two names is the other with more before or behind it."""
    short, long = sorted((fold(str(one.value)), fold(str(other.value))), key=len)
    return f" {short} " in f" {long} "


def _ours(tagged: Tagged, hints: Hints) -> list[Choice]:
    """Where one of our entities stands, whatever the network makes of it."""
    if not hints.buyers:
        return []
    found: list[tuple[Value, Span]] = []
    tokens = tagged.tokens
    for known in hints.buyers:
        count, alone = len(known.name.split()), Hints(buyers=(known,))
        for at in range(len(tokens) - count + 1):
            own = range(at, at + count)
            if (
                tokens[at].page != tokens[at + count - 1].page
                or tokens[at + count - 1].row > tokens[at].row + 1
            ):
                continue
            text = " ".join(tokens[each].text for each in own).strip(" ,;:.")
            if is_ours(text, alone):
                found.append((text, Span(tuple(own), tuple(tokens[each] for each in own), OURS)))
    return merged(found, lambda value: fold(str(value)))[:1]


def _their_tax_ids(tagged: Tagged, hints: Hints) -> dict[str, Field]:
    """Tax ids of both; where ours is known, every other one is the seller's."""
    ours = {_without_country(compact(each.tax_id)) for each in hints.buyers if each.tax_id}
    sellers, buyers = tax_ids(tagged, "seller.tax_id"), tax_ids(tagged, "buyer.tax_id")
    own = [each for each in (*sellers, *buyers) if _without_country(str(each.value)) in ours]
    if own:
        both = {str(each.value): each for each in (*buyers, *sellers) if each not in own}
        sellers = sorted(both.values(), key=lambda each: -each.chance)
        best = max(own, key=lambda each: each.chance)
        buyers = [replace(best, chance=max(best.chance, OURS))]
    fields: dict[str, Field] = {}
    for name, every in (("seller.tax_id", sellers), ("buyer.tax_id", buyers)):
        chosen = _tax_id_of(every, fields.get("seller.tax_id"))
        if chosen is not None:
            fields[name] = chosen
    return fields


def _tax_id_of(every: Sequence[Choice], taken: Field | None) -> Field | None:
    """The likeliest tax id that is not the other party's."""
    # Beside one whose check digits hold, others are numbers of another office.
    choices = [each for each in every if tax_id_holds(str(each.value))] or list(every)
    free = [each for each in choices if not _same_digits(taken, each)]
    if not free or free[0].chance < VALUE:
        return None
    return as_field(free[0], choices, share_of(free[0], choices))


def _same_digits(field: Field | None, choice: Choice) -> bool:
    """Whether a tax id is the one of a field, with its country or without."""
    return field is not None and str(field.value)[-7:] == str(choice.value)[-7:]


def _without_country(tax_id: str) -> str:
    return re.sub(r"^[A-Z]{2}(?=\d)", "", tax_id)
