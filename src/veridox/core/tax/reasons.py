"""Why a bill carries no tax, or not the usual one: categories, and the words that tell them."""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from importlib.resources import files
from typing import Final

from veridox.core.locales.labels import fold


class Treatment(StrEnum):
    """How the sale is taxed, as bills and master data say it."""

    DOMESTIC = "domestic"  # tax of the seller's country is charged
    REVERSE_CHARGE = "reverse charge"  # the buyer owes the tax
    INTRA_COMMUNITY = "intra-community"  # goods from one member state to another
    EXPORT = "export"  # goods that leave the customs territory
    EXEMPT = "exempt"  # without tax by its kind: health, insurance, post, ...
    SMALL_BUSINESS = "small business"  # the seller is below the limit and charges none
    MARGIN = "margin"  # tax on the margin only, and never shown
    OUTSIDE = "outside scope"  # not subject to tax at all
    ZERO = "zero rated"  # taxed at zero percent


CATEGORIES: Final[Mapping[str, Treatment]] = {
    "S": Treatment.DOMESTIC, "AA": Treatment.DOMESTIC, "H": Treatment.DOMESTIC,
    "AE": Treatment.REVERSE_CHARGE, "K": Treatment.INTRA_COMMUNITY, "G": Treatment.EXPORT,
    "E": Treatment.EXEMPT, "O": Treatment.OUTSIDE, "Z": Treatment.ZERO,
    "F": Treatment.MARGIN, "I": Treatment.MARGIN, "J": Treatment.MARGIN,
}  # fmt: skip
"""Tax categories of UNTDID 5305 as EN 16931 uses them (BT-118, BT-151)."""

WITHOUT_TAX: Final = frozenset(Treatment) - {Treatment.DOMESTIC}
"""Treatments under which no tax is charged, or none is shown."""

NEED_BUYER_ID: Final = frozenset({Treatment.REVERSE_CHARGE, Treatment.INTRA_COMMUNITY})
"""Treatments under which both tax ids must be stated (Directive 2006/112/EC art. 226 (4);
EN 16931 BR-AE-02, BR-IC-02)."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Reason:
    """Words on a page that say why no tax is charged; a pattern of folded text."""

    treatment: Treatment
    pattern: re.Pattern[str]


def _reasons(rows: str) -> tuple[Reason, ...]:
    found = []
    for row in rows.splitlines():
        if not row.strip() or row.startswith("#"):
            continue
        name, words = (part.strip() for part in row.split("|", 1))
        any_of = "|".join(rf"(?:{word.strip()})" for word in words.split("||"))
        found.append(Reason(treatment=Treatment(name), pattern=re.compile(rf"\b(?:{any_of})")))
    return tuple(found)


REASONS: Final = _reasons((files("veridox.core.tax") / "reasons.txt").read_text("utf-8"))
"""By treatment, in nine languages; the first that stands on a page counts."""


def reason_in(text: str) -> tuple[Treatment, int, int] | None:
    """Which treatment a text tells, with the span of the words that do; None when none does."""
    folded = fold(text)
    for reason in REASONS:
        match = reason.pattern.search(folded)
        if match is not None:
            return reason.treatment, match.start(), match.end()
    return None


def treatment_of(category: str) -> Treatment | None:
    """Of a tax category as in UNTDID 5305; None for one that says nothing here."""
    return CATEGORIES.get(category.strip().upper())
