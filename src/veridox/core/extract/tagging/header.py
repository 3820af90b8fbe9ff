"""From tagged words to header fields: numbers, days, accounts, tax ids, parties jointly."""

import math
import re
from collections.abc import Sequence
from dataclasses import replace
from itertools import product

from rapidfuzz import fuzz

from veridox.core.extract.checksums import tax_id_holds
from veridox.core.extract.hints import Hints
from veridox.core.extract.parties import LEGAL_FORM, is_ours
from veridox.core.extract.tagging.accounts import accounts
from veridox.core.extract.tagging.choices import Choice, as_field, merged
from veridox.core.extract.tagging.tagged import Span, Tagged, box_gap
from veridox.core.extract.tagging.tokens import Token
from veridox.core.extract.thresholds import (
    BUYS,
    CALLED,
    GROW,
    LONGER,
    NAMES_TRIED,
    ONE_NAME,
    OURS,
    SERIES,
    START,
    SWAPPED,
    VALUE,
)
from veridox.core.locales.labels import fold
from veridox.core.reading import Field, Value

IDS = ("number", "order_number", "delivery_note", "preceding_number")
DAYS = ("issue_date", "due_date", "delivery_date")


# -- values of each sort


def ids(tagged: Tagged, name: str) -> list[Choice]:
    """Numbers of documents, as printed."""
    found: list[tuple[Value, Span]] = []
    for cut in tagged.spans(name, START, GROW, gap=1.2):
        span = _with_series(tagged, _without_label(cut), name)
        text = span.text.strip("()[]#. ").removeprefix("#").strip()
        half = text.endswith(("-", "/"))  # broken at the end of its column
        if any(map(str.isdigit, text)) and len(text) <= 40 and not half:
            found.append((text, span))
    if name == "number":
        found += [(token.text, span) for token, span in _like_days(tagged)]
    return merged(found, lambda value: re.sub(r"\s", "", str(value)).casefold())


def _like_days(tagged: Tagged) -> list[tuple[Token, Span]]:
    """Numbers of bills that look like a day, as `nr 14/10/2026`: the word right before says so."""
    tokens, chances = tagged.tokens, tagged.of("label.number")
    found = []
    for at, token in enumerate(tokens[1:], start=1):
        before = tokens[at - 1]
        if token.day is None or not token.first or before.row != token.row:
            continue
        alone = at + 1 == len(tokens) or tokens[at + 1].first or tokens[at + 1].day is None
        near = box_gap(token.box, before.box) < 1.2 * tagged.letter
        if alone and near and "/" in token.text and float(chances[at - 1]) >= CALLED:
            found.append((token, Span((at,), (token,), float(chances[at - 1]))))
    return found


def _with_series(tagged: Tagged, span: Span, name: str) -> Span:
    """A number with the series before it, as in `FT 2026/88`."""
    at = span.at[0] - 1
    if at < 0 or tagged.tokens[at].row != span.tokens[0].row:
        return span
    before = tagged.tokens[at]
    close = span.box.left - before.box.right < 0.8 * tagged.letter
    series = re.fullmatch(r"[A-Z]{1,3}", before.text) is not None
    if close and series and float(tagged.of(name)[at]) >= SERIES:
        return Span((at, *span.at), (before, *span.tokens), span.chance)
    return span


def days(tagged: Tagged, name: str) -> list[Choice]:
    """Days, each by the words that make it up."""
    chances, tokens = tagged.of(name), tagged.tokens
    found: list[tuple[Value, Span]] = []
    at = 0
    while at < len(tokens):
        token = tokens[at]
        if token.day is None:
            at += 1
            continue
        end = at + 1
        while (
            end < len(tokens)
            and tokens[end].day == token.day
            and not tokens[end].first
            and tokens[end].row == token.row
        ):
            end += 1
        own = range(at, end)
        chance = sum(float(chances[each]) for each in own) / len(own)
        if chance >= 0.03:
            found.append((token.day, Span(tuple(own), tuple(tokens[each] for each in own), chance)))
        at = end
    return merged(found)


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


GREETINGS = frozenset(
    (
        *("dear", "hello", "hi", "hallo", "moin", "liebe", "lieber", "guten", "sehr", "bonjour"),
        *("cher", "chere", "hola", "estimado", "estimada", "estimados", "gentile", "egregio"),
        *("beste", "geachte", "szanowni", "szanowny", "prezado", "prezados", "hej", "hei"),
        *("kaere", "kjaere", "vazeni", "vazeny", "tisztelt", "stimate", "stimata", "arvoisa"),
    )
)
"""Words, folded, with which a letter turns to its reader: what follows is no party's block."""


def _greets(span: Span) -> bool:
    return fold(span.tokens[0].text).strip(".,;:!") in GREETINGS


