"""What a document is, by its largest title."""

from veridox.core.extract.sheet import Sheet
from veridox.core.locales.labels import Label, lexicon, normalise
from veridox.core.reading import Kind

NUMBERED = frozenset(["n", "nr", "no", "num", "numero", "number", "nummer", "numer", "ref"])
"""Words between a title and the document's number in the same line."""


def _may_follow(tokens: tuple[str, ...], label: Label) -> int:
    """How many words a title may have behind it: more when it goes on with its number."""
    after = tokens[len(label.words) : len(label.words) + 1]
    return 12 if after and (after[0] in NUMBERED or after[0].isdigit()) else 3


def kind_of(sheet: Sheet) -> tuple[Kind, float]:
    """The kind with a confidence in [0, 1].

    Titles are short segments on the first page that begin with a kind's word;
    the tallest letters win, the higher place breaks ties. "Invoice no." is a
    label and not a title, but speaks for an invoice when there is no title.
    """
    words = lexicon("kinds")
    best: tuple[float, Kind, float] | None = None
    first = sheet.pages[0]
    labels = {(hit.row.index, hit.row.page, hit.first) for hit in sheet.hits}
    for row, segments in zip(sheet.rows, sheet.segments, strict=True):
        if row.page != first.number or row.box.top > 0.6 * first.height:
            continue
        for segment in segments:
            tokens = normalise(segment.text)
            label = words.match(tokens, 0, sheet.languages) if tokens else None
            if label is None or len(tokens) > len(label.words) + _may_follow(tokens, label):
                continue
            position = next(i for i, word in enumerate(row.words) if word is segment.words[0])
            titled = (row.index, row.page, position) not in labels
            height = max(word.box.height for word in segment.words)
            whole = len(tokens) == len(label.words)
            score = height + (6 if titled else 0) + (3 if whole else 0) - row.box.top / first.height
            confidence = 0.995 if titled else 0.9
            if best is None or score > best[0]:
                best = (score, Kind(label.field), confidence)
    if best is not None:
        return best[1], best[2]
    if any(hit.label.field == "number" for hit in sheet.hits):
        return Kind.INVOICE, 0.7
    return Kind.OTHER, 0.5
