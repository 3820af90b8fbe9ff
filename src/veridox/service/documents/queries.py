"""Reads of files and documents."""

from typing import Any

from django.db.models import Q, QuerySet

from veridox.core.matching import OrderLineRecord, pair_lines
from veridox.service.documents.columns import current_reading
from veridox.service.documents.facts import NOT_COUNTED
from veridox.service.documents.models import Document, File
from veridox.service.trail.models import Entry

LONG_TEXTS = ("file__text", "file__words", "file__message__text", "file__message__headers")
"""What no list shows and no row should carry along."""


def documents() -> QuerySet[Document]:
    """All documents with what a list shows."""
    return Document.objects.select_related(
        "file__message", "vendor", "order", "entity", "pipeline_version__pipeline", "posting",
        "taken_by",
    ).defer(*LONG_TEXTS, "pipeline_version__text")  # fmt: skip


def files() -> QuerySet[File]:
    """All files with what a list shows."""
    return (
        File.objects.select_related("pipeline_version__pipeline")
        .defer("text", "words", "pipeline_version__text")
        .prefetch_related("documents")
    )


def story(document: Document) -> list[Entry]:
    """Trail entries of a document, its file and its mail, oldest first."""
    subjects = Q(subject="document", subject_id=str(document.pk))
    subjects |= Q(subject="file", subject_id=str(document.file_id))
    if document.file.message_id:
        subjects |= Q(subject="message", subject_id=str(document.file.message_id))
    return list(Entry.objects.filter(subjects).order_by("number"))


def order_beside(document: Document) -> dict[str, Any] | None:
    """The document's order, and for each of its lines the position of the order's line."""
    order = document.order
    if order is None:
        return None
    reading = current_reading(document)
    ordered = [
        OrderLineRecord(
            position=line.position,
            item_code=line.item_code,
            description=line.description,
            unit_price=line.unit_price,
        )
        for line in order.lines.all()
    ]
    billed = Document.objects.filter(order=order).exclude(pk=document.pk).exclude(
        state__in=NOT_COUNTED
    )  # fmt: skip
    return {
        "order": order,
        "pairs": list(pair_lines(reading.lines, ordered)),
        "others": list(billed.select_related("posting").order_by("pk")[:100]),
    }