def _without_label(span: Span) -> Span:
    """A name or number without the label before it, whose colon tells them apart, or, before a
    number, the point of an abbreviation: `Inv. 20418`."""
    first, *others = span.tokens
    number = any(sign.isdigit() for other in others for sign in other.text)
    short = number and first.text.endswith(".") and first.text[:-1].isalpha()
    if others and (first.text.endswith(":") or short):
        return Span(span.at[1:], span.tokens[1:], span.chance)
    return span


def names(tagged: Tagged, name: str) -> list[Choice]:
    """Names of a party, with a row below where a long one goes on."""
    spans = [_without_label(span) for span in tagged.spans(name, START, 0.22, gap=1.5)]
    spans = [span for span in spans if not _greets(span)]
    found: list[tuple[Value, Span]] = []
    used: set[int] = set()
    for at, span in enumerate(spans):
        if at in used:
            continue
        whole = span
        for later in range(at + 1, min(at + 3, len(spans))):
            if _goes_on_in(tagged, whole, spans[later]):
                below = spans[later]
                chance = min(whole.chance, below.chance)
                whole = Span(whole.at + below.at, whole.tokens + below.tokens, chance)
                used.add(later)
        whole = _up_to_form(_up_to_bracket(_with_form(tagged, _joined_on(tagged, whole))))
        whole = _as_elsewhere(tagged, whole)
        text = whole.text.strip("·|-–, ")
        if len(text) >= 2 and any(map(str.isalpha, text)):
            found.append((text, whole))
    return merged(found, lambda value: re.sub(r"[., ]", "", fold(str(value))))


def _goes_on_in(tagged: Tagged, name: Span, below: Span) -> bool:
    """Whether a name goes on in a row below: close, under it, as large, and as surely one."""
    box, other = name.box, below.box
    close = below.page == name.page and 0 < other.top - box.top < 1.9 * max(box.height, 1)
    flush = (
        abs(other.left - box.left) < tagged.letter
        or abs(other.middle[0] - box.middle[0]) < tagged.letter
    )
    alike = abs(other.height - box.height) < 0.2 * box.height
    return close and flush and alike and min(name.chance, below.chance) > 0.5


def _as_elsewhere(tagged: Tagged, span: Span) -> Span:
    """A name with the words before it that it has where it stands a second time: letterheads are
    repeated above the window of the envelope."""
    tokens, first, last = tagged.tokens, span.at[0], span.at[-1]
    if span.at != tuple(range(first, last + 1)):
        return span
    words = [fold(token.text).strip(".,;:·") for token in tokens]
    for start in range(max(0, first - LONGER), first):
        if any(tokens[at].row != tokens[first].row for at in range(start, first)):
            continue
        whole = words[start : last + 1]
        if not all(word.isalnum() for word in whole[: first - start]):
            continue
        again = any(
            words[at : at + len(whole)] == whole
            for at in range(len(words) - len(whole) + 1)
            if tokens[at].row != tokens[start].row
        )
        if again:
            own = tuple(range(start, last + 1))
            return Span(own, tuple(tokens[at] for at in own), span.chance)
    return span


JOINS = frozenset(("&", "+", "and", "und", "et", "y", "e", "i", "en", "og", "och", "ja", "a"))


def _joined_on(tagged: Tagged, span: Span) -> Span:
    """A name with the word behind the `&` that it would end with."""
    at = span.at[-1] + 1
    if fold(span.tokens[-1].text) not in JOINS or at >= len(tagged.tokens):
        return span
    follows = tagged.tokens[at]
    if follows.row != span.tokens[-1].row or not follows.text[:1].isupper():
        return span
    return Span((*span.at, at), (*span.tokens, follows), span.chance)


def _up_to_bracket(span: Span) -> Span:
    """A name without the bracket behind it that it does not close."""
    for at, token in enumerate(span.tokens):
        opened = at and token.text.startswith("(")
        if opened and not any(")" in each.text for each in span.tokens[at:]):
            return Span(span.at[:at], span.tokens[:at], span.chance)
    return span


def _up_to_form(span: Span) -> Span:
    """A name without what follows the comma behind its legal form."""
    for count in range(1, len(span.tokens)):
        text = " ".join(token.text for token in span.tokens[:count])
        if not text.endswith(","):
            continue
        forms = list(LEGAL_FORM.finditer(fold(text.rstrip(","))))
        if forms and forms[-1].end() == len(text.rstrip(",")):
            return Span(span.at[:count], span.tokens[:count], span.chance)
    return span


def _with_form(tagged: Tagged, span: Span) -> Span:
    """The name with the legal form that stands right behind it."""
    tokens, end = tagged.tokens, span.at[-1] + 1
    for count in range(1, 6):
        if end + count > len(tokens) or tokens[end + count - 1].row != tokens[span.at[-1]].row:
            break
        if (
            tokens[end + count - 1].box.left - tokens[end + count - 2].box.right
            > 0.8 * tagged.letter
        ):
            break
        form = " ".join(token.text for token in tokens[end : end + count]).rstrip(",;:")
        if LEGAL_FORM.fullmatch(fold(form).rstrip(".")) or LEGAL_FORM.fullmatch(fold(form)):
            own = tuple(range(end, end + count))
            return Span(span.at + own, span.tokens + tuple(tokens[at] for at in own), span.chance)
    return span


