"""Names of parties as they stand on a page: where one begins, goes on, and ends."""

import re
from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from veridox.core.extract.parties import LEGAL_FORM
from veridox.core.extract.tagging.choices import Choice, merged
from veridox.core.extract.tagging.tagged import Span, Tagged, box_gap
from veridox.core.extract.thresholds import (
    AMONG,
    BRANDED,
    CONTINUED,
    EITHER,
    EVERY_WORD,
    GOES_ON,
    LEFT_OVER,
    LONGER,
    START,
)
from veridox.core.locales.labels import fold
from veridox.core.reading import Value

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


def without_label(span: Span) -> Span:
    """A name or number without the label before it, whose colon tells them apart, or, before a
    number, the point of an abbreviation: `Inv. 20418`."""
    first, *others = span.tokens
    number = any(sign.isdigit() for other in others for sign in other.text)
    short = number and first.text.endswith(".") and first.text[:-1].isalpha()
    if others and (first.text.endswith(":") or short):
        return Span(span.at[1:], span.tokens[1:], span.chance)
    return span


def _rows_of_names(tagged: Tagged, name: str) -> list[Span]:
    """Rows that may be a party's name, each with all of it that stands in the row."""
    spans = [without_label(span) for span in tagged.spans(name, START, 0.22, gap=1.5)]
    spans = [_without_form_before(tagged, span) for span in spans]
    spans = [span for span in spans if not _greets(span) and not _in_a_sentence(tagged, span)]
    spans = [span for span in spans if not span.text.endswith("?")]  # a question is nobody
    return [_joined_before(tagged, _in_its_cell(tagged, span, name)) for span in spans]


def names(tagged: Tagged, name: str) -> list[Choice]:
    """Names of a party, with a row below where a long one goes on."""
    spans = _rows_of_names(tagged, name)
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
        text = whole.text.strip("·|-–,©®™•*! ")
        if len(text) >= 2 and any(map(str.isalpha, text)) and not _is_form(text):
            found.append((text, whole))
    every = merged(found, lambda value: re.sub(r"[., ]", "", fold(str(value))))
    return _with_brands(every, tagged.of(name))


def _in_a_sentence(tagged: Tagged, span: Span) -> bool:
    """Whether a span is a few small words among others: `we bill for your water test as agreed`."""
    if not span.text.islower():
        return False
    cell = tagged.cells[tagged.cell_of[span.at[0]]]
    around = [at for at in (span.at[0] - 1, span.at[-1] + 1) if at in cell]
    words = [tagged.tokens[at].text.strip(".,") for at in around]
    return len(cell) >= len(span.at) + AMONG and any(w.isalpha() and w.islower() for w in words)


def _is_form(text: str) -> bool:
    """Whether a text is a legal form, and so the end of a name and none."""
    bare = fold(text).strip(" ,;")
    return any(LEGAL_FORM.fullmatch(each) is not None for each in (bare, bare.strip(".")))


def _without_form_before(tagged: Tagged, span: Span) -> Span:
    """A name without the legal form before it that ends the name in the column to the left."""
    before = span.at[0] - 1
    if len(span.at) < 2 or before < 0 or not _is_form(span.tokens[0].text):
        return span
    first, last = tagged.tokens[span.at[0]], tagged.tokens[before]
    if last.row != first.row or box_gap(first.box, last.box) > 0.8 * tagged.letter:
        return span
    return Span(span.at[1:], span.tokens[1:], span.chance)


def _in_its_cell(tagged: Tagged, span: Span, name: str) -> Span:
    """A name with what is left of its cell on both sides: a row of a letterhead is a name or an
    address, seldom both without a mark or a number between them."""
    cell = tagged.cells[tagged.cell_of[span.at[0]]]
    if span.at[-1] not in cell:
        return span
    behind = cell[cell.index(span.at[-1]) + 1 :]
    ahead = cell[: cell.index(span.at[0])]
    texts = [tagged.tokens[at].text for at in cell]
    own = list(span.at)
    # All of a side, or nothing of it: a mark or a number in it says that something else is there.
    if not any(map(_ends, texts[len(ahead) + len(own) - 1 : -1])):
        own += behind if all(_may_belong(tagged, at, name) for at in behind) else []
    if not any(map(_ends, texts[: len(ahead)])):
        own = [*ahead, *own] if all(_may_belong(tagged, at, name) for at in ahead) else own
    return Span(tuple(own), tuple(tagged.tokens[at] for at in own), span.chance)


