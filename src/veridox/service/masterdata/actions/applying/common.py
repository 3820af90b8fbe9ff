"""What the kinds have in common: keys that stand twice, columns that a sync owns."""

from collections.abc import Iterable
from typing import Any

from django.db import models

from veridox.service.masterdata.loading import Incoming, Loading
from veridox.service.masterdata.models import Vendor


class Once:
    """Remembers the row of each key, so that a key that stands twice is told with both rows."""

    def __init__(self, loading: Loading, what: str) -> None:
        self._loading, self._what = loading, what
        self._rows: dict[str, int] = {}

    def first(self, row: Incoming, key: str) -> bool:
        """Whether this row is the first with its key; else a problem is noted."""
        before = self._rows.setdefault(key, row.line)
        if before == row.line:
            return True
        self._loading.problem(row.line, self._what, f"{key} stands in row {before}, too")
        return False


def owned(loading: Loading, row: Incoming, record: Any, column: str, differs: bool) -> bool:
    """Whether a sync owns the column of a record; then a file that says otherwise is told so."""
    if loading.sync or column not in record.synced:
        return False
    if differs:
        whose = getattr(record, "ledger", "") or "the ledger"
        loading.problem(row.line, column, f"comes from {whose} by sync: a file cannot change it")
    return True


def mark_synced(loading: Loading, record: Any, columns: Iterable[str]) -> bool:
    """Note which columns a sync owns, and that it listed the record; whether that is new."""
    if not loading.sync:
        return False
    every = sorted(set(record.synced) | set(columns))
    new = every != record.synced
    record.synced, record.seen = every, loading.number
    return new


def vendors_by_code(loading: Loading, codes: Iterable[str]) -> dict[str, Vendor]:
    """Vendors that codes mean: those of the load's ledger first; without one, those of the only
    ledger that has them. A code that two ledgers have is left out."""
    found: dict[str, list[Vendor]] = {}
    for vendor in Vendor.objects.filter(code__in=set(codes)).order_by("pk"):
        found.setdefault(vendor.code, []).append(vendor)
    chosen = {}
    for code, rows in found.items():
        own = [row for row in rows if row.ledger == loading.ledger]
        nobodys = [row for row in rows if not row.ledger]
        fitting = own or (rows if not loading.ledger else nobodys)
        if len(fitting) == 1:
            chosen[code] = fitting[0]
    return chosen


def set_values(record: models.Model, values: dict[str, Any]) -> list[str]:
    """Set what differs; the names of the columns that did."""
    changed = [name for name, value in values.items() if getattr(record, name) != value]
    for name in changed:
        setattr(record, name, values[name])
    return changed
