"""The account to pay to: found by its own checksum, or by its label where it has none."""

import re
from collections.abc import Iterator, Sequence

from stdnum import luhn

from veridox.core.extract.checksums import iban_holds
from veridox.core.extract.tagging.choices import Choice, merged
from veridox.core.extract.tagging.tagged import Span, Tagged
from veridox.core.extract.tagging.tokens import Token
from veridox.core.extract.thresholds import ACCOUNT, CHECKED, STRANGE
from veridox.core.reading import Value

LONGEST, SHORTEST = 34, 15
"""Signs of an IBAN (ISO 13616)."""
POLISH = 26
"""Digits of a Polish account written without its country."""
_SIGNS = str.maketrans("", "", " \t\n\r\u00a0\u2007\u2009\u202f.,;:()")
_START = re.compile(r"[A-Z]{2}\d{2}[A-Z0-9]*")
_SORT_CODE = re.compile(r"\d{2}[- ]?\d{2}[- ]?\d{2}")
_BANKGIRO = re.compile(r"\d{3,4}-\d{4}")
_AROUND = (8, 12)
"""How many words before and behind a sort code its account may stand, and within so many rows."""
_ROWS = 2


def accounts(tagged: Tagged) -> list[Choice]:
    """IBANs whose checksum holds, else sort codes with their accounts, else bankgiro numbers."""
    found = list(_checked(tagged)) or [*_sort_codes(tagged), *_bankgiro(tagged)]
    return merged(found, lambda value: str(value).replace(" ", ""))


def _checked(tagged: Tagged) -> Iterator[tuple[Value, Span]]:
    tokens, chances = tagged.tokens, tagged.of("account")
    taken: set[int] = set()
    for number, cell in enumerate(tagged.cells):
        for at, first in enumerate(cell):
            if first in taken:
                continue
            text = _bare(tokens[first])
            start = _START.match(text) or (text.isdigit() and len(text) in (2, POLISH))
            if not start:
                continue
            words = (*cell[at:], *_below(tagged, number, first))
            whole = _held(tokens, words)
            if whole is not None:
                value, used = whole
                taken.update(used)
                likely = max(float(chances[each]) for each in used)
                chance = CHECKED if likely >= ACCOUNT else STRANGE
                yield value, Span(used, tuple(tokens[each] for each in used), chance)


def _bare(token: Token) -> str:
    return token.text.translate(_SIGNS).upper()


def _held(tokens: Sequence[Token], words: Sequence[int]) -> tuple[str, tuple[int, ...]] | None:
    """The longest run of words, from the first, that is an account."""
    text, steps = "", []
    for count, at in enumerate(words, start=1):
        bare = _bare(tokens[at])
        if not bare.isalnum() or len(text) + len(bare) > LONGEST:
            break
        text += bare
        steps.append((text, count))
    for text, count in reversed(steps):
        polish = len(text) == POLISH and text.isdigit() and iban_holds("PL" + text)
        if polish or (len(text) >= SHORTEST and text[:2].isalpha() and iban_holds(text)):
            return text, tuple(words[:count])
    return None


def _below(tagged: Tagged, number: int, first: int) -> tuple[int, ...]:
    """Where an account goes on that was broken at the end of its column, or of a centred line."""
    tokens, letter = tagged.tokens, tagged.letter
    cell = tagged.cells[number]
    row, left = tokens[cell[0]].row, tokens[cell[0]].box.left
    middle = (left + tokens[cell[-1]].box.right) / 2
    own = tokens[first].box.left
    for other in tagged.cells[number + 1 :]:
        below = tokens[other[0]]
        if below.row > row + 1 or below.page != tokens[first].page:
            break
        if below.row == row:
            continue
        flush = min(abs(below.box.left - left), abs(below.box.left - own)) < 0.4 * letter
        centred = abs((below.box.left + tokens[other[-1]].box.right) / 2 - middle) < 0.4 * letter
        if flush or centred:
            return other
    return ()


def _sort_codes(tagged: Tagged) -> Iterator[tuple[Value, Span]]:
    tokens, chances = tagged.tokens, tagged.of("account")
    before, behind = _AROUND
    for at, token in enumerate(tokens):
        code = token.text.strip(".,;:()")
        bare = "-" not in code and float(chances[at]) < ACCOUNT
        if bare or not _SORT_CODE.fullmatch(code):
            continue
        for end in range(max(0, at - before), min(at + behind, len(tokens))):
            number = tokens[end].text.strip(".,;:()/")
            near = abs(tokens[end].row - token.row) <= _ROWS and float(chances[end]) > 0.05
            if re.fullmatch(r"\d{8}", number) and near and end != at:
                chance = (float(chances[at]) + float(chances[end])) / 2
                yield f"{code} {number}", Span((at, end), (token, tokens[end]), chance)


def _bankgiro(tagged: Tagged) -> Iterator[tuple[Value, Span]]:
    """Swedish accounts by their own label: they have a check digit, and no shape of their own."""
    tokens = tagged.tokens
    named = {token.row for token in tokens if re.match(r"(?:bankgiro|bg\b)", token.text.lower())}
    for at, token in enumerate(tokens):
        text = token.text.strip(".,;:()")
        shaped = token.row in named and _BANKGIRO.fullmatch(text)
        if shaped and luhn.is_valid(text.replace("-", "")):
            yield text, Span((at,), (token,), CHECKED)
