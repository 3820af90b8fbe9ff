"""Who the seller and the buyer of a document may be, for a person to choose from. Reads only."""

from typing import Any

from veridox.core.facts import choose_entity, orders_of
from veridox.core.matching import choose_vendor
from veridox.service.documents.columns import current_reading
from veridox.service.documents.models import Document
from veridox.service.flow.known import KnownHere
from veridox.service.intake.sender import mail_fact
from veridox.service.pipelines.queries import definition_of


def parties(document: Document) -> dict[str, Any]:
    """Vendors and entities that a person may mean, best first."""
    reading, mail = current_reading(document), mail_fact(document.file)
    known = KnownHere(document, definition_of(document.pipeline_version), locking=False)
    vendors = choose_vendor(reading, known.vendors_like(reading, mail), mail.sender, mail.text)
    order = next(iter(orders_of(known, reading, vendors.vendor).known), None)
    entities = choose_entity(
        reading, known.entities(), order, others=known.other_entities(),
        recipients=mail.recipients,
    )  # fmt: skip
    return {"vendors": vendors.near, "entities": entities.near}
