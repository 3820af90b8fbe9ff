"""Rates of exchange by day."""

from collections.abc import Iterator

from veridox.service.masterdata.actions.applying.common import Once
from veridox.service.masterdata.loading import CHANGED, NEW, SAME, Incoming, Loading, chunks
from veridox.service.masterdata.models import DayRate


def apply_rates(loading: Loading, rows: Iterator[Incoming]) -> None:
    """Add rates; one of a day that is there already is replaced, and told."""
    once = Once(loading, "day")
    for part in chunks(rows):
        days = {row.values["day"] for row in part}
        known = {
            (each.currency, each.into, each.day): each
            for each in DayRate.objects.select_for_update().filter(day__in=days).order_by("pk")
        }
        new: list[DayRate] = []
        changed: list[DayRate] = []
        for row in part:
            given = row.values
            key = (given["currency"], given["into"], given["day"])
            named = f"{key[0]}/{key[1]} {key[2]}"
            if given["currency"] == given["into"]:
                loading.problem(row.line, "into", f"{key[0]} into itself is no rate")
            if not once.first(row, named) or loading.is_wrong(row.line):
                continue
            before = known.get(key)
            if before is None:
                new.append(DayRate(**given))
                loading.fate(row.line, named, NEW)
            elif (before.rate, before.source) == (given["rate"], given["source"]):
                loading.fate(row.line, named, SAME)
            else:
                loading.change(row.line, named, "rate", before.rate, given["rate"])
                before.rate, before.source = given["rate"], given["source"]
                changed.append(before)
                loading.fate(row.line, named, CHANGED)
        if loading.problems:
            continue
        DayRate.objects.bulk_create(new)
        if changed:
            DayRate.objects.bulk_update(changed, ["rate", "source"])
