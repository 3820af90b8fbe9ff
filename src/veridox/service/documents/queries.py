"""Reads of files and documents."""

from typing import Any

from django.db.models import Q, QuerySet

from veridox.service.documents.models import Document, File
from veridox.service.trail.models import Entry


def documents() -> QuerySet[Document]:
    """All documents with what a list shows."""
    return Document.objects.select_related(
        "file__message", "vendor", "order", "entity", "pipeline_version__pipeline", "posting"
    )


def files() -> QuerySet[File]:
    """All files with what a list shows."""
    return File.objects.select_related("pipeline_version__pipeline").prefetch_related("documents")


def filtered(rows: QuerySet[Document], wanted: dict[str, Any]) -> QuerySet[Document]:
    """Documents by state, queue, vendor, order, number, message, kind or words."""
    plain = {
        "state": "state",
        "queue": "queue",
        "kind": "kind",
        "vendor": "vendor__code",
        "order": "order__number",
        "message": "file__message_id",
        "file": "file_id",
    }
    for name, column in plain.items():
        if wanted.get(name):
            rows = rows.filter(**{column: wanted[name]})
    if wanted.get("finding"):
        rows = rows.filter(findings__contains=[{"code": wanted["finding"]}])
    words = str(wanted.get("search") or "").strip()
    if words:
        rows = rows.filter(
            Q(number__icontains=words)
            | Q(seller_name__icontains=words)
            | Q(vendor__name__icontains=words)
            | Q(order__number__icontains=words)
            | Q(file__name__icontains=words)
            | Q(posting__number__iexact=words)
        )
    return rows


def story(document: Document) -> list[Entry]:
    """Trail entries of a document, its file and its mail, oldest first."""
    subjects = Q(subject="document", subject_id=str(document.pk))
    subjects |= Q(subject="file", subject_id=str(document.file_id))
    if document.file.message_id:
        subjects |= Q(subject="message", subject_id=str(document.file.message_id))
    return list(Entry.objects.filter(subjects).order_by("number"))
