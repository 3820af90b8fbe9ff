"""What stands in the ledger's books, for duplicates, credits and controls."""

from collections.abc import Iterator
from typing import Any, Final

from veridox.core.matching import number_bare, number_key
from veridox.service.masterdata.actions.applying.common import Once, set_values, vendors_by_code
from veridox.service.masterdata.loading import CHANGED, NEW, SAME, Incoming, Loading, chunks
from veridox.service.masterdata.models import BookedBill

_WRITTEN: Final = (
    "vendor", "entity", "kind", "number", "number_key", "number_bare", "issue_date", "currency",
    "gross_total", "open_amount", "order_number", "reference", "seen", "gone_at",
)  # fmt: skip


def apply_books(loading: Loading, rows: Iterator[Incoming]) -> None:
    """Add and change bills of the listing; the vendor of each must be known."""
    once = Once(loading, "booked_as")
    for part in chunks(row for row in rows if once.first(row, row.values["booked_as"])):
        vendors = vendors_by_code(loading, (row.values["vendor"] for row in part))
        found = BookedBill.objects.select_for_update(of=("self",)).filter(
            ledger=loading.ledger, booked_as__in=[row.values["booked_as"] for row in part]
        )
        known = {each.booked_as: each for each in found.order_by("pk")}
        new: list[BookedBill] = []
        changed: list[BookedBill] = []
        for row in part:
            vendor = vendors.get(row.values["vendor"])
            if vendor is None:
                code = row.values["vendor"]
                loading.problem(row.line, "vendor", f"{code!r} is not known here")
                continue
            given: dict[str, Any] = {
                "kind": "invoice", **row.values, "vendor": vendor,
                "number_key": number_key(row.values["number"])[:200],
                "number_bare": number_bare(row.values["number"])[:200],
            }  # fmt: skip
            booked_as = given.pop("booked_as")
            bill = known.get(booked_as) or BookedBill(ledger=loading.ledger, booked_as=booked_as)
            is_new = bill.pk is None
            differing = set_values(bill, given) if not is_new else list(given)
            if is_new:
                for name, value in given.items():
                    setattr(bill, name, value)
            bill.seen, bill.gone_at = loading.number, None
            if is_new:
                new.append(bill)
            elif differing or loading.sync:
                changed.append(bill)
            loading.fate(row.line, booked_as, NEW if is_new else CHANGED if differing else SAME)
        if loading.problems:
            continue
        BookedBill.objects.bulk_create(new)
        if changed:
            BookedBill.objects.bulk_update(changed, _WRITTEN, batch_size=500)
