"""Check again what waits, because something it may wait for has arrived."""

from veridox.service.documents import jobs
from veridox.service.documents.models import Document, State
from veridox.service.work import defer

HELPED = ("vendor.unknown", "vendor.unclear", "vendor.blocked", "order.", "entity.unknown")
"""Findings that new master data may end."""


def recheck_waiting() -> int:
    """Within the caller's transaction: documents at the desk that new master data may help.

    They stay visible at the desk until the check has moved them on.
    """
    waiting = (
        Document.objects.select_for_update()
        .filter(state=State.AT_DESK, cleared_by=None)
        .order_by("pk")
    )
    count = 0
    for document in waiting:
        if any(str(finding["code"]).startswith(HELPED) for finding in document.findings):
            defer(jobs.check_again, document_id=document.pk)
            count += 1
    return count
