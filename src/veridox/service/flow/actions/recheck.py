"""Check again what waits, because something it may wait for has arrived."""

from collections.abc import Iterator

from django.db import transaction

from veridox.core.checks import CODES
from veridox.service.documents.models import Document, State
from veridox.service.work import defer, defer_all

CHUNK = 500
"""Documents that are looked at in one transaction."""


@transaction.atomic
def recheck_waiting(what: str, after: int = 0) -> int:
    """Have documents at the desk, and those that wait, looked at again that new master data may
    help.

    They stay where they are until the check has moved them on. None is locked here:
    a check locks its document first and what it needs then. Long lists go in chunks.

    Args:
        what: kind of master data, as `orders` or `receipts`.
        after: id of the last document of the chunk before.

    Returns:
        How many of this chunk are looked at again.
    """
    codes = {code for code, about in CODES.items() if what in about.helped_by}
    waiting = Document.objects.filter(
        state__in=(State.AT_DESK, State.WAITING), pk__gt=after
    ).order_by("pk")
    rows = list(waiting.values_list("pk", "findings")[:CHUNK])
    helped = list(_helped(rows, codes))
    defer_all("advance", [{"document_id": pk} for pk in helped])
    if len(rows) == CHUNK:
        defer("recheck", what=what, after=rows[-1][0])
    return len(helped)


def _helped(rows: list[tuple[int, list[dict[str, str]]]], codes: set[str]) -> Iterator[int]:
    for pk, findings in rows:
        if any(finding["code"] in codes for finding in findings):
            yield pk
