"""What spoke for and against each vendor and each of our companies, as it is stored and shown."""

from collections.abc import Iterable
from typing import Any

from veridox.core.facts import EntityRecord, Facts
from veridox.core.matching import Evidence, VendorRecord


def evidence_of(facts: Facts) -> dict[str, Any]:
    """Candidates with their scores and reasons, best first, and who was taken."""
    return {
        "vendor": facts.vendor.code if facts.vendor else None,
        "vendors": [
            _candidate(match.vendor, match.score, match.reasons) for match in facts.near_vendors
        ],
        "entity": facts.entity.code if facts.entity else None,
        "entities": [
            _candidate(match.entity, match.score, match.reasons) for match in facts.near_entities
        ],
        "orders": [
            {
                "number": each.order.number, "entity": each.order.entity, "score": each.score,
                "reasons": [_reason(reason) for reason in each.reasons],
            }
            for each in facts.near_orders
        ],
        "alike": [
            {
                "reference": like.earlier.reference, "number": like.earlier.number,
                "in_books": like.earlier.in_books, "exact": like.exact,
                "reasons": list(like.reasons), "posted_as": like.earlier.posted_as,
            }
            for like in facts.alike[:10]
        ],
    }  # fmt: skip


def _candidate(
    who: VendorRecord | EntityRecord, score: float, reasons: Iterable[Evidence]
) -> dict[str, Any]:  # fmt: skip
    return {
        "code": who.code, "name": who.name, "score": score,
        "reasons": [_reason(each) for each in reasons],
    }  # fmt: skip


def _reason(reason: Evidence) -> dict[str, Any]:
    return {
        "what": reason.what, "said": reason.said, "ours": reason.ours,
        "strength": reason.strength, "against": reason.against, "note": reason.note,
    }  # fmt: skip
