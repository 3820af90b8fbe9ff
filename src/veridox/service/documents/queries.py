"""Reads of files and documents."""

from typing import Any

from django.db.models import Prefetch, Q, QuerySet

from veridox.core.matching import pair_with_orders
from veridox.core.pipeline import Identity, Said, identity_of
from veridox.service.documents.columns import current_reading, findings_of
from veridox.service.documents.models import Document, OrderShare, State
from veridox.service.documents.orders import order_records, orders_of_bill
from veridox.service.intake.models import File
from veridox.service.trail.models import Entry

NOT_COUNTED = (State.DISCARDED, State.RETURNED, State.ASIDE)
"""States of documents that are no bills of anybody any more."""

LONG_TEXTS = ("file__text", "file__words", "file__message__text", "file__message__headers")
"""What no list shows and no row should carry along."""


def documents() -> QuerySet[Document]:
    """All documents with what a list shows."""
    shares = Prefetch("order_shares", OrderShare.objects.select_related("order"))
    return Document.objects.select_related(
        "file__message", "vendor", "order", "entity", "pipeline_version__pipeline", "posting",
        "taken_by",
    ).prefetch_related(shares).defer(*LONG_TEXTS, "pipeline_version__text")  # fmt: skip


def documents_to_check() -> QuerySet[Document]:
    """Documents with all that a check looks at of their file, its mail, its run and pipeline."""
    return Document.objects.select_related(
        "pipeline_version", "file__pipeline_version__pipeline", "file__run", "file__message"
    ).defer("file__text", "file__words", "file__pipeline_version__text")


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


def accepted(document: Document) -> list[dict[str, Any]]:
    """Who accepted which of the findings that stand: these very ones, not others of their code."""
    reading = current_reading(document)
    standing = {identity_of(each, reading): each for each in findings_of(document)}
    found = []
    for row in document.statements.filter(what=Said.ACCEPTED, ended_at=None):
        finding = standing.get(Identity.from_json(row.identity))
        if finding is not None:
            found.append({
                "code": finding.code, "message": finding.message, "by": row.by,
                "reason": row.reason, "reading_version": row.reading, "at": row.said_at,
            })  # fmt: skip
    return found


def orders_beside(document: Document) -> dict[str, Any]:
    """The orders that a document names, and for each of its lines the order's line."""
    orders = orders_of_bill(document)
    reading = current_reading(document)
    pairs = pair_with_orders(reading.lines, order_records(orders, document))
    shares = OrderShare.objects.filter(order__in=orders).exclude(document=document)
    billed = Document.objects.filter(pk__in=shares.values("document")).exclude(
        state__in=NOT_COUNTED
    )  # fmt: skip
    return {
        "orders": orders,
        "pairs": [
            {"order": each.order.number, "position": each.line.position} if each else None
            for each in pairs
        ],
        "others": list(billed.select_related("posting").order_by("pk")[:100]),
    }
