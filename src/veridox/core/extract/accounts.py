"""The account to pay to: found by its own checksum, or by its label where it has none."""

import re
from collections.abc import Iterator

from stdnum import iban, luhn
from stdnum.exceptions import ValidationError

from veridox.core.extract.sheet import Sheet
from veridox.core.pages import Box, Segment, TextRow, Word
from veridox.core.reading import Candidate, Field

LONGEST = 34
"""Signs of an IBAN at most (ISO 13616)."""
SHORTEST = 15
POLISH = 26
"""Digits of a Polish account written without its country."""
_START = re.compile(r"[A-Z]{2}\d{2}[A-Z0-9]*")
_SORT_CODE = re.compile(r"\d{2}[- ]?\d{2}[- ]?\d{2}")
_BANKGIRO = re.compile(r"\d{3,4}-\d{4}")


def accounts(sheet: Sheet) -> dict[str, Field]:
    """`account` (BT-84), the surest and first; others beside it."""
    found: list[Field] = []
    for at, row in enumerate(sheet.rows):
        follows = at + 1 < len(sheet.rows) and sheet.rows[at + 1].page == row.page
        found += _in_row(row, sheet.segments[at], sheet.segments[at + 1] if follows else ())
    distinct = list({str(field.value): field for field in reversed(found)}.values())[::-1]
    if not distinct:
        return {}
    best, *rest = sorted(distinct, key=lambda field: -field.confidence)
    others = tuple(
        Candidate(value=each.value, confidence=0.05, page=each.page, box=each.box)
        for each in rest[:4]
    )
    # Which of several is meant nobody says: a bank each, most often, and any of them will do.
    sure = best.confidence if not rest else best.confidence * 0.95
    return {
        "account": Field(
            value=best.value, text=best.text, page=best.page, box=best.box, confidence=sure,
            others=others,
        )
    }  # fmt: skip


def _in_row(
    row: TextRow, segments: tuple[Segment, ...], below: tuple[Segment, ...]
) -> Iterator[Field]:
    for segment in segments:
        if not any(char.isdigit() for word in segment.words for char in word.text):
            continue
        words = (*segment.words, *_below(segment, below))
        for at, word in enumerate(segment.words):
            if not any(char.isdigit() for char in word.text):
                continue
            taken = _iban(words, at) or _polish(words, at)
            if taken is not None:
                value, used = taken
                yield _field(value, used, row.page, 0.998)
    yield from _labelled(row)


def _below(segment: Segment, below: tuple[Segment, ...]) -> tuple[Word, ...]:
    """Where an account goes on that was broken at the end of its column, or of a centred line."""
    for other in below:
        flush = abs(other.box.left - segment.box.left) < 4
        centred = abs(other.box.middle[0] - segment.box.middle[0]) < 4
        if flush or centred:
            return other.words
    return ()


def _joined(words: tuple[Word, ...], at: int, most: int) -> Iterator[tuple[str, int]]:
    """The words from one on, joined, longest first, with their count."""
    text, steps = "", []
    for used, word in enumerate(words[at:], start=1):
        bare = word.text.strip(".,;:()")
        if not bare.isalnum() or len(text) + len(bare) > most:
            break
        text += bare.upper()
        steps.append((text, used))
    yield from reversed(steps)


def _iban(words: tuple[Word, ...], at: int) -> tuple[str, tuple[Word, ...]] | None:
    if not _START.match(words[at].text.strip(".,;:()").upper()):
        return None
    for text, used in _joined(words, at, LONGEST):
        if len(text) >= SHORTEST and iban_holds(text):
            return text, words[at : at + used]
    return None


def iban_holds(text: str) -> bool:
    """Whether an account passes the checksum of ISO 13616."""
    try:
        iban.validate(text, check_country=False)
    except ValidationError:
        return False
    return True


def _polish(words: tuple[Word, ...], at: int) -> tuple[str, tuple[Word, ...]] | None:
    if not words[at].text.isdigit() or len(words[at].text) not in (2, POLISH):
        return None
    for text, used in _joined(words, at, POLISH):
        if len(text) == POLISH and text.isdigit() and iban_holds("PL" + text):
            return text, words[at : at + used]
    return None


def _labelled(row: TextRow) -> Iterator[Field]:
    """British accounts by "sort code" and "account", Swedish ones by "bankgiro"."""
    low = row.text.lower()
    if "sort code" in low:
        code = next((w for w in row.words if _SORT_CODE.fullmatch(w.text.strip(".,;"))), None)
        number = next((w for w in row.words if re.fullmatch(r"\d{8}", w.text.strip(".,;"))), None)
        if code is not None and number is not None:
            value = f"{code.text.strip('.,;')} {number.text.strip('.,;')}"
            yield _field(value, (code, number), row.page, 0.97)
    if "bankgiro" in low or "bg" in low.split():
        for word in row.words:
            text = word.text.strip(".,;")
            if _BANKGIRO.fullmatch(text) and luhn.is_valid(text.replace("-", "")):
                yield _field(text, (word,), row.page, 0.97)


def _field(value: str, words: tuple[Word, ...], page: int, confidence: float) -> Field:
    return Field(
        value=value, text=" ".join(word.text for word in words), page=page,
        box=Box.around(word.box for word in words), confidence=confidence,
    )  # fmt: skip
