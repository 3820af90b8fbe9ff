"""What came in on a day, what became of it, and what waits. Reads only."""

from datetime import date, datetime, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from django.db.models import (
    Aggregate,
    Count,
    DateField,
    DurationField,
    ExpressionWrapper,
    F,
    Q,
    QuerySet,
    Sum,
)
from django.db.models.functions import Coalesce, TruncDate

from veridox.service.connections.models import Connection
from veridox.service.desk.queries import waiting
from veridox.service.documents.models import Document, State
from veridox.service.house.actions.held import held
from veridox.service.intake.models import Account, File, FileState, Message
from veridox.service.notices.models import Notice, NoticeState
from veridox.service.pipelines.queries import waiting_versions
from veridox.service.reports.troubles import troubles

MOST_NOTICES = 20
"""Failed notices that are shown; the list has all."""
BACK = 14
"""Days of the trend, the day itself included."""


class _Share(Aggregate):
    """The value below which a share of all values lies."""

    function = "percentile_cont"
    template = "%(function)s(%(share)s) within group (order by %(expressions)s)"
    output_field = DurationField()


def bounds(day: date, zone: ZoneInfo) -> tuple[datetime, datetime]:
    """When a calendar day begins and ends somewhere."""
    return (
        datetime.combine(day, time(), zone),
        datetime.combine(day + timedelta(days=1), time(), zone),
    )


def today(day: date, zone: ZoneInfo) -> dict[str, Any]:
    """All numbers of the console's first place, for a calendar day in a time zone."""
    begin, end = bounds(day, zone)
    came = Document.objects.filter(received_at__gte=begin, received_at__lt=end)
    files = File.objects.filter(received_at__gte=begin, received_at__lt=end)
    mails = Message.objects.filter(taken_at__gte=begin, taken_at__lt=end)
    return {
        "day": day,
        "zone": str(zone),
        "from": begin,
        "to": end,
        "came_in": {
            "mails": mails.count(),
            "files": files.count(),
            "uploads": files.filter(message=None).count(),
            "files_aside": files.filter(state=FileState.ASIDE).count(),
            "documents": came.count(),
            "states": list(came.values("state").annotate(count=Count("pk")).order_by("state")),
        },
        "waiting": waiting(),
        "versions": waiting_versions(),
        "failed": {
            "documents": Document.objects.filter(state=State.FAILED).count(),
            "files": File.objects.filter(state=FileState.FAILED).count(),
            "notices": Notice.objects.filter(state=NoticeState.FAILED).count(),
        },
        "posted": posted(begin, end),
        "posted_before": posted(begin - timedelta(days=30), end),
        "trend": trend(day, zone),
        "not_accounted": list(
            Account.objects.select_related("connection")
            .exclude(unexplained=[], lost=[])
            .order_by("connection__name")
        ),
        "notices": list(
            Notice.objects.select_related("document")
            .filter(state=NoticeState.FAILED)
            .order_by("-pk")[:MOST_NOTICES]
        ),
        "held": held(),
        "troubles": troubles(),
        "connections": list(Connection.objects.exclude(last_problem="").order_by("name")),
    }


def _in_ledger(begin: datetime, end: datetime) -> QuerySet[Document]:
    return Document.objects.filter(state=State.POSTED, ended_at__gte=begin, ended_at__lt=end)


def posted(begin: datetime, end: datetime) -> dict[str, Any]:
    """What was posted in a time: how many, how many of them untouched, and how quickly.

    The time runs from the mail's arrival on the server (or the upload) to the
    moment the ledger had booked it, waiting for people included.
    """
    rows = _in_ledger(begin, end)
    took = ExpressionWrapper(
        F("posting__posted_at") - Coalesce("file__message__received_at", "file__received_at"),
        output_field=DurationField(),
    )
    times = rows.exclude(posting__posted_at=None).aggregate(
        half=_Share(took, share=0.5), most=_Share(took, share=0.9)
    )
    amounts = rows.exclude(currency="").values("currency").annotate(
        amount=Sum("gross_total"), count=Count("pk")
    )  # fmt: skip
    return {
        "from": begin,
        "to": end,
        "count": rows.count(),
        "untouched": rows.filter(touched=False).count(),
        "half_within": _seconds(times["half"]),
        "most_within": _seconds(times["most"]),
        "amounts": [row for row in amounts.order_by("currency") if row["amount"] is not None],
    }


def _seconds(took: timedelta | None) -> float | None:
    # A mail server stamps whole seconds: the stamp may be up to one second late.
    return None if took is None else max(0.0, round(took.total_seconds(), 1))


def trend(day: date, zone: ZoneInfo) -> list[dict[str, Any]]:
    """Day by day up to `day`: documents that came in, and those posted with and without a hand."""
    begin = bounds(day - timedelta(days=BACK - 1), zone)[0]
    end = bounds(day, zone)[1]
    came = dict(
        Document.objects.filter(received_at__gte=begin, received_at__lt=end)
        .annotate(on=TruncDate("received_at", tzinfo=zone, output_field=DateField()))
        .values_list("on")
        .annotate(count=Count("pk"))
    )
    ended = {
        row["on"]: row
        for row in _in_ledger(begin, end)
        .annotate(on=TruncDate("ended_at", tzinfo=zone, output_field=DateField()))
        .values("on")
        .annotate(count=Count("pk"), untouched=Count("pk", filter=Q(touched=False)))
    }
    days = [day - timedelta(days=back) for back in reversed(range(BACK))]
    return [
        {
            "day": each,
            "came_in": came.get(each, 0),
            "posted": ended.get(each, {}).get("count", 0),
            "untouched": ended.get(each, {}).get("untouched", 0),
        }
        for each in days
    ]
