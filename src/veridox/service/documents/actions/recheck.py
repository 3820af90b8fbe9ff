"""Check again what waits, because something it may wait for has arrived."""

from veridox.core.findings import CODES
from veridox.service.documents.models import Document, State
from veridox.service.work import defer_all

HELPED = frozenset(code for code, about in CODES.items() if about.helped)
"""Findings that new master data may end."""


def recheck_waiting() -> int:
    """Within the caller's transaction: documents at the desk that new master data may help.

    They stay visible at the desk until the check has moved them on. None is locked here:
    a check locks its document first and the order it names then.
    """
    waiting = Document.objects.filter(state=State.AT_DESK, cleared_by=None).order_by("pk")
    helped = [
        {"document_id": pk}
        for pk, findings in waiting.values_list("pk", "findings")
        if any(finding["code"] in HELPED for finding in findings)
    ]
    defer_all("check_again", helped)
    return len(helped)
