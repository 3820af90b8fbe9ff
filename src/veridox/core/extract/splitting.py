"""Several documents in one file: which pages belong together, and which are left aside.

A page says most of it itself: its count ("page 2 of 3"), its title, its number. A page that
says nothing goes on with the one before.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from veridox.core.extract import values
from veridox.core.extract.sheet import Sheet, prepare
from veridox.core.extract.spans import spans_of
from veridox.core.extract.thresholds import BEGINS, TALLER, TITLE_IN, UNLIKE
from veridox.core.locales.labels import lexicon, normalise
from veridox.core.pages import Page
from veridox.core.pages.features import PageFeatures, features_of
from veridox.core.reading import Kind


@dataclass(frozen=True, kw_only=True, slots=True)
class Told:
    """What a page says of the document it belongs to.

    Attributes:
        numbers: what labels name the document's number.
        kind: by its title; None without one.
        totals: whether it states what is to be paid.
    """

    numbers: frozenset[str]
    kind: Kind | None
    totals: bool


def parts_of(pages: Sequence[Page]) -> tuple[tuple[Page, ...], ...]:
    """The pages of each document in the file's order; blank pages and small print in none.

    Where nothing but such pages is there, they are one document all the same.
    """
    if len(pages) == 1:
        return (tuple(pages),)
    kept = [
        (page, features)
        for page, features in zip(pages, features_of(pages), strict=True)
        if not features.blank and not features.terms
    ]
    if len(kept) < 2:
        return (tuple(page for page, _ in kept) or tuple(pages),)
    parts: list[list[Page]] = []
    told: Told | None = None
    for page, features in kept:
        here = _told(page)
        if told is None or _begins(features, here, told):
            parts.append([page])
            told = here
        else:
            parts[-1].append(page)
            told = Told(
                numbers=told.numbers or here.numbers,
                kind=told.kind or here.kind,
                totals=told.totals or here.totals,
            )
    return tuple(tuple(part) for part in parts)


def _told(page: Page) -> Told:
    sheet = prepare((page,))
    numbers = {
        str(found.value).casefold()
        for hit in sheet.hits_of("number")
        for span in list(spans_of(hit, sheet))[:1]
        for found in list(values.identifiers(span))[:1]
    }
    return Told(numbers=frozenset(numbers), kind=_titled(sheet), totals=_totals(sheet))


def _titled(sheet: Sheet) -> Kind | None:
    """The kind that a title names: the tallest words of one, taller than what stands around."""
    heights = sorted(word.box.height for row in sheet.rows for word in row.words)
    least = TALLER * heights[len(heights) // 2] if heights else 0.0
    best: tuple[float, str] | None = None
    for row, segments in zip(sheet.rows, sheet.segments, strict=True):
        if row.box.top > TITLE_IN * sheet.pages[0].height:
            break
        for segment in segments:
            tokens = normalise(segment.text)
            label = lexicon("kinds").match(tokens, 0, sheet.languages) if tokens else None
            height = max(word.box.height for word in segment.words)
            if label is not None and height >= least and (best is None or height > best[0]):
                best = height, label.field
    return Kind(best[1]) if best else None


def _totals(sheet: Sheet) -> bool:
    return any(hit.label.field in ("gross_total", "amount_due") for hit in sheet.hits)


def _begins(features: PageFeatures, here: Told, before: Told) -> bool:
    """Whether a page is the first of another document."""
    if features.counted is not None:
        # "Page 1" in the middle of a table whose totals are still to come counts something else.
        alone = not here.numbers and here.kind is None and not before.totals
        return features.counted[0] == 1 and not alone
    if here.numbers & before.numbers:
        return False
    if here.numbers and before.numbers:
        # A supplier's next bill looks like the last; its title and its number do not lie.
        return here.kind is not None or features.like_before < UNLIKE
    if here.kind is None:
        return False
    if before.kind not in (None, here.kind):
        return True
    if before.totals and features.titled:
        return here.totals or features.begins >= BEGINS
    return features.begins >= BEGINS
