"""Keep under what the parts of a bill's lines are booked."""

from veridox.core.coding import DIMENSIONS, CodedLine, wording_key
from veridox.service.documents.models import CodedPart, Document


def keep_coding(document: Document, lines: tuple[CodedLine, ...]) -> None:
    """Within the caller's transaction: what was kept before goes."""
    document.coded_parts.all().delete()
    if document.vendor is None:
        return
    CodedPart.objects.bulk_create(
        CodedPart(
            document=document, vendor=document.vendor, line=line.at,
            wording=wording_key(line.description)[:500],
            **{each.value: part.codes[each].code for each in DIMENSIONS if each in part.codes},
        )
        for line in lines for part in line.parts if part.codes
    )  # fmt: skip
