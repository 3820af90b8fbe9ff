"""Who the seller and the buyer of a document may be, for a person to choose from. Reads only."""

from typing import Any

from veridox.core.matching import choose_vendor
from veridox.service.documents.columns import current_reading
from veridox.service.documents.models import Document
from veridox.service.flow.known import KnownHere
from veridox.service.pipelines.queries import definition_of


def parties(document: Document) -> dict[str, Any]:
    """Vendors and entities that a person may mean, best first."""
    reading = current_reading(document)
    known = KnownHere(document, definition_of(document.pipeline_version), locking=False)
    return {
        "vendors": choose_vendor(reading, known.vendors_like(reading)).near,
        "entities": known.entities(),
    }
