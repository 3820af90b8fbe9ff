"""From tagged words to header fields: numbers of documents, days, accounts; parties beside them."""

import re
from dataclasses import replace

import numpy as np

from veridox.core.extract.hints import Hints
from veridox.core.extract.tagging.accounts import accounts
from veridox.core.extract.tagging.choices import Choice, as_field, merged, share_of
from veridox.core.extract.tagging.names import without_label
from veridox.core.extract.tagging.orders import side_by_side
from veridox.core.extract.tagging.parties import parties
from veridox.core.extract.tagging.tagged import AT, Span, Tagged, box_gap
from veridox.core.extract.tagging.tokens import Token
from veridox.core.extract.thresholds import CALLED, GROW, SERIES, START, VALUE
from veridox.core.reading import Field, Value

LONGEST_SERIES = 4
"""Letters of a series of numbers at most: `FT`, `INV`, `FACT`."""
IDS = ("number", "order_number", "delivery_note", "preceding_number")
DAYS = ("issue_date", "due_date", "delivery_date")


# -- values of each sort


def ids(tagged: Tagged, name: str) -> list[Choice]:
    """Numbers of documents, as printed."""
    if name == "number" and "label.preceding_number" not in tagged.best:
        tagged = _with_unnamed(tagged)
    found: list[tuple[Value, Span]] = []
    for cut in tagged.spans(name, START, GROW, gap=1.2):
        span = _with_series(tagged, _without_word(without_label(cut)), name)
        text = span.text.strip("()[]#. ").removeprefix("#").strip()
        half = text.endswith(("-", "/"))  # broken at the end of its column
        if any(map(str.isdigit, text)) and len(text) <= 40 and not half:
            found.append((text, span))
    if name == "order_number":
        found = _several(tagged, found)
    if name == "number":
        found += [(token.text, span) for token, span in _like_days(tagged)]
    return merged(found, lambda value: re.sub(r"\s", "", str(value)).casefold())


def _several(tagged: Tagged, found: list[tuple[Value, Span]]) -> list[tuple[Value, Span]]:
    """The same with numbers side by side as one value; one of those alone is no rival of it,
    wherever else it stands."""
    joined = [side_by_side(tagged, span) for _, span in found]
    several = [text.split(", ") for text, _ in joined if ", " in text]
    alone = {part.casefold() for parts in several for part in parts}
    return [
        (text if span.at != own.at else value, span)
        for (value, own), (text, span) in zip(found, joined, strict=True)
        if str(value).casefold() not in alone or ", " in text
    ]


def _with_unnamed(tagged: Tagged) -> Tagged:
    """The same where what looks like an earlier bill's number, and nothing calls so, is a rival of
    a number that is stated; it never becomes the number of a document without one."""
    chances = tagged.chances.copy()
    own, earlier = chances[:, AT["number"]], chances[:, AT["preceding_number"]]
    if not np.any(own >= START):
        return tagged
    chances[:, AT["number"]] = np.minimum(own + earlier, 1.0)
    return replace(tagged, chances=chances)


def _without_word(span: Span) -> Span:
    """A number without the word before it: longer than a series, or no capitals, it is a label."""
    first, *others = span.tokens
    word = first.text.isalpha() and (len(first.text) > LONGEST_SERIES or not first.text.isupper())
    if word and others and any(map(str.isdigit, others[0].text)):
        return Span(span.at[1:], span.tokens[1:], span.chance)
    return span


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
    fields |= parties(tagged, hints)
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
        fields[name] = as_field(each, likely[name], share_of(each, likely[name]))
    return fields
