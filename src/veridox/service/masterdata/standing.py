"""What stands in the master data now: how fresh each kind is, what a currency is worth."""

from collections.abc import Mapping
from datetime import date, timedelta
from decimal import Decimal
from typing import Any

from django.db.models import Max
from django.utils import timezone

from veridox.core.facts import ExchangeRate
from veridox.service.masterdata.columns import KINDS
from veridox.service.masterdata.models import (
    BookedBill,
    CardRate,
    CostCentre,
    DayRate,
    Entity,
    GlAccount,
    GoodsReceipt,
    HeldChange,
    HeldState,
    Item,
    Load,
    LoadState,
    Order,
    Project,
    TaxCode,
    Vendor,
)

OLDEST_RATE = timedelta(days=10)
"""How far back the last rate before a day may lie: banks close for some days, not for weeks."""


def fresh_since() -> Mapping[str, date]:
    """The day on which each kind was last brought in whole or in part, by its name."""
    rows = Load.objects.filter(state=LoadState.DONE).values("what").annotate(at=Max("ended_at"))
    return {row["what"]: timezone.localdate(row["at"]) for row in rows if row["at"]}


def standing() -> list[dict[str, Any]]:
    """How many records of each kind there are, how fresh they are, and what waits."""
    fresh = dict(
        Load.objects.filter(state=LoadState.DONE).values_list("what").annotate(at=Max("ended_at"))
    )
    running: dict[str, Load] = {}
    for load in Load.objects.filter(state__in=(LoadState.RUNNING, LoadState.BROKEN)):
        running[load.what] = load
    waits = HeldChange.objects.filter(state=HeldState.WAITS).count()
    counts: dict[str, Any] = {
        "entities": Entity, "vendors": Vendor, "orders": Order, "rates": DayRate,
        "books": BookedBill, "receipts": GoodsReceipt, "items": Item,
        "cards": CardRate, "gl-accounts": GlAccount, "cost-centres": CostCentre,
        "tax-codes": TaxCode, "projects": Project,
    }  # fmt: skip
    return [
        {
            "what": what,
            "count": counts[what].objects.count(),
            "fresh": fresh.get(what),
            "held": waits if what == "vendors" else 0,
            "running": running.get(what),
        }
        for what in KINDS
    ]


def exchange_rate(currency: str, into: str, day: date) -> ExchangeRate | None:
    """What one unit is worth on a day, by the newest rate that holds: as it stands, turned round,
    or by way of a third currency that has a rate for both."""
    rows = list(
        DayRate.objects.filter(day__lte=day, day__gte=day - OLDEST_RATE)
        .order_by("-day", "pk")[:5_000]
    )  # fmt: skip
    newest: dict[tuple[str, str], DayRate] = {}
    for row in rows:
        newest.setdefault((row.currency, row.into), row)

    def leg(one: str, other: str) -> tuple[Decimal, DayRate] | None:
        if row := newest.get((one, other)):
            return row.rate, row
        if row := newest.get((other, one)):
            return Decimal(1) / row.rate, row
        return None

    def found(rate: Decimal, *legs: DayRate) -> ExchangeRate:
        source = " and ".join(dict.fromkeys(each.source for each in legs))
        oldest = min(each.day for each in legs)
        rounded = rate.quantize(Decimal("0.0000000001"))
        return ExchangeRate(currency=currency, into=into, rate=rounded, day=oldest, source=source)

    direct = leg(currency, into)
    if direct is not None:
        return found(*direct)
    for third in sorted({code for pair in newest for code in pair} - {currency, into}):
        one, other = leg(currency, third), leg(third, into)
        if one is not None and other is not None:
            return found(one[0] * other[0], one[1], other[1])
    return None