def _ends(text: str) -> bool:
    """Whether what follows a word is something else, by the word's own marks."""
    return text.endswith((",", ";", ":", ")")) or not any(map(str.isalpha, text))


def _may_belong(tagged: Tagged, at: int, name: str) -> bool:
    """Whether a word beside a name in its cell may be more of it, being nothing that is told."""
    if any(map(str.isdigit, tagged.tokens[at].text)):
        return False
    other = ("other.party", name.replace(".name", ".address"))
    chance = float(tagged.of(name)[at])
    either = chance + sum(float(tagged.of(each)[at]) for each in other)
    return chance >= LEFT_OVER and either >= EITHER


def _with_brands(choices: Sequence[Choice], chances: NDArray[np.float32]) -> list[Choice]:
    """The same without brands: what a name with its legal form begins with is no other name, nor
    what one begins with of which every word is surely part."""
    found = {str(each.value): each for each in choices}
    for name, whole in list(found.items()):
        if name not in found or whole.chance < BRANDED:
            continue
        sure = min(float(chances[at]) for at in whole.span.at) >= EVERY_WORD
        if not sure and not LEGAL_FORM.search(fold(name)):
            continue
        for brand in [each for each in found if fold(name).startswith(fold(each) + " ")]:
            doubt = (1 - found.pop(brand).chance) * (1 - found[name].chance)
            found[name] = replace(whole, chance=1 - doubt)
    return sorted(found.values(), key=lambda each: -each.chance)


def _goes_on_in(tagged: Tagged, name: Span, below: Span) -> bool:
    """Whether a name goes on in a row below: close, under it, as large, and as surely one."""
    box, other = name.box, below.box
    close = below.page == name.page and 0 < other.top - box.top < 1.9 * max(box.height, 1)
    flush = (
        abs(other.left - box.left) < tagged.letter
        or abs(other.middle[0] - box.middle[0]) < tagged.letter
        or abs(other.right - box.right) < tagged.letter
    )
    alike = abs(other.height - box.height) < 0.2 * box.height
    one, two = fold(name.text), fold(below.text)
    again = one in two or two in one
    sure = min(name.chance, below.chance)
    # The first row may be larger than the next where nothing speaks against it.
    likely = _is_form(below.text) or sure > (GOES_ON if alike else CONTINUED)
    return close and flush and not again and likely and _fills_its_cell(tagged, below)


def _fills_its_cell(tagged: Tagged, span: Span) -> bool:
    """Whether nothing stands beside a span but more of the same."""
    cell = tagged.cells[tagged.cell_of[span.at[0]]]
    return cell[0] >= span.at[0] and cell[-1] <= span.at[-1]


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
        ahead = whole[: first - start]
        # What stands before is no part of it where it is the end of the name itself.
        if not all(map(str.isalnum, ahead)) or set(ahead) <= set(words[first : last + 1]):
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


SIGNS_THAT_JOIN = frozenset("&+")
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


def _joined_before(tagged: Tagged, span: Span) -> Span:
    """A name with the word before the `&` that it would begin behind; a cell is not left."""
    cell = tagged.cells[tagged.cell_of[span.at[0]]]
    before = [at for at in cell if at < span.at[0]][-2:]
    if len(before) < 2 or tagged.tokens[before[1]].text not in SIGNS_THAT_JOIN:
        return span
    first = tagged.tokens[before[0]].text
    if not first[:1].isalpha() or _ends(first):
        return span
    own = tuple(before)
    return Span(own + span.at, tuple(tagged.tokens[at] for at in own) + span.tokens, span.chance)


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
