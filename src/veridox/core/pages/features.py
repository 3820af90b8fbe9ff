"""What a page is like beside the others of its file: blank, terms, or the first of a document."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from veridox.core.pages.layout import TextRow, rows_of
from veridox.core.pages.page import Page

EDGE = 0.14
"""Share of a page's height at its top and bottom where letterheads and footers stand."""
TITLES = frozenset(
    {
        "invoice", "rechnung", "facture", "factura", "fattura", "factuur", "faktura", "fatura",
        "credit", "gutschrift", "avoir", "receipt", "quittung", "statement", "reminder", "mahnung",
        "order", "bestellung",
    }
)  # fmt: skip
"""Words of which a document's title has one (nine languages)."""
_PAGE = re.compile(
    r"(?:page|seite|pagina|página|strona|sida|blatt|p\.)\s*:?\s*(\d{1,3})"
    r"(?:\s*(?:/|of|von|de|di|van|z|av|sur)\s*(\d{1,3}))?",
    re.IGNORECASE,
)
_TERMS = re.compile(
    r"terms and conditions|conditions of sale|general terms|allgemeine geschäftsbedingungen|"
    r"lieferbedingungen|conditions générales|condiciones generales|condizioni generali|"
    r"algemene voorwaarden|ogólne warunki|condições gerais|allmänna villkor",
    re.IGNORECASE,
)


@dataclass(frozen=True, kw_only=True, slots=True)
class PageFeatures:
    """What a page is like.

    Attributes:
        number: the page's.
        blank: nothing stands on it.
        terms: it is the small print that comes with a document.
        counted: what it says it is: page and number of pages (None when not said).
        titled: a document's title stands in its upper half, in large type.
        like_before: share, in [0, 1], of its letterhead and footer that the page before has too.
        begins: how much speaks for a new document beginning here, in [0, 1].
    """

    number: int
    blank: bool
    terms: bool
    counted: tuple[int, int | None] | None
    titled: bool
    like_before: float
    begins: float


def features_of(pages: Sequence[Page]) -> tuple[PageFeatures, ...]:
    """The features of all pages of a file, in their order."""
    found: list[PageFeatures] = []
    for at, page in enumerate(pages):
        rows = rows_of(page)
        terms = _is_terms(page, rows)
        counted = _counted(page, rows)
        titled = _titled(page, rows)
        like = _likeness(pages[at - 1], page) if at else 0.0
        found.append(
            PageFeatures(
                number=page.number,
                blank=not page.words,
                terms=terms,
                counted=counted,
                titled=titled,
                like_before=like,
                begins=_begins(page, found, counted, titled=titled, terms=terms, like=like),
            )
        )
    return tuple(found)


def _begins(
    page: Page,
    before: Sequence[PageFeatures],
    counted: tuple[int, int | None] | None,
    *,
    titled: bool,
    terms: bool,
    like: float,
) -> float:
    if not before:
        return 1.0
    if not page.words or terms:
        return 0.0
    if counted is not None:
        # What a page says of itself counts for more than what it looks like.
        return 0.95 if counted[0] == 1 else 0.02
    last = before[-1].counted
    if last is not None and last[1] is not None and last[0] < last[1]:
        return 0.05
    return 0.15 + 0.5 * titled + 0.3 * (1 - like) * (not before[-1].blank)


def _is_terms(page: Page, rows: Sequence[TextRow]) -> bool:
    """Dense prose in small type with hardly a figure; or a page that says so in its title."""
    if len(page.words) < 120:
        return False
    figures = sum(any(char.isdigit() for char in word.text) for word in page.words)
    prose = figures / len(page.words) < 0.08
    title = any(_TERMS.search(row.text) for row in rows[:6])
    heights = sorted(word.box.height for word in page.words)
    small = heights[len(heights) // 2] < 9.5
    return prose and (title or (small and len(page.words) > 350))


def _counted(page: Page, rows: Sequence[TextRow]) -> tuple[int, int | None] | None:
    for row in rows:
        at_edge = row.box.bottom < 0.3 * page.height or row.box.top > 0.8 * page.height
        found = _PAGE.search(row.text) if at_edge else None
        if found:
            number, of = int(found[1]), int(found[2]) if found[2] else None
            if number >= 1 and (of is None or number <= of):
                return number, of
    return None


def _titled(page: Page, rows: Sequence[TextRow]) -> bool:
    if not page.words:
        return False
    heights = sorted(word.box.height for word in page.words)
    usual = heights[len(heights) // 2]
    return any(
        word.box.height > 1.25 * usual and word.text.strip(":.").casefold() in TITLES
        for row in rows
        if row.box.top < 0.5 * page.height
        for word in row.words
    )


def _likeness(before: Page, page: Page) -> float:
    one, other = _edge_words(before), _edge_words(page)
    return len(one & other) / max(1, min(len(one), len(other)))


def _edge_words(page: Page) -> frozenset[str]:
    return frozenset(
        word.text
        for word in page.words
        if word.box.bottom < EDGE * page.height or word.box.top > (1 - EDGE) * page.height
    )
