"""Numbers as printed. The format is an argument: nothing is guessed from one number."""

import re
from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal

SPACES = "\u00a0\u202f\u2009 "
"""Spaces that group digits: no-break, narrow no-break, thin, plain."""

_NUMBER = re.compile(
    r"""^(?P<open>\()?\s*(?P<sign>[-\u2212+])?\s*
        (?P<digits>\d[\d.,'\u2019\u00a0\u202f\u2009\x20]*)
        \s*(?P<after>-|\u2212)?\s*(?P<close>\))?(?:\s*(?P<side>CR|DR|H|S))?$""",
    re.VERBOSE,
)


@dataclass(frozen=True, kw_only=True, slots=True)
class NumberFormat:
    """How a document writes numbers.

    Attributes:
        decimal: the decimal separator, `.` or `,`.
        group: the characters that may group digits.
    """

    decimal: str
    group: str


POINT = NumberFormat(decimal=".", group=",'\u2019" + SPACES)
COMMA = NumberFormat(decimal=",", group=".'\u2019" + SPACES)


def read_number(text: str, style: NumberFormat) -> Decimal | None:
    """The number that `text` shows in the given format, or None if it shows none.

    Reads signs before and after, parentheses and CR as negative. Refuses
    groups that are not groups (`1.23` under a comma format is no number),
    because reading 1,50 as 150 is the classic mistake.
    """
    match = _NUMBER.match(text.strip())
    if match is None:
        return None
    if bool(match["open"]) != bool(match["close"]):
        return None
    digits = match["digits"].strip()
    whole, mark, fraction = digits.partition(style.decimal)
    if mark and not fraction.isdigit():
        return None
    if not _well_grouped(whole, style.group):
        return None
    number = Decimal(re.sub(r"\D", "", whole) + ("." + fraction if mark else ""))
    negative = bool(match["open"]) or match["sign"] in ("-", "\u2212") or bool(match["after"])
    if match["side"] in ("CR", "H"):
        negative = True
    return -number if negative else number


def _well_grouped(whole: str, group: str) -> bool:
    parts = re.split("[" + re.escape(group) + "]", whole)
    if len(parts) == 1:
        return whole.isdigit()
    if not all(part.isdigit() for part in parts) or not 1 <= len(parts[0]) <= 3:
        return False
    if len({char for char in whole if not char.isdigit()}) != 1:
        return False
    # The last group has three digits; those before it three, or two as in 1,23,456.
    return len(parts[-1]) == 3 and len({len(part) for part in parts[1:-1]} - {2, 3}) == 0


def format_of_numbers(texts: Iterable[str]) -> NumberFormat | None:
    """The format that the numbers among `texts` agree on, None when they tell nothing.

    Only forms that can mean one thing count: two marks in one number, or a mark
    followed by one, two or more than three digits. `1.234` alone says nothing.
    """
    votes: Counter[str] = Counter()
    for text in texts:
        digits = re.sub(r"[^\d.,]", "", text)
        marks = [char for char in digits if char in ".,"]
        if not marks or not re.fullmatch(r"\d[\d.,]*\d", digits):
            continue
        last = marks[-1]
        tail = len(digits) - digits.rindex(last) - 1
        if len(set(marks)) == 2:
            if marks.count(last) == 1:
                votes[last] += 2
        elif len(marks) == 1 and tail != 3:
            # A day and month (03.04) or a time can look like this; amounts are
            # many on an invoice, so the majority decides.
            votes[last] += 1
    if not votes:
        return None
    (best, count), *rest = votes.most_common()
    if rest and rest[0][1] * 2 > count:
        return None
    return POINT if best == "." else COMMA


def with_grouping_of(style: NumberFormat, texts: Iterable[str], apart: int = 0) -> NumberFormat:
    """The format with the groups that the numbers among `texts` show.

    Where amounts of thousands are printed as one word, with a mark or without, a space does not
    group digits: then `4 118.83` is a quantity beside a price.

    Args:
        style: so far.
        texts: words of the document.
        apart: how often groups of digits were recognised with a narrow space between. Recognition
            loses some of those spaces: where most are there, the others were, too.
    """
    mark = re.escape(style.decimal)
    marked = re.compile(rf"\D*\d{{1,3}}(?:([.,'\u2019])\d{{3}})+(?:{mark}\d{{1,4}})\D*")
    bare = re.compile(rf"\D{{0,3}}\d{{4,}}{mark}\d{{2}}\D{{0,3}}")
    one_word = sum(
        marked.fullmatch(text) is not None or bare.fullmatch(text) is not None for text in texts
    )
    if 2 * one_word <= apart:
        return style
    marks = "".join(char for char in style.group if char not in SPACES)
    return NumberFormat(decimal=style.decimal, group=marks)
