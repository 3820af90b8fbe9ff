"""What a document is: by all of its first page, and by a title that the lexicon has."""

from veridox.core.extract.tagging.tagged import Tagged
from veridox.core.extract.tagging.tags import KINDS, TOTALS
from veridox.core.extract.thresholds import ENOUGH, SPEAKS_OF, TITLE_ABOVE, WHOLE_PAGE
from veridox.core.locales.labels import lexicon, normalise
from veridox.core.reading import Kind

TELLING = frozenset(("number", "issue_date", "due_date", "order_number", *TOTALS))
LONGEST_TITLE = 12
"""Words of a title at most: of a sentence it is none."""


def kind_of(tagged: Tagged) -> tuple[Kind, float, bool]:
    """The kind, its chance, and whether a title names it."""
    name, chance = tagged.kind
    title = _titled(tagged)
    if name == Kind.CREDIT_NOTE and title is None and chance < WHOLE_PAGE and not _credits(tagged):
        # No title that is known, no bill that it speaks of: what nobody says is no credit.
        return Kind.INVOICE, 1 - chance, False
    small = len(tagged.tokens) < ENOUGH
    if title is None and small and not _states(tagged):
        return Kind.OTHER, SPEAKS_OF, False
    if title is None or title == name:
        return Kind(name), chance, title is not None
    if chance >= WHOLE_PAGE and not small:
        return Kind(name), chance, False
    return Kind(title), max(1 - chance, float(tagged.kinds[KINDS.index(title)])), True


def _states(tagged: Tagged) -> bool:
    """Whether any word states or names something of a bill's header."""
    return any(best.removeprefix("label.") in TELLING for best in tagged.best)


def _credits(tagged: Tagged) -> bool:
    """Whether the number of an earlier bill is named."""
    return any(float(chance) > SPEAKS_OF for chance in tagged.of("preceding_number"))


def _titled(tagged: Tagged) -> str | None:
    """The kind of the tallest cell, in the upper part, that is a title and nothing else."""
    if not tagged.tokens:
        return None
    first = tagged.document.pages[0]
    best: tuple[float, str] | None = None
    for cell in tagged.cells:
        tokens = [tagged.tokens[at] for at in cell]
        if tokens[0].page != first.number or tokens[0].box.top > TITLE_ABOVE * first.height:
            break
        if len(tokens) > LONGEST_TITLE:
            continue
        words = normalise(" ".join(token.text for token in tokens))
        label = lexicon("kinds").match(words, 0, tagged.document.languages) if words else None
        height = max(token.box.height for token in tokens)
        if label is not None and len(label.words) == len(words) and (not best or height > best[0]):
            best = height, label.field
    return best[1] if best else None