# -- decided together


def decided(tagged: Tagged, hints: Hints) -> dict[str, Field]:
    """Header fields but totals: each place states one, the buyer is not the seller."""
    fields = numbers_and_days(tagged)
    account = accounts(tagged)
    if account and account[0].chance >= VALUE:
        rivals = sum(each.chance for each in account[1:])
        fields["account"] = as_field(
            account[0], account[1:], account[0].chance * (0.97 if rivals > 0.5 else 1.0)
        )
    fields |= _parties(tagged, hints)
    return fields


def numbers_and_days(tagged: Tagged) -> dict[str, Field]:
    """Numbers of documents and days; each place states one."""
    return _one_by_one(
        {
            **{name: ids(tagged, name) for name in IDS},
            **{name: days(tagged, name) for name in DAYS},
        }
    )


def _one_by_one(likely: dict[str, list[Choice]]) -> dict[str, Field]:
    wishes = sorted(
        ((each.chance, name, each) for name, choices in likely.items() for each in choices),
        key=lambda wish: (-wish[0], wish[1]),
    )
    fields: dict[str, Field] = {}
    taken: set[int] = set()
    for chance, name, each in wishes:
        if name in fields or chance < VALUE or taken & set(each.span.at):
            continue
        taken |= set(each.span.at)
        share = chance / max(1.0, sum(other.chance for other in likely[name]))
        fields[name] = as_field(each, likely[name], share)
    return fields


def _log_odds(chance: float) -> float:
    chance = min(max(chance, 1e-4), 1 - 1e-4)
    return math.log(chance / (1 - chance))


def _parties(tagged: Tagged, hints: Hints) -> dict[str, Field]:
    """Seller and buyer with their tax ids, as the set that is likeliest together."""
    sellers, buyers, known = _likely_parties(tagged, hints)
    seller, buyer = _together(sellers, buyers)
    fields: dict[str, Field] = {}
    for name, choice, every in (("seller.name", seller, sellers), ("buyer.name", buyer, buyers)):
        if choice is None or choice.chance < VALUE:
            continue
        share = choice.chance / max(1.0, sum(each.chance for each in every))
        sure = known and name == "buyer.name"
        fields[name] = as_field(choice, every, choice.chance if sure else share)
    return fields | _their_tax_ids(tagged, hints)


def _likely_parties(tagged: Tagged, hints: Hints) -> tuple[list[Choice], list[Choice], bool]:
    """Who may sell, who may buy, and whether the buyer is one of our entities."""
    named, buyers = names(tagged, "seller.name"), names(tagged, "buyer.name")
    sellers = [each for each in named if not is_ours(str(each.value), hints)]
    ours = [replace(each, chance=max(each.chance, OURS)) for each in _ours(tagged, hints)]
    if ours and not any(each.chance >= VALUE for each in sellers):
        # Words took us for the seller: then whom they took for the buyer sells.
        swapped = [each for each in buyers if not is_ours(str(each.value), hints)]
        sellers = [replace(each, chance=SWAPPED * each.chance) for each in swapped]
    return sellers, ours or [each for each in buyers if each.chance >= BUYS], bool(ours)


def _together(
    sellers: Sequence[Choice], buyers: Sequence[Choice]
) -> tuple[Choice | None, Choice | None]:
    """The likeliest seller and buyer that are two, each perhaps none."""
    best: tuple[float, tuple[Choice | None, Choice | None]] = (-1e9, (None, None))
    for seller, buyer in product([*sellers[:NAMES_TRIED], None], [*buyers[:NAMES_TRIED], None]):
        if seller is not None and buyer is not None and _are_one(seller, buyer):
            continue
        score = sum(_log_odds(each.chance) + 0.5 for each in (seller, buyer) if each is not None)
        if score > best[0]:
            best = (score, (seller, buyer))
    return best[1]


def _are_one(one: Choice, other: Choice) -> bool:
    """Whether two parties stand at one place or are called alike."""
    if set(one.span.at) & set(other.span.at):
        return True
    return fuzz.ratio(fold(str(one.value)), fold(str(other.value))) > ONE_NAME


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
    share = free[0].chance / max(1.0, sum(each.chance for each in choices))
    return as_field(free[0], choices, share)


def _same_digits(field: Field | None, choice: Choice) -> bool:
    """Whether a tax id is the one of a field, with its country or without."""
    return field is not None and str(field.value)[-7:] == str(choice.value)[-7:]


def _without_country(tax_id: str) -> str:
    return re.sub(r"^[A-Z]{2}(?=\d)", "", tax_id)
