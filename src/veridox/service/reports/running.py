"""Compute the reports that take long."""

from collections import Counter
from collections.abc import Iterator
from datetime import date
from functools import partial
from typing import Any

from django.db.models import Count

from veridox.service.errors import AdapterError, VeridoxError
from veridox.service.intake.accounted import (
    DIFFERENCES,
    STANDS,
    Period,
    Progress,
    Row,
    period_of,
    refused_before,
    rows_of_drops,
    rows_of_former_mailboxes,
    rows_of_handed_in,
    rows_of_mailbox,
)
from veridox.service.pipelines.queries import sources
from veridox.service.reports.actions.runs import (
    begin,
    fail_run,
    finish,
    note_progress,
    store_rows,
)
from veridox.service.reports.models import Run, RunKind
from veridox.service.trail.heads import kept_heads, parse_head
from veridox.service.trail.verify import verify


def run(run_id: int) -> None:
    """Run a report to its end; what is wrong with the outside ends it with the reason."""
    found = begin(run_id)
    if found is None:
        return
    try:
        result = _trail(found) if found.kind == RunKind.TRAIL else _accounted(found)
    except VeridoxError as error:
        fail_run(run_id, str(error))
    else:
        finish(run_id, result)


def _trail(found: Run) -> dict[str, Any]:
    given = found.wanted.get("head")
    heads = [*kept_heads(), *([parse_head(given)] if given else [])]
    seen = verify(heads, partial(note_progress, found.pk))
    return {
        "entries": seen.entries,
        "head": seen.head,
        "compared": list(seen.compared),
        "good": not seen.problems,
        "problems": list(seen.problems),
    }


def _accounted(found: Run) -> dict[str, Any]:
    wanted = found.wanted
    since, until = (
        date.fromisoformat(wanted[name]) if wanted.get(name) else None
        for name in ("since", "until")
    )
    period = period_of(since, until)
    progress = Progress(told=partial(note_progress, found.pk))
    mailbox = wanted.get("mailbox") or None
    problems: list[str] = []
    store_rows(found, _rows(mailbox, period, progress, problems))
    counted = found.rows.values("stands").annotate(count=Count("pk")).order_by("stands")
    totals = Counter({row["stands"]: row["count"] for row in counted})
    return {
        "mailbox": mailbox or "",
        "since": period.since.isoformat(),
        "until": period.until.isoformat(),
        "counted_at": period.now.isoformat(),
        "totals": {name: totals[name] for name in STANDS},
        "refused_before": refused_before(mailbox),
        "problems": problems,
        "good": not problems and not any(totals[name] for name in DIFFERENCES),
    }


def _rows(
    mailbox: str | None, period: Period, progress: Progress, problems: list[str]
) -> Iterator[Row]:
    """One mailbox, or everything that things come in by; what cannot be looked at is noted."""
    if mailbox is not None:
        yield from rows_of_mailbox(mailbox, period, progress)
        return
    watched = sorted({collect.mailbox for _, collect in sources()})
    for name in watched:
        try:
            yield from rows_of_mailbox(name, period, progress)
        except AdapterError as error:
            problems.append(f"{name} cannot be looked at: {error}")
    yield from rows_of_former_mailboxes(period, watched, progress)
    yield from rows_of_drops(period, progress)
    yield from rows_of_handed_in(period, progress)
