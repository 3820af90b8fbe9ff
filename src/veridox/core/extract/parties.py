"""Seller and buyer by name."""

import re
from collections.abc import Iterator

from rapidfuzz import fuzz

from veridox.core.extract.header import as_field
from veridox.core.extract.hints import Hints
from veridox.core.extract.sheet import Sheet
from veridox.core.extract.spans import spans_of
from veridox.core.extract.values import Found
from veridox.core.locales.labels import fold
from veridox.core.pages import Box, Segment, TextRow, Word
from veridox.core.reading import Field

LEGAL_FORM = re.compile(
    r"(?<!\w)(ltd|limited|plc|llp|llc|inc|corp|gmbh(?: & co\.? kg)?|mbh|ag|kg|ohg|gbr|e\.k|e\.u|"
    r"ug|se|b\.?v|n\.?v|v\.?o\.?f|s\.?a|s\.?a\.?s|sasu|eurl|s\.?a\.?r\.?l|s\.?l|s\.?l\.?u|"
    r"s\.?r\.?l|s\.?p\.?a|s\.?n\.?c|lda|unipessoal|ab|hb|kb|oy|as|a/s|aps|sp\. ?z ?o\. ?o|"
    r"sp\. ?j|trust|& co|& sons|& sohne|& fils|et fils|& hijos|e hijos|& figli|e figli|& zonen|"
    r"en zonen|i synowie|& filhos|& soner)(?![\w-])\.?"
)
"""Legal forms of companies, folded."""
_CUT = re.compile(r"\s+[·•|–—-]\s+|,")


def parties(sheet: Sheet, hints: Hints) -> dict[str, Field]:
    """`seller.name` and `buyer.name` as far as they are stated."""
    fields: dict[str, Field] = {}
    buyer = _buyer(sheet, hints)
    if buyer is not None:
        fields["buyer.name"] = as_field(buyer, buyer.trust)
    seller = _seller(sheet, hints, buyer)
    if seller is not None:
        fields["seller.name"] = as_field(seller, seller.trust)
    return fields


def is_ours(text: str, hints: Hints) -> bool:
    """Whether a text is the name of one of our entities, give or take a letter misread."""
    folded = fold(text)
    return any(
        abs(len(text) - len(buyer.name)) <= 0.2 * len(buyer.name)
        and fuzz.ratio(folded, fold(buyer.name)) >= 90
        for buyer in hints.buyers
    )


def company(segment: Segment, row: TextRow, trust: float) -> Found | None:
    """The part of a segment before the first separator, when it can be a name."""
    words: list[Word] = []
    colon = next((at for at, w in enumerate(segment.words[:3]) if w.text.endswith(":")), -1)
    for word in segment.words[colon + 1 :] or segment.words:
        if re.fullmatch(r"[·•|–—-]", word.text):
            break
        words.append(word)
        if word.text.endswith(","):
            break
    text = _CUT.split(" ".join(word.text for word in words))[0].strip(" ,:")
    if len(text) < 3 or not any(char.isalpha() for char in text):
        return None
    return Found(
        value=text,
        text=text,
        page=row.page,
        box=Box.around(word.box for word in words),
        trust=trust,
    )


def _buyer(sheet: Sheet, hints: Hints) -> Found | None:
    for at, (row, segments) in enumerate(zip(sheet.rows, sheet.segments, strict=True)):
        for segment in segments:
            for whole in (segment, *_with_next_row(sheet, at, segment)):
                found = company(whole, row, 0.99)
                if found is not None and is_ours(str(found.value), hints):
                    return found
    for hit in sheet.hits_of("buyer.name"):
        for span in spans_of(hit, sheet):
            segment = Segment(words=span.words, box=span.box())
            found = company(segment, hit.row, 0.95 * span.trust)
            if found is not None and not re.search(r"\d{3}", str(found.value)):
                return found
    return None


def _with_next_row(sheet: Sheet, at: int, segment: Segment) -> Iterator[Segment]:
    """The segment with the one below it: a name that was too long for its column."""
    if at + 1 < len(sheet.rows) and sheet.rows[at + 1].page == sheet.rows[at].page:
        for other in sheet.segments[at + 1]:
            if abs(other.box.left - segment.box.left) < 2:
                words = (*segment.words, *other.words)
                yield Segment(words=words, box=Box.around(word.box for word in words))


def _seller(sheet: Sheet, hints: Hints, buyer: Found | None) -> Found | None:
    best: tuple[float, Found] | None = None
    for score, found in _seller_candidates(sheet, hints, buyer):
        if best is None or score > best[0]:
            best = (score, found)
    return best[1] if best else None


def _seller_candidates(
    sheet: Sheet, hints: Hints, buyer: Found | None
) -> Iterator[tuple[float, Found]]:
    for hit in sheet.hits_of("seller.name"):
        for span in spans_of(hit, sheet):
            found = company(Segment(words=span.words, box=span.box()), hit.row, 0.96)
            if found is not None and not is_ours(str(found.value), hints):
                yield 40.0, found
                break
    first = sheet.pages[0]
    for row, segments in zip(sheet.rows, sheet.segments, strict=True):
        if row.page != first.number:
            break
        for segment in segments:
            found = company(segment, row, 0.98)
            if found is None or is_ours(str(found.value), hints):
                continue
            if any(
                hit.row is row and row.words[hit.first] is segment.words[0]
                for hit in sheet.hits_of("buyer.name")
            ):
                continue
            if buyer is not None and found.box == buyer.box:
                continue
            text = str(found.value)
            legal = LEGAL_FORM.search(fold(text))
            if not legal or len(text) > 60 or not text[0].isalnum():
                continue
            # "120 kg" has a legal form, too, and no name before it.
            if not any(len(w) >= 3 and w[0].isalpha() for w in text[: legal.start()].split()):
                continue
            height = max(word.box.height for word in segment.words)
            # Letterheads are large and at the top; the same name small in the
            # footer or above the address window still counts.
            yield height + 10 * (1 - row.box.top / first.height), found
