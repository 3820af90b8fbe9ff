"""A reading's values as columns of its document, for lists and checks."""

from typing import Any

from veridox.core.findings import Finding
from veridox.core.matching import number_bare, number_key
from veridox.core.money import Money
from veridox.core.reading import Reading, reading_from_json
from veridox.service.documents.models import Document


def current_reading(document: Document) -> Reading:
    """The newest version of a document's reading."""
    return numbered_reading(document)[0]


def numbered_reading(document: Document) -> tuple[Reading, int]:
    """The same with the version's number; an empty reading and 0 without any."""
    newest = document.readings.order_by("-number").first()
    return (reading_from_json(newest.reading), newest.number) if newest else (Reading(), 0)


def fill_columns(document: Document, data: dict[str, Any]) -> None:
    """Set the columns from a reading as JSON; the caller saves."""
    reading = reading_from_json(data)

    def amount(name: str) -> Any:
        money = reading.money(name)
        return money.amount if isinstance(money, Money) else None

    document.kind = reading.kind.value
    document.number = (reading.text("number") or "")[:200]
    document.number_key = number_key(document.number)[:200]
    document.number_bare = number_bare(document.number)[:200]
    document.issue_date = reading.day("issue_date")
    document.seller_name = (reading.text("seller.name") or "")[:300]
    document.currency = reading.currency or ""
    document.net_total = amount("net_total")
    document.charges = amount("charges")
    document.gross_total = amount("gross_total")
    document.delivery_note = (reading.text("delivery_note") or "")[:200]
    document.period = (reading.text("period") or "")[:50]
    document.preceding_key = number_key(reading.text("preceding_number") or "")[:200]


def findings_of(document: Document) -> list[Finding]:
    """What stands with a document, as values."""
    return [Finding.from_json(each) for each in document.findings]
