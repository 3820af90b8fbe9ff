"""What spoke for and against each vendor and each of our companies, as it is stored and shown."""

from typing import Any

from veridox.core.facts import Facts
from veridox.core.matching import Evidence


def evidence_of(facts: Facts) -> dict[str, Any]:
    """Candidates with their scores and reasons, best first, and who was taken."""
    return {
        "vendor": facts.vendor.code if facts.vendor else None,
        "vendors": [
            {
                "code": match.vendor.code, "name": match.vendor.name, "score": match.score,
                "reasons": [_reason(each) for each in match.reasons],
            }
            for match in facts.near_vendors
        ],
        "entity": facts.entity.code if facts.entity else None,
        "entities": [
            {
                "code": each.entity.code, "name": each.entity.name, "score": each.score,
                "reasons": [_reason(reason) for reason in each.reasons],
            }
            for each in facts.near_entities
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


def _reason(reason: Evidence) -> dict[str, Any]:
    return {
        "what": reason.what, "said": reason.said, "ours": reason.ours,
        "strength": reason.strength, "against": reason.against, "note": reason.note,
    }  # fmt: skip
