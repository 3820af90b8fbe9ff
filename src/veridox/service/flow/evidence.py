"""What spoke for and against each vendor and each of our companies, as it is stored and shown."""

from collections.abc import Iterable
from decimal import Decimal
from typing import Any

from veridox.core.checks.cards import audited
from veridox.core.checks.order_lines import plain_price
from veridox.core.facts import EntityRecord, Facts, order_not_of
from veridox.core.matching import AgreedRate, Evidence, VendorRecord


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
        "instead": order_not_of(facts.reading, facts.orders, facts.vendor) if facts.vendor else "",
        "orders": [
            {
                "number": each.order.number, "entity": each.order.entity, "score": each.score,
                "reasons": [_reason(reason) for reason in each.reasons],
            }
            for each in facts.near_orders
        ],
        "card": [
            {
                "line": each.at, "verdict": each.verdict.value, "amount": str(each.amount),
                "due": str(each.due) if each.due is not None else "",
                "card": each.rate.card if each.rate else "",
                "rate": _rate(each.rate) if each.rate else "",
            }
            for each in audited(facts)
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


def _rate(rate: AgreedRate) -> str:
    """An agreed charge as people write it."""
    if rate.percent is not None:
        return f"{rate.percent.normalize():f} %" + (f" of {rate.of}" if rate.of else "")
    price = f"{plain_price(rate.price or Decimal(0))} {rate.currency}"
    band = f", from {rate.from_quantity.normalize():f} on" if rate.from_quantity else ""
    return f"{price} a {rate.unit}{band}" if rate.unit else f"{price} each{band}"


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
